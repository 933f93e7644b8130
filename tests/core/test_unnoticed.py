"""Behaviour that a change of one operator, constant or statement would break, checked by another route."""

from __future__ import annotations

import itertools
import math
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.camera.picture import picture
from lucid_ridge.core.changes.camera_moves import SetCrop, TurnAim
from lucid_ridge.core.changes.kinds import SetTo
from lucid_ridge.core.framing.crop import Crop
from lucid_ridge.core.light.tide import KINDS, tide_height
from lucid_ridge.core.model.scene import Element
from lucid_ridge.core.model.wanted import LightWish
from lucid_ridge.core.optics.pupils import Optics, Sharpness
from lucid_ridge.core.optics.slices import gapless_slices, slice_at
from lucid_ridge.core.range.brackets import BracketMode, plan_bracket
from lucid_ridge.core.solve.wishes import ShareOf
from lucid_ridge.core.stops.ledger import close_ledger
from lucid_ridge.core.stops.scales import on_third
from lucid_ridge.core.tensions.levers import after
from lucid_ridge.core.ways.search import explore
from lucid_ridge.reports.depth.sweep import critical_ends, sweep
from lucid_ridge.reports.evaluate import changed_state
from lucid_ridge.reports.frame.answers import answer_to
from lucid_ridge.reports.frame.separation import separation
from lucid_ridge.reports.light.year import light_windows
from lucid_ridge.reports.tensions.report import tensions

from .conftest import changed

POST = Element(
    id="post",
    name="gatepost",
    role="subject",
    silhouette="post",
    east_m=0,
    north_m=10,
    width_m=0.4,
    depth_m=0.3,
    height_m=1.6,
)
BARE = changed(
    TARN_SCENE, elements=(POST,), reading=None, azimuth_deg=0.0, pitch_deg=0.0, east_m=0.0, north_m=0.0, camera_height_m=1.2,
    orientation="landscape", wants={"water_look": "any"}, settings={"focal_length_mm": 24.0, "focus_m": 10.0},
)  # fmt: skip


# --- the edge of the picture -------------------------------------------------------------------------


@pytest.mark.parametrize("turn", [36.0, 36.4, 36.8, 37.2, -36.4, -37.2, 30.0, 0.0])
def test_a_subject_at_the_edge_is_told_by_how_much_room_it_has(turn):
    state = changed_state(BARE, [TurnAim(right_deg=turn)])
    if not state.geometry.seen(0):
        pytest.skip("it is out of the frame altogether")
    found = {one.kind: one for one in separation(state) if one.kind in ("edge", "leaves")}
    # By another route: where the outline's own ends fall, against the picture's sides and top.
    left, top, right, _ = picture(state.geometry).bounds
    low, high, wide, _ = state.geometry.area(0).bounds
    room = min(low - left, right - wide, high - top)
    expected = "leaves" if room < 0 else "edge" if room < 0.005 else None
    assert set(found) == ({expected} if expected else set())
    for one in found.values():
        assert one.element_id == "post" and one.other_id is None and one.gap.value == pytest.approx(room * 100)
        assert ("leaves the picture" in one.sentence) == (expected == "leaves")


def test_a_crop_that_cuts_into_the_subject_leaves_it():
    whole = changed_state(BARE)
    assert not [one for one in separation(whole) if one.kind in ("edge", "leaves")]
    cut = changed_state(BARE, [SetCrop(crop=Crop(scale=0.3, offset_x=0.4286))])
    assert cut.geometry.seen(0)
    assert [one.kind for one in separation(cut) if one.kind in ("edge", "leaves")] == ["leaves"]


def test_the_edge_counts_for_a_subject_and_not_for_what_stands_beside_it():
    behind = replace(POST, role="middle")
    scene = changed(BARE, elements=(behind,))
    for turn in (36.4, 36.8):
        assert not [
            one for one in separation(changed_state(scene, [TurnAim(right_deg=turn)])) if one.kind in ("edge", "leaves")
        ]


# --- sharpness ---------------------------------------------------------------------------------------


def _two_posts(near: float, far: float):
    posts = tuple(
        replace(POST, id=f"p{i}", name=f"post {i}", north_m=at, depth_m=0.01) for i, at in enumerate((near, far))
    )
    middle = 2 * near * far / (near + far)
    return changed(
        BARE,
        elements=posts,
        settings={"focal_length_mm": 24.0, "focus_m": middle, "aperture_n": on_third(12, "aperture")},
    )


def test_a_soft_pair_is_mended_by_stopping_down_where_that_is_enough():
    found = []
    for near in (1.2, 1.4, 1.6, 1.8, 2.0, 2.4):
        state = changed_state(_two_posts(near, 40.0))
        for one in tensions(state):
            if one.kind in ("near_soft", "far_soft") and one.mend and isinstance(one.mend.changes[0], SetTo):
                change = one.mend.changes[0]
                if change.setting == "aperture":
                    found.append((near, change.value, one.mend.label, state))
    assert found, "no soft pair was mended by the aperture"
    for _, n, label, state in found:
        assert n > state.scene.composition.settings.aperture_n and label.startswith("Stop down to f/")
        then = after(state, (SetTo(setting="aperture", value=n),))
        total = then.depth.worse.total_mm
        assert float(np.nanmax(total)) <= state.depth.circle_of_confusion_mm * 1.06
        # The next wider mark is not enough: the gentlest change is offered.
        wider = after(state, (SetTo(setting="aperture", value=n / 2 ** (1 / 6)),))
        assert float(np.nanmax(wider.depth.worse.total_mm)) > state.depth.circle_of_confusion_mm


def test_a_single_focus_of_the_search_lies_where_it_blurs_both_ends_least():
    state = changed_state(_two_posts(2.0, 8.0))
    space = explore(state)
    singles = [plan for plan in space.focuses if plan.kind == "one" and plan.focus_m is not None]
    assert singles
    lens, ends = state.depth.optics, critical_ends(state)
    for plan in singles:
        # Its worst blur is that of a frame focused there, worked out by itself.
        at = min(range(len(space.apertures)), key=lambda i: abs(space.apertures[i] - 8.0))
        optics = lens.at_aperture(lens.f_number * space.apertures[at] / state.scene.composition.settings.aperture_n)
        worst = 0.0
        for end in ends.tolist():
            defocus = abs(optics.thin_focal_mm / optics.thin_f_number) * abs(
                1 - _image_mm(optics, plan.focus_m) / _image_mm(optics, end)
            )
            worst = max(worst, math.hypot(defocus, optics.airy_mm(optics.magnification(plan.focus_m))))
        assert plan.worst_mm[at] == pytest.approx(worst, rel=1e-6)
        assert plan.focus_m < 7.9
    best = min(float(plan.worst_mm.min()) for plan in singles)
    assert best <= state.depth.circle_of_confusion_mm


def _image_mm(optics: Optics, distance_m: float) -> float:
    f, s = optics.thin_focal_mm, (distance_m - optics.pupil_ahead_m) * 1000
    return f * s / (s - f)


@pytest.mark.parametrize("far", [4.0, 12.0, 40.0])
def test_the_apertures_that_hold_are_told_from_wide_to_narrow(far):
    state = changed_state(_two_posts(1.5, far))
    made = sweep(state)
    holding = [p.text for p in made.points if p.worst_um <= state.depth.circle_of_confusion_mm * 1000 * 1.0001]
    told = [p.text for p in made.points if p.holds]
    assert set(holding) <= set(told)
    if len(told) > 1:
        assert made.sentence.endswith(f"holds from {told[0]} to {told[-1]}.")
        widths = [float(text.removeprefix("f/")) for text in (told[0], told[-1])]
        assert widths[0] < widths[1]
    elif not told:
        assert made.sentence.startswith("No aperture")


@settings(max_examples=60, deadline=None)
@given(
    st.floats(20, 200), st.floats(4, 16), st.floats(0.02, 0.05), st.floats(1.0, 8.0), st.floats(1.5, 200), st.floats(0, 0.6)
)  # fmt: skip
def test_slices_lap_over_by_the_share_that_is_asked_for(f, n, circle, near, times, overlap):
    optics, sharp = Optics(f, n, 1.0), Sharpness(circle)
    try:
        made = gapless_slices(optics, sharp, near, near * times, overlap)
    except ValueError:
        return
    assert made[0].near_m <= near * (1 + 1e-6) and made[-1].far_m >= near * times * (1 - 1e-6)
    for one, following in itertools.pairwise(made):
        alone = slice_at(optics, sharp, one.focus_m)
        assert (alone.near_m, alone.far_m) == pytest.approx((one.near_m, one.far_m), rel=1e-6)
        begin, end = (math.log(_image_mm(optics, d)) for d in (one.near_m, min(one.far_m, 1e9)))
        into = math.log(_image_mm(optics, following.near_m))
        # In logarithms of the image distance the next one begins inside by at least the share.
        assert (into - end) / (begin - end) >= overlap - 1e-6
    if len(made) > 1:
        # Fewest: one less over the same span would leave a gap even without lapping over.
        widths = [math.log(_image_mm(optics, s.near_m)) - math.log(_image_mm(optics, min(s.far_m, 1e9))) for s in made]
        span = math.log(_image_mm(optics, near)) - math.log(_image_mm(optics, near * times))
        assert sum(sorted(widths)[:-1]) * (1 - overlap) <= span * (1 + 1e-3) + max(widths) * overlap


# --- light and tide ----------------------------------------------------------------------------------


def test_a_window_that_runs_over_midnight_says_so_and_others_do_not():
    wish = LightWish(highest_deg=-6.0, lowest_deg=-60.0, shortest_min=1.0)
    state = changed_state(changed(TARN_SCENE, moment_utc=datetime(2026, 10, 18, 12, tzinfo=UTC)))
    made = light_windows(state, wish)
    zone = ZoneInfo(TARN_SCENE.place.time_zone)
    over = 0
    for one in (*made.next, *made.best):
        begins, ends = (at.astimezone(zone) for at in (one.start_utc, one.end_utc))
        past_midnight = ends.date() > begins.date() and (ends.hour, ends.minute) != (0, 0)
        assert one.time_text.endswith(" (next day)") == past_midnight
        over += past_midnight
    assert over > 0
    by_day = light_windows(state, LightWish(lowest_deg=5.0, shortest_min=1.0))
    assert by_day.next and not any("next day" in one.time_text for one in by_day.next)


def test_when_to_stand_there_is_before_it_begins():
    wish = LightWish(lowest_deg=5.0, shortest_min=1.0, ready_min=25.0)
    for one in light_windows(changed_state(TARN_SCENE), wish).next:
        assert one.start_utc - one.ready_utc == timedelta(minutes=25)
        assert one.minutes == pytest.approx((one.end_utc - one.start_utc).total_seconds() / 60)


PERIOD_HOURS = {
    "M2": 12.4206012, "S2": 12.0, "N2": 12.65834751, "K2": 11.96723606, "K1": 23.93447213, "O1": 25.81933871,
    "P1": 24.06588766, "Q1": 26.868350, "M4": 6.210300601, "MS4": 6.103339275, "MN4": 6.269173724, "M6": 4.140200401,
    "S4": 6.0, "MF": 327.8599387, "MM": 661.3111655, "SSA": 4382.905, "SA": 8765.82, "2N2": 12.90537297,
    "MU2": 12.8717576, "NU2": 12.62600509, "T2": 12.01644934, "M3": 8.280400802, "S1": 24.0, "2Q1": 28.00621204,
}  # fmt: skip
"""Periods in hours (Pugh and Woodworth, Sea-Level Science, 2014, tables 4.1 and 4.3; Schureman, 1940, table 2)."""


@pytest.mark.parametrize("name", sorted(KINDS))
def test_every_constituent_has_its_published_period(name):
    hours = PERIOD_HOURS[name]
    start = datetime(2026, 3, 1, tzinfo=UTC).timestamp()
    # Over some hundred periods the phase comes round so many times: counted by upward crossings.
    count = 120 if hours < 100 else 10
    t = start + np.linspace(0, count * hours * 3600, count * 400)
    h = tide_height(t, 0.0, [(name, 1.0, 0.0)])
    up = np.flatnonzero((h[:-1] < 0) & (h[1:] >= 0))
    at = t[up] + (t[1] - t[0]) * -h[up] / (h[up + 1] - h[up])
    period = (at[-1] - at[0]) / (len(at) - 1) / 3600
    assert period == pytest.approx(hours, rel=1e-3)


# --- brackets ----------------------------------------------------------------------------------------


@settings(max_examples=150, deadline=None)
@given(
    st.floats(-14, 0), st.floats(0, 10), st.floats(5, 14), st.floats(1, 4),
    st.lists(st.sampled_from([(3, 1.0), (3, 2.0), (5, 1.0), (5, 2.0), (7, 1.0), (9, 1.0)]), max_size=3, unique=True),
)  # fmt: skip
def test_a_bracket_holds_both_ends_with_the_fewest_frames_that_do(dark, bright, usable, headroom, modes):
    headroom = min(headroom, usable)
    own = tuple(BracketMode(frames=n, step_stops=s) for n, s in modes)
    try:
        plan = plan_bracket(dark, bright, usable, headroom, own)
    except ValueError:
        return
    offsets = (0.0,) if plan is None else plan.offsets_stops
    reaches = [(headroom - usable - o, headroom - o) for o in offsets]
    slack = 1 / 6 + 1e-9
    assert any(low <= dark + slack for low, _ in reaches) and any(high >= bright - slack for _, high in reaches)
    # Between two frames next to each other nothing is left out.
    for (low, _), (_, high) in zip(sorted(reaches)[1:], sorted(reaches), strict=False):
        assert low <= high + slack
    if plan is not None and len(offsets) > 1:
        steps = np.diff(sorted(offsets))
        assert np.allclose(steps, plan.step_stops)
        # One frame, wherever it is put, would not do.
        assert bright - dark > usable - 2 * slack or not (
            low_enough(dark, usable, headroom) and headroom >= bright - slack
        )


def low_enough(dark: float, usable: float, headroom: float) -> bool:
    return headroom - usable <= dark + 1 / 6


# --- what a change alters elsewhere ------------------------------------------------------------------


def test_an_answer_tells_what_else_it_changes():
    other = replace(POST, id="far", name="far post", role="background", north_m=40.0, east_m=0.6, height_m=2.0)
    rock = replace(
        POST, id="rock", name="rock", role="foreground", north_m=2.2, height_m=0.5, width_m=1.2, silhouette="post"
    )
    scene = changed(BARE, elements=(rock, POST, other), camera_height_m=1.5)
    before = changed_state(scene)
    answer = answer_to(before, ShareOf(of="foreground", percent=5.0))
    if answer.why_not:
        pytest.skip(answer.why_not)
    then = changed_state(scene, answer.changes)
    was, now = ({one.title for one in tensions(s)} for s in (before, then))
    met, meets = ({one.sentence for one in separation(s)} for s in (before, then))
    told = " ".join(answer.alters)
    for title in list(now - was)[:2]:
        assert title in told
    for title in list(was - now)[:2]:
        assert f"No longer: {title[0].lower()}{title[1:]}" in told
    assert not any(sentence in told for sentence in met & meets)


@pytest.mark.parametrize("key", ["brings", "against"])
def test_a_mend_tells_what_it_brings_and_what_pulls_the_other_way(key):
    seen = 0
    for seed in range(40):
        from .scenes import random_scene

        state = changed_state(random_scene(seed))
        told = tensions(state)
        titles = {one.title for one in told}
        for one in told:
            if one.mend is None:
                continue
            if key == "brings":
                then = {other.title for other in tensions(after(state, one.mend.changes))}
                assert set(one.brings) <= then and not set(one.brings) & titles
                seen += bool(one.brings)
            else:
                labels = {other.mend.label for other in told if other.mend and other is not one}
                assert set(one.against) <= labels
                seen += bool(one.against)
    assert seen > 3


@given(st.floats(20, 200), st.floats(2, 22), st.floats(0.02, 0.06), st.floats(1, 100))
def test_what_diffraction_takes_is_not_left_for_defocus(f, n, circle, focus):
    optics = Optics(f, n, 1.0)
    airy = optics.airy_mm(optics.magnification(focus))
    left = Sharpness(circle).allowance_mm(optics, focus)
    assert left**2 == pytest.approx(max(circle**2 - airy**2, 0.0), abs=1e-12)
    assert Sharpness(circle, diffraction=False).allowance_mm(optics, focus) == circle


def _holds(dark: float, bright: float, usable: float, headroom: float, offsets: list[float]) -> bool:
    """Whether frames exposed so hold both ends, by the ends of each frame's own span."""
    low, high = min(headroom - usable - o for o in offsets), max(headroom - o for o in offsets)
    return low <= dark + 1e-9 and high >= bright - 1e-9


@settings(max_examples=100, deadline=None)
@given(st.floats(-16, -2), st.floats(1, 12), st.floats(5, 12), st.floats(1, 4))
def test_no_smaller_set_by_hand_would_hold_it(dark, bright, usable, headroom):
    headroom = min(headroom, usable)
    try:
        plan = plan_bracket(dark, bright, usable, headroom, ())
    except ValueError:
        assert bright - dark > usable + 24 * 2 - 1
        return
    if plan is None or len(plan.offsets_stops) == 1:
        return
    assert _holds(dark, bright, usable, headroom, list(plan.offsets_stops))
    fewer = len(plan.offsets_stops) - 1
    starts = [third / 3 for third in range(-120, 61)]
    assert not any(_holds(dark, bright, usable, headroom, [s + 2.0 * i for i in range(fewer)]) for s in starts)


@pytest.mark.parametrize("time", [0.0, -1.0, math.nan])
def test_an_account_needs_a_time_to_begin_with(time):
    with pytest.raises(ValueError, match="above zero"):
        close_ledger(time, [])


@pytest.mark.parametrize(("times", "told"), [(0.5, False), (1.0, False), (1.02, False), (1.27, True), (4.0, True)])
def test_bulb_is_asked_for_from_the_next_mark_on(times, told):
    body = replace(TARN_SCENE.kit.body, longest_timed_s=30.0)
    scene = replace(TARN_SCENE, kit=replace(TARN_SCENE.kit, body=body))
    state = changed_state(changed(scene, locks=("shutter",), settings={"shutter_s": 30.0 * times, "bulb": False}))
    assert ("bulb" in {one.kind for one in tensions(state)}) == told
