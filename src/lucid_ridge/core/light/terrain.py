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


@lru_cache(maxsize=100_000)
def position_of(latitude_deg: float, longitude_deg: float, east_m: float, north_m: float) -> tuple[float, float]:
    """Latitude and longitude of a point given east and north of a position [1]_.

    Kept for a while: a list of hundreds of standpoints asks for the same ones again each time.
    """
    found = Geodesic.WGS84.Direct(
        latitude_deg, longitude_deg, math.degrees(math.atan2(east_m, north_m)), math.hypot(east_m, north_m)
    )
    return float(found["lat2"]), float(found["lon2"])
