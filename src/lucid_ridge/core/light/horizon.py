"""What stands between a point and the sky: a level horizon, the sea's, a measured one, or the terrain's.

References
----------
.. [1] J. Meeus, Astronomical Algorithms, 2nd ed., 1998, chapters 15 and 16.
.. [2] G. G. Bennett, J. Navigation 35, 255 (1982): refraction by apparent altitude.
.. [3] N. Bowditch, The American Practical Navigator, Pub. No. 9: dip of the sea horizon, 1.76' sqrt(h / m).

"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike, NDArray

from lucid_ridge.core.framing.camera import EARTH_RADIUS_M, REFRACTION_K
from lucid_ridge.core.light.direction import SUN_UP_DEG
from lucid_ridge.core.light.refraction import pressure_hpa
from lucid_ridge.core.light.terrain import Terrain

Array = NDArray[np.float64]

AZIMUTHS = 720
RADIUS_DEG = 16 / 60
"""Apparent radius of the Sun and, nearly, of the Moon."""
_DIP_DEG = 1.76 / 60
_STEP_SHARE = 0.005
_CLOSE_CELLS = 40
_CROSSED_CELLS = 1 / math.tan(math.radians(0.1))
"""As far as a cell subtends a tenth of a degree, every line of the grid that a sight crosses is looked at."""
_FARTHEST_M = 120_000.0


@dataclass(frozen=True, eq=False)
class Horizon:
    """Altitude of the skyline all round, in degrees as seen.

    ``altitude_deg`` (A,) runs evenly clockwise from true north; ``distance_m`` (A,) is how far the
    skyline is, NaN where that is not known. A ``standard`` horizon is level: the sun rises and sets at
    -0.833 degrees, as almanacs count it.
    """

    altitude_deg: Array
    distance_m: Array
    elevation_m: float = 0.0
    standard: bool = False

    def at(self, azimuth_deg: ArrayLike) -> Array:
        """Altitude of the skyline towards an azimuth."""
        return self._round(self.altitude_deg, azimuth_deg)

    def distance_at(self, azimuth_deg: float) -> float:
        """How far the skyline is towards an azimuth, metres; NaN where that is not known."""
        count = len(self.distance_m)
        return float(self.distance_m[round(azimuth_deg % 360.0 / 360.0 * count) % count])

    def _round(self, values: Array, azimuth_deg: ArrayLike) -> Array:
        count = len(values)
        where = (np.asarray(azimuth_deg, dtype=float) % 360.0) * (count / 360.0)
        low = np.floor(where).astype(np.intp)
        share = where - low
        low %= count
        return np.asarray(values.take(low) * (1 - share) + values.take((low + 1) % count) * share, dtype=np.float64)

    @cached_property
    def _threshold_deg(self) -> Array:
        if self.standard:
            return np.full(len(self.altitude_deg), SUN_UP_DEG, dtype=np.float64)
        seen = np.maximum(self.altitude_deg, -2.0)
        # Bennett's formula [2]: what the air lifts a point that is seen at this altitude.
        lift = 1.0 / np.tan(np.radians(seen + 7.31 / (seen + 4.4))) / 60.0
        lift *= float(pressure_hpa(self.elevation_m)) / 1010.0
        made: Array = (self.altitude_deg - lift - RADIUS_DEG).astype(np.float64)
        return made

    def threshold_deg(self, azimuth_deg: ArrayLike) -> Array:
        """Airless altitude at which the upper limb of Sun or Moon stands on the skyline."""
        return self._round(self._threshold_deg, azimuth_deg)

    def clears(self, azimuth_deg: ArrayLike, altitude_deg: ArrayLike) -> NDArray[np.bool_]:
        """Whether the upper limb of a body at an airless altitude stands above the skyline."""
        return np.asarray(np.asarray(altitude_deg) >= self.threshold_deg(azimuth_deg))


def _even() -> Array:
    return np.linspace(0.0, 360.0, AZIMUTHS, endpoint=False)


def flat_horizon() -> Horizon:
    """A level horizon."""
    return Horizon(np.zeros(AZIMUTHS), np.full(AZIMUTHS, np.nan), standard=True)


def sea_horizon(elevation_m: float) -> Horizon:
    """The sea's horizon from a height above it, lowered by the dip, ``1.76' sqrt(h)`` [3]_."""
    dip = _DIP_DEG * math.sqrt(max(elevation_m, 0.0))
    distance = math.sqrt(2 * EARTH_RADIUS_M / (1 - REFRACTION_K) * max(elevation_m, 0.0))
    return Horizon(np.full(AZIMUTHS, -dip), np.full(AZIMUTHS, distance), elevation_m)


def measured_horizon(azimuths_deg: ArrayLike, altitudes_deg: ArrayLike, elevation_m: float = 0.0) -> Horizon:
    """A skyline through pairs of azimuth and altitude, straight between neighbours all the way round."""
    azimuths = np.asarray(azimuths_deg, dtype=float) % 360.0
    altitudes = np.asarray(altitudes_deg, dtype=float)
    made = np.interp(_even(), azimuths, altitudes, period=360.0)
    return Horizon(np.asarray(made), np.full(AZIMUTHS, np.nan), elevation_m)


def terrain_horizon(
    terrain: Terrain, east_m: float, north_m: float, eye_m: float, turn_deg: float = 0.0, azimuths: int = AZIMUTHS
) -> Horizon:
    """The skyline of a terrain.

    Parameters
    ----------
    terrain
        Heights.
    east_m, north_m
        Where the eye is, in the terrain's metres.
    eye_m
        Its height above sea level; never less than the ground there.
    turn_deg
        How far true north at the eye turns clockwise from the grid's, see `Lie`.
    azimuths
        How many, evenly all round.

    Returns
    -------
    Horizon
        Never below the dip of land as low as the terrain's lowest, which is taken to go on where the grid ends.

    Notes
    -----
    Near the eye every crossing of a sight with the grid's lines is taken, where heights are linear between neighbours,
    out to where a cell subtends a tenth of a degree. Besides, heights are sampled bilinearly along each azimuth, in
    steps of half a cell for forty cells, and from there on where no crossing is looked at in steps of half a percent of
    the distance; the larger answer holds. Between two samples half a percent apart a crest can stand higher by no more than the land rises
    over half a step: a quarter of a percent of the distance, 0.1 degrees on slopes of 45. Points are lowered by the
    Earth's curvature less refraction (k = 0.13).

    """
    around = np.arange(azimuths) * (360.0 / azimuths)
    altitude, away, eye = _skyline(terrain, east_m, north_m, eye_m, np.radians(around + turn_deg))
    return Horizon(altitude, away, eye)


def terrain_threshold_deg(
    terrain: Terrain, east_m: float, north_m: float, eye_m: float, azimuth_deg: float, turn_deg: float = 0.0
) -> float:
    """Airless altitude at which a limb stands on the skyline towards one azimuth; see `terrain_horizon`."""
    altitude, away, eye = _skyline(terrain, east_m, north_m, eye_m, np.radians([azimuth_deg + turn_deg]))
    return float(Horizon(altitude, away, eye).threshold_deg(0.0))


def _skyline(
    terrain: Terrain, east_m: float, north_m: float, eye_m: float, sights: Array
) -> tuple[Array, Array, float]:
    """Altitude and distance of the skyline along sights (azimuths,) from the grid's north, and the eye's height."""
    reach = max(
        math.hypot(x - east_m, y - north_m)
        for x in (terrain.west_m, terrain.east_m)
        for y in (terrain.south_m, terrain.north_m)
    )
    distances = _distances(terrain.cell_m, min(reach, _FARTHEST_M))
    drop = distances**2 * ((1 - REFRACTION_K) / (2 * EARTH_RADIUS_M))
    ground = float(terrain.height_at(east_m, north_m))
    eye = max(eye_m, ground) if math.isfinite(ground) else eye_m
    slope = _slopes(terrain, east_m, north_m, sights, distances, eye + drop)
    highest = slope.argmax(axis=1)
    best, away = slope[np.arange(len(sights)), highest], distances[highest]
    near, near_m = _crossed(terrain, east_m, north_m, sights, eye)
    away = np.where(near > best, near_m, away)
    best = np.maximum(near, best)
    altitude = np.degrees(np.arctan(np.where(np.isfinite(best), best, -1.0)))
    # Where the terrain ends below the eye, land as low as its lowest is taken to go on.
    dip = -_DIP_DEG * math.sqrt(max(eye - terrain.relief_m[0], 0.0))
    known = altitude >= dip
    return np.where(known, altitude, dip).astype(np.float64), np.where(known, away, np.nan), eye


def _crossed(terrain: Terrain, east_m: float, north_m: float, azimuths_rad: Array, eye_m: float) -> tuple[Array, Array]:
    """Tangent of the highest altitude among all crossings with the grid's lines near the eye, and its distance.

    Both (azimuths,); -inf where no line is crossed at a known height.
    """
    cell = terrain.cell_m
    x0, y0 = (east_m - terrain.west_m) / cell, (north_m - terrain.south_m) / cell
    east, north = np.sin(azimuths_rad), np.cos(azimuths_rad)
    best = np.full(len(azimuths_rad), -np.inf)
    away = np.full(len(azimuths_rad), np.nan)
    curve = (1 - REFRACTION_K) / (2 * EARTH_RADIUS_M) * cell
    # Lines of columns are crossed by going east or west, lines of rows by going north or south.
    for grid, here, there, along, across in (
        (terrain.heights_m, x0, y0, east, north),
        (terrain.by_columns_m, y0, x0, north, east),
    ):
        flat = grid.ravel()
        for ahead in (True, False):
            going = np.flatnonzero(along > 0 if ahead else along < 0)
            lines = _lines_ahead(here, grid.shape[1], ahead)
            if not len(going) or not len(lines):
                continue
            t, height = _heights_on_lines(flat, grid.shape, lines, here, there, along[going], across[going])
            slope = (height - np.float32(eye_m)) / (t * np.float32(cell)) - np.float32(curve) * t
            slope[np.isnan(slope)] = -np.inf
            at = slope.argmax(axis=1)
            first = np.arange(len(at))
            found = slope[first, at]
            away[going] = np.where(found > best[going], t[first, at] * cell, away[going])
            best[going] = np.maximum(best[going], found)
    return best, away


def _lines_ahead(here: float, count: int, ahead: bool) -> NDArray[np.int32]:
    """The lines of the grid that are crossed by going on, or back, as far as crossings are looked at."""
    if ahead:
        return np.arange(
            max(math.floor(here) + 1, 0), min(math.floor(here + _CROSSED_CELLS), count - 1) + 1, dtype=np.int32
        )
    return np.arange(max(math.ceil(here - _CROSSED_CELLS), 0), min(math.ceil(here) - 1, count - 1) + 1, dtype=np.int32)


def _heights_on_lines(
    flat: NDArray[np.float32],
    shape: tuple[int, ...],
    lines: NDArray[np.int32],
    here: float,
    there: float,
    along: Array,
    across: Array,
) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """Ways in cells to the crossings with lines of whole x, and the heights there; (azimuths, lines) each.

    *flat* holds the heights by y and x; what lies too far, outside, or is not known has the height NaN.
    """
    rows, columns = shape
    with np.errstate(over="ignore"):
        t = (lines - here).astype(np.float32)[None, :] / along.astype(np.float32)[:, None]
        np.clip(t, np.float32(_NEAREST_CELLS), np.float32(2 * _CROSSED_CELLS), out=t)
        y = np.float32(there) + across.astype(np.float32)[:, None] * t
    outside = (t > _CROSSED_CELLS) | (y < 0) | (y > rows - 1)
    np.clip(y, 0, rows - 1, out=y)
    i = y.astype(np.int32)
    np.minimum(i, rows - 2, out=i)
    y -= i
    i *= np.int32(columns)
    i += lines[None, :]
    low = flat.take(i)
    i += np.int32(columns)
    low += (flat.take(i) - low) * y
    low[outside] = np.nan
    return t, low


_NEAREST_CELLS = 1e-3
"""No line is taken to stand nearer to the eye than a thousandth of a cell."""


def _distances(cell_m: float, reach_m: float) -> Array:
    """Steps of half a cell close by, then of half a percent of the way from where crossings are no longer looked at."""
    close = np.arange(2, 2 * _CLOSE_CELLS + 1) * (cell_m / 2)
    crossed = _CROSSED_CELLS * cell_m
    if reach_m <= crossed:
        return close.astype(np.float64)
    count = math.ceil(math.log(reach_m / crossed) / math.log1p(_STEP_SHARE))
    far = crossed * (1 + _STEP_SHARE) ** np.arange(count + 1)
    return np.concatenate([close, far]).astype(np.float64)


def _slopes(
    terrain: Terrain, east_m: float, north_m: float, azimuths_rad: Array, distances: Array, level_m: Array
) -> NDArray[np.float32]:
    """Tangent of the altitude of every sample, (azimuths, distances); -inf where nothing is known.

    Single precision serves: a height of 1000 m keeps 0.1 mm.
    """
    rows, columns = terrain.heights_m.shape
    d = (distances / terrain.cell_m).astype(np.float32)
    x = np.float32((east_m - terrain.west_m) / terrain.cell_m) + np.sin(azimuths_rad).astype(np.float32)[:, None] * d
    y = np.float32((north_m - terrain.south_m) / terrain.cell_m) + np.cos(azimuths_rad).astype(np.float32)[:, None] * d
    outside = (x < 0) | (x > columns - 1) | (y < 0) | (y > rows - 1)
    j = np.clip(x, 0, columns - 1.001).astype(np.int32)
    i = np.clip(y, 0, rows - 1.001).astype(np.int32)
    x -= j
    y -= i
    flat = terrain.heights_m.ravel()
    at = i * np.int32(columns) + j
    low = flat.take(at)
    low += (flat.take(at + 1) - low) * x
    at += np.int32(columns)
    high = flat.take(at)
    high += (flat.take(at + 1) - high) * x
    low += (high - low) * y
    low -= level_m.astype(np.float32)
    low /= distances.astype(np.float32)
    low[outside | np.isnan(low)] = -np.inf
    return np.asarray(low)
