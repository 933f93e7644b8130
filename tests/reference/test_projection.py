"""Projection against OpenCV's projectPoints."""

from __future__ import annotations

import math

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lucid_ridge.core.framing.camera import Camera


def by_opencv(camera: Camera, points: np.ndarray) -> np.ndarray:
    """Normalised image coordinates by OpenCV, from rotations built here on their own."""
    az, p, r = (math.radians(a) for a in (camera.azimuth_deg, camera.pitch_deg, camera.roll_deg))
    # East-north-up to a camera looking north: x right, y down, z ahead.
    base = np.array([[1.0, 0, 0], [0, 0, -1], [0, 1, 0]])
    turn = np.array([[math.cos(az), -math.sin(az), 0], [math.sin(az), math.cos(az), 0], [0, 0, 1]])
    tilt = np.array([[1, 0, 0], [0, math.cos(p), math.sin(p)], [0, -math.sin(p), math.cos(p)]])
    lean = np.array([[math.cos(r), math.sin(r), 0], [-math.sin(r), math.cos(r), 0], [0, 0, 1]])
    rotation = lean @ tilt @ base @ turn
    vector, _ = cv2.Rodrigues(rotation)
    translation = -rotation @ np.array(camera.position_m)
    v = camera.image_distance_mm
    matrix = np.array([[v / camera.frame_width_mm, 0, 0.5], [0, v / camera.frame_height_mm, 0.5], [0, 0, 1.0]])
    projected, _ = cv2.projectPoints(points, vector, translation, matrix, None)
    return projected[:, 0]


@settings(max_examples=150)
@given(
    st.floats(0, 360), st.floats(-70, 70), st.floats(-40, 40), st.floats(14, 300),
    st.tuples(*[st.floats(-50, 50)] * 3), st.integers(0, 2**31),
)  # fmt: skip
def test_agrees_with_opencv(azimuth, pitch, roll, image_distance, position, seed):
    camera = Camera(position, azimuth, pitch, roll, image_distance, 36.0, 24.0)
    rng = np.random.default_rng(seed)
    ahead = np.stack([rng.uniform(-3, 3, 20), rng.uniform(-3, 3, 20), rng.uniform(0.5, 200, 20)], axis=1)
    points = ahead @ camera.axes + np.array(position)
    ours, theirs = camera.project(points), by_opencv(camera, points)
    assert np.abs((ours - theirs) / np.maximum(1, np.abs(theirs))).max() < 1e-6


def test_worked_points():
    # Camera 0.45 m up, 24 mm on 36 x 24, azimuth 40, pitch -8, flat Earth; computed with OpenCV.
    camera = Camera((0, 0, 0.45), 40.0, -8.0, 0.0, 24.0, 36.0, 24.0)

    def point(bearing, distance, height):
        b = math.radians(bearing)
        return [distance * math.sin(b), distance * math.cos(b), height]

    seen = camera.project(np.array([point(36, 1.2, 0.3), point(44, 12, 1.5)]))
    assert seen[0] == pytest.approx([0.45373867, 0.48502807], abs=1e-8)
    assert seen[1] == pytest.approx([0.54766358, 0.26889661], abs=1e-8)
