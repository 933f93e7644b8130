"""A composition from a photograph: full, partial, odd and no metadata; JPEG, HEIC, TIFF, what looks like raw, what is broken."""

from __future__ import annotations

import io
import math
from datetime import UTC, datetime
from uuid import uuid4

import pytest
from PIL import ExifTags, Image
from PIL.TiffImagePlugin import IFDRational
from pillow_heif import from_pillow

B, G = ExifTags.Base, ExifTags.GPS
R = IFDRational
FULL = {
    B.Model: "Test camera 24",
    B.DateTimeOriginal: "2026:06:02 19:40:10",
    B.OffsetTimeOriginal: "+01:00",
    B.FocalLength: R(35, 1),
    B.FocalLengthIn35mmFilm: 53,
    B.FNumber: R(8, 1),
    B.ExposureTime: R(1, 60),
    B.ISOSpeedRatings: 200,
    B.LensModel: "18-55 mm test",
    B.LensSpecification: (R(18, 1), R(55, 1), R(35, 10), R(56, 10)),
    B.SubjectDistance: R(43, 10),
}
WHERE = {
    G.GPSLatitudeRef: "N", G.GPSLatitude: (R(54, 1), R(6, 1), R(0, 1)),
    G.GPSLongitudeRef: "W", G.GPSLongitude: (R(2, 1), R(24, 1), R(36, 1)),
    G.GPSAltitudeRef: b"\x00", G.GPSAltitude: R(380, 1),
    G.GPSImgDirectionRef: "T", G.GPSImgDirection: R(2105, 10),
}  # fmt: skip
_OUTER = {B.Model, B.Make, B.DateTime, B.Orientation}


def photograph(tags=None, gps=None, size=(1200, 800), kind="JPEG"):
    image = Image.new("RGB", size, (120, 130, 110))
    exif = Image.Exif()
    inner = exif.get_ifd(ExifTags.IFD.Exif)
    for tag, value in (tags or {}).items():
        (exif if tag in _OUTER else inner)[tag] = value
    if gps:
        exif.get_ifd(ExifTags.IFD.GPSInfo).update(gps)
    out = io.BytesIO()
    if kind == "HEIC":
        made = from_pillow(image)
        made.save(out, quality=60, exif=exif.tobytes())
    elif kind == "DNG":
        exif[50706] = b"\x01\x04\x00\x00"
        image.save(out, "TIFF", exif=exif.tobytes())
    else:
        image.save(out, kind, exif=exif.tobytes())
    return out.getvalue()


def read(client, data, kind="image/jpeg"):
    return client.post("/api/beginnings/photograph/read", data=data, content_type=kind)


def begin(client, facts, **more):
    body = {"name": "From a photograph", "photograph_id": str(uuid4()), "facts": facts, **more}
    return client.post("/api/beginnings/photograph", json=body)


HERE = {"name": "Where it was taken", "latitude_deg": 54.1, "longitude_deg": -2.41}


@pytest.mark.parametrize(
    ("kind", "sent_as"),
    [
        ("JPEG", "image/jpeg"),
        ("TIFF", "image/tiff"),
        ("HEIC", "image/heic"),
        ("DNG", "application/octet-stream"),
        ("WEBP", "image/webp"),
    ],
)
def test_a_photograph_that_tells_everything_is_a_composition_without_a_question(client, kind, sent_as):
    told = read(client, photograph(FULL, WHERE, kind=kind), sent_as)
    assert told.status_code == 200, told.json
    assert told.json["missing"] == []
    facts = told.json["facts"]
    assert facts["latitude_deg"] == pytest.approx(54.1)
    assert facts["longitude_deg"] == pytest.approx(-2.41)
    # By the ratio of the diagonals: 43.27 * 35 / 53 = 28.57 mm, at 3 : 2 23.8 x 15.8 mm.
    assert (facts["sensor_width_mm"], facts["sensor_height_mm"]) == pytest.approx((23.77, 15.85), abs=0.02)
    made = begin(client, facts, place=HERE)
    assert made.status_code == 201, made.json
    composition = made.json["composition"]
    assert datetime.fromisoformat(composition["moment_utc"]) == datetime(2026, 6, 2, 18, 40, 10, tzinfo=UTC)
    assert composition["azimuth_deg"] == pytest.approx(210.5)
    assert composition["settings"]["focal_length_mm"] == 35
    assert composition["settings"]["aperture_n"] == pytest.approx(8, rel=0.01)
    assert composition["settings"]["focus_m"] == pytest.approx(4.3)
    assert composition["reading"]["shutter_s"] == pytest.approx(1 / 60)
    assert composition["underlay"]["view_deg"] == pytest.approx(math.degrees(2 * math.atan(23.77 / 70)), abs=0.1)
    kit = {i["item"]["kind"]: i for i in client.get("/api/kit").json["items"]}
    assert kit["body"]["item"]["details"]["name"] == "Test camera 24"
    assert kit["lens"]["item"]["details"]["longest_mm"] == 55
    assert kit["body"]["usual"] and kit["lens"]["usual"]


def test_the_same_camera_and_lens_are_found_again(client):
    facts = read(client, photograph(FULL, WHERE)).json["facts"]
    first = begin(client, facts, place=HERE).json
    again = read(client, photograph(FULL, WHERE)).json
    assert (again["body_id"], again["lens_id"], again["place_id"]) == (
        first["body_id"],
        first["lens_id"],
        first["place_id"],
    )
    second = begin(
        client, again["facts"], place_id=again["place_id"], body_id=again["body_id"], lens_id=again["lens_id"]
    )
    assert second.status_code == 201
    assert len(client.get("/api/kit").json["items"]) == 3


def test_the_photograph_lies_under_the_view_once_it_is_sent(client):
    data = photograph(FULL, WHERE)
    number = str(uuid4())
    made = begin(client, read(client, data).json["facts"], place=HERE, photograph_id=number).json
    sent = client.put(
        f"/api/compositions/{made['id']}/photographs/{number}?name=a.jpg", data=data, content_type="image/jpeg"
    )
    assert sent.status_code == 201
    assert made["composition"]["underlay"]["photograph_id"] == number


@pytest.mark.parametrize(
    ("tags", "gps", "missing"),
    [
        ({}, None, ["position", "time", "direction", "sensor", "focal_length"]),
        # A phone: an equivalent, and no focal length of its own.
        ({B.FocalLengthIn35mmFilm: 26, B.DateTimeOriginal: "2026:06:02 19:40:10"}, WHERE, ["sensor"]),
        # A clock without an offset, and no position.
        ({B.DateTimeOriginal: "2026:06:02 19:40:10", B.FocalLength: R(50, 1)}, None, ["position", "direction", "sensor"]),
        # A clock that was never set, broken rationals, words where numbers belong, an island of nulls.
        (
            {B.DateTimeOriginal: "0000:00:00 00:00:00", B.FocalLength: R(0, 0), B.FNumber: R(0, 0), B.ExposureTime: R(1, 0), B.Model: "\x00\x00"},
            {G.GPSLatitude: (R(0, 0), R(0, 0), R(0, 0)), G.GPSLatitudeRef: "\x00"},
            ["position", "time", "direction", "sensor", "focal_length"],
        ),
        # A position out of this world.
        ({}, {**WHERE, G.GPSLatitude: (R(95, 1), R(0, 1), R(0, 1)), G.GPSImgDirection: R(900, 1)}, ["position", "time", "direction", "sensor", "focal_length"]),
    ],
)  # fmt: skip
def test_what_a_photograph_does_not_tell_is_asked(client, tags, gps, missing):
    told = read(client, photograph(tags, gps))
    assert told.status_code == 200, told.json
    assert told.json["missing"] == missing


def test_a_screenshot_becomes_a_composition_once_four_things_are_said(client):
    out = io.BytesIO()
    Image.new("RGB", (390, 844)).save(out, "PNG")
    told = read(client, out.getvalue(), "image/png").json
    facts = {**told["facts"], "taken": "2026-06-02 19:40", "direction_deg": 300, "equivalent_mm": 26}
    lacking = begin(client, facts, place=HERE)
    assert lacking.json["errors"][0]["pointer"] == "/format"
    made = begin(client, facts, place=HERE, format="one_inch")
    assert made.status_code == 201, made.json
    assert made.json["composition"]["orientation"] == "portrait"
    assert datetime.fromisoformat(made.json["composition"]["moment_utc"]) == datetime(2026, 6, 2, 18, 40, tzinfo=UTC)
    assert made.json["composition"]["settings"]["focal_length_mm"] == pytest.approx(26 * 15.86 / 43.27, abs=0.05)


def test_the_focal_plane_tells_the_sensor_before_the_equivalent_does(client):
    # 1200 pixels at 1200 / 36 per millimetre are 36 mm; exif counts per inch.
    tags = {**FULL, B.FocalPlaneXResolution: R(1200 * 254, 360), B.FocalPlaneResolutionUnit: 2, B.ExifImageWidth: 1200}
    facts = read(client, photograph(tags)).json["facts"]
    assert facts["sensor_width_mm"] == pytest.approx(36.0, abs=0.01)


def test_a_picture_taken_upright_looks_upright(client):
    told = read(client, photograph({**FULL, B.Orientation: 6}, WHERE)).json
    assert (told["facts"]["width_px"], told["facts"]["height_px"]) == (800, 1200)
    made = begin(client, told["facts"], place=HERE).json
    assert made["composition"]["orientation"] == "portrait"


def test_south_and_east_are_told_from_north_and_west(client):
    gps = {**WHERE, G.GPSLatitudeRef: "S", G.GPSLongitudeRef: "E"}
    facts = read(client, photograph({}, gps)).json["facts"]
    assert facts["latitude_deg"] == pytest.approx(-54.1)
    assert facts["longitude_deg"] == pytest.approx(2.41)


def test_the_satellites_clock_stands_in_for_a_missing_offset(client):
    gps = {**WHERE, G.GPSDateStamp: "2026:06:02", G.GPSTimeStamp: (R(18, 1), R(40, 1), R(10, 1))}
    facts = read(client, photograph({B.DateTimeOriginal: "2026:06:02 21:40:10"}, gps)).json["facts"]
    assert datetime.fromisoformat(facts["taken"]) == datetime(2026, 6, 2, 18, 40, 10, tzinfo=UTC)


@pytest.mark.parametrize(
    ("data", "kind", "status", "words"),
    [
        (b"", "image/jpeg", 422, "empty"),
        (photograph(FULL)[:3000], "image/jpeg", 422, "broken or cut off"),
        (b"II*\x00" + b"\xff" * 400, "application/octet-stream", 422, "export it"),
        (b"not a picture" * 50, "application/octet-stream", 422, "export it"),
        (b"{}", "application/json", 415, "Send a photograph"),
    ],
)
def test_what_is_no_photograph_says_what_to_do(client, data, kind, status, words):
    refused = read(client, data, kind)
    assert refused.status_code == status
    assert words in refused.json["detail"]


@pytest.mark.parametrize(
    ("part", "value", "pointer"),
    [
        ("taken", "yesterday", "/facts/taken"),
        ("taken", "2190-01-01 10:00", "/facts/taken"),
        ("direction_deg", 400, "/facts/direction_deg"),
    ],
)
def test_what_is_put_in_wrong_is_named_and_nothing_is_kept(client, part, value, pointer):
    facts = {**read(client, photograph(FULL, WHERE)).json["facts"], part: value}
    refused = begin(client, facts, place=HERE)
    assert refused.status_code == 422
    assert refused.json["errors"][0]["pointer"] == pointer
    assert client.get("/api/places").json["places"] == []
    assert client.get("/api/kit").json["items"] == []


def test_a_direction_by_compass_is_turned_to_true_north(client):
    # In the middle of that far country a compass points 14 to 17 degrees east of north in these years (from memory).
    far_north = WHERE | {
        G.GPSLatitude: (R(64, 1), R(48, 1), R(0, 1)),
        G.GPSLongitude: (R(147, 1), R(42, 1), R(0, 1)),
        G.GPSImgDirectionRef: "M",
    }
    told = read(client, photograph(FULL, far_north)).json
    assert told["facts"]["direction_deg"] == pytest.approx(210.5 + 15, abs=2)
    line = next(one["text"] for one in told["told"] if one["label"] == "looking to")
    assert "east taken in" in line
    # Without a position nothing is known of the declination there: it stays as the compass gave it.
    nowhere = {key: WHERE[key] for key in (G.GPSImgDirectionRef, G.GPSImgDirection)} | {G.GPSImgDirectionRef: "M"}
    told = read(client, photograph(FULL, nowhere)).json
    assert told["facts"]["direction_deg"] == pytest.approx(210.5)
