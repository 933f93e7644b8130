"""Metering, film, filters in the field, range by grad or bracket, motion by two schools."""

from __future__ import annotations

import csv
import io
import itertools
import json
import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from lucid_ridge.app.evaluation.sequence_files import sequence_csv, sequence_json, sequence_pdf
from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.changes.kinds import PutOn, SetTo, TakeBracket, TakeSlices
from lucid_ridge.core.changes.meter_changes import ReadMeter, ReadSpot
from lucid_ridge.core.model.scene import Reading
from lucid_ridge.core.motion.speeds import beaufort_of, beaufort_wind_m_s, cloud_drift_m_s, fall_speed_m_s
from lucid_ridge.core.motion.travel import look_window_s, within_look
from lucid_ridge.core.state.layers import layer_brightness_stops, layer_reaching
from lucid_ridge.core.state.subject_motion import look_window
from lucid_ridge.core.stops.film import gathered_s, held_open_s
from lucid_ridge.core.stops.filters import Filter, FilterInUse
from lucid_ridge.core.stops.scales import as_read, exposure_value, on_third, third_index
from lucid_ridge.formats.cards import plain
from lucid_ridge.reports.evaluate import changed_state, evaluate
from lucid_ridge.reports.explain import explain
from lucid_ridge.reports.exposure.moving_things import moving_things
from lucid_ridge.reports.exposure.study import exposure_study
from lucid_ridge.reports.exposure.words import ledger_label
from lucid_ridge.reports.figures import shutter_text
from lucid_ridge.reports.sequence.build import build_sequence

from .conftest import changed
from .near import MACRO, near_scene
from .test_technique import figure_keys


def kinds(scene, *changes):
    return {line.kind: line for line in changed_state(scene, changes).exposure.ledger.lines}


# --- metering --------------------------------------------------------------------------------------


def test_the_forgotten_polariser_is_in_the_ledger_and_counts_once():
    on = (FilterInUse(filter_id="pol", strength=1.0),)
    plain_scene = changed(TARN_SCENE, settings={"filters": on})
    through = changed(plain_scene, reading=replace(TARN_SCENE.composition.reading, filters_on=on))
    seen = kinds(through)
    assert seen["seen"].stops == pytest.approx(2.0) and seen["polariser"].stops == pytest.approx(-2.0)
    assert ledger_label(changed_state(through), seen["seen"]).endswith(" was on when metered")
    # Taken off after a reading through it, the account gives its stops back.
    off = kinds(through, PutOn(filters=()))
    assert off["seen"].stops == pytest.approx(2.0) and "polariser" not in off
    bright, dark = (changed_state(s).exposure.settings.shutter_s for s in (through, plain_scene))
    assert math.log2(dark / bright) == pytest.approx(2.0, abs=1e-9)


def test_predicted_tones_say_how_far_off_they_may_be():
    unread = changed(
        TARN_SCENE,
        reading=None,
        elements=tuple(replace(e, reading_ev100=None) for e in TARN_SCENE.composition.elements),
    )
    made = evaluate(unread)
    assert all(mark.predicted for mark in made.range.marks) and "±1" in made.ledger.metered_on
    assert "read them" in made.range.doubt_text
    marks = {mark.name: mark.stops.value for mark in made.range.marks}
    # Common practice: a low sun's sky is brighter than what it lights; of two things alike, the darker lies lower.
    assert marks["eastern sky"] > 0 and marks["eastern sky"] > marks["boulder edge"]
    cloudy = evaluate(changed(unread, cloud_stops=2.0))
    assert "1.5" in cloudy.range.doubt_text


def test_the_terrain_s_shade_darkens_a_prediction():
    from .test_light_windows import hill, on_terrain

    scene = changed(on_terrain(), reading=None)
    state = changed_state(scene, terrain=hill())
    sunny = changed_state(changed(scene, moment_utc=scene.composition.moment_utc.replace(hour=12)), terrain=hill())
    shaded = (
        not bool(state.horizon.clears(state.sun_azimuth_deg, state.sun_altitude_deg)) and state.sun_altitude_deg > 0
    )
    words = evaluate(scene, terrain=hill()).ledger.metered_on
    assert ("shade of the land" in words) == shaded
    assert "shade of the land" not in evaluate(sunny.scene, terrain=hill()).ledger.metered_on


def test_exposing_to_the_right_stops_at_the_brightest_and_backs_off_for_warm_light():
    made = evaluate(TARN_SCENE).range
    # The cloud at EV 15.6 clips: the way is down, by whole thirds.
    assert made.right.value < 0 and made.right.value * 3 == pytest.approx(round(made.right.value * 3))
    after = evaluate(TARN_SCENE, made.right_changes).range
    assert 0 <= after.right.value < 1 / 3 + 1e-6
    warm = changed(
        TARN_SCENE, elements=tuple(replace(e, warm=e.name == "eastern sky") for e in TARN_SCENE.composition.elements)
    )
    # Common practice: 1/3 to 2/3 stop less.
    assert 1 / 3 - 1e-6 <= made.right.value - evaluate(warm).range.right.value <= 2 / 3 + 1e-6


def test_a_spot_reading_as_the_meter_shows_it():
    # APEX: f/8 at 1/64 s and ISO 100 is EV 12 (6 + 6); ISO 400 takes two off.
    spot = ReadSpot(element_id="boulder", aperture_n=8, shutter_s=1 / 64, iso=100)
    read = changed_state(TARN_SCENE, [spot]).scene.composition.elements
    assert next(e for e in read if e.id == "boulder").reading_ev100 == pytest.approx(12, abs=1e-9)
    faster = changed_state(TARN_SCENE, [replace(spot, iso=400)]).scene.composition.elements
    assert next(e for e in faster if e.id == "boulder").reading_ev100 == pytest.approx(10, abs=1e-9)


def test_a_meter_names_the_marks_of_its_scales():
    # APEX: f/11 and 1/125 are Av 7 and Tv 7, EV 14 at ISO 100; half-stop marks and what lies between stay.
    read = changed_state(TARN_SCENE, [ReadMeter(aperture_n=11, shutter_s=1 / 125, iso=100)]).scene.composition.reading
    assert exposure_value(read.aperture_n, read.shutter_s, read.iso) == pytest.approx(14, abs=1e-12)
    again = changed_state(TARN_SCENE, [ReadMeter(aperture_n=9.5, shutter_s=1 / 90)]).scene.composition.reading
    assert (again.aperture_n, again.shutter_s) == (9.5, 1 / 90)
    # What is not said stays as it was read, its time and its filters too.
    assert again == replace(TARN_SCENE.composition.reading, aperture_n=9.5, shutter_s=1 / 90)
    bare = changed(TARN_SCENE, reading=None)
    assert (
        changed_state(bare, [ReadMeter(iso=160)]).scene.composition.reading.taken_at_utc
        == TARN_SCENE.composition.moment_utc
    )


@pytest.mark.parametrize(("scale", "names"), [
    ("aperture", (1.4, 1.8, 2.8, 3.5, 5.6, 6.3, 7.1, 11, 13, 22, 29)), ("shutter", (1 / 8000, 1 / 125, 1 / 60, 1 / 15, 1 / 13, 0.3, 0.6, 15, 30)),
    ("iso", (50, 64, 125, 160, 1600, 12800)),
])  # fmt: skip
def test_every_nominal_value_is_read_as_its_mark(scale, names):
    for name in names:
        assert third_index(as_read(name, scale), scale) == pytest.approx(round(third_index(name, scale)), abs=1e-9)


# --- film ------------------------------------------------------------------------------------------


@given(st.floats(1.0, 600), st.floats(1.0, 1.5))
def test_film_is_held_longer_beyond_a_second(t, p):
    assert float(held_open_s(t, p)) == pytest.approx(t**p)
    assert held_open_s(t, p) >= t and held_open_s(0.5, p) == 0.5 and held_open_s(t, None) == t
    assert float(gathered_s(held_open_s(t, p), p)) == pytest.approx(t, rel=1e-12)


FILM = replace(TARN_SCENE, kit=replace(TARN_SCENE.kit, body=replace(TARN_SCENE.kit.body, reciprocity_p=1.3)))


@given(st.integers(-24, 18), st.lists(st.integers(-12, 12), min_size=2, max_size=5, unique=True))
def test_film_is_corrected_for_each_frame_after_its_offset(thirds, offsets):
    # By the rule itself: each frame's metered time is the base's times 2^offset, and that is held open to the power p.
    metered = on_third(thirds, "shutter")
    stops = tuple(sorted(one / 3 for one in offsets))
    scene = changed(
        FILM, reading=replace(FILM.composition.reading, shutter_s=metered), locks=("iso", "aperture"),
        settings={"filters": (), "timer_s": 0.0}, technique={"bracket": "manual", "manual_offsets_stops": stops},
    )  # fmt: skip
    state = changed_state(scene)
    base = state.exposure.gathered_s
    for frame in build_sequence(state).frames:
        gathered = base * 2**frame.offset_stops
        held = gathered**1.3 if gathered > 1 else gathered
        # On a mark where the body times it; by hand the changing light has its say too.
        if held < 30:
            assert abs(math.log2(frame.exposure_s / held)) <= 1 / 6 + 1e-6
        elif held > 40:
            assert frame.bulb


@given(st.sampled_from(["nd3", "nd6", "nd10"]), st.integers(-15, 6), st.floats(1.0, 1.5))
def test_what_the_filter_table_tells_follows_when_the_filter_is_put_on(filter_id, thirds, power):
    body = replace(TARN_SCENE.kit.body, reciprocity_p=power)
    scene = changed(
        replace(TARN_SCENE, kit=replace(TARN_SCENE.kit, body=body)), settings={"filters": ()}, locks=("iso",),
        reading=replace(TARN_SCENE.composition.reading, shutter_s=on_third(thirds, "shutter")),
    )  # fmt: skip
    state = changed_state(scene)
    wanted = changed_state(scene, [PutOn(filters=(FilterInUse(filter_id=filter_id),))]).exposure.settings.shutter_s
    for row in exposure_study(state, wanted).filters.reach:
        made = changed_state(scene, row.changes)
        assert row.shutter == shutter_text(made.exposure.settings.shutter_s)
    best = changed_state(scene, exposure_study(state, wanted).filters.reach[0].changes)
    assert abs(math.log2(best.exposure.settings.shutter_s / wanted)) < 0.35


def test_a_layer_on_film_is_counted_from_the_time_before_the_correction():
    leaves = replace(TARN_SCENE.composition.elements[-2], id="reeds", motion="foliage", speed_m_s=0.05)
    scene = changed(
        FILM, elements=(*FILM.composition.elements, leaves), wants={"sharp_foliage": True, "highest_iso": 6400.0},
        settings={"filters": (FilterInUse(filter_id="nd6"),)},
    )  # fmt: skip
    state = changed_state(scene)
    assert state.exposure.settings.shutter_s > state.exposure.gathered_s > 1
    layer = layer_reaching(state, "foliage", 1 / 30)
    # Six stops come off: t x ISO of the layer is the metered one over 64, to the marks.
    assert layer is not None and layer.shutter_s < 1
    product = state.exposure.gathered_s * state.exposure.settings.iso / 64
    assert abs(math.log2(layer.shutter_s * layer.iso / product)) <= 1 / 6 + 1e-9
    assert abs(layer_brightness_stops(state, layer)) <= 1 / 6 + 1e-9


# --- what no meter can see --------------------------------------------------------------------------


@given(st.booleans(), st.booleans(), st.booleans())
def test_an_incident_meter_never_sees_the_lens_whatever_is_ticked(through, filtered, incident):
    on = (FilterInUse(filter_id="nd6"),) if filtered else ()
    read = replace(
        TARN_SCENE.composition.reading, element_id=None, through_lens=through, incident=incident, filters_on=on
    )
    assert not (read.incident and read.through_lens)
    close = near_scene(reading=read)
    found = kinds(close)
    sees = through and not incident
    assert ("working" in found) == (not sees)
    assert ("seen" in found) == (sees and filtered)
    # The same comes in as JSON, as a hand might tick it.
    again = TypeAdapter(Reading).validate_python(
        {
            "aperture_n": 8.0, "shutter_s": 0.1, "iso": 100.0, "taken_at_utc": read.taken_at_utc,
            "through_lens": through, "incident": incident, "filters_on": on,
        }
    )  # fmt: skip
    assert again.through_lens == sees


@given(st.floats(0.3, 2.0), st.floats(0.5, 2.0))
def test_a_prediction_counts_the_extension_of_the_lens(m, pupils):
    # Life size costs 2 log2(1 + m/p) stops: two at life size with equal pupils (Ray, 2002).
    lens = replace(MACRO, pupil_magnification=pupils, largest_magnification=4.0)
    near = near_scene(lens, settings={"focus_m": 0.1 * (1 + 1 / m)})
    far = near_scene(lens, settings={"focus_m": None})
    close, distant = (changed_state(one) for one in (near, far))
    assert close.exposure.metered.predicted
    line = next(one for one in close.exposure.ledger.lines if one.kind == "working")
    assert line.stops == pytest.approx(-2 * math.log2(1 + m / pupils), rel=1e-9)
    longer = math.log2(close.exposure.gathered_s / distant.exposure.gathered_s)
    assert longer == pytest.approx(2 * math.log2(1 + m / pupils), abs=1 / 3 + 1e-6)


def test_spot_readings_are_compared_with_what_is_before_the_filter():
    # Read through ten stops the scene is still as bright: its range, and where each thing falls, do not move.
    bare = changed(TARN_SCENE, settings={"filters": ()})
    reading = bare.composition.reading
    on = (FilterInUse(filter_id="nd10"),)
    through = changed(bare, reading=replace(reading, shutter_s=reading.shutter_s * 1024, filters_on=on))
    falls, falls_through = (dict(changed_state(one).range.element_stops) for one in (bare, through))
    for name, stops in falls.items():
        assert falls_through[name] == pytest.approx(stops, abs=1 / 6 + 1e-9)


def test_the_film_stands_in_the_ledger_and_the_account_balances():
    film = replace(TARN_SCENE, kit=replace(TARN_SCENE.kit, body=replace(TARN_SCENE.kit.body, reciprocity_p=1.3)))
    state = changed_state(film, [PutOn(filters=(FilterInUse(filter_id="nd6"),)), SetTo(setting="aperture", value=22)])
    line = next(one for one in state.exposure.ledger.lines if one.kind == "film")
    before = state.exposure.ledger.shutter_s * 2**line.stops
    assert state.exposure.ledger.shutter_s == pytest.approx(before**1.3, rel=0.13)
    assert abs(state.exposure.ledger.balance) < 1e-9
    quick = changed_state(film, [PutOn(filters=())])
    assert not [one for one in quick.exposure.ledger.lines if one.kind == "film"]


# --- filters ---------------------------------------------------------------------------------------


def test_the_field_table_is_the_trade_s():
    table = exposure_study(changed_state(TARN_SCENE)).filters.table
    column = table.columns.index("ND 10 stops")
    row = next(r for r in table.rows if r.base == "1/8 s")
    # Common practice: 1/8 s and ten stops are about two minutes (exactly 128 s).
    assert row.filtered[column] == "2 min 08 s"


@given(st.floats(0.01, 900))
def test_the_nearest_set_of_filters_is_the_nearest(wanted):
    state = changed_state(TARN_SCENE)
    rows = exposure_study(state, wanted).filters.reach
    bare = state.exposure.settings.shutter_s
    sums = {0.0, 3.0, 6.0, 10.0, 9.0, 13.0, 16.0}
    best = min(abs(math.log2(wanted / bare) - s) for s in sums)
    assert rows[0].reaches == (best <= 1 / 6)
    times = [changed_state(TARN_SCENE, row.changes).exposure.settings.shutter_s for row in rows[:1]]
    assert abs(math.log2(times[0] / wanted)) <= best + 1 / 6 + 1e-6


def test_fit_cross_colour_and_corners_are_told():
    small = Filter(id="s", name="small polariser", kind="polariser", stops=2, thread_mm=67, cast="a little green")
    vnd = Filter(id="v", name="variable", kind="variable_nd", stops=8, least_stops=1, safe_stops=5, thread_mm=82)
    lens = replace(TARN_SCENE.kit.lens, filter_thread_mm=77, shortest_mm=16)
    scene = changed(
        replace(TARN_SCENE, kit=replace(TARN_SCENE.kit, lens=lens, filters=(small, vnd))),
        settings={"focal_length_mm": 16.0, "filters": (FilterInUse(filter_id="s"), FilterInUse(filter_id="v"))},
    )
    notes = " ".join(f"{n.name}: {n.text}" for n in exposure_study(changed_state(scene)).filters.notes)
    for words in (
        "cuts the corners",
        "ring from 77 to 82",
        "a little green",
        "dark cross",
        "corners may darken",
        "Density next to the lens",
    ):
        assert words in notes


@pytest.mark.parametrize(("focal", "rings", "thread", "dark"), [
    (16, 1, 77, False), (16, 2, 77, True), (24, 1, 77, False), (24, 2, 77, True), (24, 2, 95, False),
    (35, 2, 77, False), (35, 3, 77, True), (50, 3, 77, False), (100, 4, 77, False),
])  # fmt: skip
def test_stacked_rings_show_in_the_corners_of_wide_lenses(focal, rings, thread, dark):
    # Common practice: one slim ring before the widest lens, two from 35 mm, three from 50 mm; a larger thread helps.
    nd = tuple(Filter(id=f"n{k}", name=f"ND {k}", kind="nd", stops=1, thread_mm=thread) for k in range(rings))
    lens = replace(TARN_SCENE.kit.lens, filter_thread_mm=77, shortest_mm=16, longest_mm=100)
    scene = changed(
        replace(TARN_SCENE, kit=replace(TARN_SCENE.kit, lens=lens, filters=nd)),
        settings={"focal_length_mm": float(focal), "filters": tuple(FilterInUse(filter_id=f.id) for f in nd)},
    )
    notes = exposure_study(changed_state(scene)).filters.notes
    assert any(n.name == "corners" for n in notes) == dark


def test_no_density_owned_is_told():
    bare = changed(replace(TARN_SCENE, kit=replace(TARN_SCENE.kit, filters=())), settings={"filters": ()})
    study = exposure_study(changed_state(bare), 60).filters
    assert study.table.columns == () and not study.reach[0].reaches


# --- range -----------------------------------------------------------------------------------------


def test_grad_against_bracket():
    ways = {row.kind: row for row in exposure_study(changed_state(TARN_SCENE)).range_ways}
    assert not ways["one"].holds and ways["bracket"].holds and ways["bracket"].frames == 3
    assert "blend" in ways["bracket"].blend
    # A soft grad darkens what sticks up into the sky (common practice), and is told.
    assert any("Skarn ridge" in text for text in ways["grad"].darkens)
    for row in ways.values():
        state = changed_state(TARN_SCENE, row.changes)
        assert len(state.offsets) == row.frames
        lost = max(state.range.held.lost_above, state.range.held.lost_below)
        assert (lost <= 1 / 6 + 1e-6) == row.holds


# --- motion ----------------------------------------------------------------------------------------


def test_beaufort_against_the_scale_of_the_wmo():
    # WMO Manual on Codes: upper bounds of the Beaufort numbers 1 to 11 in m/s; values from memory.
    for number, (low, high) in enumerate([(0.3, 1.5), (1.6, 3.3), (3.4, 5.4), (5.5, 7.9), (8.0, 10.7), (10.8, 13.8), (13.9, 17.1), (17.2, 20.7), (20.8, 24.4), (24.5, 28.4), (28.5, 32.6)], start=1):  # fmt: skip
        assert low - 0.35 <= beaufort_wind_m_s(number) <= high + 0.35
        assert beaufort_of((low + high) / 2) == number


def test_water_falls_as_torricelli_says():
    assert fall_speed_m_s(1) == pytest.approx(4.4287, abs=1e-3)
    assert fall_speed_m_s(20) == pytest.approx(19.806, abs=1e-2)
    assert cloud_drift_m_s(5, 1500) > 5
    things = {t.kind: t.speed_m_s for t in moving_things(8.0)}
    assert things["leaves"] < things["grass"] < things["surf"]
    # By size: ten times as high falls √10 times as fast; higher clouds drift faster in the same wind.
    falls, clouds = ([t.speed_m_s for t in moving_things(8.0) if t.kind == kind] for kind in ("fall", "cloud"))
    assert falls[-1] / falls[0] == pytest.approx(math.sqrt(10)) and falls == sorted(falls)
    assert clouds == sorted(clouds) and clouds[0] > 8.0


@given(st.floats(0.005, 5))
def test_both_schools_order_the_looks(rate):
    windows = [look_window_s(look, "travel", rate, 0.0012) for look in ("freeze", "texture", "soft", "glass")]
    for (_, high), (low, _) in itertools.pairwise(windows):
        assert high <= low
    for low, high in windows[1:3]:
        assert within_look((low, high), math.sqrt(low * high))


def test_the_schools_agree_where_they_are_said_to():
    # Water at 0.8 m/s, eight metres before 24 mm on 24 mm of height: a tenth of the height in a second.
    rate = 0.8 * 24 / 8000 * 1000 / 24
    assert rate == pytest.approx(0.1)
    for look in ("texture", "soft", "glass"):
        seconds, travel = (look_window_s(look, school, rate, 0.001) for school in ("seconds", "travel"))
        assert within_look(seconds, math.sqrt(travel[0] * min(travel[1], travel[0] * 4)))


def test_by_travel_near_water_is_smooth_sooner():
    near = changed(TARN_SCENE, wants={"motion_school": "travel", "water_look": "soft"})
    rows = {r.look: r for r in exposure_study(changed_state(near)).looks}
    assert rows["soft"].by_seconds == "5 s to 7.0 s" and rows["soft"].by_travel != rows["soft"].by_seconds
    # The water at the photographer's feet goes through the picture faster than the beck that the schools agree on.
    assert look_window(changed_state(near))[1] < 5


def test_exposing_explains_itself():
    state = changed_state(changed(TARN_SCENE, wants={"motion_school": "travel"}), [TakeBracket(mode="range")])
    for key in set(figure_keys(exposure_study(state))) | set(figure_keys(evaluate(state.scene).range)) - {""}:
        if key:
            assert explain(state, key).formula


# --- files -----------------------------------------------------------------------------------------


def test_the_sequence_as_a_table_and_as_data():
    state = changed_state(TARN_SCENE, [TakeSlices(mode="gapless"), TakeBracket(mode="range")])
    rows = list(csv.DictReader(io.StringIO(sequence_csv(state))))
    assert len(rows) == 9 and {row["slice"] for row in rows} == {"1", "2", "3"}
    assert float(rows[0]["shutter_s"]) > 0 and float(rows[-1]["starts_after_s"]) > float(rows[0]["starts_after_s"])
    data = json.loads(sequence_json(state, "Dawn"))
    assert data["format"] == "lucid-ridge-sequence" and len(data["sequence"]["frames"]) == 9


def test_the_field_card_is_a_pdf_that_says_what_to_do():
    state = changed_state(TARN_SCENE, [TakeSlices(mode="gapless")])
    made = sequence_pdf(state, "Dawn <at> the tarn ⅓")
    assert made.startswith(b"%PDF-") and len(made) > 2000
    assert plain("−⅓ ∞ f/11 → ½") == "- 1/3 infinity f/11 to ½"
