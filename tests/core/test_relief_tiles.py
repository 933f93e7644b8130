"""The map's relief: nothing saturates, tiles meet, the finest model lies on top, lines stand apart, any orientation reads."""

from __future__ import annotations

import io
import math

import numpy as np
import pytest
import rasterio
from PIL import Image
from rasterio.transform import Affine

from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.formats.relief_tiles import (
    TILE_PX,
    contour_step_m,
    relief_tile,
    shading,
    tile_bounds,
    tile_degrees,
    tiles_at,
    tint,
)
from lucid_ridge.formats.terrain_grids import import_terrain, plan_import


def ground(height, cell_m=30.0, rough=1.0, latitude=47.0):
    """Ridges and hollows of a height, with some roughness; the same at every call."""
    x, y = np.meshgrid(np.arange(220), np.arange(200))
    rng = np.random.default_rng(4)
    heights = height * (0.5 + 0.5 * np.sin(x / 9) * np.cos(y / 13)) + rough * rng.standard_normal(x.shape)
    return Terrain((heights + 400).astype(np.float32), cell_m, -110 * cell_m, -100 * cell_m, latitude, 8.0)


def darkness(terrains, z, x, y):
    drawn = relief_tile(terrains, z, x, y)
    assert drawn is not None
    return np.asarray(Image.open(io.BytesIO(drawn)).convert("LA").split()[1], dtype=float) / 255


def middle(terrain, z):
    return tiles_at(z, terrain.latitude_deg, terrain.longitude_deg)


@pytest.mark.parametrize("height", [4.0, 60.0, 1800.0])
@pytest.mark.parametrize("z", [11, 13, 15])
def test_neither_gentle_nor_alpine_ground_saturates(height, z):
    terrain = ground(height, rough=height / 200)
    x, y = middle(terrain, z)
    inside = darkness([terrain], z, x, y)
    known = inside[inside > 0]
    # Never flat black, never all the same: the ground can be read.
    assert np.quantile(known, 0.99) < 0.85
    assert np.quantile(known, 0.9) - np.quantile(known, 0.1) > 0.08


def test_flat_ground_stays_flat():
    flat = Terrain(np.full((60, 60), 12.0, dtype=np.float32), 30.0, -900.0, -900.0, 47.0, 8.0)
    x, y = middle(flat, 15)
    inside = darkness([flat], 15, x, y)
    assert inside.std() < 1e-6


def test_slopes_away_from_the_north_west_are_darker():
    x, y = np.meshgrid(np.arange(40.0), np.arange(40.0))
    up = lambda east, south: shading((east * x + south * y).astype(np.float32), 1.0, 0.3)[20, 20]  # noqa: E731
    level = up(0, 0)
    # Rows run from the north: ground that falls to the south-east faces away from the light.
    assert up(-0.3, -0.3) > level > up(0.3, 0.3)


def test_higher_ground_is_paler():
    steps = tint(np.linspace(0, 100, 50, dtype=np.float32), 0, 100)
    assert np.all(np.diff(steps) <= 0) and steps[0] > steps[-1] == 0


@pytest.mark.parametrize("z", [12, 14])
def test_neighbouring_tiles_meet_without_a_seam(z):
    terrain = ground(600.0, 90.0, rough=2.0)
    x, y = middle(terrain, z)
    left, right = (darkness([terrain], z, x + k, y) for k in (0, 1))
    across = np.abs(left[:, -1] - right[:, 0])
    beside = np.abs(left[:, -2] - left[:, -1])
    assert np.median(across) <= np.median(beside) + 0.02


def test_the_finer_model_lies_on_top_and_nothing_is_drawn_twice():
    coarse, fine = ground(600.0, 60.0), ground(300.0, 10.0)
    z = 15
    x, y = middle(fine, z)
    both, alone = darkness([coarse, fine], z, x, y), darkness([fine], z, x, y)
    covered = alone > 0
    assert covered.any()
    # Shading and tint are the finer model's own; lines of the coarse one end where it begins.
    assert np.median(np.abs(both[covered] - alone[covered])) < 1e-6
    assert relief_tile([fine], z, x, y) == relief_tile([fine, fine], z, x, y)


@pytest.mark.parametrize("steep", [0.02, 0.2, 1.5])
def test_contours_stand_apart_at_every_zoom(steep):
    for px_m in (1.0, 5.0, 40.0, 300.0):
        step = contour_step_m(steep, px_m)
        assert step == 1000 or step / (steep * px_m) >= 9
    assert contour_step_m(steep, 5.0) <= contour_step_m(steep, 50.0)


def test_a_tile_far_away_is_none():
    assert relief_tile([ground(100.0)], 12, 0, 0) is None


@pytest.mark.parametrize(("latitude", "longitude"), [(47.0, 8.0), (-33.4, -70.6), (0.0, 0.0), (84.0, 179.9)])
def test_tiles_lie_where_web_maps_lay_them(latitude, longitude):
    """The usual scheme: 2^z columns from -180 degrees, rows by the Mercator latitude from 85.05 degrees north."""
    for z in (0, 5, 12, 18):
        x, y = tiles_at(z, latitude, longitude)
        west, south, east, north = tile_degrees(z, x, y)
        assert west <= longitude <= east and south - 1e-9 <= latitude <= north + 1e-9
        left, bottom, right, top = tile_bounds(z, x, y)
        assert right - left == pytest.approx(top - bottom) == pytest.approx(40_075_016.68557849 / 2**z)
        assert left == pytest.approx(math.radians(west) * 6_378_137.0, abs=1e-3)
        assert TILE_PX == 256


def write(path, heights, transform):
    with rasterio.open(
        path, "w", driver="GTiff", width=heights.shape[1], height=heights.shape[0], count=1, dtype="float32",
        crs="EPSG:32632", transform=transform,
    ) as out:  # fmt: skip
        out.write(heights, 1)
    return import_terrain(path, plan_import(path), lambda _: None)[0]


def test_a_raster_of_any_orientation_is_the_same_ground(tmp_path):
    heights = ground(500.0).heights_m[:120, :150]
    east, north, cell = 420_000.0, 5_200_000.0, 30.0
    usual = write(tmp_path / "n.tif", heights, Affine(cell, 0, east, 0, -cell, north))
    south_up = write(tmp_path / "s.tif", heights[::-1], Affine(cell, 0, east, 0, cell, north - 120 * cell))
    from_east = write(tmp_path / "e.tif", heights[:, ::-1], Affine(-cell, 0, east + 150 * cell, 0, -cell, north))
    on_its_side = write(tmp_path / "t.tif", heights.T.copy(), Affine(0, cell, east, -cell, 0, north))
    for name, other in {"south up": south_up, "from the east": from_east, "on its side": on_its_side}.items():
        assert (other.latitude_deg, other.longitude_deg) == pytest.approx((usual.latitude_deg, usual.longitude_deg))
        apart = np.abs(other.heights_m - usual.heights_m)
        # The warp may be off by an eighth of a cell, on ground that rises some 30 m in a cell.
        assert np.nanmax(apart) < 30 / 8 * 1.4 and np.nanmedian(apart) < 2, name
