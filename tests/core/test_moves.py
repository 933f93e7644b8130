"""Moves of the camera and of elements, and the aspects of a try."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.camera.geometry import build_geometry
from lucid_ridge.core.camera.keep_out import side_of
from lucid_ridge.core.camera.reach import heights_in_reach
from lucid_ridge.core.changes.apply import apply_change
from lucid_ridge.core.changes.camera_moves import (
    Aim,
    AimToward,
    MoveElement,
    PutElement,
    SetPhotographLens,
    StandAt,
    Step,
    TurnAim,
)
from lucid_ridge.core.model.kit import Support
from lucid_ridge.core.model.scene import KeepOutLine, RidgePoint, Underlay
from lucid_ridge.core.records import SceneError
from lucid_ridge.reports.evaluate import changed_state, evaluate
from lucid_ridge.reports.frame.tries import tries
from lucid_ridge.reports.frame.words import how_reached

from .conftest import changed

START = TARN_SCENE.composition


def after(*moves, composition=START):
    for move in moves:
        composition = apply_change(composition, TARN_SCENE.kit, move)
    return composition


@given(st.floats(0, 359.9), st.floats(-5, 5), st.floats(-5, 5))
def test_a_step_goes_where_the_camera_looks_and_back_again(azimuth, right, ahead):
    facing = replace(START, azimuth_deg=azimuth)
    there = after(Step(right_m=right, ahead_m=ahead), composition=facing)
    assert math.hypot(there.east_m - START.east_m, there.north_m - START.north_m) == pytest.approx(
        math.hypot(right, ahead)
    )
    back = after(Step(right_m=-right, ahead_m=-ahead), composition=there)
    assert (back.east_m, back.north_m) == pytest.approx((START.east_m, START.north_m), abs=1e-9)


def test_ahead_facing_east_is_east_and_right_is_south():
    facing = replace(START, azimuth_deg=90.0, east_m=0.0, north_m=0.0)
    there = after(Step(right_m=1, ahead_m=2), composition=facing)
    assert (there.east_m, there.north_m) == pytest.approx((2, -1), abs=1e-12)


@given(st.floats(-400, 400), st.floats(-400, 400))
def test_aimed_toward_a_point_it_lies_in_the_middle(east, north):
    if math.hypot(east, north) < 1:
        return
    aimed = after(AimToward(east_m=east, north_m=north), composition=replace(START, east_m=0.0, north_m=0.0))
    bearing = math.degrees(math.atan2(east, north)) % 360
    assert (aimed.azimuth_deg - bearing + 180) % 360 - 180 == pytest.approx(0, abs=1e-3)
    assert aimed.pitch_deg == START.pitch_deg


@given(st.floats(-180, 180), st.floats(-180, 180))
def test_turning_stays_on_the_circle_and_off_the_poles(right, up):
    turned = after(TurnAim(right_deg=right, up_deg=up))
    assert 0 <= turned.azimuth_deg < 360
    assert -89 <= turned.pitch_deg <= 89
    assert after(Aim(azimuth_deg=-10, pitch_deg=3)).azimuth_deg == 350


def test_an_element_is_put_where_the_hand_is_and_keeps_its_turn():
    put = after(PutElement(element_id="boathouse", east_m=10, north_m=20))
    was = next(e for e in START.elements if e.id == "boathouse")
    now = next(e for e in put.elements if e.id == "boathouse")
    assert (now.east_m, now.north_m, now.turned_deg) == (10, 20, was.turned_deg)
    assert [e for e in put.elements if e.id != "boathouse"] == [e for e in START.elements if e.id != "boathouse"]


@pytest.mark.parametrize("move", [
    PutElement(element_id="skarn", east_m=800, north_m=900),
    MoveElement(element_id="skarn", bearing_deg=math.degrees(math.atan2(800, 900)), distance_m=math.hypot(800, 900)),
])  # fmt: skip
def test_a_ridgeline_moves_whole(move):
    line = tuple(RidgePoint(bearing_deg=b, distance_m=3000, height_m=300 + b) for b in (30, 36, 50))
    start = replace(
        START, east_m=0.0, north_m=0.0,
        elements=tuple(replace(e, ridgeline=line) if e.id == "skarn" else e for e in START.elements),
    )  # fmt: skip
    there = after(move, composition=start)
    index = next(i for i, e in enumerate(there.elements) if e.id == "skarn")
    assert there.elements[index].ridgeline == line
    geometry = build_geometry(replace(TARN_SCENE, composition=there))
    assert geometry.middle_m[index] == pytest.approx([800, 900], abs=1e-6)


def test_carrying_the_camera_keeps_aim_and_height():
    there = after(StandAt(east_m=3, north_m=4))
    assert replace(there, east_m=START.east_m, north_m=START.north_m) == START


@given(st.floats(-50, 50), st.floats(-50, 50))
def test_the_side_of_a_line_is_the_distance_from_it(east, north):
    # A line due north through the origin: west of it, to its left, one may stand.
    line = KeepOutLine(name="edge", from_east_m=0, from_north_m=-10, to_east_m=0, to_north_m=90)
    assert side_of(line, east, north) == pytest.approx(-east)


def test_reach_adds_the_column_and_what_hangs():
    legs = Support(name="legs", kind="tripod", lowest_m=0.4, highest_m=1.4, column_m=0.3, inverted_lowest_m=0.1)
    scene = replace(TARN_SCENE, kit=replace(TARN_SCENE.kit, support=legs))
    assert heights_in_reach(scene, steady=True) == pytest.approx((0.1, 1.7))
    assert [bool(how_reached(scene, True, h)) for h in (0.2, 1.0, 1.6)] == [True, False, True]
    assert heights_in_reach(scene, steady=False) == (0.1, 1.75)


def test_a_photograph_lies_where_it_looked_and_as_wide_as_its_lens():
    under = Underlay(photograph_id="one", azimuth_deg=40.0, pitch_deg=-7.0, view_deg=30.0, aspect=1.5)
    same = evaluate(changed(TARN_SCENE, underlay=under), [SetPhotographLens(equivalent_mm=24.0)]).framing.underlay
    # The same aim and, at infinity, the same 24 mm: it fills the frame (which takes in less focused at 1.9 m).
    assert (same.x, same.y) == pytest.approx((0.5, 0.5))
    assert same.width == pytest.approx(same.height) == pytest.approx(1 + 0.024 / (1.9 - 0.024), rel=1e-3)
    aside = evaluate(changed(TARN_SCENE, underlay=replace(under, azimuth_deg=50.0))).framing.underlay
    assert aside.x > 0.6
    behind = evaluate(changed(TARN_SCENE, underlay=replace(under, azimuth_deg=220.0, pitch_deg=7.0)))
    assert behind.framing.underlay is None


def test_tries_differ_from_the_picture_and_stay_within_reach():
    free = changed(TARN_SCENE, locks=())
    state = changed_state(free)
    made = tries(state)
    names = [one.name for one in made]
    assert len(set(names)) == len(names) >= 7
    low, high = heights_in_reach(free, state.steady)
    for one in made:
        there = changed_state(free, one.changes).scene.composition
        assert there != state.scene.composition
        assert low <= there.camera_height_m <= high
        assert free.kit.lens.shortest_mm <= there.settings.focal_length_mm <= free.kit.lens.longest_mm
    assert "long" not in [one.name for one in tries(changed_state(TARN_SCENE))]


@pytest.mark.parametrize(("part", "pointer"), [
    ({"keep_out_lines": (KeepOutLine(name="dot", from_east_m=1, from_north_m=1, to_east_m=1, to_north_m=1),)}, "/keep_out_lines/0/to_east_m"),
    ({"elements": (replace(START.elements[0], ridgeline=(RidgePoint(bearing_deg=1, distance_m=9, height_m=1),)),), "reading": None}, "/elements/0/ridgeline"),
])  # fmt: skip
def test_contradictions_are_refused_by_name(part, pointer):
    with pytest.raises(SceneError) as caught:
        evaluate(changed(TARN_SCENE, **part))
    assert caught.value.problems[0].pointer.endswith(pointer)


def test_beyond_a_line_or_the_reach_one_click_leads_back():
    # A line due north just east of the standpoint; standing east of it is beyond.
    line = KeepOutLine(name="cut bank", from_east_m=0.2, from_north_m=-50, to_east_m=0.2, to_north_m=50)
    beyond = changed(TARN_SCENE, keep_out_lines=(line,), east_m=1.0, camera_height_m=2.5)
    found = {t.kind: t for t in evaluate(beyond).tensions}
    assert found["standing"].sentence.startswith("By 0.80 m.")
    assert found["reach"].mend.label == "Lower to 1.62 m"
    back = changed_state(beyond, found["standing"].mend.changes).scene.composition
    assert (back.east_m, back.north_m) == pytest.approx((-0.3, beyond.composition.north_m))
    assert "standing" not in {t.kind for t in evaluate(beyond, found["standing"].mend.changes).tensions}
    tall = replace(TARN_SCENE.kit.support, column_m=1.0)
    reached = evaluate(replace(beyond, kit=replace(TARN_SCENE.kit, support=tall)))
    assert "reach" not in {t.kind for t in reached.tensions}
