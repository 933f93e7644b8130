"""Atmospheric refraction at the horizon and above.

References
----------
.. [1] T. Saemundsson, Sky and Telescope 72, 70 (1986); Meeus, Astronomical Algorithms, ch. 16.
.. [2] ICAO standard atmosphere for pressure by elevation.

"""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]


def pressure_hpa(elevation_m: ArrayLike) -> Array:
    """Standard pressure at an elevation, ``1013.25 (1 - 2.25577e-5 h)^5.25588`` hPa [2]_."""
    return np.asarray(1013.25 * (1 - 2.25577e-5 * np.asarray(elevation_m, dtype=float)) ** 5.25588)


@lru_cache(maxsize=4096)
def seen_altitude_deg(altitude_deg: float, elevation_m: float) -> float:
    """Altitude at which a body at an airless altitude is seen from an elevation in standard air, degrees."""
    return altitude_deg + float(refraction_deg(altitude_deg, pressure_hpa(elevation_m)))


def refraction_deg(altitude_deg: ArrayLike, pressure: ArrayLike = 1010.0, temperature_c: ArrayLike = 10.0) -> Array:
    """How much air lifts a body at airless altitude *altitude_deg*, in degrees.

    ``1.02 / tan(h + 10.3/(h + 5.11))`` arc-minutes [1]_, scaled by pressure and temperature, and
    faded out smoothly from -1 to -3 degrees, where it has no meaning any more.
    """
    h = np.asarray(altitude_deg, dtype=float)
    usable = np.maximum(h, -3.0)
    arcmin = 1.02 / np.tan(np.radians(usable + 10.3 / (usable + 5.11)))
    scale = np.asarray(pressure) / 1010.0 * 283.0 / (273.0 + np.asarray(temperature_c))
    fade = np.clip((h + 3.0) / 2.0, 0.0, 1.0)
    return np.asarray(np.maximum(arcmin, 0.0) / 60.0 * scale * fade * fade * (3 - 2 * fade))
