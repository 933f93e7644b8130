"""Sequences and takes: made once however often they are sent, found again, compared with the plan."""

from __future__ import annotations

from uuid import uuid4

import pytest

from .conftest import add_kit, add_place, example_scene


@pytest.fixture
def composition(client):
    ids, place = add_kit(client), add_place(client)
    made = client.post(
        "/api/compositions",
        json={"name": "Tarn", "place_id": place, **ids, "composition": example_scene()["composition"]},
    )
    return made.json


@pytest.fixture
def sequence(client, composition):
    scene = example_scene()
    scene["composition"]["technique"] |= {"slices": "gapless", "bracket": "range"}
    body = {"id": str(uuid4()), "composition_id": composition["id"], "scene": scene}
    first = client.post("/api/sequences", json=body)
    assert first.status_code == 201, first.json
    again = client.post("/api/sequences", json=body)
    assert (again.status_code, again.json) == (200, first.json)
    return first.json


def take_of(sequence, **parts):
    frames = [
        {"number": f["number"], "status": "done", "started_at": "2026-10-18T07:30:00Z", "exposed_s": f["exposure_s"]}
        for f in sequence["plan"]["sequence"]["frames"]
    ]
    return {
        "sequence_id": sequence["id"], "started_at": "2026-10-18T07:30:00Z", "ended_at": "2026-10-18T07:34:00Z",
        "frames": frames,
    } | parts  # fmt: skip


def test_a_sequence_is_for_the_field(client, sequence):
    plan = sequence["plan"]
    assert len(plan["sequence"]["frames"]) == 9
    assert plan["moment_text"] == "18 October 2026, 08:25"
    assert any("slippery" in caution for caution in plan["cautions"])
    assert client.get(f"/api/sequences/{sequence['id']}").json == sequence


def test_a_take_sent_twice_is_one_take(client, sequence):
    take = str(uuid4())
    first = client.put(f"/api/takes/{take}", json=take_of(sequence, rating=4))
    again = client.put(f"/api/takes/{take}", json=take_of(sequence, rating=4))
    assert (first.status_code, again.status_code) == (201, 200)
    assert client.get("/api/takes").json["total"] == 1


def test_plan_beside_actual(client, sequence):
    body = take_of(sequence)
    body["frames"][1] |= {"exposed_s": body["frames"][1]["exposed_s"] * 2, "fault": "wind blur", "note": "gust"}
    body["frames"][2]["status"] = "skipped"
    body["frames"].append(body["frames"][0])
    body["frames"].pop(4)
    take = client.put(f"/api/takes/{uuid4()}", json=body).json
    rows = {row["number"]: row for row in take["compared"]}
    assert (rows[1]["repeats"], rows[1]["differs"]) == (1, False)
    assert (rows[2]["differs"], rows[2]["fault"], rows[2]["note"]) == (True, "wind blur", "gust")
    assert rows[3]["status"] == "skipped"
    assert rows[5]["status"] == "missing"
    assert take["faults"] == ["wind blur"]
    assert take["actual_total_text"] == "4 min 00 s"


def test_the_logbook_filters_by_place_and_fault(demo):
    everything = demo.get("/api/takes").json
    assert everything["total"] == 9
    assert [t["started_at"] for t in everything["takes"]] == sorted(
        (t["started_at"] for t in everything["takes"]), reverse=True
    )
    place = everything["places"][0]
    at_place = demo.get(f"/api/takes?place_id={place['id']}").json
    assert at_place["total"] == place["takes"]
    assert {t["place_name"] for t in at_place["takes"]} == {place["name"]}
    fault = everything["faults"][0]
    with_fault = demo.get("/api/takes", query_string={"fault": fault["fault"]}).json
    assert with_fault["total"] == fault["takes"]
    assert all(fault["fault"] in t["faults"] for t in with_fault["takes"])
    assert demo.get("/api/takes?fault=gremlins").status_code == 422


def test_review_saves_against_a_version(client, sequence):
    take = client.put(f"/api/takes/{uuid4()}", json=take_of(sequence)).json
    review = {"version": 1, "rating": 2, "note": "soft corner", "faults": ["shake"]}
    saved = client.put(f"/api/takes/{take['id']}/review", json=review).json
    assert (saved["version"], saved["rating"], saved["faults"]) == (2, 2, ["shake"])
    assert client.put(f"/api/takes/{take['id']}/review", json=review).status_code == 409
    assert client.put(f"/api/takes/{take['id']}/review", json=review | {"version": 2, "rating": 9}).status_code == 422
    client.delete(f"/api/takes/{take['id']}")
    assert client.get("/api/takes").json["total"] == 0
    client.post(f"/api/takes/{take['id']}/restore")
    assert client.get("/api/takes").json["total"] == 1


def test_a_take_that_ends_before_it_starts_is_refused(client, sequence):
    answer = client.put(f"/api/takes/{uuid4()}", json=take_of(sequence, ended_at="2026-10-18T07:00:00Z"))
    assert (answer.status_code, answer.json["errors"][0]["pointer"]) == (422, "/ended_at")


def test_a_take_of_no_sequence_is_refused(client, sequence):
    answer = client.put(f"/api/takes/{uuid4()}", json=take_of(sequence, sequence_id=str(uuid4())))
    assert answer.json["errors"][0]["pointer"] == "/sequence_id"


def test_what_an_earlier_version_saved_stays_readable(app, client, sequence):
    from sqlalchemy import update

    from lucid_ridge.app.tables import SequenceRow

    client.put(f"/api/takes/{uuid4()}", json=take_of(sequence))
    document = sequence["plan"]
    for frame in document["sequence"]["frames"]:
        del frame["goes_on"]
        frame["a_field_that_has_gone"] = 1
    database = app.extensions["database"]
    with database.transaction() as session:
        session.execute(update(SequenceRow).values(document=document))
    take = client.get("/api/takes").json["takes"][0]
    assert client.get(f"/api/takes/{take['id']}").json["plan"]["sequence"]["frames"][0]["goes_on"] is False

    # What cannot be read is told as that, not as a mistake of the asker's.
    with database.transaction() as session:
        session.execute(update(SequenceRow).values(document=document | {"moment_utc": "yesterday"}))
    answer = client.get(f"/api/takes/{take['id']}")
    assert (answer.status_code, answer.json["title"]) == (500, "This sequence cannot be read")
    assert client.get("/api/takes").json["total"] == 1


def test_the_demo_is_loaded_once_with_the_same_identifiers(demo_app, databases):
    from lucid_ridge.demo.load import load_demo
    from lucid_ridge.demo.names import demo_id

    url = demo_app.extensions["database"].engine.url.render_as_string(hide_password=False)
    assert load_demo(url) is False
    made = demo_app.test_client().get(f"/api/compositions/{demo_id('composition/boathouse')}")
    assert made.json["name"] == "Boathouse at first light"


def test_the_logbook_tells_the_yield_of_working_by_hand(client, sequence):
    composition = client.get(f"/api/compositions/{sequence['composition_id']}").json
    body = {"scene": example_scene(), "changes": []}
    before = client.post("/api/close-up", json=body).json["hand"]
    assert not [row for row in before if row["what"] == "your own yield"]
    kept = {k: composition[k] for k in ("version", "name", "place_id", "body_id", "lens_id", "support_id")}
    document = composition["composition"] | {"hand_held": True}
    assert (
        client.put(f"/api/compositions/{composition['id']}", json=kept | {"composition": document}).status_code == 200
    )
    for faults in ([], ["missed slice"], ["moved camera"]):
        take = take_of(sequence, faults=faults)
        assert client.put(f"/api/takes/{uuid4()}", json=take).status_code in (200, 201)
    row = next(r for r in client.post("/api/close-up", json=body).json["hand"] if r["what"] == "your own yield")
    assert "Of 3 takes" in row["says"] and "plan for 3 tries" in row["says"]
