"""Terrains, marks and paths, light ahead, calendar and forecast over the API."""

from __future__ import annotations

import json
import time
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path
from threading import Thread
from uuid import UUID, uuid4

import numpy as np
import pytest
from icalendar import Calendar

from lucid_ridge.app.factory import Configuration, create_app
from lucid_ridge.app.terrains.tables import TerrainRow
from lucid_ridge.demo.names import demo_id
from lucid_ridge.demo.terrain import write_demo_terrain
from lucid_ridge.formats.geography import MOST_OF_A_LINE
from lucid_ridge.formats.relief_tiles import tiles_at
from lucid_ridge.standins.forecast import make_server
from tests.core.test_files import BILLION, bowl, grid, hostile

from .conftest import add_place, example_scene

TIFF, GPX, GEOJSON = ("image/tiff", "application/gpx+xml", "application/geo+json")


@pytest.fixture(scope="session")
def valley(tmp_path_factory) -> bytes:
    path = tmp_path_factory.mktemp("valley") / "valley.tif"
    write_demo_terrain(path)
    return path.read_bytes()


def send(client, data, name="valley", terrain_id=None, **query):
    terrain_id = terrain_id or uuid4()
    return client.put(f"/api/terrains/{terrain_id}", query_string={"name": name, **query}, data=data, content_type=TIFF)


def brought_in(client, data, **query) -> dict:
    made = send(client, data, **query)
    assert made.status_code == 202, made.json
    return settled(client, made.json["id"])


def settled(client, terrain_id) -> dict:
    """The terrain once its import has ended; a worker may just be starting, on a busy machine."""
    for _ in range(4800):
        now = client.get(f"/api/terrains/{terrain_id}").json
        if now["state"] != "importing":
            return now
        time.sleep(0.05)
    raise AssertionError("the import does not end")


def test_a_terrain_comes_in_and_gives_a_place_its_skyline(client, valley):
    terrain = brought_in(client, valley)
    assert terrain["state"] == "ready" and terrain["done"] == 1
    assert terrain["lowest_m"] < 300 and terrain["highest_m"] > 700
    found = client.post("/api/places/locate", json={"text": "54.1, -2.4"}).json
    assert found["terrain_id"] == terrain["id"]
    assert found["elevation_m"] == pytest.approx(380, abs=2)
    place_id = add_place(client, horizon="terrain", terrain_id=terrain["id"], elevation_m=380)
    place = next(p["place"] for p in client.get("/api/places").json["places"] if p["id"] == place_id)
    assert place["terrain_id"] == terrain["id"]
    scene = example_scene() | {"place": place}
    made = client.post("/api/evaluate", json={"scene": scene, "changes": []}).json
    rows = {row["kind"]: row for row in made["light"]["ribbon"]["rows"]}
    flat = client.post("/api/evaluate", json={"scene": example_scene(), "changes": []}).json
    level = {row["kind"]: row for row in flat["light"]["ribbon"]["rows"]}
    assert rows["standpoint"]["spans"][0][0] > level["standpoint"]["spans"][0][0] + 10 / 1440
    strip = client.post("/api/light/skyline", json={"scene": scene, "changes": []}).json
    assert strip["ground"]["value"] == pytest.approx(380, abs=2) and not strip["note"]
    assert max(h for _, h in strip["skyline"]) > 4
    # Deleted, it leaves a level horizon that says so; restored, it is back.
    assert client.delete(f"/api/terrains/{terrain['id']}").status_code == 204
    gone = client.post("/api/evaluate", json={"scene": scene, "changes": []}).json
    assert "not at hand" in gone["light"]["horizon_note"]
    assert client.post(f"/api/terrains/{terrain['id']}/restore").status_code == 200
    assert not client.post("/api/evaluate", json={"scene": scene, "changes": []}).json["light"]["horizon_note"]


def test_a_mark_of_a_file_stands_on_the_terrain_that_is_there(client, valley):
    terrain = brought_in(client, valley)
    wpt = b'<?xml version="1.0"?><gpx version="1.1" creator="t" xmlns="http://www.topografix.com/GPX/1/1">'
    wpt += b'<wpt lat="54.1" lon="-2.4"><name>Bank</name></wpt></gpx>'
    made = bring(client, "bank.gpx", wpt).json
    assert made["places"] == 1
    place = next(p["place"] for p in client.get("/api/places").json["places"] if p["id"] == made["first_place_id"])
    assert place["terrain_id"] == terrain["id"]
    assert place["elevation_m"] == pytest.approx(380, abs=2)


def test_pictures_and_the_file_of_a_terrain(client, valley):
    terrain = brought_in(client, valley)
    base = f"/api/terrains/{terrain['id']}"
    shade = client.get(f"{base}/shade", query_string={"at": "2026-10-18T07:25:00Z"})
    night = client.get(f"{base}/shade", query_string={"at": "2026-10-18T01:00:00Z"})
    assert shade.data.startswith(b"\x89PNG") and shade.data != night.data
    assert client.get(f"{base}/shade", query_string={"at": "2150-01-01T00:00:00Z"}).status_code == 422
    # What is kept can be taken away and brought in again.
    with client.get(f"{base}/file") as kept:
        again = brought_in(client, kept.data, name="again")
    assert again["highest_m"] == pytest.approx(terrain["highest_m"], abs=2)


def test_the_map_of_all_terrains_comes_in_tiles_that_are_kept(client, valley, app):
    empty = client.get("/api/terrains/relief/10/505/325")
    assert empty.data.startswith(b"\x89PNG")
    terrain = brought_in(client, valley)
    listed = client.get("/api/terrains").json
    z = 13
    x, y = tiles_at(z, terrain["latitude_deg"], terrain["longitude_deg"])
    drawn = client.get(f"/api/terrains/relief/{z}/{x}/{y}").data
    assert drawn != empty.data
    folder = app.extensions["files_folder"] / "terrain" / ".tiles"
    (kept,) = folder.rglob("*.png")
    assert kept.read_bytes() == drawn and kept.parent.name == listed["relief_key"]
    # What is drawn anew after a change stands under another key, and the old tiles go.
    client.delete(f"/api/terrains/{terrain['id']}")
    assert client.get("/api/terrains").json["relief_key"] != listed["relief_key"]
    assert client.get(f"/api/terrains/relief/{z}/{x}/{y}").data == empty.data
    for nowhere in ("0/1/0", "19/0/0", "3/8/0", "3/0/8"):
        assert client.get(f"/api/terrains/relief/{nowhere}").status_code == 404


def test_the_same_terrain_sent_again_is_not_taken_twice(client, valley):
    terrain_id = uuid4()
    assert send(client, valley, terrain_id=terrain_id).status_code == 202
    assert send(client, valley, terrain_id=terrain_id).status_code == 200
    settled(client, terrain_id)
    assert len(client.get("/api/terrains").json["terrains"]) == 1


def test_an_import_that_was_cut_off_says_so_and_can_be_sent_again(app, client, valley):
    # As if the server had been stopped in the middle of it: the record says importing, and nobody works on it.
    terrain_id = brought_in(client, valley)["id"]
    with app.extensions["database"].transaction() as session:
        row = session.get(TerrainRow, UUID(terrain_id))
        row.state, row.updated_at = "importing", datetime(2026, 1, 1, tzinfo=UTC)
    cut_off = client.get(f"/api/terrains/{terrain_id}").json
    assert cut_off["state"] == "failed" and "send the file again" in cut_off["problem"]
    assert send(client, valley, terrain_id=terrain_id).status_code == 202
    assert settled(client, terrain_id)["state"] == "ready"
    # What such an import leaves of its file goes with the terrain.
    left = Path(app.extensions["files_folder"]) / "terrain" / f".given {UUID(terrain_id).hex}"
    left.write_bytes(b"II*")
    assert client.delete(f"/api/terrains/{terrain_id}").status_code == 204
    assert not left.exists()


def test_hostile_terrain_is_refused_by_name_and_nothing_is_lost(client, tmp_path, valley):
    good = brought_in(client, valley, name="good")
    for name, data in hostile(tmp_path).items():
        made = send(client, data, name=name)
        if made.status_code == 202:
            now = settled(client, made.json["id"])
            assert now["state"] == "failed" and now["problem"], name
        else:
            assert made.status_code == 422, (name, made.status_code)
            assert made.json["errors"][0]["message"].startswith(f"{name}: "), name
    assert client.get(f"/api/terrains/{good['id']}").json["state"] == "ready"
    files = Path(client.application.extensions["files_folder"]) / "terrain"
    sent = Path(client.application.extensions["files_folder"]) / "jobs"
    assert [p.name for p in (*files.iterdir(), *sent.iterdir()) if "terrain" in p.name or p.name.startswith(".")] == []
    wrong = client.put(f"/api/terrains/{uuid4()}", query_string={"name": "x"}, data=b"{}", content_type="text/html")
    assert wrong.status_code == 415


def test_a_grid_without_its_system_asks_for_it(client, tmp_path):
    data = grid(tmp_path / "n.tif", bowl(), crs=None).read_bytes()
    refused = send(client, data)
    assert refused.status_code == 422 and "EPSG" in refused.json["errors"][0]["message"]
    assert brought_in(client, data, crs="EPSG:32630")["state"] == "ready"


def test_a_place_needs_a_terrain_that_is_there(client):
    place = example_scene()["place"] | {"horizon": "terrain", "terrain_id": str(uuid4())}
    refused = client.post("/api/places", json={"place": place})
    assert refused.status_code == 422
    assert refused.json["errors"][0]["pointer"] == "/place/terrain_id"


NOTES = {
    "access": "Gate.", "parking": "Two cars.", "walk_in": "20 min.", "right_of_way": "Footpath.", "hazards": "Bog.",
    "seasons": [{"kind": "frozen", "from_month": 12, "to_month": 2, "note": "Ice."}],
}  # fmt: skip


def test_a_place_keeps_its_notes_skyline_and_tide(client):
    tide = {"name": "creek", "mean_m": 4, "constituents": [{"name": "M2", "amplitude_m": 2, "phase_deg": 310}]}
    place = example_scene()["place"] | {
        "horizon": "measured",
        "skyline": [{"azimuth_deg": 90, "altitude_deg": 7}],
        "tide": tide,
    }
    made = client.post("/api/places", json={"place": place, **NOTES})
    assert made.status_code == 201, made.json
    copy = client.post(f"/api/places/{made.json['id']}/duplicate").json
    for saved in (client.get("/api/places").json["places"][0], copy):
        assert {k: saved[k] for k in NOTES} == NOTES
        assert saved["place"]["skyline"] == place["skyline"]
        assert saved["place"]["tide"]["constituents"] == tide["constituents"]
    wrong = tide | {"constituents": [{"name": "Q9", "amplitude_m": 2, "phase_deg": 310}]}
    refused = client.post("/api/places", json={"place": place | {"tide": wrong}})
    assert refused.json["errors"][0]["pointer"] == "/place/tide/constituents/0/name"


# --- marks, paths and files ------------------------------------------------------------------------


def test_marks_and_paths_are_kept_changed_and_brought_back(client):
    place_id = add_place(client)
    path = {
        "place_id": place_id,
        "name": "Old road",
        "kind": "path",
        "sort": "walk_in",
        "points": [[54.1, -2.4, None], [54.11, -2.4, 400]],
    }
    made = client.post("/api/tracks", json=path).json
    # A hundredth of a degree of latitude is 1113 m at 54 degrees.
    assert made["length_m"] == pytest.approx(1113, abs=1)
    changed = {k: made[k] for k in ("name", "kind", "sort", "note", "points")} | {"version": 1, "name": "Peat road"}
    assert client.put(f"/api/tracks/{made['id']}", json=changed).json["version"] == 2
    stale = client.put(f"/api/tracks/{made['id']}", json=changed)
    assert stale.status_code == 409 and stale.json["current"]["name"] == "Peat road"
    assert client.delete(f"/api/tracks/{made['id']}").status_code == 204
    assert client.get("/api/tracks").json["tracks"] == []
    assert client.post(f"/api/tracks/{made['id']}/restore").json["name"] == "Peat road"
    refused = client.post("/api/tracks", json=path | {"points": [[54.1, -2.4, None]]})
    assert refused.status_code == 422


def bring(client, name, data, kind=GPX, **query):
    return client.post("/api/tracks/import", query_string={"name": name, **query}, data=data, content_type=kind)


TRACK = b"""<?xml version="1.0"?><gpx version="1.1" creator="t" xmlns="http://www.topografix.com/GPX/1/1">
<wpt lat="54.2" lon="-2.5"><ele>410</ele><name>High pool</name><desc>From the wall.</desc></wpt>
<trk><name>Way up</name><trkseg><trkpt lat="54.19" lon="-2.5"/><trkpt lat="54.2" lon="-2.5"/></trkseg></trk></gpx>"""


def test_points_become_places_and_paths_go_to_the_nearest(client):
    made = bring(client, "walk.gpx", TRACK).json
    assert (made["places"], made["paths"], made["marks"]) == (1, 1, 0)
    place = client.get("/api/places").json["places"][0]
    assert (place["place"]["name"], place["place"]["time_zone"], place["place"]["elevation_m"]) == (
        "High pool",
        "Europe/London",
        410,
    )
    assert client.get("/api/tracks").json["tracks"][0]["place_id"] == place["id"]
    # With a place chosen, points are marks of it.
    again = bring(client, "walk.gpx", TRACK, place_id=place["id"], known="keep").json
    assert (again["places"], again["paths"], again["marks"]) == (0, 1, 1)


def counted(client):
    return len(client.get("/api/places").json["places"]), len(client.get("/api/tracks").json["tracks"])


def test_the_same_file_again_is_recognised_and_asked_about(client):
    bring(client, "walk.gpx", TRACK)
    asked = bring(client, "walk.gpx", TRACK).json
    assert asked["asked"] and asked["already"] == ["High pool", "Way up"]
    assert counted(client) == (1, 1)
    assert bring(client, "walk.gpx", TRACK, known="skip").json["already"] == ["High pool", "Way up"]
    assert counted(client) == (1, 1)
    assert bring(client, "walk.gpx", TRACK, known="keep").json["places"] == 1
    assert counted(client) == (2, 2)


def test_a_place_that_is_chosen_is_recognised_in_its_own_file(client):
    made = bring(client, "walk.gpx", TRACK).json
    asked = bring(client, "walk.gpx", TRACK, place_id=made["first_place_id"]).json
    assert asked["asked"] and asked["already"] == ["High pool", "Way up"]


def test_a_later_version_of_a_file_takes_the_place_of_what_is_there(client):
    bring(client, "walk.gpx", TRACK)
    longer = TRACK.replace(b"</trkseg>", b'<trkpt lat="54.21" lon="-2.5"/></trkseg>').replace(b"<ele>410", b"<ele>415")
    assert bring(client, "walk.gpx", longer, known="merge").json["already"] == ["High pool", "Way up"]
    assert counted(client) == (1, 1)
    assert len(client.get("/api/tracks").json["tracks"][0]["points"]) == 3
    (place,) = client.get("/api/places").json["places"]
    assert place["place"]["elevation_m"] == 415 and place["access"] == "From the wall."


def test_the_longest_line_that_comes_in_can_be_sent_back_and_a_longer_one_is_named(client):
    place = add_place(client)

    def line(count):
        points = [[-2.4 - n * 1.23456789e-6, 54.1 + n * 1.23456789e-6, 300.123456789] for n in range(count)]
        geometry = {"type": "LineString", "coordinates": points}
        return json.dumps({"type": "Feature", "properties": {"name": f"Way of {count}"}, "geometry": geometry}).encode()

    made = bring(client, "long.geojson", line(MOST_OF_A_LINE), place_id=place).json
    assert made["paths"] == 1
    (path,) = client.get("/api/tracks").json["tracks"]
    changed = {k: path[k] for k in ("name", "kind", "sort", "note", "points", "version")} | {"name": "Renamed"}
    assert client.put(f"/api/tracks/{path['id']}", json=changed).json["name"] == "Renamed"
    more = bring(client, "long.geojson", line(MOST_OF_A_LINE + 1), place_id=place)
    assert "Way of 50001" in more.get_data(as_text=True) and "thin it first" in more.get_data(as_text=True)


def test_what_only_looks_alike_is_brought_in(client):
    bring(client, "walk.gpx", TRACK)
    # Another path of the same name a kilometre away, and a place of the same name in the next valley.
    other = TRACK.replace(b"54.19", b"54.28").replace(b'54.2"', b'54.29"')
    made = bring(client, "walk.gpx", other).json
    assert not made["asked"] and made["already"] == []
    assert counted(client) == (2, 2)


def test_hostile_files_are_refused_by_name_with_nothing_lost(client):
    add_place(client)
    for name, data in (
        ("bomb.gpx", BILLION),
        ("cut.gpx", TRACK[:150]),
        ("bare.json", b"{"),
        ("prose.txt", b"Dear all"),
        ("none.gpx", b""),
    ):
        refused = bring(client, name, data)
        assert refused.status_code == 422, name
        assert refused.json["errors"][0]["message"].startswith(f"{name}: "), refused.json
    assert len(client.get("/api/places").json["places"]) == 1
    assert client.get("/api/tracks").json["tracks"] == []
    assert bring(client, "x.gpx", b"<gpx/>", kind="text/html").status_code == 415


def test_what_is_exported_comes_back_whole(demo, client):
    out = demo.get("/api/tracks/export.geojson")
    assert out.mimetype == GEOJSON
    made = bring(client, "places.geojson", out.data, kind=GEOJSON).json
    before, after = demo.get("/api/places").json["places"], client.get("/api/places").json["places"]
    assert made["places"] == len(before) == len(after)
    # The terrain is a file of its own and does not travel with the places; all else does.
    for old, new in zip(before, after, strict=True):
        assert {k: new[k] for k in NOTES} == {k: old[k] for k in NOTES}
        assert {k: v for k, v in new["place"].items() if k != "terrain_id"} == {
            k: v for k, v in old["place"].items() if k != "terrain_id"
        }
    names = {t["name"]: t["sort"] for t in client.get("/api/tracks").json["tracks"]}
    assert names["Path from the lay-by"] == "walk_in" and names["Lay-by at the dam"] == "parking"
    assert b"<trkpt" in demo.get("/api/tracks/export.gpx").data
    assert len(json.loads(out.data)["features"]) > 12


# --- light ahead -----------------------------------------------------------------------------------


def test_chances_to_a_calendar(client):
    wish = {"sides": ["side_right"], "lowest_deg": 3, "highest_deg": 12, "ready_min": 30}
    found = client.post("/api/light/windows", json={"scene": example_scene(), "changes": [], "wish": wish}).json
    assert len(found["next"]) == 10 and found["count"] > 100
    assert len(found["midnights_unix"]) == found["days"] == 365
    events = [
        {"title": "Boathouse", **{k: one[k] for k in ("start_utc", "end_utc", "ready_utc")}} for one in found["next"]
    ]
    made = client.post(
        "/api/light/calendar",
        json={"place_name": "Hollin Tarn", "latitude_deg": 54.1, "longitude_deg": -2.4, "events": events},
    )
    assert made.mimetype == "text/calendar"
    read = Calendar.from_ical(made.data).walk("VEVENT")
    assert [str(e.decoded("dtstart")) for e in read] == [
        e["start_utc"].replace("T", " ").replace("Z", "+00:00") for e in events
    ]
    backwards = [events[0] | {"end_utc": "2020-01-01T00:00:00Z"}]
    refused = client.post(
        "/api/light/calendar", json={"place_name": "x", "latitude_deg": 1, "longitude_deg": 1, "events": backwards}
    )
    assert refused.json["errors"][0]["pointer"] == "/events/0/end_utc"


def test_a_wish_in_the_composition_is_saved_with_it(demo):
    composition_id = demo_id("composition/boathouse")
    made = demo.get(f"/api/compositions/{composition_id}").json
    assert made["composition"]["light_wish"]["lit"] == [{"element_id": "boathouse", "lit": True}]


def test_alignments(client):
    wish = {"body": "moon", "bearing_deg": 120, "tolerance_deg": 1.5, "moon_lit_from": 0.8}
    made = client.post("/api/light/alignments", json={"scene": example_scene(), "changes": [], "wish": wish}).json
    assert made["count"] == len(made["passings"]) > 0
    refused = client.post(
        "/api/light/alignments", json={"scene": example_scene(), "changes": [], "wish": wish | {"element_id": "gone"}}
    )
    assert refused.status_code == 422


def test_the_light_changes_by_as_much_there_as_back(client):
    def ask(minutes):
        return client.post("/api/light/drift", json={"scene": example_scene(), "changes": [], "minutes": minutes}).json

    table = client.post("/api/evaluate", json={"scene": example_scene(), "changes": []}).json["light"]["drift"]
    for one in table:
        assert ask(one["minutes"])["value"] == pytest.approx(one["stops"]["value"], abs=0.02)
    assert ask(0)["text"] == "0"


@pytest.fixture
def weather():
    server = make_server()
    Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_address[1]}"
    server.shutdown()
    server.server_close()


def test_the_simulated_forecast_says_so_and_is_the_same_again(databases, weather):
    app = create_app(Configuration(databases.fresh(demo=False), forecast_url=weather))
    client = app.test_client()
    place_id = add_place(client)
    ask = {"start": "2026-10-17T23:00:00Z"}
    made = client.get(f"/api/places/{place_id}/forecast", query_string=ask).json
    assert made["trouble"] == "" and made["forecast"]["simulated"] is True
    assert len(made["forecast"]["hours"]) >= 48
    scene = example_scene() | {"forecast": made["forecast"]}
    row = client.post("/api/evaluate", json={"scene": scene, "changes": []}).json["light"]["ribbon"]["forecast"]
    assert row["simulated"] and "Simulated" in row["text"]
    assert client.get(f"/api/places/{place_id}/forecast", query_string=ask).json == made
    app.extensions["database"].dispose()


@pytest.mark.parametrize("address", [None, "http://127.0.0.1:9"])
def test_without_a_forecast_the_sky_counts_as_clear(databases, address):
    app = create_app(replace(Configuration(databases.fresh(demo=False)), forecast_url=address))
    client = app.test_client()
    made = client.get(f"/api/places/{add_place(client)}/forecast", query_string={"start": "2026-10-17T23:00:00Z"}).json
    assert made["forecast"] is None and "clear sky" in made["trouble"]
    app.extensions["database"].dispose()


def test_the_demo_shows_the_terrain_at_work(demo):
    # The tarn lies behind a fell: the sun comes later than on a level horizon, but the same day.
    place = next(p for p in demo.get("/api/places").json["places"] if p["place"]["name"] == "Hollin Tarn")
    scene = example_scene() | {"place": place["place"]}
    made = demo.post("/api/evaluate", json={"scene": scene, "changes": []}).json["light"]["ribbon"]
    sunrise = next(e["position"] for e in made["events"] if e["name"] == "sunrise")
    assert 15 / 1440 < made["rows"][0]["spans"][0][0] - sunrise < 90 / 1440
    assert np.isfinite(made["moment"])
