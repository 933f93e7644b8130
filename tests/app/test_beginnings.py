"""Ways in: starter kit, kinds of picture, the demo valley beside one's own, the outlook of each composition."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest

from lucid_ridge.app.factory import Configuration, create_app
from lucid_ridge.beginnings.pictures import PICTURES
from lucid_ridge.beginnings.usual_kit import FORMATS
from lucid_ridge.core.light.ephemeris import sun_at
from lucid_ridge.demo import valley
from lucid_ridge.demo.compositions import COMPOSITIONS
from lucid_ridge.demo.load import load_demo
from lucid_ridge.demo.sample import DemoValley
from tests.app.conftest import close

HERE = {"name": "Above the house", "latitude_deg": 52.2, "longitude_deg": -3.4}
KIT = {"format": "full", "items": ["standard", "tele", "macro", "tripod", "polariser"]}


def begin(client, **body):
    made = client.post("/api/beginnings/compositions", json=body)
    assert made.status_code == 201, made.json
    return made.json


@pytest.mark.parametrize("picture", [p.id for p in PICTURES])
def test_a_kind_of_picture_begins_with_one_request_on_an_empty_database(client, picture):
    made = begin(client, picture=picture, place=HERE, kit=KIT)
    composition = made["composition"]
    assert composition["elements"]
    assert composition["settings"]["shutter_s"] <= 30
    at = datetime.fromisoformat(composition["moment_utc"])
    assert at > datetime.now(UTC)
    assert sun_at(at.timestamp(), HERE["latitude_deg"], HERE["longitude_deg"])[0] > 0


def test_an_empty_frame_opens_in_daylight_within_reach(client):
    made = begin(client, place=HERE, kit=KIT)
    composition = made["composition"]
    at = datetime.fromisoformat(composition["moment_utc"])
    assert sun_at(at.timestamp(), HERE["latitude_deg"], HERE["longitude_deg"])[0] > 0
    assert composition["settings"]["shutter_s"] < 1
    assert 0.15 <= composition["camera_height_m"] <= 1.6


def test_the_time_zone_of_a_new_place_is_looked_up(client):
    begin(client, place={"name": "Far south", "latitude_deg": -44.0, "longitude_deg": 169.0}, kit=KIT)
    (place,) = client.get("/api/places").json["places"]
    assert place["place"]["time_zone"] == "Pacific/Auckland"


@pytest.mark.parametrize("sensor", [f.id for f in FORMATS])
def test_every_format_makes_a_kit_that_composes(client, sensor):
    chosen = next(f for f in client.get("/api/beginnings/kit").json["formats"] if f["id"] == sensor)
    everything = [c["id"] for c in chosen["choices"]]
    made = client.post("/api/beginnings/kit", json={"format": sensor, "items": everything})
    assert made.status_code == 201, made.json
    assert len(made.json["items"]) == len(everything)
    assert all(one["usual"] for one in made.json["items"])
    begin(client, picture="rock_and_hill", place=HERE)


def test_a_starter_kit_asked_for_twice_is_there_once_and_is_usual_until_it_is_saved(client):
    for _ in range(2):
        client.post("/api/beginnings/kit", json=KIT)
    items = client.get("/api/kit").json["items"]
    assert len(items) == len(KIT["items"]) + 1
    one = items[0]
    saved = client.put(f"/api/kit/{one['id']}", json={"version": one["version"], "item": one["item"]})
    assert saved.json["usual"] is False


@pytest.mark.parametrize(
    ("body", "pointer"),
    [
        ({"picture": "dew", "place": HERE}, "/kit"),
        ({"picture": "dew", "kit": KIT}, "/place"),
        ({"picture": "dew", "place": HERE, "kit": {"format": "full", "items": ["moonbeam"]}}, "/items"),
        ({"picture": "sonnet", "place": HERE, "kit": KIT}, "/picture"),
        ({"place": {**HERE, "latitude_deg": 95}, "kit": KIT}, "/place/latitude_deg"),
    ],
)
def test_what_is_missing_is_named(client, body, pointer):
    answer = client.post("/api/beginnings/compositions", json=body)
    assert answer.status_code == 422
    assert answer.json["errors"][0]["pointer"] == pointer


def test_the_kinds_of_picture_are_drawn_with_something_in_them(client):
    shown = client.get("/api/beginnings/pictures").json["pictures"]
    assert len(shown) >= 10
    for one in shown:
        subjects = [e for e in one["view"]["elements"] if e["role"] == "subject" and e["in_frame"]]
        assert subjects or one["id"] == "rock_and_hill", one["id"]


@pytest.mark.parametrize(
    ("zone", "north"), [("Europe/London", True), ("Pacific/Auckland", False), ("Asia/Kathmandu", True)]
)
def test_a_time_zone_tells_a_town(client, zone, north):
    found = client.get(f"/api/beginnings/about-here?zone={zone}").json
    assert found["known"]
    assert (found["latitude_deg"] > 0) is north
    assert (
        client.post("/api/places/locate", json={"text": f"{found['latitude_deg']}, {found['longitude_deg']}"}).json[
            "time_zone"
        ]
        == zone
    )


def test_an_unknown_zone_tells_none(client):
    assert client.get("/api/beginnings/about-here?zone=Etc/Nowhere").json["known"] is False


def test_an_outlook_is_kept_until_what_it_hangs_on_changes(client):
    made = begin(client, picture="wide_valley", place=HERE, kit=KIT)
    ask = {"ids": [made["id"]]}
    (first,) = client.post("/api/outlooks", json=ask).json["outlooks"]
    assert first["view"]["elements"]
    starts = datetime.fromisoformat(first["next_light"]["starts_utc"])
    assert datetime.now(UTC) - timedelta(hours=6) < starts < datetime.now(UTC) + timedelta(days=60)
    (brief,) = client.get("/api/compositions").json["compositions"]
    assert brief["outlook_known"] and brief["light_at"] == first["next_light"]["starts_utc"]
    assert client.post("/api/outlooks", json=ask).json["outlooks"] == [first]
    changed = {k: made[k] for k in ("name", "place_id", "body_id", "lens_id", "support_id", "version")}
    turned = {**made["composition"], "azimuth_deg": (made["composition"]["azimuth_deg"] + 90) % 360}
    assert client.put(f"/api/compositions/{made['id']}", json={**changed, "composition": turned}).status_code == 200
    (second,) = client.post("/api/outlooks", json=ask).json["outlooks"]
    assert second != first


def test_outlooks_of_what_is_gone_are_left_out(client):
    made = begin(client, picture="dew", place=HERE, kit=KIT)
    client.delete(f"/api/compositions/{made['id']}")
    assert client.post("/api/outlooks", json={"ids": [made["id"]]}).json["outlooks"] == []


@pytest.fixture
def beside(databases, tmp_path):
    url = databases.fresh(demo=False)
    made = create_app(Configuration(url, tmp_path, valley=DemoValley(url, tmp_path)))
    yield made.test_client()
    close(made)


def test_the_valley_comes_and_goes_beside_ones_own(beside):
    begin(beside, picture="wide_valley", place=HERE, kit=KIT)
    assert beside.get("/api/beginnings/valley").json == {"offered": True, "loaded": False}
    assert beside.put("/api/beginnings/valley").json["loaded"]
    assert len(beside.get("/api/compositions").json["compositions"]) == 11
    tarn = next(p for p in beside.get("/api/places").json["places"] if p["place"]["name"] == "Hollin Tarn")
    mine = begin(beside, picture="far_ridges", place_id=tarn["id"])
    assert not beside.delete("/api/beginnings/valley").json["loaded"]
    left = {c["id"] for c in beside.get("/api/compositions").json["compositions"]}
    assert mine["id"] in left and len(left) == 2
    assert beside.post("/api/outlooks", json={"ids": [mine["id"]]}).json["outlooks"][0]["view"]
    assert beside.put("/api/beginnings/valley").json["loaded"]


def test_its_two_years_are_drawn_in_the_background_once_where_there_is_a_worker(databases, tmp_path):
    url = databases.fresh(demo=False)
    valley = DemoValley(url, tmp_path, has_worker=True)
    made = create_app(Configuration(url, tmp_path, valley=valley))
    client = made.test_client()
    for _ in range(2):
        assert client.put("/api/beginnings/valley").json["loaded"]
        assert [job["kind"] for job in client.get("/api/jobs").json["jobs"]] == ["demo"]
        assert not client.delete("/api/beginnings/valley").json["loaded"]
    close(made)


def test_an_installation_without_a_valley_offers_none(client):
    assert client.get("/api/beginnings/valley").json == {"offered": False, "loaded": False}
    assert client.put("/api/beginnings/valley").status_code == 422


def test_preferences_are_what_a_new_composition_takes_over(client):
    usual = client.get("/api/preferences").json
    assert usual["take_over"] == "last"
    chosen = {
        **usual,
        "take_over": "chosen",
        "focus_school": "third_in",
        "print_width_mm": 900,
        "golden_hour": "sun_below_six",
    }
    refused = client.put("/api/preferences", json=chosen)
    assert refused.json["errors"][0]["pointer"] == "/golden_hour"
    chosen["golden_hour"] = usual["golden_hour"]
    assert client.put("/api/preferences", json=chosen).json == chosen
    made = begin(client, place=HERE, kit=KIT)["composition"]["wants"]
    assert (made["focus_school"], made["print_width_mm"]) == ("third_in", 900)
    # A kind of picture keeps the school that belongs to it; the print is the photographer's.
    flower = begin(client, picture="flower", place=HERE)["composition"]["wants"]
    assert (flower["focus_school"], flower["print_width_mm"]) == ("subject", 900)


def test_taking_over_the_last_goes_before_what_was_chosen(client):
    first = begin(client, picture="flower", place=HERE, kit=KIT)
    client.put("/api/preferences", json={"take_over": "last", "focus_school": "third_in"})
    assert begin(client, place_id=first["place_id"])["composition"]["wants"]["focus_school"] == "subject"


def test_what_is_refused_leaves_nothing_behind(client):
    lost = "00000000-0000-4000-8000-000000000000"
    assert client.post("/api/beginnings/compositions", json={"picture": "dew", "kit": KIT}).status_code == 422
    assert client.post("/api/beginnings/compositions", json={"place_id": lost, "kit": KIT}).status_code == 404
    no_lens = {"format": "full", "items": ["tripod"]}
    refused = client.post("/api/beginnings/compositions", json={"place": HERE, "kit": no_lens})
    assert "a lens" in refused.json["errors"][0]["message"]
    assert client.get("/api/kit").json["items"] == [] and client.get("/api/places").json["places"] == []


def test_a_list_tells_no_light_that_hangs_on_what_has_changed(client):
    made = begin(client, picture="wide_valley", place=HERE, kit=KIT)
    client.post("/api/outlooks", json={"ids": [made["id"]]})
    (place,) = client.get("/api/places").json["places"]
    moved = {**place["place"], "latitude_deg": -40.0}
    changed = {"version": place["version"], "place": moved}
    assert client.put(f"/api/places/{place['id']}", json=changed).status_code == 200
    (brief,) = client.get("/api/compositions").json["compositions"]
    assert brief["light_at"] is None and not brief["outlook_known"]


def test_a_demo_whose_loading_was_cut_off_is_loaded_anew(databases, tmp_path, monkeypatch):
    url = databases.fresh()

    def cut_off():
        raise KeyboardInterrupt

    with monkeypatch.context() as patch:
        patch.setattr(valley, "_load_variants", cut_off)
        with pytest.raises(KeyboardInterrupt):
            load_demo(url, tmp_path)
    assert load_demo(url, tmp_path) is True
    assert load_demo(url, tmp_path) is False
    app = create_app(Configuration(url, tmp_path))
    client = app.test_client()
    assert len(client.get("/api/compositions").json["compositions"]) == len(COMPOSITIONS)
    assert client.get("/api/takes").json["total"] == len(valley.TAKES)
    app.extensions["database"].dispose()
