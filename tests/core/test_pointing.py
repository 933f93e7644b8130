"""Pointing into the view: what is put or dragged there is drawn there again, by the projection that draws everything."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise

import pytest
from geographiclib.geodesic import Geodesic
from hypothesis import given
from hypothesis import strategies as st

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.changes.apply import apply_changes
from lucid_ridge.core.changes.view_moves import PointElement, ShapeElement
from lucid_ridge.core.solve.pointing import sight
from lucid_ridge.core.state.state import build_state
from lucid_ridge.demo.compositions import COMPOSITIONS, PLACES
from lucid_ridge.demo.terrain import write_demo_terrain
from lucid_ridge.formats.terrain_grids import import_terrain, plan_import
from lucid_ridge.reports.frame.pointed import pointed
from lucid_ridge.reports.frame.view import framing_report

SOLID = "boathouse"
inside = st.floats(0.05, 0.95)
below = st.floats(0.6, 0.95)


@pytest.fixture(scope="module")
def demo_terrain(tmp_path_factory):
    path = tmp_path_factory.mktemp("terrain") / "valley.tif"
    write_demo_terrain(path)
    return import_terrain(path, plan_import(path), lambda _: None)[0]


def after(*changes):
    return build_state(apply_changes(TARN_SCENE, changes))


def handles(state, identity):
    return next(e.handles for e in framing_report(state).elements if e.id == identity)


@given(inside, below)
def test_what_is_put_on_the_ground_stands_where_the_press_was(x, y):
    made = after(PointElement(element_id=SOLID, x=x, y=y))
    assert handles(made, SOLID)[0] == pytest.approx((x, y), abs=2e-3)


@given(inside, below, st.floats(2.0, 3000.0))
def test_with_a_distance_it_stands_that_far_off(x, y, distance):
    made = after(PointElement(element_id=SOLID, x=x, y=y, distance_m=distance))
    element = next(e for e in made.scene.composition.elements if e.id == SOLID)
    assert math.hypot(element.east_m, element.north_m) == pytest.approx(distance, rel=2e-3)
    assert handles(made, SOLID)[0] == pytest.approx((x, y), abs=3e-3)


@given(inside, st.floats(0.05, 0.3), st.floats(50.0, 9000.0))
def test_a_press_above_the_horizon_is_the_top(x, y, distance):
    made = after(PointElement(element_id=SOLID, x=x, y=y, distance_m=distance))
    element = next(e for e in made.scene.composition.elements if e.id == SOLID)
    assert element.base_m == pytest.approx(TARN_SCENE.composition.ground_m)
    assert handles(made, SOLID)[1] == pytest.approx((x, y), abs=4e-3)


@given(inside, below)
def test_a_foot_is_dragged_over_the_ground(x, y):
    made = after(ShapeElement(element_id=SOLID, part="foot", x=x, y=y))
    assert handles(made, SOLID)[0] == pytest.approx((x, y), abs=2e-3)


@given(st.floats(0.02, 0.35))
def test_a_top_is_dragged_to_its_height_and_the_foot_stays(y):
    before = handles(after(), SOLID)
    made = handles(after(ShapeElement(element_id=SOLID, part="top", x=before[1][0], y=y)), SOLID)
    assert made[1][1] == pytest.approx(y, abs=2e-3)
    assert made[0] == pytest.approx(before[0], abs=1e-6)


@given(st.floats(0.02, 0.2))
def test_a_side_is_dragged_to_half_the_width(off):
    start = handles(after(PointElement(element_id=SOLID, x=0.5, y=0.8)), SOLID)[0]
    scene = after(PointElement(element_id=SOLID, x=0.5, y=0.8)).scene
    wide = ShapeElement(element_id=SOLID, part="side", x=start[0] + off, y=start[1])
    made = build_state(apply_changes(scene, (wide,)))
    assert abs(handles(made, SOLID)[2][0] - start[0]) == pytest.approx(off, rel=0.05, abs=3e-3)


@given(st.floats(0.65, 0.95))
def test_the_far_end_of_what_lies_is_dragged(y):
    near = handles(after(PointElement(element_id="water", x=0.5, y=0.95)), "water")
    scene = after(PointElement(element_id="water", x=0.5, y=0.95)).scene
    far = ShapeElement(element_id="water", part="top", x=near[1][0], y=y)
    made = handles(build_state(apply_changes(scene, (far,))), "water")
    assert made[1][1] == pytest.approx(min(y, near[0][1]), abs=6e-3)


def test_a_fresh_element_is_a_sixth_of_the_view_wide():
    made = after(PointElement(element_id="boulder", x=0.5, y=0.8, fresh=True))
    foot, _, side = handles(made, "boulder")
    assert 2 * abs(side[0] - foot[0]) == pytest.approx(0.16, abs=0.01)


def test_a_press_that_names_nothing_changes_nothing():
    made = apply_changes(TARN_SCENE, (PointElement(element_id="nobody", x=0.5, y=0.8),))
    assert made.composition.elements == TARN_SCENE.composition.elements


def test_level_ground_is_met_where_the_sight_falls_by_the_lens_height():
    state = after()
    found = sight(state, 0.5, 0.9)
    lens = state.scene.composition.camera_height_m
    assert found.level_m == pytest.approx(lens / math.tan(math.radians(-found.altitude_deg)))
    assert found.terrain_m is None
    assert "level ground" in pointed(state, 0.5, 0.9).text
    assert sight(state, 0.5, 0.02).level_m is None
    assert "above the horizon" in pointed(state, 0.5, 0.02).text


def test_a_sight_into_a_hillside_ends_on_the_terrain(demo_terrain):
    made = COMPOSITIONS["boathouse"].composition
    scene = replace(TARN_SCENE, place=PLACES["tarn"], composition=replace(made, pitch_deg=0.0))
    state = build_state(scene, terrain=demo_terrain)
    found = [sight(state, x, 0.45) for x in (0.1, 0.3, 0.5, 0.7, 0.9)]
    met = [one for one in found if one.terrain_m is not None]
    assert met
    for one in met:
        # The horizon that the terrain makes stands at least as high as a sight that ends in the ground.
        assert float(state.horizon.at(one.bearing_deg)) >= one.altitude_deg - 0.3


@given(inside, below)
def test_the_map_shows_the_sight_by_bearing_and_distance(x, y):
    made = pointed(build_state(TARN_SCENE), x, y)
    for one in (made.along[0], made.along[len(made.along) // 2], made.along[-1]):
        # By the way back along the ellipsoid: an east-north grid is level within a metre or two in a hundred over 60 km.
        back = Geodesic.WGS84.Inverse(*made.from_deg, one.latitude_deg, one.longitude_deg)
        assert back["s12"] == pytest.approx(one.distance_m, rel=1e-3)
        assert math.cos(math.radians(back["azi1"] - made.bearing_deg)) > 0.9999
    steps = [b.distance_m / a.distance_m for a, b in pairwise(made.along)]
    assert made.along[0].distance_m <= 2 and made.along[-1].distance_m > 55_000
    assert max(steps) < 1.05
