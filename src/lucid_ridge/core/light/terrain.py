"""A grid of ground heights around an origin, and where a place lies in it.

The grid is square to the origin's true north, in the azimuthal equidistant projection about the
origin: east and north are geodesic distance times sine and cosine of the azimuth there.

References
----------
.. [1] C. F. F. Karney, Algorithms for geodesics, J. Geodesy 87, 43 (2013); GeographicLib.

"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from geographiclib.geodesic import Geodesic
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]
Heights = NDArray[np.float32]


@dataclass(frozen=True, eq=False)
class Terrain:
    """Ground heights in metres above sea level.

    Each terrain is itself alone, so that what follows from it can be remembered by it.

    Parameters
    ----------
    heights_m
        (rows, columns), rows from south to north, columns from west to east; NaN where nothing is known.
    cell_m
        Distance between neighbours.
    west_m, south_m
        Place of ``heights_m[0, 0]``, east and north of the origin.
    latitude_deg, longitude_deg
        The origin.

    """

    heights_m: Heights
    cell_m: float
    west_m: float
    south_m: float
    latitude_deg: float
    longitude_deg: float

    @property
    def east_m(self) -> float:
        """The last column, east of the origin."""
        return float(self.west_m + (self.heights_m.shape[1] - 1) * self.cell_m)

    @property
    def north_m(self) -> float:
        """The last row, north of the origin."""
        return float(self.south_m + (self.heights_m.shape[0] - 1) * self.cell_m)

    @cached_property
    def relief_m(self) -> tuple[float, float]:
        """Lowest and highest height."""
        return float(np.nanmin(self.heights_m)), float(np.nanmax(self.heights_m))

    @cached_property
    def by_columns_m(self) -> Heights:
        """The heights with rows and columns changed over, (columns, rows), side by side in memory."""
        return np.ascontiguousarray(self.heights_m.T)

    def height_at(self, east_m: ArrayLike, north_m: ArrayLike) -> Array:
        """Height by bilinear interpolation; NaN outside and beside cells of which nothing is known."""
        rows, columns = self.heights_m.shape
        x = (np.asarray(east_m, dtype=float) - self.west_m) / self.cell_m
        y = (np.asarray(north_m, dtype=float) - self.south_m) / self.cell_m
        inside = (x >= 0) & (x <= columns - 1) & (y >= 0) & (y <= rows - 1)
        i = np.clip(y, 0, rows - 2 + 1e-9).astype(np.intp)
        j = np.clip(x, 0, columns - 2 + 1e-9).astype(np.intp)
        u, v = np.clip(x - j, 0, 1), np.clip(y - i, 0, 1)
        flat = self.heights_m.ravel()
        at = i * columns + j
        low = flat.take(at) * (1 - u) + flat.take(at + 1) * u
        high = flat.take(at + columns) * (1 - u) + flat.take(at + columns + 1) * u
        return np.asarray(np.where(inside, low * (1 - v) + high * v, np.nan))


@dataclass(frozen=True)
class Lie:
    """Where a place lies in a terrain: its origin, and how far its north turns clockwise from the grid's."""

    east_m: float
    north_m: float
    turn_deg: float

    def to_grid(self, east_m: ArrayLike, north_m: ArrayLike) -> tuple[Array, Array]:
        """Points given from the place, in the terrain's east and north."""
        turn = math.radians(self.turn_deg)
        e, n = np.asarray(east_m, dtype=float), np.asarray(north_m, dtype=float)
        east = self.east_m + e * math.cos(turn) + n * math.sin(turn)
        north = self.north_m - e * math.sin(turn) + n * math.cos(turn)
        return np.asarray(east), np.asarray(north)


def lie_of(terrain: Terrain, latitude_deg: float, longitude_deg: float) -> Lie:
    """Where a position lies in a terrain [1]_.

    North at the place is turned against the grid's by the convergence, the change of azimuth along
    the geodesic from the origin.
    """
    found = Geodesic.WGS84.Inverse(terrain.latitude_deg, terrain.longitude_deg, latitude_deg, longitude_deg)
    start, end = math.radians(found["azi1"]), found["azi2"]
    distance = found["s12"]
    turn = (found["azi1"] - end + 180) % 360 - 180 if distance > 0 else 0.0
    return Lie(distance * math.sin(start), distance * math.cos(start), turn)


def height_of(terrain: Terrain, latitude_deg: float, longitude_deg: float) -> float | None:
    """The ground's height at a position; None where it is not known."""
    lie = lie_of(terrain, latitude_deg, longitude_deg)
    found = float(terrain.height_at(lie.east_m, lie.north_m))
    return found if math.isfinite(found) else None


def apart_m(latitude_deg: float, longitude_deg: float, other_latitude_deg: float, other_longitude_deg: float) -> float:
    """Metres between two positions along the ellipsoid."""
    found = Geodesic.WGS84.Inverse(
        latitude_deg, longitude_deg, other_latitude_deg, other_longitude_deg, Geodesic.DISTANCE
    )
    return float(found["s12"])


def surely_farther(latitude_deg: float, longitude_deg: float, other: tuple[float, float], than_m: float) -> bool:
    """Whether another position is farther than some tens of kilometres at most, told without a geodesic.

    False says nothing. A degree of latitude is nowhere shorter than 110.57 km; one of longitude is shorter than its parallel
    tells by less than a tenth over such distances away from the poles.
    """
    if abs(latitude_deg - other[0]) * 110_570 > than_m:
        return True
    poleward = max(abs(latitude_deg), abs(other[0]))
    around = abs((longitude_deg - other[1] + 180) % 360 - 180)
    return poleward < 80 and around < 90 and around * 111_320 * math.cos(math.radians(poleward)) * 0.9 > than_m


_MEAN_RADIUS_M = 6_371_008.8
_SPHERE_ERRS = 0.006
"""Distances on the mean sphere are off by less than this share."""


def nearest(latitude_deg: float, longitude_deg: float, others: ArrayLike) -> tuple[int, float]:
    """Which of other positions is the nearest, and how far it is, metres; *others* are (n, 2), latitude and longitude.

    On a sphere first; geodesics [1]_ only between those that this leaves in doubt.
    """
    at = np.asarray(others, dtype=np.float64)
    here, there = math.radians(latitude_deg), np.radians(at[:, 0])
    half_north, half_east = (there - here) / 2, np.radians(at[:, 1] - longitude_deg) / 2
    chord = np.sin(half_north) ** 2 + math.cos(here) * np.cos(there) * np.sin(half_east) ** 2
    rough = 2 * _MEAN_RADIUS_M * np.arcsin(np.sqrt(np.clip(chord, 0, 1)))
    doubtful = np.flatnonzero(rough <= rough.min() * (1 + 2 * _SPHERE_ERRS) + 0.01)
    away = [(apart_m(latitude_deg, longitude_deg, at[i, 0], at[i, 1]), int(i)) for i in doubtful]
    metres, index = min(away)
    return index, metres


_A_M, _E2 = Geodesic.WGS84.a, Geodesic.WGS84.f * (2 - Geodesic.WGS84.f)
_SHORT_M = 2000.0


def line_length_m(latitude_deg: ArrayLike, longitude_deg: ArrayLike) -> float:
    """Length of a line through positions along the ellipsoid, metres.

    Pieces up to 2 km by the radii of curvature in the middle of each, which is right to a millimetre; longer ones, and those
    near a pole, by geodesics [1]_.
    """
    latitude, longitude = np.asarray(latitude_deg, dtype=np.float64), np.asarray(longitude_deg, dtype=np.float64)
    if latitude.size < 2:
        return 0.0
    middle = np.radians((latitude[1:] + latitude[:-1]) / 2)
    bent = 1 - _E2 * np.sin(middle) ** 2
    around = (np.diff(longitude) + 180) % 360 - 180
    north = _A_M * (1 - _E2) / bent**1.5 * np.radians(np.diff(latitude))
    east = _A_M / np.sqrt(bent) * np.cos(middle) * np.radians(around)
    pieces = np.hypot(north, east)
    for i in np.flatnonzero((pieces > _SHORT_M) | (np.abs(np.degrees(middle)) > 85)):
        pieces[i] = apart_m(latitude[i], longitude[i], latitude[i + 1], longitude[i + 1])
    return float(pieces.sum())


@lru_cache(maxsize=100_000)
def position_of(latitude_deg: float, longitude_deg: float, east_m: float, north_m: float) -> tuple[float, float]:
    """Latitude and longitude of a point given east and north of a position [1]_.

    Kept for a while: a list of hundreds of standpoints asks for the same ones again each time.
    """
    found = Geodesic.WGS84.Direct(
        latitude_deg, longitude_deg, math.degrees(math.atan2(east_m, north_m)), math.hypot(east_m, north_m)
    )
    return float(found["lat2"]), float(found["lon2"])


def metres_between(
    latitude_deg: float, longitude_deg: float, other_latitude_deg: float, other_longitude_deg: float
) -> tuple[float, float]:
    """How far east and north of a position another one lies, metres, along the geodesic between them [1]_."""
    found = Geodesic.WGS84.Inverse(latitude_deg, longitude_deg, other_latitude_deg, other_longitude_deg)
    turn = math.radians(found["azi1"])
    return float(found["s12"]) * math.sin(turn), float(found["s12"]) * math.cos(turn)
