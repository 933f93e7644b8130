"""Clear-sky light in two parts: the beam of the sun, and what the sky itself gives.

References
----------
.. [1] P. M. Janiczek and J. A. DeYoung, Computer Programs for Sun and Moon Illuminance, U.S. Naval Observatory
       Circular 171, 1987: closed forms of the direct and the diffuse part (from memory; they add up to the
       circular's own polynomials within 12 per cent, and pvlib's clear-sky models agree within the doubt told).

"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from lucid_ridge.core.light.illuminance import natural_lux

Array = NDArray[np.float64]

SOLAR_LUX = 133_775.0
"""Beam of the sun outside the air [1]_."""
_AIR_RADII = 753.66156
"""Radius of the Earth over the thickness of an even atmosphere [1]_."""


class SkyLight(NamedTuple):
    """Light of sun and sky in lux: of the beam on a surface that faces it, and of the sky on level ground."""

    beam: Array
    sky: Array


def air_mass(altitude_deg: ArrayLike) -> Array:
    """Way of the beam through the air over that from the zenith, even atmosphere of finite height [1]_."""
    h = np.radians(np.asarray(altitude_deg, dtype=float))
    s = np.arcsin(_AIR_RADII * np.cos(h) / (_AIR_RADII + 1))
    return np.asarray(_AIR_RADII * (np.cos(s) - np.sin(h)) + np.cos(s))


def beam_lux(altitude_deg: ArrayLike) -> Array:
    """Illuminance by the sun alone of a surface that faces it, ``133775 exp(-0.21 M)``; 0 below the horizon [1]_."""
    h = np.asarray(altitude_deg, dtype=float)
    return np.asarray(np.where(h > 0, SOLAR_LUX * np.exp(-0.21 * air_mass(np.maximum(h, 0))), 0.0))


def sky_lux(altitude_deg: ArrayLike) -> Array:
    """Illuminance of level ground by the clear sky alone, sun above the horizon [1]_.

    ``133775 x 0.0289 exp(-0.042 M) (1 + (h + 90) sin h / 57.2958)``, h in degrees.
    """
    h = np.maximum(np.asarray(altitude_deg, dtype=float), 0.0)
    dome = 1 + (h + 90) * np.sin(np.radians(h)) / 57.2958
    return np.asarray(SOLAR_LUX * 0.0289 * np.exp(-0.042 * air_mass(h)) * dome)


def split(altitude_deg: ArrayLike) -> SkyLight:
    """Beam and sky of a clear day, scaled so that together they light level ground as the circular's polynomials say.

    With the sun down all light is the sky's: twilight, and at last the dark sky's own.
    """
    h = np.asarray(altitude_deg, dtype=float)
    beam, sky = beam_lux(h), sky_lux(h)
    level = natural_lux(h)
    scale = level / np.where(h > 0, beam * np.sin(np.radians(np.maximum(h, 0))) + sky, level)
    return SkyLight(np.asarray(beam * scale), np.asarray(np.where(h > 0, sky * scale, level)))


def clouded(light: SkyLight, altitude_deg: ArrayLike, cloud_stops: float, without_shadows: float) -> SkyLight:
    """The same under cloud that takes so many stops from level ground.

    The beam goes in proportion and is gone with the stops at which shadows are (*without_shadows*, common practice);
    what the cloud lets through besides is the sky's.
    """
    if cloud_stops <= 0:
        return light
    up = np.sin(np.radians(np.maximum(np.asarray(altitude_deg, dtype=float), 0)))
    beam = light.beam * max(1 - cloud_stops / without_shadows, 0.0)
    level = (light.beam * up + light.sky) * 2.0**-cloud_stops
    return SkyLight(np.asarray(beam), np.asarray(np.maximum(level - beam * up, level * 0.1)))
