"""Shadows that upright things cast on level ground."""

from __future__ import annotations

import math

import numpy as np
import shapely
from numpy.typing import NDArray

from lucid_ridge.core.framing.silhouettes import ShadedSide

Array = NDArray[np.float64]

LONGEST_SHADOW = 60.0
"""Longest shadow drawn, in heights of what casts it: a sun within a degree of the horizon casts none worth drawing farther."""


def shadow_rings(feet_m: Array, heights_m: Array, sun_azimuth_deg: float, sun_altitude_deg: float) -> list[Array]:
    """Outlines (K, 2) of the ground that boxes shade, east and north in metres; none without a sun.

    Parameters
    ----------
    feet_m
        (N, 4, 2): corners of the feet.
    heights_m
        (N,): heights above the ground the shadows fall on.
    sun_azimuth_deg, sun_altitude_deg
        Of the sun as seen, with refraction.

    """
    if sun_altitude_deg <= 0 or len(feet_m) == 0:
        return [np.empty((0, 2)) for _ in feet_m]
    length = np.minimum(heights_m / math.tan(math.radians(sun_altitude_deg)), LONGEST_SHADOW * heights_m)
    azimuth = math.radians(sun_azimuth_deg)
    cast = feet_m - length[:, None, None] * np.array([math.sin(azimuth), math.cos(azimuth)])
    points = np.concatenate([feet_m, cast], axis=1)
    which = np.repeat(np.arange(len(points)), points.shape[1])
    hulls = shapely.convex_hull(shapely.multipoints(points.reshape(-1, 2), indices=which))
    return [shapely.get_coordinates(hull)[:-1] for hull in hulls]


def shaded_side(sun_azimuth_deg: float, bearing_deg: float) -> ShadedSide:
    """Side of a thing, seen along a bearing, that the sun does not reach: left, right, all, or none ("").

    Within 30 degrees of behind it the whole face is in shade; within 30 of behind the camera, none.
    """
    relative = (sun_azimuth_deg - bearing_deg + 180) % 360 - 180
    if abs(relative) <= 30:
        return "all"
    if abs(relative) >= 150:
        return ""
    return "left" if relative > 0 else "right"
