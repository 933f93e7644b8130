"""Aims and measures from photographs against OpenCV's pose and projection."""

from __future__ import annotations

import math

import cv2
import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from lucid_ridge.core.framing.measuring import Known, KnownPoint, direction, find_aim, measure, photograph_camera
from lucid_ridge.core.records import SceneError


def ray(bearing, altitude):
    b, a = math.radians(bearing), math.radians(altitude)
    return np.array([math.sin(b) * math.cos(a), math.cos(b) * math.cos(a), math.sin(a)])


@settings(max_examples=60, deadline=None)
@given(st.floats(0, 359), st.floats(-30, 30), st.floats(-10, 10), st.floats(15, 90), st.floats(0, 1), st.floats(0, 1))
def test_directions_agree_with_opencv(azimuth, pitch, roll, view, x, y):
    camera = photograph_camera(azimuth, pitch, roll, view, 1.5)
    bearing, altitude = direction(camera, x, y)
    focal = 0.5 / math.tan(math.radians(view) / 2)
    matrix = np.array([[focal, 0, 0.5], [0, focal, 0.5 / 1.5], [0, 0, 1]])
    turned, _ = cv2.Rodrigues(camera.axes)
    seen, _ = cv2.projectPoints(ray(bearing, altitude)[None] * 50, turned, np.zeros(3), matrix, None)
    assert seen[0, 0] == pytest.approx([x, y / 1.5], abs=1e-6)


@settings(max_examples=40, deadline=None)
@given(
    st.floats(0, 359), st.floats(-20, 20), st.floats(-5, 5), st.floats(20, 85),
    st.floats(0.05, 0.4), st.floats(0.6, 0.95), st.floats(0.1, 0.9), st.floats(0.1, 0.9),
)  # fmt: skip
def test_two_known_points_give_back_aim_roll_and_view(azimuth, pitch, roll, view, x0, x1, y0, y1):
    camera = photograph_camera(azimuth, pitch, roll, view, 1.5)
    points = tuple(
        KnownPoint(x=x, y=y, bearing_deg=b, altitude_deg=a)
        for (x, y) in ((x0, y0), (x1, y1))
        for b, a in [direction(camera, x, y)]
    )
    assume(all(abs(p.altitude_deg) < 60 for p in points))
    found = find_aim(points, 1.5, None)
    assert (found[0] - azimuth + 180) % 360 - 180 == pytest.approx(0, abs=0.02)
    assert found[1:] == pytest.approx((pitch, roll, view), abs=0.02)


def test_points_that_contradict_each_other_are_refused():
    left = KnownPoint(x=0.2, y=0.5, bearing_deg=10, altitude_deg=0)
    right = KnownPoint(x=0.8, y=0.5, bearing_deg=10, altitude_deg=40)
    with pytest.raises(SceneError):
        find_aim((left, right), 1.5, 60.0)
    with pytest.raises(SceneError):
        find_aim((left,), 1.5, None)


@settings(max_examples=40, deadline=None)
@given(
    st.floats(0, 359), st.floats(-15, 10), st.floats(3, 300), st.floats(0.3, 30), st.floats(-15, 15), st.floats(0.4, 3)
)
def test_a_thing_of_known_size_distance_or_on_level_ground_is_measured(azimuth, pitch, distance, height, aside, lens):
    """Foot and top projected by OpenCV from their places, measured back."""
    camera = photograph_camera(azimuth, pitch, 0.0, 65.0, 1.5)
    b = math.radians(azimuth + aside)
    foot = np.array([distance * math.sin(b), distance * math.cos(b), -lens])
    turned, _ = cv2.Rodrigues(camera.axes)
    focal = 0.5 / math.tan(math.radians(65.0) / 2)
    matrix = np.array([[focal, 0, 0.5], [0, focal, 0.5 / 1.5], [0, 0, 1]])
    seen, _ = cv2.projectPoints(np.array([foot, foot + np.array([0, 0, height])]), turned, np.zeros(3), matrix, None)
    low, high = ((float(x), float(y) * 1.5) for x, y in seen[:, 0])
    for what, metres in (("height", height), ("distance", distance), ("ground", lens)):
        found = measure(camera, low, high, Known(what=what, metres=metres))
        assert found.distance_m == pytest.approx(distance, rel=1e-4)
        assert found.height_m == pytest.approx(height, rel=1e-3)
        assert (found.bearing_deg - azimuth - aside + 180) % 360 - 180 == pytest.approx(0, abs=1e-4)
