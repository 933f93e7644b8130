"""The invented valley's terrain, made by a script: the same heights every time.

A tarn in a hollow, a beck that runs from it to the north-west, a moss to the east, and fells around
them that keep the low sun off the water. Written as GeoTIFF in a projected system with a void in it,
so that loading it takes the whole way of an import.
"""

from __future__ import annotations

from pathlib import Path

import numpy as np
import rasterio
from numpy.typing import NDArray
from rasterio.transform import from_origin
from rasterio.warp import transform
from scipy.ndimage import gaussian_filter

Heights = NDArray[np.float64]

CELL_M = 20.0
SIDE = 620
_TARN = (54.1, -2.4)
_UTM = "EPSG:32630"

# East and north of the tarn in metres, height, and radii across and along the turn in degrees from north.
_FELLS = (
    (2500, 3300, 520, 900, 2600, 118),
    (1000, -560, 88, 300, 560, 30),
    (-1500, 60, 205, 380, 700, 8),
    (450, 1350, 160, 330, 700, 100),
    (-2300, -2100, 330, 900, 1700, 60),
    (3900, -600, 260, 700, 1500, 15),
    (-3700, 2700, 180, 800, 1500, 40),
    (-450, -1900, 120, 450, 800, 80),
)


def valley_heights(east_m: Heights, north_m: Heights) -> Heights:
    """Heights in metres at points east and north of the tarn."""
    # The ground falls from the moss (455 m) over the tarn (380 m) to the beck (265 m).
    base = 378 + 0.0355 * east_m - 0.0175 * north_m
    base = 330 + 95 * np.tanh((base - 330) / 130)
    fells = np.zeros_like(base)
    for east, north, height, across, along, turn in _FELLS:
        a = np.radians(turn)
        e, n = east_m - east, north_m - north
        u, v = e * np.cos(a) - n * np.sin(a), e * np.sin(a) + n * np.cos(a)
        fells += height * np.exp(-((u / across) ** 2) - (v / along) ** 2)
    noise = np.random.default_rng(20261018).standard_normal(base.shape)
    rough = sum(
        size * gaussian_filter(noise, cells) / gaussian_filter(noise, cells).std()
        for size, cells in ((16, 14), (5, 5), (1.6, 2))
    )
    ground = base + fells + rough * np.clip(fells / 120, 0.15, 1.0)
    # The beck's bed from the tarn to the north-west, and the tarn itself, level.
    along_beck = -east_m * 0.87 + north_m * 0.5
    beside = np.abs(east_m * 0.5 + north_m * 0.87 + 60 * np.sin(along_beck / 260))
    ground -= np.where(along_beck > 0, 14, 0) * np.exp(-((beside / 70) ** 2))
    tarn = np.hypot((east_m - 150) / 330, (north_m - 150) / 260)
    shore = np.clip((tarn - 0.9) / 0.5, 0, 1)
    return np.asarray(379.8 * (1 - shore) + ground * shore)


def write_demo_terrain(path: Path) -> None:
    """Write the terrain as GeoTIFF with a small void."""
    eastings, northings = transform("EPSG:4326", _UTM, [_TARN[1]], [_TARN[0]])
    half = SIDE * CELL_M / 2
    left, top = round(eastings[0] / CELL_M) * CELL_M - half, round(northings[0] / CELL_M) * CELL_M + half
    x = left + (np.arange(SIDE) + 0.5) * CELL_M - eastings[0]
    y = top - (np.arange(SIDE) + 0.5) * CELL_M - northings[0]
    east, north = np.meshgrid(x, y)
    heights = valley_heights(east, north).astype(np.float32)
    heights[60:66, 480:488] = -9999.0
    with rasterio.open(
        path, "w", driver="GTiff", width=SIDE, height=SIDE, count=1, dtype="float32", nodata=-9999.0, crs=_UTM,
        transform=from_origin(left, top, CELL_M, CELL_M), compress="deflate", predictor=3,
    ) as out:  # fmt: skip
        out.write(heights, 1)
