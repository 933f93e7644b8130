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


def shadow_ring(foot_m: Array, height_m: float, sun_azimuth_deg: float, sun_altitude_deg: float) -> Array | None:
    """Outline (K, 2) of the ground that a box shades, east and north in metres; None without a sun.

    Parameters
    ----------
    foot_m
        (4, 2): corners of the foot.
    height_m
        Height above the ground it falls on.
    sun_azimuth_deg, sun_altitude_deg
        Of the sun as seen, with refraction.

    """
    if sun_altitude_deg <= 0 or height_m <= 0:
        return None
    length = min(height_m / math.tan(math.radians(sun_altitude_deg)), LONGEST_SHADOW * height_m)
    azimuth = math.radians(sun_azimuth_deg)
    cast = foot_m - length * np.array([math.sin(azimuth), math.cos(azimuth)])
    hull = shapely.MultiPoint(np.concatenate([foot_m, cast])).convex_hull
    return np.array(hull.exterior.coords[:-1]) if hull.geom_type == "Polygon" else None


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
