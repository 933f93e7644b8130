"""GPX, GeoJSON, terrain grids and calendars: read back what is written, refuse what is broken or hostile."""

from __future__ import annotations

import json
import math
import struct
import subprocess
import sys
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
import rasterio
from hypothesis import given
from hypothesis import strategies as st
from icalendar import Calendar
from rasterio.transform import from_origin

from lucid_ridge.core.light.terrain import lie_of
from lucid_ridge.formats import relief
from lucid_ridge.formats.calendar import CalendarEntry, calendar_text
from lucid_ridge.formats.geography import GeographyError, Shape, read_geojson, read_gpx, write_geojson, write_gpx
from lucid_ridge.formats.terrain_grids import TerrainError, import_terrain, plan_import, read_terrain, write_terrain

DEGREES = st.floats(-89, 89).map(lambda v: round(v, 6))
POINTS = st.tuples(DEGREES, DEGREES, st.one_of(st.none(), st.floats(-400, 8000).map(lambda v: round(v, 1))))
NAMES = st.text(st.characters(codec="utf-8", categories=("L", "N")), min_size=1, max_size=40)
SHAPES = st.lists(
    st.one_of(
        st.builds(Shape, st.just("point"), NAMES, NAMES, st.tuples(POINTS)),
        st.builds(Shape, st.just("line"), NAMES, NAMES, st.lists(POINTS, min_size=2, max_size=6).map(tuple)),
    ),
    max_size=5,
)


@given(SHAPES)
def test_what_is_written_is_read_back(shapes):
    for write, read in ((lambda s: write_gpx(s, "all"), read_gpx), (write_geojson, read_geojson)):
        again = read(write(shapes).encode())
        assert not again.skipped

        def plain(found):
            # Minus nought is nought, and must not change the order.
            points = [tuple(tuple(v if v is None else v + 0.0 for v in p) for p in s.points) for s in found]
            return sorted(((s.kind, s.name, s.note, p) for s, p in zip(found, points, strict=True)), key=repr)

        assert plain(again.shapes) == plain(shapes)


BILLION = b'<?xml version="1.0"?><!DOCTYPE g [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]><gpx><wpt lat="1" lon="1"><name>&b;</name></wpt></gpx>'
OUTSIDE = b'<?xml version="1.0"?><!DOCTYPE g [<!ENTITY x SYSTEM "file:///etc/passwd">]><gpx><wpt lat="1" lon="1"><name>&x;</name></wpt></gpx>'


@pytest.mark.parametrize(
    "data",
    [b"", b"<", b"<gpx", b"<gpx><wpt lat='a' lon='2'/></gpx>", b"\xff\xfe<\x00", BILLION, OUTSIDE, b"<html></html" , b"<gpx>" * 5000],
)  # fmt: skip
def test_broken_and_hostile_gpx_is_refused_in_words(data):
    with pytest.raises(GeographyError, match=r"export|UTF-8|read"):
        read_gpx(data)


@pytest.mark.parametrize(
    "data", [b"", b"{", b"[]", b"3", b"[" * 100_000, b'{"type":"FeatureCollection","features":4}', b"\xff\xfe{\x00", b'{"a":' * 60 + b"1" + b"}" * 60]
)  # fmt: skip
def test_broken_and_hostile_geojson_is_refused_in_words(data):
    with pytest.raises(GeographyError, match=r"export|GeoJSON|UTF-8"):
        read_geojson(data)


def test_what_cannot_be_used_is_passed_over_by_name():
    polygon = {"type": "Polygon", "coordinates": []}
    features = [
        {"type": "Feature", "properties": {"name": "field"}, "geometry": polygon},
        {"type": "Feature", "properties": {"name": "moon"}, "geometry": {"type": "Point", "coordinates": [400, 20]}},
        {"type": "Feature", "properties": None, "geometry": None},
        {
            "type": "Feature",
            "properties": {"name": "here"},
            "geometry": {"type": "Point", "coordinates": [2, 50, 1e300]},
        },
        {
            "type": "Feature",
            "properties": {"name": "nan"},
            "geometry": {"type": "Point", "coordinates": [float("nan"), 1]},
        },
    ]
    read = read_geojson(json.dumps({"type": "FeatureCollection", "features": features}).encode())
    assert [s.name for s in read.shapes] == ["here"]
    assert read.shapes[0].points == ((50.0, 2.0, None),)
    assert [name for name, _ in read.skipped] == ["field", "moon", "feature 3", "nan"]


# --- terrain ---------------------------------------------------------------------------------------


def grid(path, heights, crs="EPSG:32630", cell=25.0, left=500_000.0, top=5_990_000.0, **more):
    with rasterio.open(
        path, "w", driver="GTiff", width=heights.shape[1], height=heights.shape[0], count=1, dtype=heights.dtype,
        crs=crs, transform=from_origin(left, top, cell, cell), **more,
    ) as out:  # fmt: skip
        out.write(heights, 1)
    return path


def bowl(rows=120, columns=160):
    y, x = np.mgrid[0:rows, 0:columns]
    return (300 + 0.05 * (x - columns / 2) ** 2 + 0.08 * (y - rows / 2) ** 2).astype(np.float32)


def brought_in(path, crs=""):
    plan = plan_import(path, crs)
    told = []
    terrain, void = import_terrain(path, plan, told.append)
    assert told == sorted(told) and 0 < told[0] <= told[-1] <= 1
    return terrain, void


def test_a_projected_grid_keeps_its_heights_where_they_lie(tmp_path):
    heights = bowl()
    terrain, void = brought_in(grid(tmp_path / "bowl.tif", heights))
    assert void < 0.01
    from rasterio.warp import transform

    # Cells away from the rim, by their projected positions.
    rows, columns = np.array([20, 60, 90, 60]), np.array([30, 80, 140, 20])
    x, y = 500_000 + (columns + 0.5) * 25, 5_990_000 - (rows + 0.5) * 25
    longitudes, latitudes = transform("EPSG:32630", "EPSG:4326", x.tolist(), y.tolist())
    for row, column, latitude, longitude in zip(rows, columns, latitudes, longitudes, strict=True):
        lie = lie_of(terrain, latitude, longitude)
        assert float(terrain.height_at(lie.east_m, lie.north_m)) == pytest.approx(float(heights[row, column]), abs=0.6)


def test_an_ascii_grid_in_degrees_and_one_that_needs_its_system(tmp_path):
    rows = "\n".join(" ".join(str(100 + i + j) for j in range(40)) for i in range(30))
    head = "ncols 40\nnrows 30\nxllcorner {}\nyllcorner {}\ncellsize {}\nNODATA_value -9999\n"
    degrees = tmp_path / "degrees.asc"
    degrees.write_text(head.format(-2.5, 54.0, 0.001) + rows)
    terrain, _ = brought_in(degrees)
    assert terrain.latitude_deg == pytest.approx(54.015, abs=0.001)
    metres = tmp_path / "metres.asc"
    metres.write_text(head.format(400_000, 5_900_000, 50) + rows)
    with pytest.raises(TerrainError, match="EPSG"):
        plan_import(metres)
    assert brought_in(metres, "EPSG:32630")[0].cell_m == pytest.approx(50, abs=0.5)
    with pytest.raises(TerrainError, match="no coordinate system"):
        plan_import(metres, "EPSG:999999")


@pytest.mark.parametrize("seed", [1, 2])
def test_summits_and_ridges_keep_their_heights(tmp_path, seed):
    # Peaks of one cell and ridges, in degrees, whose cells are 92 m by 74 m on the ground.
    rng = np.random.default_rng(seed)
    heights = rng.uniform(600, 640, (90, 110)).astype(np.float32)
    peaks = [(int(r), int(c), float(h)) for r, c, h in rng.uniform((8, 8, 900), (80, 100, 1076), (20, 3))]
    for row, column, height in peaks:
        heights[row, column] = height
    heights[45, 20:60] = 850.0
    terrain, _ = brought_in(
        grid(tmp_path / "peaks.tif", heights, "EPSG:4326", cell=74 / 111_320 * 1.113, left=8.0, top=46.5)
    )
    assert terrain.relief_m[1] == pytest.approx(float(heights.max()), abs=0.01)
    kept = np.sort(terrain.heights_m[terrain.heights_m > 890].ravel())
    for _, _, height in peaks:
        assert np.abs(kept - height).min() < 0.01
    # Nothing stands above what the file holds.
    assert terrain.relief_m[1] <= float(heights.max()) + 1e-3
    assert (terrain.heights_m == 850.0).sum() >= 20


def test_voids_are_filled_from_their_rim_and_large_ones_stay(tmp_path):
    heights = bowl()
    heights[50:54, 70:75] = -9999
    heights[:, :70] = -9999
    terrain, void = brought_in(grid(tmp_path / "void.tif", heights, nodata=-9999.0))
    assert 0.4 < void < 0.5
    assert np.isnan(terrain.heights_m).any() and terrain.relief_m[0] > 250


def test_a_fine_grid_is_thinned(tmp_path):
    terrain, _ = brought_in(grid(tmp_path / "fine.tif", np.full((2600, 2400), 50.0, dtype=np.float32), cell=1.0))
    assert max(terrain.heights_m.shape) <= 2000


def test_a_kept_terrain_is_the_same_again(tmp_path):
    terrain, _ = brought_in(grid(tmp_path / "bowl.tif", bowl()))
    write_terrain(terrain, tmp_path / "kept.tif")
    again = read_terrain(tmp_path / "kept.tif", terrain.latitude_deg, terrain.longitude_deg)
    assert np.array_equal(again.heights_m, terrain.heights_m, equal_nan=True)
    assert (again.cell_m, again.west_m, again.south_m) == pytest.approx(
        (terrain.cell_m, terrain.west_m, terrain.south_m)
    )


def huge_tiff(width, height):
    """A little-endian TIFF whose header claims a huge picture and holds nothing."""
    tags = [(256, 4, width), (257, 4, height), (258, 3, 32), (259, 3, 1), (262, 3, 1), (273, 4, 8), (277, 3, 1), (278, 4, height), (279, 4, 4), (339, 3, 3)]  # fmt: skip
    body = struct.pack("<H", len(tags)) + b"".join(struct.pack("<HHII", t, k, 1, v) for t, k, v in tags)
    return b"II*\0" + struct.pack("<I", 8) + body + struct.pack("<I", 0)


def hostile(tmp_path):
    good = grid(tmp_path / "good.tif", bowl(), compress="deflate").read_bytes()
    vrt = b'<VRTDataset rasterXSize="2" rasterYSize="2"><VRTRasterBand dataType="Float32" band="1"/></VRTDataset>'
    rgb = tmp_path / "rgb.tif"
    with rasterio.open(
        rgb,
        "w",
        driver="GTiff",
        width=8,
        height=8,
        count=3,
        dtype="uint8",
        photometric="rgb",
        crs="EPSG:32630",
        transform=from_origin(0, 0, 9, 9),
    ) as out:
        out.write(np.zeros((3, 8, 8), dtype=np.uint8))
    return {
        "empty": b"", "words": b"no terrain at all", "vrt": vrt, "only a header": b"II*\0" + b"\0" * 20,
        "huge": huge_tiff(100_000, 100_000), "picture": rgb.read_bytes(), "cut": good[: len(good) // 3],
        "noise": b"II*\0" + np.random.default_rng(1).bytes(4000), "grid of letters": b"ncols x\nnrows y\n",
        "nothing but voids": grid(tmp_path / "v.tif", np.full((9, 9), -9999, np.float32), nodata=-9999.0).read_bytes(),
        "feet in the sky": grid(tmp_path / "f.tif", np.full((9, 9), 11_000, np.float32)).read_bytes(),
        "half the world": grid(tmp_path / "w.tif", np.zeros((90, 180), np.float32), crs="EPSG:4326", cell=1.0, left=-90, top=45).read_bytes(),
        "nowhere": grid(tmp_path / "n.tif", np.zeros((9, 9), np.float32), crs="EPSG:4326", cell=1.0, left=500, top=400).read_bytes(),
    }  # fmt: skip


def test_broken_and_hostile_terrain_is_refused_in_words(tmp_path):
    for name, data in hostile(tmp_path).items():
        path = tmp_path / "given"
        path.write_bytes(data)
        with pytest.raises(TerrainError) as refused:
            brought_in(path)
        assert str(refused.value).endswith("."), name


def test_pictures_cover_the_terrain(tmp_path):
    terrain, _ = brought_in(grid(tmp_path / "bowl.tif", bowl()))
    south, west, north, east = relief.map_bounds(terrain)
    assert south < terrain.latitude_deg < north and west < terrain.longitude_deg < east


# --- calendar --------------------------------------------------------------------------------------


def test_a_calendar_says_when_where_and_when_to_be_ready():
    start = datetime(2026, 10, 25, 0, 40, tzinfo=UTC)
    entry = CalendarEntry(
        "Fold: side light", start, start + timedelta(minutes=25), start - timedelta(minutes=30), "Sorrel Beck", 54.11, -2.43,
        "Gate; leave as found\nWet stone, slow",
    )  # fmt: skip
    text = calendar_text([entry], start)
    again = calendar_text([entry], start + timedelta(days=1))
    events = [Calendar.from_ical(t).walk("VEVENT")[0] for t in (text, again)]
    assert events[0].decoded("dtstart") == start and events[0].decoded("dtend") - start == timedelta(minutes=25)
    assert str(events[0]["summary"]) == "Fold: side light" and "Wet stone" in str(events[0]["description"])
    assert events[0].walk("VALARM")[0].decoded("trigger") == timedelta(minutes=-30)
    assert math.isclose(events[0]["geo"].latitude, 54.11)
    assert str(events[0]["uid"]) == str(events[1]["uid"])


_WITHIN = """
import io, resource, sys
from PIL import Image
from lucid_ridge.formats.photographs import PhotographError, read_photograph
kind, width, height, mode = sys.argv[1], int(sys.argv[2]), int(sys.argv[3]), sys.argv[4]
out = io.BytesIO()
Image.new(mode, (width, height)).save(out, kind)
before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
if mode == "RGB":
    # What making it took stays the highest mark: only what goes beyond it is seen, so reading has a limit of its own.
    resource.setrlimit(resource.RLIMIT_AS, (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024 + 2**30,) * 2)
try:
    made = read_photograph(out.getvalue())
    print(made.width_px, made.height_px)
except PhotographError as error:
    print(error)
"""


@pytest.mark.parametrize(
    ("kind", "width", "height", "mode", "told"),
    [
        ("PNG", 10_900, 10_900, "RGB", "10900 10900"),
        ("PNG", 1, 119_000_000, "L", "a side of more than 65535"),
        ("PNG", 119_000_000, 1, "L", "a side of more than 65535"),
        ("PNG", 11_000, 11_000, "L", "more than 120 megapixels"),
        ("WEBP", 7_100, 7_100, "RGB", "more than 50 megapixels"),
        ("JPEG", 1_800, 65_000, "L", "1800 65000"),
    ],
)
def test_a_picture_is_read_within_a_gigabyte_or_refused_before_it_is_decoded(kind, width, height, mode, told):
    command = [sys.executable, "-c", _WITHIN, kind, str(width), str(height), mode]
    done = subprocess.run(command, capture_output=True, text=True, check=False, timeout=120)
    assert told in done.stdout, done.stderr
