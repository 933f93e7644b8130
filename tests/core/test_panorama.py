"""Panels of a panorama, their exposure and their sequence."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.camera.geometry import build_geometry
from lucid_ridge.core.camera.panorama import SpanPanorama, panel_cameras, panels
from lucid_ridge.core.framing.boxes import box_corners, depths_in_any, visible_depths
from lucid_ridge.core.framing.panels import (
    panel_centres,
    panel_count,
    parallax_px,
    span_deg,
    stitched_pixels,
    tilted_base_px,
)
from lucid_ridge.core.model.scene import PanelReading, Panorama
from lucid_ridge.core.records import SceneError
from lucid_ridge.demo.framing_cases import VALLEY_HEAD
from lucid_ridge.reports.evaluate import changed_state, evaluate

from .conftest import changed

VALLEY = replace(TARN_SCENE, composition=VALLEY_HEAD)


@given(st.floats(5, 359), st.floats(5, 100), st.floats(0.1, 0.8))
def test_the_fewest_panels_cover_the_span_with_their_overlap(span, view, overlap):
    count = panel_count(span, view, overlap)
    centres = panel_centres(0.0, span, view, count)
    if count == 1:
        assert span <= view + 1e-6
        return
    steps = np.diff(centres)
    assert steps == pytest.approx(steps[0])
    assert centres[0] - view / 2 == pytest.approx(0) and centres[-1] + view / 2 == pytest.approx(span)
    assert steps[0] <= view * (1 - overlap) + 1e-6
    # One fewer would not do.
    fewer = (span - view) / (count - 2) if count > 2 else math.inf
    assert fewer > view * (1 - overlap) - 1e-6


@given(st.floats(5, 100), st.floats(0.1, 0.8))
def test_a_full_circle_closes(view, overlap):
    count = panel_count(360.0, view, overlap)
    centres = panel_centres(10.0, 360.0, view, count)
    assert centres[-1] + 360 / count == pytest.approx(centres[0] + 360)
    assert 360 / count <= view * (1 - overlap) + 1e-6


def test_spans_run_clockwise_through_north():
    assert span_deg(280, 100) == pytest.approx(180)
    assert span_deg(10, 10) == 360


def test_seven_upright_panels_of_35_mm_by_hand():
    # Upright on 36 x 24 at 35 mm: 2 atan(12 / 35) = 37.85 degrees; a third overlapping, a turn of at most 25.23.
    # (180 - 37.85) / 25.23 = 5.63, so 6 turns of 23.69 degrees: 7 panels that overlap by 37 %.
    scene = changed(VALLEY, settings={"focus_m": None})
    report = evaluate(scene).panorama
    assert report.count.value == 7 and report.rows == 1
    assert report.step.value == pytest.approx((180 - 2 * math.degrees(math.atan(12 / 35))) / 6, abs=1e-6)
    assert report.overlap.text == "37%"
    # 8192 px over 36 mm at 35 mm: 7964 px to the radian; pi radians are 25021 px wide; 8192 px upright.
    width, height = stitched_pixels(
        180, -math.degrees(math.atan(18 / 35)), math.degrees(math.atan(18 / 35)), 8192 / 36 * 35
    )
    assert (width, height) == pytest.approx((25021, 8192), abs=1)
    assert report.stitched.value == pytest.approx(width * height / 1e6, rel=1e-6)


def test_parallax_and_a_tilted_base_by_hand():
    # 55 mm off the axis, a turn of 23.69 degrees: the pupil moves 2 * 55 * sin(11.845 deg) = 22.58 mm;
    # at 3 m that is 0.7526 % of 7964 px.
    assert parallax_px(0.055, 23.69, 3.0, 7964) == pytest.approx(59.9, abs=0.1)
    assert parallax_px(0.0, 23.69, 3.0, 7964) == 0
    # One degree over a half circle: tan 1 deg = 1.7455 % at the ends.
    assert tilted_base_px(1.0, 180.0, 7964) == pytest.approx(139.0, abs=0.1)


def test_rows_are_added_where_one_is_not_tall_enough_and_run_to_and_fro():
    tall = changed(
        VALLEY, panorama=replace(VALLEY_HEAD.panorama, bottom_deg=-40.0, top_deg=45.0), orientation="landscape"
    )
    taken = panels(tall.composition, tall.kit)
    rows = 1 + max(p.row for p in taken)
    assert rows == 3  # 2 atan(12 / 35) = 37.85 upright; (85 - 37.85) / 25.23 = 1.87: two more.
    first = [p.azimuth_deg for p in taken if p.row == 0]
    second = [p.azimuth_deg for p in taken if p.row == 1]
    assert second == first[::-1]
    assert taken[0].pitch_deg > taken[-1].pitch_deg
    assert evaluate(tall).panorama.rows == 3


def test_a_panorama_spans_chosen_elements_with_its_margin():
    one = changed(VALLEY, panorama=Panorama())
    state = changed_state(one, [SpanPanorama(element_ids=("boathouse", "fold"), margin_deg=4.0)])
    panorama = state.scene.composition.panorama
    assert panorama.on
    bearings = {e.id: math.degrees(math.atan2(e.east_m, e.north_m)) % 360 for e in VALLEY_HEAD.elements}
    left, right = bearings["fold"], bearings["boathouse"]
    assert (left - panorama.from_deg) % 360 > 4
    assert (panorama.to_deg - right) % 360 > 4
    assert span_deg(panorama.from_deg, panorama.to_deg) < (right - left) % 360 + 40


def test_every_panel_is_exposed_for_the_brightest():
    evaluation = evaluate(VALLEY)
    assert [p.number for p in evaluation.panorama.panels if p.brightest] == [7]
    assert {f.shutter.value for f in evaluation.sequence.frames} == {evaluation.sequence.frames[0].shutter.value}
    # EV 14.2 at f/8 and ISO 100: t = 64 / 2^14.2 = 1/294 s, to the nearest third 1/322.
    assert evaluation.sequence.frames[0].shutter.value == pytest.approx(2 ** (-25 / 3))
    dimmer = tuple(r for r in VALLEY_HEAD.panorama.readings if r.ev100 < 14)
    without = evaluate(changed(VALLEY, panorama=replace(VALLEY_HEAD.panorama, readings=dimmer)))
    assert without.sequence.frames[0].shutter.value > evaluation.sequence.frames[0].shutter.value
    assert "brightest panel" in evaluation.ledger.metered_on


def test_the_sequence_is_panels_times_slices_times_brackets():
    stacked = changed(VALLEY, technique={"bracket": "manual", "manual_offsets_stops": (-2.0, 0.0, 2.0)})
    sequence = evaluate(stacked).sequence
    assert (sequence.panel_count, sequence.slice_count, sequence.bracket_count) == (7, 1, 3)
    assert len(sequence.frames) == 21
    assert [f.panel_number for f in sequence.frames] == [n for n in range(1, 8) for _ in range(3)]
    turns = [f for f in sequence.frames if "aim" in f.changed]
    assert [f.panel_number for f in turns] == list(range(1, 8))
    assert turns[1].actions[0].startswith("Turn 23.7° to the right, to 322")
    assert sequence.total.value == pytest.approx(sum(f.duration_s for f in sequence.frames))
    single = evaluate(changed(stacked, panorama=Panorama())).sequence
    assert sequence.total.value > 6 * single.total.value


def test_an_element_of_another_panel_counts_for_depth_of_field():
    state = changed_state(VALLEY)
    names = [e.id for e in VALLEY_HEAD.elements]
    assert not math.isnan(state.geometry.near_m[names.index("fold")])
    alone = changed_state(changed(VALLEY, panorama=Panorama()))
    assert math.isnan(alone.geometry.near_m[names.index("fold")])


def test_spans_that_cannot_be_are_refused():
    upside = changed(VALLEY, panorama=replace(VALLEY_HEAD.panorama, bottom_deg=20.0, top_deg=-5.0))
    with pytest.raises(SceneError) as caught:
        evaluate(upside)
    assert caught.value.problems[0].pointer.endswith("/panorama/top_deg")
    tele = replace(VALLEY.kit.lens, longest_mm=600.0)
    many = changed(
        replace(VALLEY, kit=replace(VALLEY.kit, lens=tele)), settings={"focal_length_mm": 600.0},
        panorama=replace(VALLEY_HEAD.panorama, from_deg=0.0, to_deg=0.0, readings=(PanelReading(azimuth_deg=0, ev100=9),)),
    )  # fmt: skip
    with pytest.raises(SceneError) as caught:
        evaluate(many)
    assert "panels" in caught.value.problems[0].message


@given(st.floats(24, 70), st.floats(-40, 10), st.integers(0, 10_000))
@settings(max_examples=25, deadline=None)
def test_depths_over_all_panels_are_those_of_each_panel_together(focal, bottom, seed):
    rng = np.random.default_rng(seed)
    scene = changed(
        TARN_SCENE, settings={"focal_length_mm": focal, "focus_m": None},
        panorama=Panorama(on=True, from_deg=0, to_deg=250, bottom_deg=bottom, top_deg=bottom + 45),
    )  # fmt: skip
    camera = build_geometry(scene).camera
    cameras = tuple(panel_cameras(scene.composition, scene.kit, camera))
    boxes = box_corners(rng.uniform(-30, 30, (6, 3)), rng.uniform(0, 360, 6), *rng.uniform(0.1, 20, (3, 6)))
    each = [visible_depths(one, boxes) for one in cameras]
    near, far = depths_in_any(cameras, boxes)
    assert near == pytest.approx(np.fmin.reduce([a for a, _ in each]), rel=1e-9, nan_ok=True)
    assert far == pytest.approx(np.fmax.reduce([b for _, b in each]), rel=1e-9, nan_ok=True)
