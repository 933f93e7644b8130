"""Which ground a terrain shades from the sun."""

from __future__ import annotations

import math

import numpy as np
from scipy.ndimage import affine_transform, binary_dilation

from lucid_ridge.core.framing.camera import EARTH_RADIUS_M, REFRACTION_K
from lucid_ridge.core.light.terrain import Heights, Terrain

LOWEST_SUN_DEG = 0.05
SHADED_FROM_M = 0.5
"""Ground counts as shaded when it lies deeper than the grid's own roughness makes it by chance."""
_RIM = 2


def shaded_ground(terrain: Terrain, sun_azimuth_deg: float, sun_altitude_deg: float, most_cells: int = 600) -> Heights:
    """How deep the ground lies in the terrain's shadow, metres, 0 in the sun.

    Parameters
    ----------
    terrain
        Heights; where nothing is known, nothing shades and nothing is shaded.
    sun_azimuth_deg, sun_altitude_deg
        Of the sun as seen, with refraction.
    most_cells
        The longer side of the answer; larger terrains are thinned.

    Returns
    -------
    Heights
        (rows, columns) of the terrain, thinned evenly; all of it deep in shade for a sun below the horizon.

    Notes
    -----
    The grid is turned so that its columns run towards the sun. Along each, the ray from a crest falls by
    the tangent of the sun's altitude; what lies under the highest ray that came from the sun's side is in
    shade. Curvature less refraction is taken off the heights, about the middle of the terrain.

    """
    rows, columns = terrain.heights_m.shape
    thin = max(1, math.ceil(max(rows, columns) / most_cells))
    heights = terrain.heights_m[::thin, ::thin]
    cell = terrain.cell_m * thin
    if sun_altitude_deg < LOWEST_SUN_DEG:
        return np.full(heights.shape, 1e4, dtype=np.float32)
    lowest = float(np.nanmin(heights)) - 1.0
    # A rim of two cells keeps what lies outside, taken to be low, from mixing into the edge.
    known = np.pad(np.where(np.isnan(heights), lowest, heights).astype(np.float32), _RIM, mode="edge")
    n, m = known.shape
    y, x = np.mgrid[0:n, 0:m].astype(np.float32)
    middle = np.array([(n - 1) / 2, (m - 1) / 2])
    known -= (
        ((y - middle[0]) ** 2 + (x - middle[1]) ** 2) * (cell**2 * (1 - REFRACTION_K) / (2 * EARTH_RADIUS_M))
    ).astype(np.float32)
    side = math.ceil(math.hypot(n, m)) + 2
    centre = np.array([(side - 1) / 2, (side - 1) / 2])
    azimuth = math.radians(sun_azimuth_deg)
    # Turned axes (row: towards the sun, column: across) in rows to the north and columns to the east.
    turn = np.array([[math.cos(azimuth), -math.sin(azimuth)], [math.sin(azimuth), math.cos(azimuth)]])
    turned = affine_transform(known, turn, middle - turn @ centre, (side, side), order=1, cval=lowest)
    rise = np.arange(side, dtype=np.float32)[:, None] * np.float32(cell * math.tan(math.radians(sun_altitude_deg)))
    rays = turned - rise
    # From the sun's side down: the highest ray so far, brought back to each row.
    highest = np.maximum.accumulate(rays[::-1], axis=0)[::-1]
    under = highest - rays
    back = turn.T
    deep = affine_transform(under, back, centre - back @ middle, (n, m), order=1)
    deep = deep[_RIM:-_RIM, _RIM:-_RIM].astype(np.float32)
    # Cells beside what is not known mix with it; nothing is told of them.
    untold = binary_dilation(np.isnan(heights), iterations=_RIM)
    return np.where(untold, np.float32(0.0), deep)
