"""Terrain models: reading GeoTIFF and ESRI ASCII grids, and keeping them as GeoTIFF.

What comes in is brought into metres about its own middle, see `core.light.terrain`. Nothing but the
two drivers is ever opened, no file beside the one given is read, and sizes are checked before any
height is.
"""

from __future__ import annotations

import math
import warnings
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import rasterio
from affine import Affine
from numpy.typing import NDArray
from rasterio._err import CPLE_BaseError
from rasterio.crs import CRS
from rasterio.enums import Resampling
from rasterio.errors import CRSError, NotGeoreferencedWarning, RasterioError
from rasterio.features import geometry_mask
from rasterio.fill import fillnodata
from rasterio.transform import from_origin
from rasterio.vrt import WarpedVRT
from rasterio.warp import transform, transform_bounds
from rasterio.windows import Window

from lucid_ridge.core.light.terrain import Terrain

Heights = NDArray[np.float32]

LARGEST_BYTES = 200 * 1024 * 1024
MOST_CELLS_READ = 100_000_000
MOST_CELLS_KEPT = 2000
"""On each side: what is finer or larger is thinned."""
LARGEST_SIDE_M = 200_000.0
SMALLEST_CELL_M = 0.5
_FILLED_CELLS = 30.0
_STRIP = 128
_ENVIRONMENT = {
    "GDAL_DISABLE_READDIR_ON_OPEN": "EMPTY_DIR",
    "GDAL_PAM_ENABLED": "NO",
    "GDAL_CACHEMAX": 128,
    "GDAL_NUM_THREADS": "1",
    "GTIFF_VIRTUAL_MEM_IO": "NO",
}


class TerrainError(ValueError):
    """The file is no terrain that can be used; the message says what to do."""


@dataclass(frozen=True)
class Plan:
    """What will be made of a file: a square grid about its middle."""

    latitude_deg: float
    longitude_deg: float
    cell_m: float
    columns: int
    rows: int
    source_text: str
    crs: CRS


def _driver_of(path: Path) -> str:
    """The one driver that may open a file, by what it begins with."""
    with path.open("rb") as file:
        start = file.read(64)
    if start[:4] in (b"II*\0", b"MM\0*", b"II+\0", b"MM\0+"):
        return "GTiff"
    if start.lstrip().lower().startswith((b"ncols", b"nrows")):
        return "AAIGrid"
    raise TerrainError("This is neither a GeoTIFF nor an ESRI ASCII grid; save the terrain as one of these.")


@contextmanager
def _opened(path: Path) -> Iterator[Any]:
    driver = _driver_of(path)
    try:
        with warnings.catch_warnings(), rasterio.Env(**_ENVIRONMENT):
            # A file that does not say where it lies is told so below.
            warnings.simplefilter("ignore", NotGeoreferencedWarning)
            with rasterio.open(path, driver=driver) as source:
                yield source
    except TerrainError:
        raise
    except (RasterioError, CPLE_BaseError, ValueError, TypeError, OverflowError, MemoryError):
        raise TerrainError(
            "This is no GeoTIFF or ESRI ASCII grid that can be read, or it is cut off. Save it again as GeoTIFF."
        ) from None


def _crs_of(source: Any, given: str) -> CRS:
    if given:
        try:
            return CRS.from_user_input(given)
        except CRSError:
            raise TerrainError(f"'{given}' is no coordinate system; give its EPSG number, such as EPSG:4326.") from None
    if source.crs is not None:
        return source.crs
    left, bottom, right, top = _bounds(source)
    if source.driver == "AAIGrid" and max(abs(left), abs(right)) <= 180 and max(abs(top), abs(bottom)) <= 90:
        return CRS.from_epsg(4326)
    raise TerrainError("The file does not say its coordinate system; give its EPSG number, such as EPSG:32630.")


def local_crs(latitude_deg: float, longitude_deg: float) -> CRS:
    """Metres about a position, azimuthal equidistant."""
    return CRS.from_proj4(
        f"+proj=aeqd +lat_0={latitude_deg:.8f} +lon_0={longitude_deg:.8f} +datum=WGS84 +units=m +no_defs"
    )


def _bounds(source: Any) -> tuple[float, float, float, float]:
    """Left, bottom, right and top edge of a grid, whichever way its rows and columns run."""
    corners = [
        source.transform * at for at in ((0, 0), (source.width, 0), (0, source.height), (source.width, source.height))
    ]
    x, y = [p[0] for p in corners], [p[1] for p in corners]
    return min(x), min(y), max(x), max(y)


def _native_cell_m(source: Any, crs: CRS, own: CRS) -> float:
    """The finer side of a cell in the middle of the grid, in metres."""
    row, column = source.height / 2, source.width / 2
    corners = [source.transform * (c, r) for c, r in ((column, row), (column + 1, row), (column, row + 1))]
    x, y = transform(crs, own, [p[0] for p in corners], [p[1] for p in corners])
    return min(math.hypot(x[k] - x[0], y[k] - y[0]) for k in (1, 2))


def plan_import(path: Path, crs: str = "") -> Plan:
    """Look at a file without reading its heights, and plan the grid that will be kept.

    Raises
    ------
    TerrainError
        If it is no terrain, has no known place on the Earth, or is too large.

    """
    with _opened(path) as source:
        if source.count < 1 or source.width < 2 or source.height < 2:
            raise TerrainError("The file holds no grid of at least 2 x 2 heights; choose a terrain model.")
        if source.width * source.height > MOST_CELLS_READ:
            limit = MOST_CELLS_READ // 1_000_000
            raise TerrainError(f"The grid has more than {limit} million cells; cut out the part around your places.")
        block = source.block_shapes[0]
        if block[0] * block[1] > MOST_CELLS_READ // 2:
            raise TerrainError("The file is stored in one huge block; save it again as a tiled GeoTIFF.")
        if source.colorinterp[0].name in ("red", "palette") or np.dtype(source.dtypes[0]).kind not in "iuf":
            raise TerrainError("This is a picture, not a grid of heights; choose a terrain model.")
        if source.transform == Affine.identity():
            raise TerrainError("The file does not say where it lies; save it again as a georeferenced GeoTIFF.")
        found = _crs_of(source, crs)
        left, bottom, right, top = (float(v) for v in transform_bounds(found, CRS.from_epsg(4326), *_bounds(source)))
        if not all(math.isfinite(v) for v in (left, bottom, right, top)) or abs(top) > 90 or abs(bottom) > 90:
            raise TerrainError("The grid lies nowhere on the Earth in that coordinate system; check its EPSG number.")
        if right < left:
            right += 360.0
        latitude = (top + bottom) / 2
        longitude = ((left + right) / 2 + 180) % 360 - 180
        west, south, east, north = (
            float(v) for v in transform_bounds(found, local_crs(latitude, longitude), *_bounds(source))
        )
        side = max(east - west, north - south)
        if not math.isfinite(side) or side > LARGEST_SIDE_M:
            kilometres = LARGEST_SIDE_M / 1000
            raise TerrainError(f"The grid is wider than {kilometres:g} km; cut out the part around your places.")
        cell: float = max(
            _native_cell_m(source, found, local_crs(latitude, longitude)), side / (MOST_CELLS_KEPT - 1), SMALLEST_CELL_M
        )
        # A round figure keeps distances readable.
        cell = float(math.ceil(cell * 10 - 1e-6)) / 10
        kind = {"GTiff": "GeoTIFF", "AAIGrid": "ESRI ASCII grid"}[source.driver]
        code = found.to_epsg()
        return Plan(
            latitude_deg=latitude,
            longitude_deg=longitude,
            cell_m=cell,
            columns=max(2, math.floor((east - west) / cell) + 1),
            rows=max(2, math.floor((north - south) / cell) + 1),
            source_text=(
                f"{kind}, {source.width} x {source.height} cells{f', EPSG:{code}' if code else ''}, kept at {cell:g} m"
            ),
            crs=found,
        )


def _source_area(source: Any, plan: Plan, grid: Affine) -> NDArray[np.bool_]:
    """Cells of the kept grid that lie in the file's own area, which is turned against it."""
    along = np.linspace(0.0, 1.0, 41)
    rim = [(t * source.width, 0.0) for t in along] + [(source.width, t * source.height) for t in along]
    rim += [((1 - t) * source.width, source.height) for t in along] + [(0.0, (1 - t) * source.height) for t in along]
    corners = [source.transform * one for one in rim]
    own = local_crs(plan.latitude_deg, plan.longitude_deg)
    x, y = transform(plan.crs, own, [p[0] for p in corners], [p[1] for p in corners])
    outline = {"type": "Polygon", "coordinates": [list(zip(x, y, strict=True))]}
    return np.asarray(geometry_mask([outline], (plan.rows, plan.columns), grid, invert=True))


def _crests(source: Any, plan: Plan, grid: Affine) -> Heights:
    """Heights of the file's own crests at the nearest cells of the kept grid, NaN elsewhere; (rows, columns) from the north.

    Between the file's own points the kept grid would lower every summit and ridge. A point counts as a crest when it
    stands above both neighbours along a row, a column or a diagonal.
    """
    made = np.full((plan.rows, plan.columns), np.nan, dtype=np.float32)
    own = local_crs(plan.latitude_deg, plan.longitude_deg)
    inverse = ~grid
    for top in range(0, source.height, _STRIP):
        first, last = max(top - 1, 0), min(top + _STRIP + 1, source.height)
        heights = source.read(1, window=Window(0, first, source.width, last - first), masked=True)
        # A height or a mark for "none" beyond all single precision becomes infinite, which is no crest.
        with np.errstate(over="ignore", invalid="ignore"):
            filled = np.where(np.ma.getmaskarray(heights), np.nan, heights.data).astype(np.float32)
        inner = filled[1:-1, 1:-1]
        crest = np.zeros(inner.shape, dtype=bool)
        for down, right in ((0, 1), (1, 0), (1, 1), (1, -1)):
            before = filled[1 - down : -1 - down or None, 1 - right : filled.shape[1] - 1 - right]
            after = filled[1 + down : filled.shape[0] - 1 + down, 1 + right : filled.shape[1] - 1 + right or None]
            crest |= (inner > before) & (inner >= after)
        rows, columns = np.nonzero(crest)
        if not len(rows):
            continue
        x, y = source.transform * (columns + 1.5, rows + first + 1.5)
        east, north = transform(plan.crs, own, x.tolist(), y.tolist())
        column, row = inverse * (np.asarray(east), np.asarray(north))
        column, row = np.floor(column).astype(int), np.floor(row).astype(int)
        inside = (column >= 0) & (column < plan.columns) & (row >= 0) & (row < plan.rows)
        np.fmax.at(made, (row[inside], column[inside]), inner[rows, columns][inside])
    return made


def import_terrain(path: Path, plan: Plan, progress: Callable[[float], None]) -> tuple[Terrain, float]:
    """The terrain of a file, and the share of it of which nothing is known; small voids are filled from their rim.

    *progress* is called with shares 0..1 of the work.

    Raises
    ------
    TerrainError
        If the heights cannot be read, or are no heights.

    """
    half_x, half_y = (plan.columns - 1) / 2 * plan.cell_m, (plan.rows - 1) / 2 * plan.cell_m
    grid = from_origin(-half_x - plan.cell_m / 2, half_y + plan.cell_m / 2, plan.cell_m, plan.cell_m)
    heights = np.empty((plan.rows, plan.columns), dtype=np.float32)
    with (
        _opened(path) as source,
        WarpedVRT(
            source, src_crs=plan.crs, crs=local_crs(plan.latitude_deg, plan.longitude_deg), transform=grid,
            width=plan.columns, height=plan.rows, resampling=Resampling.bilinear, dtype="float32", nodata=np.nan,
        ) as turned,
    ):  # fmt: skip
        inside = _source_area(source, plan, grid)
        for top in range(0, plan.rows, _STRIP):
            tall = min(_STRIP, plan.rows - top)
            heights[top : top + tall] = turned.read(1, window=Window(0, top, plan.columns, tall))
            progress(0.9 * (top + tall) / plan.rows)
        heights = np.fmax(heights, _crests(source, plan, grid))
    heights[(heights < -12_000) | (heights > 12_000)] = np.nan
    known = np.isfinite(heights)
    if not known.any():
        raise TerrainError("The grid holds no heights at all; choose another file.")
    if float(np.nanmax(heights)) > 9000 or float(np.nanmin(heights)) < -500:
        raise TerrainError("The heights reach beyond -500 to 9000 m; give them in metres above sea level.")
    void = float((inside & ~known).sum()) / max(1, int(inside.sum()))
    if void > 0:
        filled = fillnodata(
            np.where(known, heights, 0.0), mask=known.astype(np.uint8), max_search_distance=_FILLED_CELLS
        )
        # What no rim was near of stays unknown, and so does what lies beside the file's own area.
        near = fillnodata(known.astype(np.float32), mask=known.astype(np.uint8), max_search_distance=_FILLED_CELLS)
        heights = np.where(known | (inside & (near > 0)), filled, np.nan).astype(np.float32)
    progress(0.97)
    made = Terrain(
        heights_m=np.ascontiguousarray(heights[::-1]), cell_m=plan.cell_m, west_m=-half_x, south_m=-half_y,
        latitude_deg=plan.latitude_deg, longitude_deg=plan.longitude_deg,
    )  # fmt: skip
    return made, void


def write_terrain(terrain: Terrain, path: Path) -> None:
    """Keep a terrain as GeoTIFF in its own metres."""
    rows, columns = terrain.heights_m.shape
    half = terrain.cell_m / 2
    with rasterio.Env(**_ENVIRONMENT), rasterio.open(
        path, "w", driver="GTiff", width=columns, height=rows, count=1, dtype="float32", nodata=np.nan,
        crs=local_crs(terrain.latitude_deg, terrain.longitude_deg),
        transform=from_origin(terrain.west_m - half, terrain.north_m + half, terrain.cell_m, terrain.cell_m),
        compress="deflate", predictor=3, tiled=True,
    ) as out:  # fmt: skip
        out.write(terrain.heights_m[::-1], 1)


def check_kept_terrain(path: Path, columns: int, rows: int) -> None:
    """See that a file holds as many heights as is said of a terrain that was kept, before any of them is read.

    Raises
    ------
    TerrainError
        If it is another file.

    """
    with _opened(path) as source:
        if (source.width, source.height, source.count) != (columns, rows, 1) or source.dtypes != ("float32",):
            raise TerrainError("It does not hold the heights that its record tells of.")
        if max(source.width, source.height) > MOST_CELLS_KEPT + 1:
            raise TerrainError(f"It has more than {MOST_CELLS_KEPT} heights along a side.")


def read_terrain(path: Path, latitude_deg: float, longitude_deg: float) -> Terrain:
    """A terrain that `write_terrain` kept.

    Raises
    ------
    TerrainError
        If the file is not what it was.

    """
    with _opened(path) as source:
        heights = source.read(1)
        kept = source.transform
        return Terrain(
            heights_m=np.ascontiguousarray(heights[::-1]),
            cell_m=float(kept.a),
            west_m=float(kept.c + kept.a / 2),
            south_m=float(kept.f + kept.e * (heights.shape[0] - 0.5)),
            latitude_deg=latitude_deg,
            longitude_deg=longitude_deg,
        )
