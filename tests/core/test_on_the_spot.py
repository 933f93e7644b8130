"""What is worked out beforehand for the spot agrees with what is worked out there; causes of softness; crossing bearings."""

from __future__ import annotations

import itertools
import math
import random
from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.framing.crossing import Crossing, NoCrossing, Pointing, cross
from lucid_ridge.core.light.terrain import apart_m, metres_between, position_of
from lucid_ridge.core.model.scene import Reading
from lucid_ridge.core.motion.speeds import beaufort_wind_m_s
from lucid_ridge.core.on_the_spot.grid import filter_sets, grid_of
from lucid_ridge.core.on_the_spot.soft import SEEN_PX, WINDS, softness_of, wind_on_stand_mm
from lucid_ridge.core.records import SceneError
from lucid_ridge.core.sequence.timing import frame_count, sequence_s
from lucid_ridge.core.state.state import State, build_state
from lucid_ridge.core.state.subject_motion import element_travel_mm
from lucid_ridge.core.stops.film import gathered_s
from lucid_ridge.core.stops.scales import exposure_value
from lucid_ridge.reports.figures import aperture_text, duration_text, iso_text, shutter_text
from lucid_ridge.reports.on_the_spot.table import SpotTable, spot_table
from lucid_ridge.reports.sequence.build import whole_sequence

from .scenes import random_scene


def _there(state: State, grid, f: int, a: int, r: int) -> State:
    """The state of one cell by the other route: the whole scene computed anew with what is met on the spot."""
    scene, metered = state.scene, grid.metered
    before = scene.composition.reading
    reading = Reading(
        aperture_n=metered.aperture_n, shutter_s=grid.readings[r], iso=metered.iso,
        taken_at_utc=scene.composition.moment_utc, element_id=metered.element_id,
        through_lens=before is None or before.through_lens, incident=before is not None and before.incident,
    )  # fmt: skip
    # The light is more or less on all of the picture together.
    shift = float(exposure_value(metered.aperture_n, grid.readings[r], metered.iso)) - state.exposure.metered.now_ev100
    elements = tuple(
        replace(e, reading_ev100=None if tone is None else tone.ev100 + shift, reflectance=None)
        for e, tone in zip(scene.composition.elements, state.tones, strict=True)
    )
    settings = replace(scene.composition.settings, aperture_n=grid.apertures[a], filters=grid.filters[f])
    composition = replace(scene.composition, settings=settings, reading=reading, elements=elements)
    return build_state(replace(scene, composition=composition), terrain=state.terrain)


@pytest.mark.parametrize("seed", range(8))
def test_a_cell_is_what_the_whole_computation_gives_there(seed):
    rng = random.Random(seed)
    state = build_state(random_scene(seed))
    if state.scene.composition.panorama.on and state.scene.composition.panorama.readings:
        pytest.skip("a panorama is exposed for its own readings")
    grid = grid_of(state)
    for _ in range(8):
        f, a, r = (rng.randrange(n) for n in grid.exposures.shape)
        there = _there(state, grid, f, a, r)
        closed = grid.exposures[f, a, r]
        assert closed.settings.shutter_s == pytest.approx(there.exposure.settings.shutter_s)
        assert closed.settings.iso == pytest.approx(there.exposure.settings.iso)
        assert closed.brighter_stops == pytest.approx(there.exposure.brighter_stops)
        assert abs(closed.ledger.balance) < 1e-9
        assert grid.frames[f, a, r] == frame_count(there)
        assert grid.total_s[f, a, r] == pytest.approx(sequence_s(there), rel=1e-6)


@pytest.mark.parametrize("seed", range(8))
def test_a_third_less_light_is_a_third_more_time(seed):
    state = build_state(random_scene(seed))
    if "shutter" in state.scene.composition.locks:
        pytest.skip("the time is locked")
    grid = grid_of(state)
    power, body = state.scene.kit.body.reciprocity_p, state.scene.kit.body
    for f in range(len(grid.filters)):
        times = [e.settings.shutter_s for e in grid.exposures[f, grid.own_aperture]]
        assert times == sorted(times)
        gathered = [float(gathered_s(t, power)) for t in times if t > body.shortest_shutter_s * 1.3]
        for one, next_ in itertools.pairwise(gathered):
            # Each is on a mark of its own, film corrected: a third, to within the rounding of both.
            assert math.log2(next_ / one) == pytest.approx(1 / 3, abs=1 / 3 + 1e-6)


def test_the_planned_filters_come_first_and_no_set_twice():
    for seed in range(20):
        scene = random_scene(seed)
        sets = filter_sets(scene)
        assert sets[0] == scene.composition.settings.filters
        assert () in sets and len(set(sets)) == len(sets)


def test_the_table_looks_up_to_what_the_grid_says():
    state = build_state(TARN_SCENE)
    grid, table = grid_of(state), spot_table(state, "Tarn")
    rng = random.Random(3)
    for _ in range(200):
        f, a, r = (rng.randrange(n) for n in grid.exposures.shape)
        shutter, iso, frames, total, _ = table.cells[f][a][r]
        closed = grid.exposures[f, a, r]
        assert table.shutters[shutter].text == shutter_text(closed.settings.shutter_s)
        assert table.isos[iso] == iso_text(closed.settings.iso)
        assert (frames, table.totals[total]) == (grid.frames[f, a, r], duration_text(float(grid.total_s[f, a, r])))
        lines = table.ledgers[f][a][r]
        if lines:
            # The account ends at the time that is set.
            assert table.times[lines[-1][2]] == table.shutters[shutter].text
        else:
            assert table.readings[r] == table.shutters[shutter].text
        assert table.shutters[shutter].bracket[0].seconds > 0
    assert table.apertures[table.own_aperture].text == aperture_text(TARN_SCENE.composition.settings.aperture_n)
    planned = next(one for one in table.light if one.minutes == 0)
    # How far the light moves within the plan's own sequence is what the sequence says of itself.
    own = table.cells[0][table.own_aperture][table.expected]
    assert table.drifts[planned.drifts[own[3]]] == whole_sequence(state).drift.text
    assert all(len(one.drifts) == len(table.totals) for one in table.light)
    assert (planned.thirds, planned.at_utc) == (0, TARN_SCENE.composition.moment_utc)
    assert len(TypeAdapter(SpotTable).dump_json(table)) < 1_000_000


@pytest.mark.parametrize("seed", range(8))
def test_where_all_is_as_planned_the_answer_is_the_plan(seed):
    """Also where readings are hours old: within the rounding of the reading to its mark."""
    scene = random_scene(200 + seed)
    reading = scene.composition.reading
    if reading is not None:
        old = replace(
            reading, taken_at_utc=reading.taken_at_utc - timedelta(hours=random.Random(seed).choice([0, 2, 5]))
        )
        scene = replace(scene, composition=replace(scene.composition, reading=old))
    state = build_state(scene)
    grid = grid_of(state)
    f, a, r = 0, grid.own_aperture, grid.expected
    if "shutter" not in scene.composition.locks:
        gathered = float(gathered_s(grid.exposures[f, a, r].settings.shutter_s, scene.kit.body.reciprocity_p))
        assert abs(math.log2(gathered / state.exposure.gathered_s)) <= 1 / 3 + 1e-6 or gathered > 3600
    if not scene.composition.panorama.readings and "iso" in scene.composition.locks:
        assert grid.frames[f, a, r] == frame_count(state)


@pytest.mark.parametrize("seed", range(8))
def test_a_table_comes_of_every_scene(seed):
    try:
        table = spot_table(build_state(random_scene(100 + seed)), "Drawn")
    except SceneError as problem:
        pytest.fail(f"a scene that can be computed has no table: {problem}")
    shape = (len(table.filters), len(table.apertures), len(table.readings))
    assert (len(table.cells), len(table.cells[0]), len(table.cells[0][0])) == shape
    for element in table.soft.elements:
        assert len(element.depth) == len(element.focus) == shape[1]
        assert all(len(one) == len(table.soft.shutters) for one in element.motion)


def test_causes_of_softness_are_as_large_as_their_own_laws_say():
    state = build_state(TARN_SCENE)
    pixel = state.scene.kit.body.sensor_width_mm / state.scene.kit.body.pixels_across
    grid = grid_of(state)
    times = np.array([1 / 500, state.hand_held_limit_s, 1.0])
    found = softness_of(state, times, grid.by_aperture)
    # At the limit by hand the blur is just what counts as sharp.
    assert found.hand[1] * pixel == pytest.approx(state.depth.circle_of_confusion_mm)
    # Diffraction: 2.44 lambda N (Airy), 550 nm, grows with the f-number alone.
    for n, airy in zip(grid.apertures, found.diffraction, strict=True):
        assert airy * pixel == pytest.approx(2.44 * 550e-6 * n, rel=0.02)
    for k, i in enumerate(found.elements):
        if state.scene.composition.elements[i].motion == "water":
            for t, px in zip(times, found.motion[k, 1], strict=True):
                assert px * pixel == pytest.approx(element_travel_mm(state, i, float(t)))
            assert np.array_equal(found.motion[k, 0], found.motion[k, 3])
    assert found.wind[0].max() == 0
    assert (np.diff(found.wind, axis=0) >= 0).all() and (np.diff(found.wind, axis=1) >= 0).all()
    assert (np.diff(found.focus, axis=1) <= 0).all()


def test_wind_on_a_stand_goes_with_the_square_of_the_wind_and_the_focal_length():
    """By hand: 10 m/s on 0.02 m2, 40 % of 1.2 N in gusts, 0.1 m from the head of 1000 Nm/rad: 48 microradians of 200 mm."""
    assert float(wind_on_stand_mm(10.0, np.array(1.0), 200.0)) == pytest.approx(200 * 48e-6)
    assert float(wind_on_stand_mm(20.0, np.array(1.0), 200.0)) == pytest.approx(4 * 200 * 48e-6)
    assert float(wind_on_stand_mm(10.0, np.array(0.005), 200.0)) == pytest.approx(0.1 * 200 * 48e-6)


def test_what_to_try_helps_where_it_is_tried():
    """The time that is said to hold something does, and the next longer one does not."""
    for seed in range(5):
        state = build_state(random_scene(seed))
        table = spot_table(state, "Drawn")
        for element in table.soft.elements:
            for w in range(len(WINDS)):
                said = element.for_motion[w]
                if " or shorter holds" not in said:
                    continue
                k = table.soft.shutters.index(said.split(" or shorter")[0])
                assert element.motion[w][k] <= SEEN_PX + 0.05
                assert k + 1 == len(table.soft.shutters) or element.motion[w][k + 1] > SEEN_PX - 0.05


def test_winds_are_told_apart_by_what_one_sees():
    """The Beaufort scale of the WMO: 2 leaves rustle (1.6 to 3.3 m/s), 4 small branches move (5.5 to 7.9), 6 large ones (10.8 to 13.8)."""
    for number, low, high in ((2, 1.6, 3.3), (4, 5.5, 7.9), (6, 10.8, 13.8)):
        assert low <= beaufort_wind_m_s(number) <= high


Metres = st.floats(-500, 500)


@given(Metres, Metres, Metres, Metres, st.floats(-2000, 2000), st.floats(-2000, 2000))
def test_two_bearings_cross_at_what_was_pointed_at(e1, n1, e2, n2, east, north):
    def at(e: float, n: float) -> Pointing:
        return Pointing(e, n, math.degrees(math.atan2(east - e, north - n)), 2.0, 3.0)

    one, other = at(e1, n1), at(e2, n2)
    near = min(math.hypot(east - e1, north - n1), math.hypot(east - e2, north - n2))
    angle = abs((one.azimuth_deg - other.azimuth_deg + 90) % 180 - 90)
    if near < 5 or angle < 6:
        return
    found = cross(one, other)
    assert (found.east_m, found.north_m) == (pytest.approx(east, abs=1e-3), pytest.approx(north, abs=1e-3))
    swapped = cross(other, one)
    assert swapped.longer_m == pytest.approx(found.longer_m, rel=1e-6)
    assert found.longer_m >= found.shorter_m >= 0


def test_the_error_is_that_of_many_tries():
    one = Pointing(0.0, 0.0, 30.0, 2.0, 4.0)
    other = Pointing(120.0, 10.0, 330.0, 3.0, 2.0)
    found = cross(one, other)
    rng = np.random.default_rng(5)

    def tried(p: Pointing) -> Pointing:
        turned, (east, north) = rng.normal(0, p.azimuth_error_deg), rng.normal(0, p.position_error_m, 2)
        return Pointing(p.east_m + east, p.north_m + north, p.azimuth_deg + turned, 0.0)

    many: list[Crossing] = [cross(tried(one), tried(other)) for _ in range(4000)]
    spread = np.cov(np.array([(c.east_m, c.north_m) for c in many]).T)
    values = np.sqrt(np.linalg.eigvalsh(spread))
    assert found.longer_m == pytest.approx(values[1], rel=0.08)
    assert found.shorter_m == pytest.approx(values[0], rel=0.08)


def test_bearings_that_tell_nothing_are_told_so():
    with pytest.raises(NoCrossing, match="parallel"):
        cross(Pointing(0, 0, 10, 1), Pointing(100, 0, 12, 1))
    with pytest.raises(NoCrossing, match="behind"):
        cross(Pointing(0, 0, 300, 1), Pointing(100, 0, 60, 1))


@given(st.floats(-80, 80), st.floats(-179, 179), st.floats(-3000, 3000), st.floats(-3000, 3000))
def test_metres_from_a_position_lead_back_to_it(latitude, longitude, east, north):
    there = position_of(latitude, longitude, east, north)
    found = metres_between(latitude, longitude, *there)
    assert found == (pytest.approx(east, abs=1e-3), pytest.approx(north, abs=1e-3))
    assert math.hypot(*found) == pytest.approx(apart_m(latitude, longitude, *there), abs=1e-6)
