"""Lengths of lines and quick words on distance against geodesics of GeographicLib."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from geographiclib.geodesic import Geodesic
from hypothesis import given
from hypothesis import strategies as st

from lucid_ridge.core.light import terrain
from lucid_ridge.core.light.terrain import line_length_m, nearest, surely_farther

latitudes, longitudes = st.floats(-89.9, 89.9), st.floats(-180, 180)


def geodesic_m(a: tuple[float, float], b: tuple[float, float]) -> float:
    return float(Geodesic.WGS84.Inverse(*a, *b)["s12"])


@given(latitudes, longitudes, st.lists(st.tuples(st.floats(-0.3, 0.3), st.floats(-0.3, 0.3)), min_size=1, max_size=6))
def test_a_line_is_as_long_as_its_geodesics(latitude, longitude, steps):
    points = [(latitude, longitude)]
    for north, east in steps:
        points.append((min(max(points[-1][0] + north, -89.95), 89.95), (points[-1][1] + east + 180) % 360 - 180))
    truth = sum(geodesic_m(a, b) for a, b in pairwise(points))
    assert line_length_m(*zip(*points, strict=True)) == pytest.approx(truth, rel=1e-6, abs=0.002 * len(points))


@given(st.floats(-84, 84), longitudes, st.floats(-0.017, 0.017), st.floats(-0.017, 0.017))
def test_short_pieces_are_right_to_a_millimetre(latitude, longitude, north, east):
    a, b = (latitude, longitude), (latitude + north, longitude + east)
    truth = geodesic_m(a, b)
    if truth <= 2000:
        assert line_length_m([a[0], b[0]], [a[1], b[1]]) == pytest.approx(truth, abs=0.001)


def test_a_long_track_needs_no_geodesic(monkeypatch):
    # One by one, those of 200,000 positions take ten seconds and more.
    asked = []
    monkeypatch.setattr(terrain, "apart_m", lambda *at: asked.append(at))
    walk = np.cumsum(np.random.default_rng(1).uniform(-1e-4, 1e-4, (200_000, 2)), axis=0)
    assert line_length_m(walk[:, 0] + 54.0, walk[:, 1] - 2.4) > 1_000_000
    assert asked == []
    assert line_length_m([], []) == line_length_m([54.0], [-2.0]) == 0.0


@given(latitudes, longitudes, st.floats(-2, 2), st.floats(-4, 4), st.sampled_from([50.0, 200.0, 30_000.0]))
def test_what_is_surely_farther_is(latitude, longitude, north, east, metres):
    other = (min(max(latitude + north, -90), 90), (longitude + east + 180) % 360 - 180)
    if surely_farther(latitude, longitude, other, metres):
        assert geodesic_m((latitude, longitude), other) > metres


def test_what_is_far_is_mostly_told_without_a_geodesic():
    chance = np.random.default_rng(2)
    told = [
        surely_farther(54.0, -2.4, (float(n), float(e)), 30_000) for n, e in chance.uniform((50, -8), (58, 3), (400, 2))
    ]
    assert sum(told) > 380


@given(latitudes, longitudes, st.lists(st.tuples(latitudes, longitudes), min_size=1, max_size=12), st.floats(1e-6, 2))
def test_the_nearest_is_the_nearest(latitude, longitude, others, close):
    # Some far, some so close together that only a geodesic tells them apart.
    others = [*others, (min(latitude + close, 90), longitude), (max(latitude - close * 1.0001, -90), longitude)]
    index, away = nearest(latitude, longitude, others)
    truth = [geodesic_m((latitude, longitude), one) for one in others]
    assert away == pytest.approx(min(truth), abs=1e-6)
    assert truth[index] == pytest.approx(min(truth), abs=1e-6)
