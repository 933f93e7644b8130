"""Variants kept side by side, and reference photographs as open files."""

from __future__ import annotations

import io
import math
from uuid import uuid4

import pytest
from PIL import Image

from lucid_ridge.formats import photographs

from .conftest import add_kit, add_place, example_scene


@pytest.fixture
def composition(client):
    made = client.post(
        "/api/compositions",
        json={"name": "Bank", "place_id": add_place(client), **add_kit(client), "composition": plain_composition()},
    )
    assert made.status_code == 201, made.json
    return made.json


def plain_composition():
    composition = example_scene()["composition"]
    composition["settings"]["filters"] = []
    return composition


def variant(composition, **parts):
    kit = {key: composition[key] for key in ("body_id", "lens_id", "support_id")}
    return {"id": str(uuid4()), "name": "lower", "composition": composition["composition"], **kit} | parts


def picture(width=1200, height=800, kind="JPEG", equivalent=None, turned=None):
    image = Image.new("RGB", (width, height), (90, 110, 120))
    out = io.BytesIO()
    exif = Image.Exif()
    if equivalent:
        exif.get_ifd(0x8769)[0xA405] = equivalent
    if turned:
        exif[0x0112] = turned
    image.save(out, kind, exif=exif)
    return out.getvalue()


def attach(client, composition, data, kind="image/jpeg", name="bank.jpg", photograph_id=None):
    path = f"/api/compositions/{composition['id']}/photographs/{photograph_id or uuid4()}"
    return client.put(path, query_string={"name": name}, data=data, headers={"Content-Type": kind})


def test_variants_are_kept_with_a_card_renamed_removed_and_brought_back(client, composition):
    path = f"/api/compositions/{composition['id']}/variants"
    lower = variant(composition)
    lower["composition"] = lower["composition"] | {"camera_height_m": 0.3}
    first = client.post(path, json=lower)
    assert first.status_code == 201
    # A repeated request after a lost reply keeps one.
    assert client.post(path, json=lower).status_code == 200
    kept = client.get(path).json["variants"]
    assert [v["name"] for v in kept] == ["lower"]
    assert kept[0]["composition"]["camera_height_m"] == 0.3
    assert kept[0]["card"]["height"]["text"] == "300 mm"
    assert client.get(path, query_string={"units": "feet"}).json["variants"][0]["card"]["height"]["text"] == "11.8 in"
    one = f"/api/variants/{lower['id']}"
    assert client.put(one, json={"version": 1, "name": "low and near"}).json["name"] == "low and near"
    stale = client.put(one, json={"version": 1, "name": "other"})
    assert stale.status_code == 409 and stale.json["current"]["name"] == "low and near"
    assert client.delete(one).status_code == 204
    assert client.get(path).json["variants"] == []
    assert client.post(f"{one}/restore").json["name"] == "low and near"
    assert len(client.get(path).json["variants"]) == 1


def test_a_variant_that_cannot_be_computed_is_kept_and_says_so(client, composition):
    path = f"/api/compositions/{composition['id']}/variants"
    beyond = variant(composition, name="too long")
    beyond["composition"]["settings"]["focal_length_mm"] = 400.0
    made = client.post(path, json=beyond).json
    assert made["card"] is None and "not 400 mm" in made["problem"]
    ghost = variant(composition, lens_id=str(uuid4()))
    assert client.post(path, json=ghost).json["errors"][0]["pointer"] == "/lens_id"


def test_the_usual_tries_each_have_a_card(client):
    scene = example_scene()
    scene["composition"]["locks"] = []
    tries = client.post("/api/tries", json={"scene": scene}).json["tries"]
    names = [one["name"] for one in tries]
    assert {"portrait", "lower", "higher", "long", "square", "wide strip"} <= set(names)
    upright = tries[names.index("portrait")]["card"]["picture"]
    assert upright["aspect"] == pytest.approx(2 / 3, rel=1e-2)


def test_a_photograph_is_kept_as_the_file_that_was_given(client, composition, app):
    data = picture(equivalent=24)
    number = uuid4()
    made = attach(client, composition, data, photograph_id=number, name="far/../Bank <1>.jpg")
    assert made.status_code == 201, made.json
    assert (made.json["width_px"], made.json["height_px"]) == (1200, 800)
    # A full frame's diagonal of 43.27 mm at 24 mm equivalent: 2 atan(36 / 48) across at 3 : 2.
    assert made.json["view_deg"] == pytest.approx(math.degrees(2 * math.atan(36 / 48)), abs=0.05)
    assert attach(client, composition, data, photograph_id=number).status_code == 200
    folder = app.extensions["files_folder"] / "reference photographs"
    assert (folder / made.json["file_name"]).read_bytes() == data
    assert made.json["file_name"].startswith("Bank _1_")
    whole = client.get(f"/api/photographs/{number}/file")
    assert whole.data == data and whole.content_type == "image/jpeg"
    shown = Image.open(io.BytesIO(client.get(f"/api/photographs/{number}/shown").data))
    assert max(shown.size) <= photographs.LONGEST_SHOWN_PX
    listed = client.get(f"/api/compositions/{composition['id']}/photographs").json
    assert [p["id"] for p in listed["photographs"]] == [str(number)]
    assert client.delete(f"/api/photographs/{number}").status_code == 204
    assert client.get(f"/api/photographs/{number}/file").status_code == 404
    assert client.post(f"/api/photographs/{number}/restore").status_code == 200
    (folder / made.json["file_name"]).unlink()
    assert client.get(f"/api/photographs/{number}/file").json["title"] == "No such photograph's file"


def test_a_photograph_held_upright_counts_as_seen(client, composition):
    made = attach(client, composition, picture(turned=6)).json
    assert (made["width_px"], made["height_px"]) == (800, 1200)


@pytest.mark.parametrize(
    ("data", "kind", "status", "words"),
    [
        (b"", "image/jpeg", 422, "empty"),
        (b"not a picture at all", "image/png", 422, "no photograph that is read here"),
        (picture()[:2000], "image/jpeg", 422, "broken or cut off"),
        (picture(kind="GIF"), "image/png", 422, "no photograph that is read here"),
        (picture(), "image/gif", 415, "Send JSON"),
        (picture(), "text/html", 415, "Send JSON"),
        (b"{}", "application/json", 415, "Send a photograph"),
    ],
)
def test_what_is_no_picture_is_refused_and_nothing_is_kept(client, composition, app, data, kind, status, words):
    refused = attach(client, composition, data, kind)
    assert refused.status_code == status
    assert words in refused.json["detail"]
    assert client.get(f"/api/compositions/{composition['id']}/photographs").json["photographs"] == []
    assert not list((app.extensions["files_folder"]).rglob("*.*"))


def test_too_many_pixels_and_too_many_bytes_are_refused(client, composition):
    out = io.BytesIO()
    Image.new("1", (11_000, 11_000)).save(out, "PNG")
    assert "120 megapixels" in attach(client, composition, out.getvalue(), "image/png").json["detail"]
    large = attach(client, composition, b"\xff" * (photographs.LARGEST_BYTES + 1))
    assert large.status_code == 413
    assert "80 MB" in large.json["detail"]


def test_a_thing_is_measured_from_a_photograph(client):
    scene = example_scene()
    aim = {"azimuth_deg": 40.0, "pitch_deg": 0.0, "view_deg": 90.0, "aspect": 1.5}
    # On a level photograph 90 degrees wide, 0.1 of the height is 0.1 * 2 / 1.5 of the distance.
    marks = {"foot_x": 0.5, "foot_y": 0.5, "top_x": 0.5, "top_y": 0.4, "known": {"what": "height", "metres": 10.0}}
    made = client.post("/api/measure", json={"scene": scene, "aim": aim, "marks": marks}).json
    assert made["distance"]["value"] == pytest.approx(75.0)
    assert made["bearing"]["value"] == pytest.approx(40.0)
    marks["known"] = {"what": "ground", "metres": 1.0}
    refused = client.post("/api/measure", json={"scene": scene, "aim": aim, "marks": marks})
    assert refused.status_code == 422 and refused.json["errors"][0]["pointer"] == "/marks/foot_y"
    places = [
        {"x": 0.5, "y": 0.5, "element_id": "boathouse", "part": "foot"},
        {"x": 0.8, "y": 0.45, "bearing_deg": 75.0, "altitude_deg": 2.0},
    ]
    found = client.post("/api/aim", json={"scene": scene, "places": places, "aspect": 1.5})
    assert found.status_code == 200, found.json
    assert found.json["azimuth_deg"] == pytest.approx(51.1, abs=0.5)
    assert client.post("/api/aim", json={"scene": scene, "places": places[:1], "aspect": 1.5}).status_code == 422
