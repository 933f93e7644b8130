"""Whether the wanted light is there and stays long enough, how smooth the background is, and which order hurts least."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.changes.kinds import GoTo, PutOn, SetTo, TakeBracket, TakeLayers, TakeSlices
from lucid_ridge.core.light_windows.now import light_today
from lucid_ridge.core.model.scene import Layer
from lucid_ridge.core.model.wanted import LightWish, LitWish
from lucid_ridge.core.sequence.timing import order_costs, scheduled_frames, sequence_s
from lucid_ridge.core.state.background import background_share
from lucid_ridge.core.stops.filters import FilterInUse
from lucid_ridge.reports.evaluate import changed_state, evaluate
from lucid_ridge.reports.explain import explain
from lucid_ridge.reports.light.year import light_windows
from lucid_ridge.reports.sequence.build import build_sequence
from lucid_ridge.reports.ways.report import ways

from .conftest import changed
from .near import near_scene
from .test_light_windows import WISHES

STACK = [TakeSlices(mode="gapless"), TakeBracket(mode="range")]
ND10 = PutOn(filters=(FilterInUse(filter_id="nd10"),))
MOMENT = TARN_SCENE.composition.moment_utc


def tension(scene, kind, changes=()):
    return next((one for one in evaluate(scene, changes).tensions if one.kind == kind), None)


# --- the light at the moment -----------------------------------------------------------------------


@settings(max_examples=20)
@given(WISHES, st.integers(0, 23 * 60))
def test_the_light_is_missed_just_where_no_chance_lies(wish, minute):
    # The windows of twelve months are searched another way than the day's.
    scene = changed(
        TARN_SCENE, light_wish=wish, moment_utc=MOMENT.replace(hour=0, minute=0) + timedelta(minutes=minute)
    )
    at = scene.composition.moment_utc
    inside = any(c.start_utc <= at < c.end_utc for c in light_windows(changed_state(scene)).today)
    told = tension(scene, "light")
    if wish.sides or wish.lowest_deg is not None or wish.highest_deg is not None:
        assert (told is None) == inside
    if told is not None and told.mend is not None:
        then = evaluate(scene, told.mend.changes)
        assert not {"light", "light_ends"} & {one.kind for one in then.tensions} or told.brings


def test_light_that_goes_too_soon_is_told_by_how_much():
    wish = LightWish(lowest_deg=4.0, highest_deg=6.0)
    scene = changed(TARN_SCENE, light_wish=wish)
    window = next(c for c in light_windows(changed_state(scene)).today if c.start_utc.hour < 12)
    late = changed(scene, moment_utc=window.end_utc - timedelta(seconds=90))
    takes = build_sequence(changed_state(late, [ND10, *STACK])).total.value
    told = tension(late, "light_ends", [ND10, *STACK])
    assert told.figure.value == pytest.approx(takes - 90, abs=1)
    assert "too long" in told.sentence and tension(late, "light", [ND10, *STACK]) is None
    # The frame as it is takes seconds.
    assert tension(late, "light_ends") is None
    assert explain(changed_state(late), "light.wish").result.count("to") >= 1


def test_a_short_stack_too_late_begins_earlier():
    wish = LightWish(lowest_deg=2.0, highest_deg=14.0)
    scene = changed(TARN_SCENE, light_wish=wish)
    window = next(c for c in light_windows(changed_state(scene)).today if c.start_utc.hour < 12)
    late = changed(scene, moment_utc=window.end_utc - timedelta(seconds=30))
    told = tension(late, "light_ends", STACK)
    assert told.mend.label.startswith("Begin at")
    goes = next(c for c in told.mend.changes if isinstance(c, GoTo))
    left = (window.end_utc - goes.moment_utc).total_seconds()
    assert 0 <= left - sequence_s(changed_state(late, STACK)) <= 95
    for way in ways(changed_state(late)).ways:
        assert way.total.value <= 30 or way.broken


def test_without_a_wish_or_for_a_thing_that_is_gone_nothing_is_told():
    assert tension(TARN_SCENE, "light") is None
    gone = changed(TARN_SCENE, light_wish=LightWish(lit=(LitWish(element_id="nobody"),)))
    assert tension(gone, "light") is None
    never = tension(changed(TARN_SCENE, light_wish=LightWish(lowest_deg=80.0)), "light")
    assert never.mend is None and never.figure.text == "not today" and "windows" in never.why_no_mend


def test_a_window_over_midnight_is_one():
    night = changed(
        TARN_SCENE, light_wish=LightWish(highest_deg=-6.0, shortest_min=300.0),
        moment_utc=datetime(2026, 10, 17, 22, 50, tzinfo=UTC),
    )  # fmt: skip
    assert tension(night, "light") is None
    day = tension(changed(night, moment_utc=datetime(2026, 10, 17, 11, tzinfo=UTC)), "light")
    assert "sun below" in day.sentence and day.mend.label.startswith("Begin at")
    # Early in the morning the night just over is nearest: it began the day before, and that is said.
    morning = tension(changed(night, moment_utc=datetime(2026, 10, 17, 8, tzinfo=UTC)), "light")
    assert morning.mend.label.endswith("the day before") and "the day before to 0" in morning.sentence


# --- the background --------------------------------------------------------------------------------


@given(
    st.floats(0.1, 1.0), st.floats(50, 2000), st.sampled_from([2.8284271247461903, 4.0, 5.656854249492381, 8.0, 16.0])
)
def test_the_background_against_the_closed_form(m, behind, n):
    # S. F. Ray, Applied Photographic Optics: (f/N) m b / (s + b).
    focus = 100 * (1 + 1 / m)
    scene = near_scene(settings={"focus_m": focus / 1000, "aperture_n": n}, close_up={"behind_mm": behind})
    disk = 100 / n * m * behind / (focus + behind)
    assert background_share(changed_state(scene)) == pytest.approx(disk / 36.0, rel=1e-6)


def test_a_rough_background_is_told_and_mended_by_the_narrowest_aperture_that_does():
    scene = changed(near_scene(settings={"focus_m": 0.3, "aperture_n": 8.0}), wants={"smooth_background": 0.15})
    told = tension(scene, "background")
    assert told.mend.label.startswith("Open to")
    made = changed_state(scene, told.mend.changes)
    assert background_share(made) >= 0.15 * 0.97
    stopped = changed_state(scene, [SetTo(setting="aperture", value=made.exposure.settings.aperture_n * 2 ** (1 / 6))])
    assert background_share(stopped) < 0.15 * 1.02
    for way in ways(changed_state(scene)).ways:
        assert background_share(changed_state(scene, way.changes)) >= 0.15 * 0.97 or way.broken
    assert explain(changed_state(scene), "depth.background").source


def test_a_background_no_aperture_smooths_says_what_would():
    scene = changed(near_scene(settings={"focus_m": 0.3}), wants={"smooth_background": 0.9})
    told = tension(scene, "background")
    assert told.mend is None and "longer lens" in told.why_no_mend
    report = ways(changed_state(scene))
    assert not report.found and any("background" in text for text in report.relax)
    assert tension(near_scene(), "background") is None


# --- order and time --------------------------------------------------------------------------------


@settings(max_examples=30)
@given(
    st.sampled_from(["one", "gapless"]), st.sampled_from(["none", "range"]), st.sampled_from(["brackets_inside", "slices_inside"]),
    st.booleans(), st.booleans(), st.sampled_from([(), ("nd6",), ("nd10",)]),
)  # fmt: skip
def test_the_time_told_is_the_sum_of_the_frames(slices, bracket, order, dark, layer, filters):
    layers = (Layer(purpose="wave", shutter_s=1 / 1024, iso=1600.0),) if layer else ()
    body = replace(TARN_SCENE.kit.body, dark_frame=dark)
    scene = changed(replace(TARN_SCENE, kit=replace(TARN_SCENE.kit, body=body)), technique={"order": order})
    uses = PutOn(filters=tuple(FilterInUse(filter_id=one) for one in filters))
    state = changed_state(scene, [TakeSlices(mode=slices), TakeBracket(mode=bracket), TakeLayers(layers=layers), uses])
    made = build_sequence(state)
    assert sequence_s(state) == pytest.approx(sum(f.duration_s for f in made.frames), rel=1e-12)
    clock = 0.0
    for frame in made.frames:
        assert frame.starts_after_s == pytest.approx(clock, abs=1e-9)
        assert frame.duration_s >= frame.exposure_s + frame.dark_frame_s
        clock += frame.duration_s
    # Either order takes every slice at every exposure once.
    for other in ("brackets_inside", "slices_inside"):
        base = [(one.slice_at, one.bracket_at) for one in scheduled_frames(state, other) if one.layer is None]
        assert sorted(base) == [(s, b) for s in range(len(state.depth.slices)) for b in range(len(state.offsets))]


def test_in_falling_light_slices_of_one_exposure_are_taken_together():
    # Common practice: what is blended for focus is taken in one go when the light runs.
    dusk = changed(TARN_SCENE, moment_utc=MOMENT + timedelta(hours=9, minutes=50), reading=None)
    state = changed_state(dusk, [TakeSlices(mode="gapless"), TakeBracket(mode="manual", offsets_stops=(-2, 0, 2))])  # fmt: skip
    by_slice, by_bracket = order_costs(state)
    assert by_bracket.within_stack < by_slice.within_stack
    assert by_bracket.within_bracket > by_slice.within_bracket
    told = build_sequence(state).orders
    assert next(one for one in told if one.take).order == "slices_inside"
    assert "blend" in next(one.why for one in told if one.take)
    # The two orders are what they would be, if taken.
    other = changed_state(replace(state.scene, composition=replace(state.scene.composition, technique=replace(state.scene.composition.technique, order="slices_inside"))))  # fmt: skip
    assert math.isclose(build_sequence(other).total.value, by_bracket.seconds, rel_tol=1e-9)


def test_in_steady_light_the_quicker_order_is_told():
    noon = changed(TARN_SCENE, moment_utc=MOMENT.replace(hour=12), reading=None)
    told = build_sequence(
        changed_state(noon, [*STACK[:1], TakeBracket(mode="manual", offsets_stops=(-2, 0, 2))])
    ).orders
    best = next(one for one in told if one.take)
    assert best.order == "brackets_inside" and best.total.value == min(one.total.value for one in told)
    assert "sooner" in best.why and best.refocused < max(one.refocused for one in told)
    assert build_sequence(changed_state(noon)).orders == ()
    assert explain(changed_state(noon, STACK), "sequence.order_total:slices_inside") is not None


@given(st.floats(0.3, 1.0), st.floats(60, 900), st.integers(0, 6))
def test_a_wider_aperture_and_a_farther_background_are_smoother(m, behind, thirds):
    focus = 0.1 * (1 + 1 / m)

    def share(aperture, away):
        scene = near_scene(settings={"focus_m": focus, "aperture_n": aperture}, close_up={"behind_mm": away})
        return background_share(changed_state(scene))

    wide, narrow = 4.0, 4.0 * 2 ** ((1 + thirds) / 6)
    assert share(wide, behind) > share(narrow, behind)
    assert share(wide, behind * 1.5) > share(wide, behind)


def test_of_slices_the_one_that_blurs_the_background_least_counts():
    scene = near_scene(settings={"focus_m": 0.3, "aperture_n": 5.656854249492381})
    foci = (0.28, 0.3, 0.33)
    stacked = background_share(changed_state(scene, [TakeSlices(mode="manual", foci_m=foci)]))
    alone = [
        background_share(changed_state(replace(scene, composition=replace(scene.composition, close_up=replace(scene.composition.close_up, behind_mm=(0.7 - one) * 1000))), [SetTo(setting="focus", value=one)]))
        for one in foci
    ]  # fmt: skip
    assert stacked == pytest.approx(min(alone), rel=1e-6)


@pytest.mark.parametrize(("day", "hours"), [((2026, 10, 25), 25), ((2027, 3, 28), 23), ((2028, 2, 29), 24)])
def test_windows_of_days_on_which_the_clock_changes(day, hours):
    # Clock hours of a wish are the place's own: half past one to half past two lasts two hours, none or one.
    noon = datetime(*day, 12, tzinfo=UTC)
    wish = LightWish(from_hour=1.5, to_hour=2.5, shortest_min=1.0)
    scene = changed(TARN_SCENE, moment_utc=noon, light_wish=wish, reading=None)
    today = [w for w in light_today(changed_state(scene)).windows if abs(w[0] - noon.timestamp()) < 11.6 * 3600]
    lasts = sum(b - a for a, b in today) / 3600
    # In autumn the hour from one to two comes twice: its second half counts each time. In spring it is left out.
    assert lasts == pytest.approx({25: 1.5, 23: 0.5, 24: 1.0}[hours], abs=0.02)
    assert len(today) == (2 if hours == 25 else 1)


def test_where_the_sun_does_not_rise_the_light_says_so():
    north = replace(TARN_SCENE, place=replace(TARN_SCENE.place, latitude_deg=70.0, time_zone="UTC"))
    dark = changed(
        north, moment_utc=datetime(2026, 12, 21, 12, tzinfo=UTC), reading=None, light_wish=LightWish(lowest_deg=0.0)
    )
    told = tension(dark, "light")
    assert told.figure.text == "not today" and told.mend is None
    assert "does not come on this day" in told.sentence
    # At midsummer it never sets, and the light that is wanted is there at midnight.
    bright = changed(dark, moment_utc=datetime(2026, 6, 21, 0, tzinfo=UTC))
    assert tension(bright, "light") is None


def test_on_a_rail_the_order_tells_the_way_back():
    scene = near_scene(close_up={"subject_depth_mm": 4.0})
    state = changed_state(scene, [TakeSlices(mode="rail"), TakeBracket(mode="manual", offsets_stops=(-1, 1))])
    by_slice, by_bracket = order_costs(state)
    count = len(state.depth.slices)
    assert count > 2 and by_slice.refocused == count and by_bracket.refocused == 2 * count
    assert by_slice.seconds < by_bracket.seconds
