"""Kit, places and compositions: create, change, duplicate, delete with a way back, conflicts."""

from __future__ import annotations

from uuid import uuid4

import pytest

from .conftest import add_kit, add_place, example_scene

BODY = example_scene()["kit"]["body"]


def test_a_kit_item_lives_dies_and_comes_back(client):
    made = client.post("/api/kit", json={"item": {"kind": "body", "details": BODY}}).json
    assert made["version"] == 1
    renamed = made["item"] | {"details": made["item"]["details"] | {"name": "second body"}}
    saved = client.put(f"/api/kit/{made['id']}", json={"version": 1, "item": renamed})
    assert (saved.status_code, saved.json["version"]) == (200, 2)
    copy = client.post(f"/api/kit/{made['id']}/duplicate").json
    assert copy["item"]["details"]["name"] == "second body, copy"
    assert client.delete(f"/api/kit/{made['id']}").status_code == 204
    assert [i["id"] for i in client.get("/api/kit").json["items"]] == [copy["id"]]
    assert client.delete(f"/api/kit/{made['id']}").status_code == 404
    assert client.post(f"/api/kit/{made['id']}/restore").status_code == 200
    assert len(client.get("/api/kit").json["items"]) == 2


def test_a_filter_gets_its_items_id(client):
    sent = {"kind": "filter", "details": {"id": "x", "name": "ND", "kind": "nd", "stops": 6}}
    made = client.post("/api/kit", json={"item": sent}).json
    assert made["item"]["details"]["id"] == made["id"]


def test_a_stale_write_is_refused_and_shows_both_versions(client):
    place = add_place(client)
    one = client.get("/api/places").json["places"][0]
    change = {"version": 1, "place": one["place"] | {"name": "Mine"}}
    assert client.put(f"/api/places/{place}", json=change).status_code == 200
    stale = client.put(f"/api/places/{place}", json=change | {"place": one["place"] | {"name": "Theirs"}})
    assert stale.status_code == 409
    assert stale.content_type == "application/problem+json"
    assert (stale.json["your_version"], stale.json["current_version"]) == (1, 2)
    assert stale.json["current"]["place"]["name"] == "Mine"
    again = client.put(f"/api/places/{place}", json=change | {"version": 2})
    assert again.status_code == 200


@pytest.mark.parametrize(
    ("field", "value", "words"),
    [
        ("latitude_deg", 91, "at most 90"), ("latitude_deg", "54", "number"), ("name", "", "empty"),
        ("time_zone", "Mars/Base", "no known time zone"), ("elevation_m", None, "number"), ("altitude", 3, "not known"),
    ],
)  # fmt: skip
def test_field_errors_name_their_field(client, field, value, words):
    place = {"name": "x", "latitude_deg": 1, "longitude_deg": 1, "time_zone": "UTC"} | {field: value}
    answer = client.post("/api/places", json={"place": place})
    assert answer.status_code == 422
    assert answer.content_type == "application/problem+json"
    error = next(e for e in answer.json["errors"] if e["pointer"] == f"/place/{field}")
    assert words in error["message"]
    assert client.get("/api/places").json["places"] == []


def test_lenses_whose_ends_are_swapped_are_refused(client):
    lens = example_scene()["kit"]["lens"] | {"shortest_mm": 70, "longest_mm": 24}
    answer = client.post("/api/kit", json={"item": {"kind": "lens", "details": lens}})
    assert answer.json["errors"][0]["pointer"] == "/item/details/longest_mm"


def test_from_an_empty_database_to_an_evaluated_composition(client):
    ids = add_kit(client)
    place = add_place(client)
    made = client.post("/api/compositions", json={"name": "First", "place_id": place, **ids})
    assert made.status_code == 201
    composition = made.json["composition"]
    assert composition["settings"]["focal_length_mm"] == 24
    kit = {i["item"]["kind"]: i["item"]["details"] for i in client.get("/api/kit").json["items"]}
    scene = {
        "place": client.get("/api/places").json["places"][0]["place"],
        "kit": {k: kit[k] for k in ("body", "lens", "support")},
        "composition": composition,
    }
    evaluated = client.post("/api/evaluate", json={"scene": scene})
    assert evaluated.status_code == 200
    assert evaluated.json["ledger"]["predicted"] is True


def test_a_composition_is_checked_against_what_exists(client):
    ids = add_kit(client)
    place = add_place(client)
    lost = client.post("/api/compositions", json={"name": "x", "place_id": str(uuid4()), **ids})
    assert (lost.status_code, lost.json["errors"][0]["pointer"]) == (422, "/place_id")
    swapped = ids | {"lens_id": ids["body_id"]}
    wrong = client.post("/api/compositions", json={"name": "x", "place_id": place, **swapped})
    assert wrong.json["errors"][0]["pointer"] == "/lens_id"


def test_a_deleted_place_hides_its_compositions_and_brings_them_back(client):
    ids, place = add_kit(client), add_place(client)
    client.post("/api/compositions", json={"name": "First", "place_id": place, **ids})
    client.delete(f"/api/places/{place}")
    assert client.get("/api/compositions").json["compositions"] == []
    client.post(f"/api/places/{place}/restore")
    assert [c["name"] for c in client.get("/api/compositions").json["compositions"]] == ["First"]


def test_a_saved_composition_comes_back_as_it_was(client):
    ids, place = add_kit(client), add_place(client)
    made = client.post(
        "/api/compositions",
        json={"name": "Whole", "place_id": place, **ids, "composition": example_scene()["composition"]},
    )
    assert made.json["composition"] == example_scene()["composition"]
    copy = client.post(f"/api/compositions/{made.json['id']}/duplicate").json
    assert copy["composition"] == made.json["composition"]


def test_other_peoples_records_do_not_exist(app, client, databases):
    from lucid_ridge.app.tables import Photographer, PlaceRow

    stranger = uuid4()
    with app.extensions["database"].transaction() as session:
        session.add(Photographer(id=stranger, name="somebody else"))
        session.flush()
        row = PlaceRow(
            owner_id=stranger, name="theirs", latitude_deg=0, longitude_deg=0, elevation_m=0, time_zone="UTC"
        )
        session.add(row)
        session.flush()
        theirs = row.id
    assert client.get("/api/places").json["places"] == []
    assert client.delete(f"/api/places/{theirs}").status_code == 404


def test_a_pasted_position_is_read_with_its_time_zone(client):
    made = client.post("/api/places/locate", json={"text": "54° 06' 07.56\" N, 2° 24' 11.88\" W"}).json
    assert (made["latitude_deg"], made["longitude_deg"]) == pytest.approx((54.1021, -2.4033))
    assert made["time_zone"] == "Europe/London"
    # West of the date line in the ocean the zone follows the longitude; its sign is the other way round by custom.
    assert client.post("/api/places/locate", json={"text": "0, -150"}).json["time_zone"] == "Etc/GMT+10"
    refused = client.post("/api/places/locate", json={"text": "over the hill"})
    assert refused.status_code == 422 and refused.json["errors"][0]["pointer"] == "/text"


def test_a_composition_whose_filter_is_gone_is_told_of_and_not_an_error(client):
    ids, scene = add_kit(client), example_scene()
    assert scene["composition"]["settings"]["filters"], "the example uses a filter, which is not in this kit"
    body = {"name": "A", "place_id": add_place(client), **ids, "composition": scene["composition"]}
    made = client.post("/api/compositions", json=body).json["id"]
    (told,) = client.post("/api/outlooks", json={"ids": [made]}).json["outlooks"]
    assert told["view"] is None and "open it to see why" in told["said"]
