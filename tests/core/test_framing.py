"""Cameras, boxes and silhouettes."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lucid_ridge.core.framing.boxes import box_corners, visible_depths
from lucid_ridge.core.framing.camera import Camera, earth_drop_m
from lucid_ridge.core.framing.crop import Crop, crop_rectangle
from lucid_ridge.core.framing.outlines import project_shapes, shapes_in_space

CAMERA = Camera((0.0, 0.0, 0.5), 0.0, 0.0, 0.0, 24.0, 36.0, 24.0)


def corners(east, north, base, turned, width, depth, height):
    arrays = [np.array([v], dtype=float) for v in (turned, width, depth, height)]
    return box_corners(np.array([[east, north, base]], dtype=float), *arrays)


@given(st.floats(0, 360), st.floats(-60, 60), st.floats(-40, 40))
def test_axes_are_square_and_of_unit_length(azimuth, pitch, roll):
    axes = Camera((0, 0, 0), azimuth, pitch, roll, 24, 36, 24).axes
    assert axes @ axes.T == pytest.approx(np.eye(3), abs=1e-12)


def test_what_the_lens_points_at_is_in_the_middle():
    camera = Camera((3.0, 4.0, 1.0), 57.0, -12.0, 5.0, 35.0, 36.0, 24.0)
    assert camera.project(np.array([3.0, 4.0, 1.0]) + 9 * camera.axes[2]) == pytest.approx([0.5, 0.5])


def test_the_horizon_of_a_level_camera_halves_the_frame_and_leans_with_roll():
    assert CAMERA.horizon_y() == pytest.approx((0.5, 0.5))
    left, right = Camera((0, 0, 0.5), 0, 0, 10, 24, 36, 24).horizon_y()
    assert left > right  # leaning to the right lifts the horizon on the right of the picture
    assert Camera((0, 0, 0.5), 0, -60, 0, 24, 36, 24).horizon_y() is None


def test_visible_depth_is_cut_by_the_frame():
    # A floor from the feet to 100 m: the frame's lower edge meets it at 0.5 m / (12/24) = 1 m.
    near, far = visible_depths(CAMERA, corners(0, -5, 0, 0, 400, 105, 0))
    assert near[0] == pytest.approx(1.0, rel=1e-5)
    assert far[0] == pytest.approx(100.0, rel=1e-6)


def test_what_stands_behind_or_beside_is_out_of_frame():
    behind, _ = visible_depths(CAMERA, corners(0, -10, 0, 180, 2, 2, 2))
    beside, _ = visible_depths(CAMERA, corners(20, 2, 0, 0, 1, 1, 1))
    assert np.isnan(behind[0])
    assert np.isnan(beside[0])


@given(st.floats(-8, 8), st.floats(0.5, 60), st.floats(0, 360), st.floats(0.2, 6), st.floats(0.2, 9), st.floats(0.1, 4))
def test_visible_depth_agrees_with_points_scattered_through_the_box(east, north, turned, width, depth, height):
    box = corners(east, north, 0, turned, width, depth, height)
    near, far = visible_depths(CAMERA, box)
    rng = np.random.default_rng(4)
    u = rng.random((6000, 3))
    o = box[0, 0]
    points = o + u[:, :1] * (box[0, 1] - o) + u[:, 1:2] * (box[0, 4] - o) + u[:, 2:] * (box[0, 3] - o)
    seen = CAMERA.to_camera(points)
    ahead = seen[:, 2] > 0.01
    frame = CAMERA.to_frame(np.where(ahead[:, None], seen, 1.0))
    inside = ahead & (frame >= 0).all(axis=1) & (frame <= 1).all(axis=1)
    if inside.any():
        assert near[0] <= seen[inside, 2].min() + 1e-9
        assert far[0] >= seen[inside, 2].max() - 1e-9


def test_curvature_less_refraction_drops_far_points():
    # science: 0.0553 m at 900 m, 15.363 m at 15 km.
    assert earth_drop_m([900, 15000]) == pytest.approx([0.0553, 15.363], abs=6e-4)


@given(st.floats(0.1, 5), st.floats(0.05, 1), st.floats(-1, 1), st.floats(-1, 1), st.floats(0.3, 3))
def test_a_crop_stays_in_the_frame_with_its_aspect(aspect, scale, dx, dy, frame):
    left, top, width, height = crop_rectangle(Crop(aspect=aspect, scale=scale, offset_x=dx, offset_y=dy), frame)
    assert left >= -1e-9 and top >= -1e-9 and left + width <= 1 + 1e-9 and top + height <= 1 + 1e-9
    assert width / height * frame == pytest.approx(aspect, rel=1e-9)


def outlines(camera, kind, seed, box):
    return project_shapes(camera, shapes_in_space(kind, seed, box))


def test_silhouettes_keep_their_form_and_fill_their_box():
    box = corners(0, 5, 0, 0, 2, 1, 1)[0]
    first = outlines(CAMERA, "boulder", "stone", box)
    assert first == outlines(CAMERA, "boulder", "stone", box)
    assert first != outlines(CAMERA, "boulder", "another", box)
    points = np.array(first[0].points)
    left, right = CAMERA.project(box[:2])[:, 0]
    assert points[:, 0].min() == pytest.approx(left, abs=1e-4)
    assert points[:, 0].max() == pytest.approx(right, abs=1e-4)
    assert outlines(CAMERA, "boulder", "stone", corners(0, -5, 0, 180, 2, 1, 1)[0]) == ()
