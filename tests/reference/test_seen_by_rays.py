"""What covers the picture, against rays: one through each of many points of the frame, met with each shape's plane.

A ray meets a plane through o, spanned by a and b, where o + u a + v b = c + t d (three linear equations); it meets the
shape where (u, v) lies in its outline. Nothing here projects or clips anything.
"""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.framing.silhouettes import LYING, silhouette
from lucid_ridge.core.model.scene import Element
from lucid_ridge.reports.evaluate import changed_state
from tests.core.conftest import changed

ACROSS, DOWN = 150, 100


def rays(camera) -> np.ndarray:
    """Directions (DOWN, ACROSS, 3) in east-north-up through the middles of a grid over the frame."""
    x, y = np.meshgrid((np.arange(ACROSS) + 0.5) / ACROSS, (np.arange(DOWN) + 0.5) / DOWN)
    half_x, half_y = camera.half_tangents
    seen = np.stack([(x - 0.5) * 2 * half_x, (y - 0.5) * 2 * half_y, np.ones_like(x)], axis=-1)
    return seen @ camera.axes


def covered(camera, element: Element, corners: np.ndarray) -> np.ndarray:
    """Which rays meet an element's outlines, (DOWN, ACROSS)."""
    directions, c = rays(camera), np.asarray(camera.position_m)
    o, across, away, up = corners[0], corners[1] - corners[0], corners[4] - corners[0], corners[3] - corners[0]
    hit = np.zeros(directions.shape[:2], dtype=bool)
    for shape in silhouette(element.silhouette, element.id):
        foot, second = o + shape.away * away, away if element.silhouette in LYING else up
        for i, row in enumerate(directions):
            for j, d in enumerate(row):
                matrix = np.array([across, second, -d]).T
                if abs(np.linalg.det(matrix)) < 1e-12:
                    continue
                u, v, t = np.linalg.solve(matrix, c - foot)
                # What is nearer than the near plane is in no picture.
                if t * np.dot(d, camera.axes[2]) > 0.005:
                    hit[i, j] |= bool(shapely.contains_xy(shapely.Polygon(shape.points).buffer(0), u, v))
    return hit


def alone(element: Element, **camera):
    pitched = {"camera_height_m": 1.5, "azimuth_deg": 0.0, "pitch_deg": 0.0, "reading": None, "crop": replace(
        TARN_SCENE.composition.crop, aspect=None)} | camera  # fmt: skip
    return changed_state(changed(TARN_SCENE, elements=(element,), settings={"focus_m": None, "filters": ()}, **pitched))


PATH = Element(
    id="path", name="path", role="foreground", silhouette="meadow", east_m=0, north_m=-0.5, width_m=1.0, depth_m=400.0,
    height_m=0.0,
)  # fmt: skip


def test_a_path_underfoot_covers_what_the_rays_say():
    # A metre wide from half a metre behind the camera at 1.5 m, 24 mm, level. At the frame's foot, 2.25 m away
    # (1.5 m under half of 24 mm), the frame takes in 3.375 m: the path is 1/3.375 of its width there... counted along
    # the axis: 24 mm x 1 m / 1.5 m x 0.5 = 8 mm of 36 mm, 22 %; a triangle from there to the horizon is 5.6 %.
    state = alone(PATH)
    area = state.geometry.area(0).intersection(shapely.box(0, 0, 1.5, 1))
    assert area.area / 1.5 == pytest.approx(0.5 * (12 / 24 * 1.0 / 1.5 * 24 / 36) / 2, abs=2e-3)
    assert area.area / 1.5 == pytest.approx(0.0556, abs=2e-3)
    foot = area.intersection(shapely.LineString([(0, 0.999), (1.5, 0.999)]))
    assert foot.length / 1.5 == pytest.approx(0.222, abs=2e-3)
    assert state.geometry.area(0).is_valid


@settings(max_examples=12, deadline=None)
@given(
    st.sampled_from(["meadow", "water", "wall", "post", "boathouse"]), st.floats(-4, 4), st.floats(-6, 6),
    st.floats(0.2, 8), st.floats(0.3, 30), st.floats(0.2, 6), st.floats(-180, 180), st.floats(-40, 30), st.floats(-10, 10),
)  # fmt: skip
def test_whatever_reaches_behind_the_camera_covers_what_the_rays_say(
    kind, east, north, wide, deep, tall, turned, pitch, roll
):
    element = Element(
        id="one", name="one", role="foreground", silhouette=kind, east_m=east, north_m=north, base_m=-0.2,
        width_m=wide, depth_m=deep, height_m=0.0 if kind in LYING else tall, turned_deg=turned,
    )  # fmt: skip
    state = alone(element, pitch_deg=pitch, roll_deg=roll)
    camera = state.geometry.camera
    corners = state.geometry.corners_m[0]
    share = covered(camera, element, corners).mean()
    area = state.geometry.area(0).intersection(shapely.box(0, 0, state.geometry.aspect, 1))
    # A grid of rays knows an area to about its rim over the pitch of the grid.
    rim = (area.length + 1) / 2 * (1 / DOWN)
    assert area.area / state.geometry.aspect == pytest.approx(share, abs=max(rim, 0.01))


@given(st.floats(0.3, 3), st.floats(-3, 0.4))
@settings(max_examples=20, deadline=None)
def test_where_a_path_begins_out_of_sight_makes_no_difference(height, begins):
    # All that lies behind the camera, or below the frame's foot, is in no picture; a long patch follows the Earth a little.
    ends = (begins, begins - 7)
    first, second = (alone(replace(PATH, north_m=n, depth_m=300 - n), camera_height_m=height) for n in ends)
    whole = shapely.box(0, 0, 1.5, 1)
    seen = [one.geometry.area(0).intersection(whole).area for one in (first, second)]
    assert all(abs(a - b) < 1e-3 for a, b in pairwise(seen))
