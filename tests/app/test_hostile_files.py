"""Files made to harm, over every kind that is taken: each is used or refused in words, and takes little memory and time.

Three hundred in every run, others each day; ``LUCID_RIDGE_HOSTILE=10000`` makes more of them and prints what they took.
"""

from __future__ import annotations

import io
import json
import os
import random
import re
import resource
import struct
import time
from collections import Counter
from datetime import UTC, datetime
from uuid import uuid4

import numpy as np
import pytest
import rasterio
from PIL import Image
from pillow_heif import from_pillow
from rasterio.transform import from_origin

from .conftest import add_kit, add_place
from .test_from_photograph import WHERE, photograph

COUNT = int(os.environ.get("LUCID_RIDGE_HOSTILE", "300"))
SEED = datetime.now(UTC).strftime("%Y-%m-%d")
MOST_S = 20.0
MOST_GROWTH_MB = 900
"""Beyond what a first round of good files takes; a picture is read in a process of its own and is not in it."""

GPX = (
    b'<?xml version="1.0"?><gpx version="1.1" creator="x" xmlns="http://www.topografix.com/GPX/1/1"><wpt lat="54.1" lon="-2.4">'
    b"<ele>300</ele><name>Gate</name></wpt><trk><name>Way</name><trkseg>"
    + b"".join(b'<trkpt lat="54.%04d" lon="-2.4"><ele>%d</ele></trkpt>' % (n, n) for n in range(60))
    + b"</trkseg></trk></gpx>"
)
GEOJSON = json.dumps(
    {
        "type": "FeatureCollection",
        "features": [
            {"type": "Feature", "properties": {"name": "Way"}, "geometry": {"type": "LineString", "coordinates": [[-2.4, 54.1, 3], [-2.41, 54.11]]}},
            {"type": "Feature", "properties": {"name": "Gate"}, "geometry": {"type": "Point", "coordinates": [-2.4, 54.1]}},
        ],
    }
).encode()  # fmt: skip
ASCII = (
    b"ncols 6\nnrows 5\nxllcorner 400000\nyllcorner 5200000\ncellsize 10\nNODATA_value -9999\n" + b"1 2 3 4 5 6\n" * 5
)


def terrain(**more) -> bytes:
    out = io.BytesIO()
    heights = np.random.default_rng(3).normal(300, 20, (40, 50)).astype("float32")
    with rasterio.MemoryFile() as memory:
        with memory.open(
            driver="GTiff", width=50, height=40, count=1, dtype="float32", crs="EPSG:32630", transform=from_origin(4e5, 5.9e6, 10, 10), **more
        ) as made:  # fmt: skip
            made.write(heights, 1)
        out.write(memory.read())
    return out.getvalue()


def heif() -> bytes:
    out = io.BytesIO()
    from_pillow(Image.effect_mandelbrot((60, 40), (-2, -1, 1, 1), 40).convert("RGB")).save(out, quality=50)
    return out.getvalue()


@pytest.fixture
def seeds(client) -> dict[str, list[bytes]]:
    """Good files of each kind, to be spoilt."""
    add_place(client)
    add_kit(client)
    made = client.post("/api/archives/export").json
    finished(client, f"/api/jobs/{made['id']}", "running", "state")
    with client.get(f"/api/jobs/{made['id']}/file") as answer:
        archive = answer.data
    return {
        "photograph": [
            photograph(gps=WHERE, size=(90, 60)), photograph(kind="TIFF", size=(40, 30)), photograph(kind="WEBP", size=(60, 40)),
            photograph(kind="PNG", size=(60, 40)), photograph(kind="DNG", size=(40, 30)), heif(),
        ],
        "terrain": [terrain(), terrain(compress="deflate"), terrain(tiled=True, blockxsize=16, blockysize=16), ASCII],
        "track": [GPX, GEOJSON],
        "archive": [archive],
    }  # fmt: skip


NUMBERS = [0, 1, 0x7F, 0x80, 0xFF, 0x7FFF, 0x8000, 0xFFFF, 0x7FFFFFFF, 0x80000000, 0xFFFFFFFF]
WORDS = [
    b"<!ENTITY a '&a;&a;'>",
    b"NaN",
    b"1e999",
    b"-1",
    b"\x00",
    b"[" * 3000,
    b"</trk>",
    b"99999999999999999999",
    b"\xff\xd8",
    b"II*\x00",
]

FIGURES = [
    b"0",
    b"-1",
    b"1e308",
    b"-1e308",
    b"NaN",
    b"Infinity",
    b"9" * 5000,
    b"1e-320",
    b"90.0000001",
    b"-180.5",
    b"",
    b"\xd9\xa3",
    b"null",
    b"1e400",
]


def spoilt(rng: random.Random, data: bytes, other: bytes) -> bytes:
    """A file with a few things wrong: bits, whole fields, lengths, cuts, doubled parts, parts of another kind of file."""
    made = bytearray(data)
    for _ in range(rng.choice((1, 1, 2, 4, 12))):
        at = rng.randrange(max(1, len(made)))
        match rng.randrange(10):
            case 0:
                made[at : at + 1] = bytes([rng.randrange(256)])
            case 1:
                made[at : at + 4] = struct.pack(rng.choice("<>") + "I", rng.choice(NUMBERS))
            case 2:
                made[at : at + 2] = struct.pack(rng.choice("<>") + "H", rng.choice(NUMBERS) & 0xFFFF)
            case 3:
                del made[at:]
            case 4:
                del made[at : at + rng.randrange(1, 200)]
            case 5:
                made[at:at] = made[at : at + rng.randrange(1, 400)] * rng.choice((1, 2, 50))
            case 6:
                made[at:at] = rng.choice(WORDS)
            case 7:
                start = rng.randrange(max(1, len(other)))
                made[at : at + 60] = other[start : start + 60]
            case _:
                told = [found.span() for found in re.finditer(rb"-?[0-9.]+", bytes(made[:4000]))]
                if told:
                    start, end = rng.choice(told)
                    made[start:end] = rng.choice(FIGURES)
    return bytes(made)


def sent(client, kind: str, data: bytes):
    """What is said to a file of a kind."""
    match kind:
        case "photograph":
            return client.post("/api/beginnings/photograph/read", data=data, content_type="application/octet-stream")
        case "terrain":
            path = f"/api/terrains/{uuid4()}"
            first = client.put(f"{path}?name=t&crs=EPSG:32630", data=data, content_type="application/octet-stream")
            return first if first.status_code >= 400 else finished(client, path, "importing", "state")
        case "track":
            return client.post("/api/tracks/import?name=a.gpx", data=data, content_type="application/octet-stream")
        case _:
            first = client.post("/api/archives/import", data=data, content_type="application/octet-stream")
            return (
                first
                if first.status_code >= 400
                else finished(client, f"/api/jobs/{first.json['id']}", "running", "state")
            )


def finished(client, path: str, still: str, field: str):
    end = time.monotonic() + 60
    while time.monotonic() < end:
        answer = client.get(path)
        if answer.status_code >= 400 or answer.json[field] not in (still, "waiting"):
            return answer
        time.sleep(0.01)
    raise AssertionError(f"{path} does not end")


def test_files_made_to_harm_are_used_or_refused(client, seeds):
    rng = random.Random(SEED)
    everything = [one for them in seeds.values() for one in them]
    for kind, them in seeds.items():
        for good in them:
            answer = sent(client, kind, good)
            assert answer.status_code == 200 and answer.json.get("state") != "failed", (kind, answer.json)
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    said, longest = Counter(), 0.0
    for number in range(COUNT):
        kind = rng.choice(list(seeds))
        data = spoilt(rng, rng.choice(seeds[kind]), rng.choice(everything))
        start = time.monotonic()
        answer = sent(client, kind, data)
        took = time.monotonic() - start
        longest = max(longest, took)
        what = (
            answer.status_code
            if answer.status_code >= 400
            else (answer.json.get("state", "used") if answer.is_json else "used")
        )
        said[(kind, what)] += 1
        assert answer.status_code < 500, (SEED, number, kind, answer.get_data()[:500], data[:200])
        assert took < MOST_S, (SEED, number, kind, took)
        words = (
            answer.json["detail"]
            if answer.status_code >= 400
            else answer.json.get("text") or answer.json.get("problem")
        )
        if answer.status_code >= 400 or what == "failed":
            assert words and "went wrong" not in words, (SEED, number, kind, answer.json)
    grown = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 1024
    print(
        f"\n{COUNT} files, the slowest {longest:.2f} s, memory grown by {grown:.0f} MB: {dict(sorted(said.items(), key=str))}"
    )
    assert grown < MOST_GROWTH_MB
    assert client.get("/api/places").status_code == 200
