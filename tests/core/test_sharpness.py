"""The study of depth: the sweep, the schools side by side, slices on what can be focused on, the focus check."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.changes.kinds import SetTo, TakeSlices
from lucid_ridge.core.optics.depth_of_field import airy_disk_mm, best_aperture, defocus_blur_mm, total_blur_mm
from lucid_ridge.core.optics.thin_lens import image_distance_mm
from lucid_ridge.reports.depth.sharpness import sharpness_study
from lucid_ridge.reports.evaluate import changed_state, evaluate
from lucid_ridge.reports.explain import explain

from .conftest import changed
from .test_technique import figure_keys


def study(*changes):
    return sharpness_study(changed_state(TARN_SCENE, changes))


def test_the_sweep_is_the_two_blurs_at_every_mark():
    state = changed_state(TARN_SCENE)
    made = sharpness_study(state).sweep
    f, focus = 24.0, TARN_SCENE.composition.settings.focus_m
    near, far = state.depth.near_m, state.depth.far_m
    for point in made.points:
        # At 24 mm and 1.9 m the lens is extended by a hundredth: the Airy disk hardly knows.
        worst = max(
            float(total_blur_mm(defocus_blur_mm(f, point.aperture_n, focus, at), airy_disk_mm(point.aperture_n * f / (f - f * f / 1900))))
            for at in (near, far)
        )  # fmt: skip
        assert point.worst_um == pytest.approx(worst * 1000, rel=2e-3)
    assert sum(p.best for p in made.points) == 1 and sum(p.in_use for p in made.points) == 1


@given(st.floats(0.4, 3), st.floats(1.2, 30))
@settings(max_examples=30)
def test_more_depth_with_a_smaller_aperture_until_diffraction(near_m, times):
    # The optimum of defocus and diffraction lies at sqrt(375 dv) (Hansma 1996), found here by trying every aperture.
    f, far = 50.0, near_m * times
    marks = 2 ** (np.arange(4, 60) / 12)
    focus = 2 * near_m * far / (near_m + far)
    worst = total_blur_mm(defocus_blur_mm(f, marks, focus, near_m), airy_disk_mm(marks))
    best = int(worst.argmin())
    assert (np.diff(worst[: best + 1]) < 0).all() and (np.diff(worst[best:]) > 0).all()
    spread = float(image_distance_mm(f, near_m) - image_distance_mm(f, far))
    if 0 < best < len(marks) - 1:
        assert marks[best] == pytest.approx(float(best_aperture(spread)), rel=0.06)


def test_two_hand_set_points_leave_a_gap_that_even_slices_close():
    rows = {way.school: way for way in study().ways}
    assert rows["two_points"].frames == 2 and rows["two_points"].gap_count == 1 and not rows["two_points"].holds
    assert rows["even"].holds and rows["even"].gap_count == 0 and rows["even"].frames == 3
    assert rows["balanced"].worst.value == min(
        rows[s].worst.value for s in ("hyperfocal", "third_in", "subject", "balanced")
    )
    # Applying a row gives what it promised.
    for way in rows.values():
        state = changed_state(TARN_SCENE, way.changes)
        assert len(state.depth.slices) == way.frames


def test_slices_only_where_it_must_be_sharp_are_no_more():
    whole = changed_state(changed(TARN_SCENE, technique={"slices": "gapless", "overlap": 0.0}))
    only = changed_state(changed(TARN_SCENE, technique={"slices": "gapless", "overlap": 0.0, "only_critical": True}))
    assert len(only.depth.slices) <= len(whole.depth.slices)
    assert not [t for t in evaluate(only.scene).tensions if t.kind in ("near_soft", "gap_soft", "far_soft")]


def test_the_check_card_names_near_focus_and_far():
    rows = {row.what: row for row in study(TakeSlices(mode="gapless")).check}
    assert (
        rows["nearest"].name == "near edge of the boulder edge"
        and rows["farthest"].name == "far edge of the Skarn ridge"
    )
    assert rows["nearest"].sharp and rows["farthest"].sharp
    # Common practice: a third of the way up the picture; seen from 0.58 m it falls on the ground at two metres.
    assert rows["third_in"].distance.value == pytest.approx(2.03, abs=0.02)
    assert rows["nearest"].where.startswith("low") and rows["farthest"].where.startswith("high")


def test_what_moves_is_taken_from_one_slice_and_edges_are_named():
    made = study(TakeSlices(mode="gapless"))
    assert sum("water" in row.moving for row in made.stack) == 1
    assert any("near edge of the boulder edge" in row.edge for row in made.stack)
    assert "gap" in made.snapped_text and len(made.snapped[0].foci_m) == 3
    assert 0 < made.breathing.value < 5


def test_measures_agree_with_each_other():
    row = next(one for one in study().blurs if one.name == "boulder edge")
    assert math.hypot(row.defocus.value, row.diffraction.value) == pytest.approx(row.total.value, rel=1e-9)
    body = TARN_SCENE.kit.body
    assert row.pixels.value == pytest.approx(row.total.value / 1000 / (body.sensor_width_mm / body.pixels_across))
    assert row.on_print.value == pytest.approx(row.total.value / 1000 * 600 / 36)
    wide = sharpness_study(changed_state(changed(TARN_SCENE, wants={"print_width_mm": 1200.0})))
    assert next(one for one in wide.blurs if one.name == "boulder edge").on_print.value == pytest.approx(
        2 * row.on_print.value
    )


@pytest.mark.parametrize("mode", ["one", "gapless", "manual"])
def test_the_study_explains_itself(mode):
    state = changed_state(TARN_SCENE, [TakeSlices(mode=mode, foci_m=(0.7, 5.0)), SetTo(setting="aperture", value=8)])
    for key in set(figure_keys(sharpness_study(state))) - {""}:
        assert explain(state, key).formula
