"""The ground in shade as a picture for a map, and where pictures of a terrain lie.

Pictures are PNG in Web Mercator, which web maps draw in; they hold darkness alone, so that every theme
can lay its own colours under them.

"""

from __future__ import annotations

import io

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from rasterio.crs import CRS
from rasterio.enums import Resampling
from rasterio.transform import from_bounds, from_origin
from rasterio.warp import reproject, transform_bounds

from lucid_ridge.core.light.shade import SHADED_FROM_M
from lucid_ridge.core.light.terrain import Heights, Terrain
from lucid_ridge.formats.terrain_grids import local_crs

Array = NDArray[np.float64]
Grid = NDArray[np.float32]

MERCATOR = CRS.from_epsg(3857)
_DEGREES = CRS.from_epsg(4326)
_LONGEST_PX = 1400
_RIM_M = 3.0


def map_bounds(terrain: Terrain) -> tuple[float, float, float, float]:
    """South, west, north and east edge in degrees of the terrain's pictures."""
    left, bottom, right, top = _mercator_bounds(terrain)
    west, south, east, north = transform_bounds(MERCATOR, _DEGREES, left, bottom, right, top)
    return float(south), float(west), float(north), float(east)


def _mercator_bounds(terrain: Terrain) -> tuple[float, float, float, float]:
    half = terrain.cell_m / 2
    west, south, east, north = (float(v) for v in (
        terrain.west_m - half, terrain.south_m - half, terrain.east_m + half, terrain.north_m + half,
    ))  # fmt: skip
    left, bottom, right, top = transform_bounds(
        local_crs(terrain.latitude_deg, terrain.longitude_deg), MERCATOR, west, south, east, north
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
        dst_transform=from_bounds(left, bottom, right, top, width, height), dst_crs=MERCATOR, dst_nodata=np.nan,
        resampling=Resampling.bilinear,
    )  # fmt: skip
    return darkness_png(np.nan_to_num(made))


def darkness_png(darkness: Grid) -> bytes:
    """Darkness 0..1, rows from the top, as a PNG of black with alpha."""
    alpha = Image.fromarray(np.round(np.clip(darkness, 0, 1) * 255).astype(np.uint8))
    out = io.BytesIO()
    Image.merge("LA", [Image.new("L", alpha.size, 0), alpha]).save(out, "PNG", compress_level=4)
    return out.getvalue()


def shade_png(terrain: Terrain, deep_m: Heights) -> bytes:
    """Ground in shade, evenly dark; the rim runs out over the first metres of depth, about a cell for a low sun."""
    return _png(terrain, np.clip((deep_m - SHADED_FROM_M) / _RIM_M, 0.0, 1.0).astype(np.float32) * np.float32(0.5))
