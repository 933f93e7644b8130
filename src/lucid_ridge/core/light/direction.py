"""The direction of light relative to the view (common practice in its bounds)."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray

LightSide = Literal["none", "front", "side_left", "side_right", "back_left", "back_right"]

SIDES: tuple[LightSide, ...] = ("none", "front", "side_left", "side_right", "back_left", "back_right")

SUN_UP_DEG = -0.833
"""Airless altitude of the sun's centre at rise and set: 34' of refraction, 16' of radius."""


def relative_azimuth_deg(sun_azimuth_deg: ArrayLike, axis_azimuth_deg: float) -> NDArray[np.float64]:
    """Sun's azimuth less the lens axis, -180..180, negative to the left of the picture."""
    return np.asarray((np.asarray(sun_azimuth_deg, dtype=float) - axis_azimuth_deg + 180) % 360 - 180)


def light_side(sun_azimuth_deg: ArrayLike, sun_altitude_deg: ArrayLike, axis_azimuth_deg: float) -> NDArray[np.int_]:
    """Index into `SIDES` of the direct light on the view.

    With the sun within 45 degrees of the point behind the camera the light is front light, within
    45 degrees of the lens axis back light, between them side light.
    """
    relative = relative_azimuth_deg(sun_azimuth_deg, axis_azimuth_deg)
    off_axis = np.abs(relative)
    left = relative < 0
    index = np.where(off_axis > 135, 1, np.where(off_axis >= 45, np.where(left, 2, 3), np.where(left, 4, 5)))
    return np.asarray(np.where(np.asarray(sun_altitude_deg) < SUN_UP_DEG, 0, index))
