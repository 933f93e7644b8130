"""Light of the Moon.

References
----------
.. [1] K. Krisciunas and B. E. Schaefer, A model of the brightness of moonlight, PASP 103, 1033 (1991).
.. [2] Mean distance of the Moon 384 400 km (Meeus, Astronomical Algorithms, 2nd ed., chapter 47).

"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

from lucid_ridge.core.light.clear_sky import SOLAR_LUX, air_mass, sky_lux
from lucid_ridge.core.light.direction import SUN_UP_DEG

Array = NDArray[np.float64]

MEAN_DISTANCE_AU = 384_400.0 / 149_597_870.7
_EXTINCTION = 0.172
_RADIUS_DEG = 16 / 60


def phase_angle_deg(lit: ArrayLike) -> Array:
    """Angle at the Moon between Sun and Earth by the lit share of its disk, ``lit = (1 + cos a)/2``."""
    return np.asarray(np.degrees(np.arccos(np.clip(2 * np.asarray(lit, dtype=float) - 1, -1, 1))))


def moonbeam_lux(altitude_deg: ArrayLike, lit: ArrayLike, distance_au: ArrayLike = MEAN_DISTANCE_AU) -> Array:
    """Illuminance by the Moon of a surface that faces it, in lux; 0 before it rises [1]_ [2]_.

    Outside the air ``10.764 x 10^(-0.4 (3.84 + 0.026 a + 4e-9 a^4))`` at phase angle a in degrees, through the air
    ``10^(-0.4 x 0.172 X)`` of that, and as the inverse square of the distance. The air mass X is that of the sun's
    beam: the one of [1]_ is for the glow of the sky and lets far too much through near the horizon.
    """
    h = np.asarray(altitude_deg, dtype=float)
    through = 10 ** (-0.4 * _EXTINCTION * air_mass(np.maximum(h, 0)))
    return np.asarray(_outside_lux(h, lit, distance_au) * through)


def _outside_lux(h: Array, lit: ArrayLike, distance_au: ArrayLike) -> Array:
    """The Moon's beam outside the air, as much of its disk as has risen."""
    a = phase_angle_deg(lit)
    outside = 10.764 * 10 ** (-0.4 * (3.84 + 0.026 * a + 4e-9 * a**4))
    nearer = (MEAN_DISTANCE_AU / np.asarray(distance_au, dtype=float)) ** 2
    # The disk comes up, lifted by the air, between airless altitudes of its middle of -0.83 and -0.3 degrees.
    return np.asarray(outside * nearer * np.clip((h - SUN_UP_DEG) / (2 * _RADIUS_DEG), 0, 1))


def moonlit_sky_lux(altitude_deg: ArrayLike, lit: ArrayLike, distance_au: ArrayLike = MEAN_DISTANCE_AU) -> Array:
    """Illuminance of level ground by the sky that the Moon lights: the day's, in proportion to their beams."""
    h = np.asarray(altitude_deg, dtype=float)
    return np.asarray(sky_lux(h) * _outside_lux(h, lit, distance_au) / SOLAR_LUX)


def moonlit_level_lux(altitude_deg: ArrayLike, lit: ArrayLike, distance_au: ArrayLike = MEAN_DISTANCE_AU) -> Array:
    """Illuminance of level ground by the Moon: ``beam sin h`` and the sky that it lights."""
    up = np.sin(np.radians(np.maximum(np.asarray(altitude_deg, dtype=float), 0)))
    beam = moonbeam_lux(altitude_deg, lit, distance_au) * up
    return np.asarray(beam + moonlit_sky_lux(altitude_deg, lit, distance_au))
