"""A terrain as pictures for a map: hill shade, contours, and the ground in shade.

Pictures are PNG in Web Mercator, which web maps draw in; they hold darkness alone, so that every theme
can lay its own colours under them.

References
----------
.. [1] B. K. P. Horn, Hill shading and the reflectance map, Proc. IEEE 69, 14 (1981).

"""

from __future__ import annotations

import io
import math
from dataclasses import dataclass

import contourpy
import numpy as np
from numpy.typing import NDArray
from PIL import Image
from rasterio.crs import CRS
from rasterio.enums import Resampling
from rasterio.transform import from_bounds, from_origin
from rasterio.warp import reproject, transform, transform_bounds

from lucid_ridge.core.light.shade import SHADED_FROM_M
from lucid_ridge.core.light.terrain import Heights, Terrain
from lucid_ridge.formats.terrain_grids import local_crs

Array = NDArray[np.float64]
Grid = NDArray[np.float32]

_MERCATOR = CRS.from_epsg(3857)
_DEGREES = CRS.from_epsg(4326)
_LONGEST_PX = 1400
_MOST_CONTOURS = 28
_STEPS_M = (2, 5, 10, 20, 25, 50, 100, 200, 250, 500)
_CONTOUR_CELLS = 400
# Light from the north-west, as on printed maps, at 45 degrees.
_RIM_M = 3.0
_LIGHT = math.radians(315.0)


@dataclass(frozen=True)
class Contour:
    """Lines of one height; each line is pairs of latitude and longitude."""

    height_m: float
    major: bool
    lines: tuple[tuple[tuple[float, float], ...], ...]


def map_bounds(terrain: Terrain) -> tuple[float, float, float, float]:
    """South, west, north and east edge in degrees of the terrain's pictures."""
    left, bottom, right, top = _mercator_bounds(terrain)
    west, south, east, north = transform_bounds(_MERCATOR, _DEGREES, left, bottom, right, top)
    return float(south), float(west), float(north), float(east)


def _mercator_bounds(terrain: Terrain) -> tuple[float, float, float, float]:
    half = terrain.cell_m / 2
    west, south, east, north = (float(v) for v in (
        terrain.west_m - half, terrain.south_m - half, terrain.east_m + half, terrain.north_m + half,
    ))  # fmt: skip
    left, bottom, right, top = transform_bounds(
        local_crs(terrain.latitude_deg, terrain.longitude_deg), _MERCATOR, west, south, east, north
    )
    return float(left), float(bottom), float(right), float(top)


def _png(terrain: Terrain, darkness: Grid) -> bytes:
    """Darkness 0..1 (NaN: nothing known) over the terrain, rows from south to north, as a PNG of black with alpha."""
    rows, columns = darkness.shape
    west, north = terrain.west_m - terrain.cell_m / 2, terrain.north_m + terrain.cell_m / 2
    wide, tall = (terrain.east_m - terrain.west_m) / (columns - 1), (terrain.north_m - terrain.south_m) / (rows - 1)
    left, bottom, right, top = _mercator_bounds(terrain)
    width = min(_LONGEST_PX, max(columns, 256))
    height = max(1, min(_LONGEST_PX, round(width * (top - bottom) / (right - left))))
    made = np.full((height, width), np.nan, dtype=np.float32)
    reproject(
        np.ascontiguousarray(darkness[::-1]), made, src_transform=from_origin(west, north, wide, tall),
        src_crs=local_crs(terrain.latitude_deg, terrain.longitude_deg), src_nodata=np.nan,
        dst_transform=from_bounds(left, bottom, right, top, width, height), dst_crs=_MERCATOR, dst_nodata=np.nan,
        resampling=Resampling.bilinear,
    )  # fmt: skip
    alpha = np.round(np.clip(np.nan_to_num(made), 0, 1) * 255).astype(np.uint8)
    out = io.BytesIO()
    Image.merge("LA", [Image.new("L", (width, height), 0), Image.fromarray(alpha)]).save(out, "PNG", compress_level=4)
    return out.getvalue()


def hill_shade_png(terrain: Terrain) -> bytes:
    """Hill shade, light from the north-west [1]_, steeper than it is where the land is gentle."""
    north, east = np.gradient(terrain.heights_m.astype(np.float32), terrain.cell_m)
    low, high = terrain.relief_m
    side = max(terrain.heights_m.shape) * terrain.cell_m
    stretch = float(np.clip(0.35 * side / max(high - low, 1.0) / 3, 1.0, 5.0))
    east, north = east * stretch, north * stretch
    lit = (1.0 - math.sin(_LIGHT) * east - math.cos(_LIGHT) * north) / np.sqrt(2.0 * (1.0 + east**2 + north**2))
    # The level stays nearly clear; what turns from the light darkens.
    return _png(terrain, np.clip(0.76 - lit, 0.0, 0.66).astype(np.float32))


def shade_png(terrain: Terrain, deep_m: Heights) -> bytes:
    """Ground in shade, evenly dark; the rim runs out over the first metres of depth, about a cell for a low sun."""
    return _png(terrain, np.clip((deep_m - SHADED_FROM_M) / _RIM_M, 0.0, 1.0).astype(np.float32) * np.float32(0.5))


def contour_step_m(terrain: Terrain) -> float:
    """The contour interval: the smallest usual one that gives a readable number of lines."""
    low, high = terrain.relief_m
    return float(next((s for s in _STEPS_M if (high - low) / s <= _MOST_CONTOURS), 1000))


def contours(terrain: Terrain) -> tuple[Contour, ...]:
    """Contour lines; every fifth is major."""
    thin = max(1, math.ceil(max(terrain.heights_m.shape) / _CONTOUR_CELLS))
    heights = terrain.heights_m[::thin, ::thin]
    x = terrain.west_m + np.arange(heights.shape[1]) * terrain.cell_m * thin
    y = terrain.south_m + np.arange(heights.shape[0]) * terrain.cell_m * thin
    found = contourpy.contour_generator(x, y, np.ma.masked_invalid(heights))
    step = contour_step_m(terrain)
    low, high = terrain.relief_m
    own = local_crs(terrain.latitude_deg, terrain.longitude_deg)
    made = []
    for k in range(math.ceil(low / step), math.floor(high / step) + 1):
        lines = []
        for line in found.lines(k * step):
            points = np.asarray(line)
            if len(points) < 6:
                continue
            longitudes, latitudes = transform(own, _DEGREES, points[:, 0].tolist(), points[:, 1].tolist())
            lines.append(tuple((round(a, 5), round(b, 5)) for a, b in zip(latitudes, longitudes, strict=True)))
        made.append(Contour(k * step, k % 5 == 0, tuple(lines)))
    return tuple(made)
