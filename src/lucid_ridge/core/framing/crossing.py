"""Where something is that was pointed at from two standpoints, and how well that is known.

Each pointing says that the thing lies on a line: ``n . (p - s) = 0`` with s the standpoint and n the normal of the bearing.
Two lines cross in a point. A bearing that is off by an angle moves its line sideways by the distance times that angle, an
unsure standpoint by its own error; both add in squares, and the crossing carries them on:

    C = A^-1 diag(v1, v2) A^-T,   v = (D sigma_bearing)^2 + sigma_position^2,   A the two normals.

References
----------
.. [1] C. D. Ghilani, Adjustment Computations, 6th ed., Wiley, 2017: propagation of errors and error ellipses (from memory).

"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

_LEAST_ANGLE_DEG = 5.0
"""Lines that cross flatter tell nothing of the distance (common practice in surveying asks for 30 and more)."""


@dataclass(frozen=True)
class Pointing:
    """A bearing from true north, degrees, from a standpoint in metres east and north; errors are one standard deviation."""

    east_m: float
    north_m: float
    azimuth_deg: float
    azimuth_error_deg: float
    position_error_m: float = 0.0


@dataclass(frozen=True)
class Crossing:
    """Where two bearings cross, metres east and north, and the error: half axes of the ellipse and the bearing of the longer.

    Of two in three the truth is nearer than that along each axis.
    """

    east_m: float
    north_m: float
    longer_m: float
    shorter_m: float
    longer_azimuth_deg: float


class NoCrossing(ValueError):
    """Two bearings that do not cross ahead; the text says what to do."""


def cross(one: Pointing, other: Pointing) -> Crossing:
    """Where two bearings cross.

    Raises
    ------
    NoCrossing
        If they are almost parallel, or cross behind one of the standpoints.

    """
    ways = [(math.sin(math.radians(p.azimuth_deg)), math.cos(math.radians(p.azimuth_deg))) for p in (one, other)]
    between = abs((one.azimuth_deg - other.azimuth_deg + 90) % 180 - 90)
    if between < _LEAST_ANGLE_DEG:
        raise NoCrossing("The two bearings are almost parallel: point again from farther to the side.")
    normals = np.array([(north, -east) for east, north in ways])
    stands = np.array([(p.east_m, p.north_m) for p in (one, other)])
    at = np.linalg.solve(normals, np.einsum("ij,ij->i", normals, stands))
    ahead = np.einsum("ij,ij->i", np.array(ways), at - stands)
    if ahead.min() <= 0:
        raise NoCrossing("The two bearings cross behind you: one of them points elsewhere, or they were mixed up.")
    sideways = [
        (far * math.radians(p.azimuth_error_deg)) ** 2 + p.position_error_m**2
        for far, p in zip(ahead, (one, other), strict=True)
    ]
    back = np.linalg.inv(normals)
    values, axes = np.linalg.eigh(back @ np.diag(sideways) @ back.T)
    longer = axes[:, 1]
    return Crossing(
        east_m=float(at[0]),
        north_m=float(at[1]),
        longer_m=float(math.sqrt(max(values[1], 0.0))),
        shorter_m=float(math.sqrt(max(values[0], 0.0))),
        longer_azimuth_deg=float(math.degrees(math.atan2(longer[0], longer[1])) % 180),
    )
