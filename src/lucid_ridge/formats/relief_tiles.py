"""Terrain as tiles of a web map: shading, a height tint and contour lines with their heights, finest model on top.

Tiles are PNG in Web Mercator, 256 pixels wide; they hold darkness alone, so that every theme lays its own colours under
them. Shading comes from several directions [2]_ and is scaled by each model's own slopes, so that neither alpine nor gentle
ground saturates: a slope as steep as nine tenths of the model's counts as much in every model.

References
----------
.. [1] B. K. P. Horn, Hill shading and the reflectance map, Proc. IEEE 69, 14 (1981).
.. [2] R. K. Mark, A multidirectional, oblique-weighted, shaded-relief image, USGS Open-File Report 92-422 (1992).

"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import contourpy
import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw, ImageFont
from rasterio.enums import Resampling
from rasterio.transform import from_bounds, from_origin
from rasterio.warp import reproject

from lucid_ridge.core.light.remembered import remembered_by_terrain
from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.formats.relief import MERCATOR, Grid, darkness_png
from lucid_ridge.formats.terrain_grids import local_crs

TILE_PX = 256
DEEPEST_ZOOM = 18
_COARSEST_KEPT = 9
_DRAWN_WHOLE = 15
_MARGIN_PX = 32
"""Round a tile, so that shading and lines run on over its edges."""
_EQUATOR_M = 2 * math.pi * 6_378_137.0

# Azimuths the light comes from, and how much each counts: mostly the north-west, as on printed maps.
_LIGHTS = ((315.0, 0.5), (270.0, 0.18), (0.0, 0.18), (225.0, 0.14))
_ALTITUDE_SIN = math.sin(math.radians(45.0))
_STEEP_SHARE = 0.9
_DARKEST, _LEVEL_DARK = 0.5, 0.11
_TINTS, _TINT_DARK = 6, 0.13
_STEPS_M = (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000)
_LINE_GAP_PX = 9.0
_MAJOR_EVERY = 5
_LINE, _MAJOR_LINE, _WORDS = 0.26, 0.5, 0.8
_LABEL_EVERY_PX = 420.0
_GENTLEST = 0.01
"""Slopes are not stretched beyond what makes this much of them steep: flat ground stays flat."""


@dataclass(frozen=True)
class _Character:
    """What the whole of a model is like: its steep slope, and its lowest and highest ground, metres."""

    steep: float
    low_m: float
    high_m: float


@remembered_by_terrain(most=1)
def _character(terrain: Terrain) -> _Character:
    thin = max(1, max(terrain.heights_m.shape) // 600)
    heights = terrain.heights_m[::thin, ::thin].astype(np.float32)
    low, high = terrain.relief_m
    if min(heights.shape) < 2:
        return _Character(_GENTLEST, low, high)
    north, east = np.gradient(heights, terrain.cell_m * thin)
    slope = np.hypot(north, east)
    known = slope[np.isfinite(slope)]
    steep = float(np.quantile(known, _STEEP_SHARE)) if len(known) else _GENTLEST
    return _Character(max(steep, _GENTLEST), low, high)


def tile_bounds(z: int, x: int, y: int, margin_px: int = 0) -> tuple[float, float, float, float]:
    """West, south, east and north edge of a tile in Web Mercator metres, with some pixels around it."""
    side = _EQUATOR_M / 2**z
    over = side / TILE_PX * margin_px
    west, north = -_EQUATOR_M / 2 + x * side, _EQUATOR_M / 2 - y * side
    return west - over, north - side - over, west + side + over, north + over


def tiles_at(z: int, latitude_deg: float, longitude_deg: float) -> tuple[int, int]:
    """Column and row of the tile that a position lies in."""
    n = 2**z
    phi = math.radians(min(max(latitude_deg, -85.05), 85.05))
    x = int((longitude_deg + 180) / 360 * n)
    y = int((1 - math.asinh(math.tan(phi)) / math.pi) / 2 * n)
    return min(max(x, 0), n - 1), min(max(y, 0), n - 1)


def _ground_px_m(z: int, y: int) -> float:
    """Metres on the ground of a pixel in the middle of a tile's row."""
    middle = math.pi * (1 - 2 * (y + 0.5) / 2**z)
    return float(_EQUATOR_M / 2**z / TILE_PX / math.cosh(middle))


def _heights(terrain: Terrain, z: int, x: int, y: int) -> Grid:
    """Heights of a tile and its margin, rows from the north; NaN where the terrain tells nothing."""
    side = TILE_PX + 2 * _MARGIN_PX
    thin = max(1, int(_ground_px_m(z, y) / terrain.cell_m))
    heights = np.ascontiguousarray(terrain.heights_m[::thin, ::thin][::-1])
    cell = terrain.cell_m * thin
    top = terrain.south_m + (heights.shape[0] - 1) * cell
    made = np.full((side, side), np.nan, dtype=np.float32)
    reproject(
        heights, made, src_transform=from_origin(terrain.west_m - cell / 2, top + cell / 2, cell, cell),
        src_crs=local_crs(terrain.latitude_deg, terrain.longitude_deg), src_nodata=np.nan,
        dst_transform=from_bounds(*tile_bounds(z, x, y, _MARGIN_PX), side, side), dst_crs=MERCATOR, dst_nodata=np.nan,
        resampling=Resampling.cubic if thin == 1 else Resampling.bilinear,
    )  # fmt: skip
    return made


def shading(heights: Grid, px_m: float, steep: float) -> Grid:
    """Darkness 0 to `_DARKEST` of ground by its slope, light from several sides; the level is a little dark."""
    north, east = np.gradient(heights, px_m)
    north = -north
    slope = np.hypot(north, east)
    # Steepness levels off: twice as steep as the model's steep slopes is hardly darker than they are.
    turned = np.tanh(slope / steep) / np.maximum(slope, 1e-9)
    east, north = east * turned, north * turned
    level = np.sqrt(1.0 + east**2 + north**2)
    lit = np.zeros_like(heights)
    for azimuth, weight in _LIGHTS:
        a = math.radians(azimuth)
        facing = -(math.sin(a) * east + math.cos(a) * north)
        lit += weight * np.clip((facing + 1.0) * _ALTITUDE_SIN / level, 0.0, 1.0)
    dark = (1.0 - lit) / (1.0 - _ALTITUDE_SIN) * _LEVEL_DARK
    return np.asarray(np.clip(dark, 0.0, _DARKEST), dtype=np.float32)


def tint(heights: Grid, low_m: float, high_m: float) -> Grid:
    """Darkness of the paper that a height is cut from: even steps, the lowest darkest."""
    share = (heights - low_m) / max(high_m - low_m, 1.0)
    step = np.clip(np.floor(share * _TINTS), 0, _TINTS - 1) / (_TINTS - 1)
    return np.asarray(_TINT_DARK * (1.0 - step), dtype=np.float32)


def contour_step_m(steep: float, px_m: float) -> float:
    """The contour interval: the smallest usual one whose lines stand apart on the model's steep slopes."""
    wanted = steep * px_m * _LINE_GAP_PX
    return float(next((step for step in _STEPS_M if step >= wanted), _STEPS_M[-1]))


def _draw_contours(picture: Image.Image, heights: Grid, step: float) -> None:
    """Lines of equal height with the heights along the major ones, into a picture of darkness."""
    if not np.isfinite(heights).any():
        return
    low, high = float(np.nanmin(heights)), float(np.nanmax(heights))
    found = contourpy.contour_generator(z=np.ma.masked_invalid(heights))
    draw = ImageDraw.Draw(picture)
    labels: list[tuple[float, float, float, str]] = []
    for k in range(math.ceil(low / step), math.floor(high / step) + 1):
        major = k % _MAJOR_EVERY == 0
        for line in found.lines(k * step):
            points = np.asarray(line)
            if len(points) < 4:
                continue
            shade = round((_MAJOR_LINE if major else _LINE) * 255)
            draw.line([(float(x), float(y)) for x, y in points], fill=shade, width=1)
            if major:
                labels += _labels_on(points, f"{k * step:g}")
    for x, y, turned, text in _apart(labels):
        _write(picture, x, y, turned, text)


def _labels_on(points: NDArray[np.float64], text: str) -> list[tuple[float, float, float, str]]:
    """Where along a line its height is written: by the way along it, the same in every tile that it is long enough in."""
    way = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    room = 12.0 * len(text)
    made = []
    for at in np.arange(max(room, 60.0), way[-1] - room, _LABEL_EVERY_PX):
        ahead, behind = np.interp(at + room / 2, way, points[:, 0]), np.interp(at - room / 2, way, points[:, 0])
        down, up = np.interp(at + room / 2, way, points[:, 1]), np.interp(at - room / 2, way, points[:, 1])
        # Where a line bends, a word along it would lie across it.
        if math.hypot(ahead - behind, down - up) < room * 0.9:
            continue
        turned = math.degrees(math.atan2(down - up, ahead - behind))
        turned = turned - 180 if turned > 90 else turned + 180 if turned < -90 else turned
        made.append(((ahead + behind) / 2, (down + up) / 2, turned, text))
    return made


def _apart(labels: list[tuple[float, float, float, str]]) -> list[tuple[float, float, float, str]]:
    """Those labels that lie whole in the tile and do not crowd one another."""
    low, high = _MARGIN_PX + 16, _MARGIN_PX + TILE_PX - 16
    kept: list[tuple[float, float, float, str]] = []
    for one in sorted(labels):
        if low < one[0] < high and low < one[1] < high and all(math.dist(one[:2], k[:2]) > 46 for k in kept):
            kept.append(one)
    return kept


@lru_cache(maxsize=1)
def _font() -> ImageFont.FreeTypeFont | ImageFont.ImageFont:
    return ImageFont.load_default(11)


def _write(picture: Image.Image, x: float, y: float, turned_deg: float, text: str) -> None:
    left, top, right, bottom = _font().getbbox(text)
    word = Image.new("L", (math.ceil(right - left) + 6, math.ceil(bottom - top) + 4), 0)
    ImageDraw.Draw(word).text((3 - left, 2 - top), text, fill=round(_WORDS * 255), font=_font())
    gap = Image.new("L", word.size, 255).rotate(-turned_deg, expand=True)
    word = word.rotate(-turned_deg, expand=True, resample=Image.Resampling.BICUBIC)
    corner = (round(x - word.width / 2), round(y - word.height / 2))
    box = (*corner, corner[0] + word.width, corner[1] + word.height)
    # The line is broken where its height stands.
    under = picture.crop(box)
    quiet = under.point(lambda v: min(v, round(0.3 * 255)))
    under.paste(quiet, mask=gap)
    picture.paste(Image.composite(word, under, word.point(lambda v: 255 if v > 40 else 0)), corner)


def relief_tile(terrains: Sequence[Terrain], z: int, x: int, y: int) -> bytes | None:
    """One tile of the map as PNG, transparent where nothing is known; None where none of the terrains reaches it.

    Where terrains overlap the one with the finest cells counts alone.
    """
    side = TILE_PX + 2 * _MARGIN_PX
    dark = np.zeros((side, side), dtype=np.float32)
    taken = np.zeros((side, side), dtype=bool)
    lines = Image.new("L", (side, side), 0)
    px_m = _ground_px_m(z, y)
    for terrain in sorted(terrains, key=lambda t: t.cell_m):
        heights = _heights(terrain, z, x, y)
        known = np.isfinite(heights) & ~taken
        if not known.any():
            continue
        model = _character(terrain)
        found = shading(heights, px_m, model.steep) + tint(heights, model.low_m, model.high_m)
        shaded = known & np.isfinite(found)
        dark[shaded] = found[shaded]
        own = Image.new("L", (side, side), 0)
        _draw_contours(own, np.where(taken, np.nan, heights), contour_step_m(model.steep, px_m))
        lines = Image.fromarray(np.maximum(np.asarray(lines), np.asarray(own)))
        taken |= known
    if not taken.any():
        return None
    # Lines lie over the ground, so that they are seen on dark slopes too.
    inner = slice(_MARGIN_PX, _MARGIN_PX + TILE_PX)
    covered = 1 - (1 - dark) * (1 - np.asarray(lines, dtype=np.float32) / 255)
    return darkness_png(covered[inner, inner].astype(np.float32))


def tile_degrees(z: int, x: int, y: int) -> tuple[float, float, float, float]:
    """West, south, east and north edge of a tile in degrees."""
    n = 2**z

    def latitude(row: int) -> float:
        return math.degrees(math.atan(math.sinh(math.pi * (1 - 2 * row / n))))

    return x / n * 360 - 180, latitude(y + 1), (x + 1) / n * 360 - 180, latitude(y)


@lru_cache(maxsize=1)
def empty_tile() -> bytes:
    """A tile with nothing on it."""
    return darkness_png(np.zeros((TILE_PX, TILE_PX), dtype=np.float32))


def tiles_over(west: float, south: float, east: float, north: float, most: int) -> list[tuple[int, int, int]]:
    """The tiles (zoom, column, row) over a stretch of ground in degrees, coarse ones first.

    Each zoom twice as fine as the one before, down to the deepest with which there are no more than *most* in all.
    """
    found: list[tuple[int, int, int]] = []
    for z in range(_COARSEST_KEPT, DEEPEST_ZOOM + 1):
        (left, top), (right, bottom) = tiles_at(z, north, west), tiles_at(z, south, east)
        if z <= _DRAWN_WHOLE:
            # A screen shows more than what it is about.
            left, top, right, bottom = (
                max(left - 1, 0),
                max(top - 1, 0),
                min(right + 1, 2**z - 1),
                min(bottom + 1, 2**z - 1),
            )
        if len(found) + (right - left + 1) * (bottom - top + 1) > most:
            break
        found += [(z, x, y) for x in range(left, right + 1) for y in range(top, bottom + 1)]
    return found
