"""Polarised light: of the clear sky, and of what water mirrors.

References
----------
.. [1] C. F. Bohren and D. R. Huffman, Absorption and Scattering of Light by Small Particles, 1983
       (Rayleigh scattering).
.. [2] M. Born and E. Wolf, Principles of Optics, section 1.5 (Fresnel's formulas, Brewster's angle).

"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]

WATER_INDEX = 1.333
BANDED = 0.3
"""A polariser's effect that differs by more than this across the sky shows as a band (common practice)."""


def sky_polarisation(from_sun_deg: ArrayLike) -> Array:
    """Degree of polarisation 0..1 of the clear sky at an angle from the sun, ``sin^2 g / (1 + cos^2 g)`` [1]_."""
    g = np.radians(from_sun_deg)
    return np.asarray(np.sin(g) ** 2 / (1 + np.cos(g) ** 2))


def angle_between_deg(azimuth_deg: ArrayLike, altitude_deg: ArrayLike, to_azimuth: float, to_altitude: float) -> Array:
    """Angle between directions and one other direction, degrees."""
    a, h = np.radians(azimuth_deg), np.radians(altitude_deg)
    b, k = np.radians(to_azimuth), np.radians(to_altitude)
    cosine = np.sin(h) * np.sin(k) + np.cos(h) * np.cos(k) * np.cos(a - b)
    return np.asarray(np.degrees(np.arccos(np.clip(cosine, -1.0, 1.0))))


def brewster_deg(index: float = WATER_INDEX) -> float:
    """Angle of incidence at which what is mirrored is wholly polarised, ``atan n``: 53.1 degrees for water [2]_."""
    return float(np.degrees(np.arctan(index)))


def mirrored_shares(incidence_deg: ArrayLike, index: float = WATER_INDEX) -> tuple[Array, Array]:
    """Shares 0..1 of light polarised across and along the plane of incidence that a surface mirrors [2]_."""
    i = np.radians(np.asarray(incidence_deg, dtype=float))
    inside = np.sqrt(np.maximum(index**2 - np.sin(i) ** 2, 0.0))
    across = ((np.cos(i) - inside) / (np.cos(i) + inside)) ** 2
    along = ((index**2 * np.cos(i) - inside) / (index**2 * np.cos(i) + inside)) ** 2
    return np.asarray(across), np.asarray(along)


def glare_removed(incidence_deg: ArrayLike, index: float = WATER_INDEX) -> Array:
    """Share of the mirrored light that a polariser turned for it takes away, beyond the half it takes of any light."""
    across, along = mirrored_shares(incidence_deg, index)
    return np.asarray(1.0 - 2 * np.minimum(across, along) / (across + along))
