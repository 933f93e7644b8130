"""Stars as points: how far they trail while the shutter is open.

References
----------
.. [1] The Earth turns by 7.2921159e-5 radians a second against the stars (sidereal rate; Explanatory Supplement to
       the Astronomical Almanac, 3rd ed.).
.. [2] J. Meeus, Astronomical Algorithms, 2nd ed., 1998, chapter 13: declination of a direction.

"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]

SIDEREAL_RAD_S = 7.2921159e-5


def declination_deg(azimuth_deg: ArrayLike, altitude_deg: ArrayLike, latitude_deg: float) -> Array:
    """Declination of what stands in a direction, ``sin d = sin h sin lat + cos h cos lat cos A`` [2]_."""
    a, h, lat = np.radians(azimuth_deg), np.radians(altitude_deg), np.radians(latitude_deg)
    return np.asarray(
        np.degrees(np.arcsin(np.clip(np.sin(h) * np.sin(lat) + np.cos(h) * np.cos(lat) * np.cos(a), -1, 1)))
    )


def trail_mm(image_distance_mm: ArrayLike, declination: ArrayLike, seconds: ArrayLike) -> Array:
    """Trail on the sensor near the middle of the frame, ``f x rate x cos(declination) x t`` [1]_."""
    rate = SIDEREAL_RAD_S * np.cos(np.radians(declination))
    return np.asarray(np.asarray(image_distance_mm, dtype=float) * rate * np.asarray(seconds, dtype=float))


def longest_s(image_distance_mm: float, pitch_mm: float, pixels: float, declination: ArrayLike) -> Array:
    """Longest time in seconds before stars at a declination trail over so many pixels; inf at the pole."""
    with np.errstate(divide="ignore"):
        return np.asarray(pixels * pitch_mm / trail_mm(image_distance_mm, declination, 1.0))
