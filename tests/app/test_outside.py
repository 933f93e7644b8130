"""What is taken outside and what comes back: outings along, running late, answers for the spot, measurements, a phone paired."""

from __future__ import annotations

from datetime import datetime, timedelta
from uuid import uuid4

import pytest
from sqlalchemy import update

from lucid_ridge.app.accounts.tables import InvitationRow
from lucid_ridge.app.database import now
from lucid_ridge.app.field.tables import SequenceRow
from lucid_ridge.core.light.terrain import position_of

from .conftest import add_kit, add_place, example_scene
from .test_accounts import PASSWORD, member, shared, sign_in, visitor  # noqa: F401

MEASURED_AT = "2026-10-18T07:10:00Z"


@pytest.fixture
def composition(client):
    ids, place = add_kit(client), add_place(client)
    body = {"name": "Tarn", "place_id": place, **ids, "composition": example_scene()["composition"]}
    return client.post("/api/compositions", json=body).json


def _dawn(client):
    listed = client.get("/api/outings").json["outings"]
    return client.get(f"/api/outings/{next(o['id'] for o in listed if o['name'] == 'Dawn at the tarn')}").json


def _names(plan):
    return [v["name"] for day in plan["days"] for v in day["visits"]]


# --- taking along


def test_an_outing_along_has_a_sequence_for_each_visit_at_its_time_and_the_same_when_asked_again(demo):
    saved = _dawn(demo)
    first = demo.post(f"/api/outings/{saved['id']}/along").json
    assert [s["visit_id"] for s in first["sequences"]] == [v["id"] for v in saved["outing"]["visits"]]
    assert all(s["lacking"] == "" and s["sequence"] for s in first["sequences"])
    planned = {v["visit_id"]: v["first"]["at_utc"] for d in first["plan"]["plan"]["days"] for v in d["visits"]}
    for one in first["sequences"]:
        if one["visit_id"] in planned:
            assert one["sequence"]["plan"]["moment_utc"] == planned[one["visit_id"]]
    assert saved["name"] in first["note"] and len(first["ground"]) > 20
    for address in (first["ground"][0], first["ground"][-1]):
        assert demo.get(address).mimetype == "image/png"
    again = demo.post(f"/api/outings/{saved['id']}/along").json
    assert again["sequences"] == first["sequences"]


def test_a_visit_without_its_composition_is_said_and_the_others_come(demo):
    saved = _dawn(demo)
    gone = saved["outing"]["visits"][1]["composition_id"]
    assert demo.delete(f"/api/compositions/{gone}").status_code == 204
    made = demo.post(f"/api/outings/{saved['id']}/along").json["sequences"]
    assert [bool(s["sequence"]) for s in made] == [True, False, True, True]
    assert "no longer there" in made[1]["lacking"]
    assert demo.post(f"/api/outings/{uuid4()}/along").status_code == 404


def test_running_late_only_ever_loses_and_ends_with_nothing(demo):
    outing = _dawn(demo)["outing"]
    plan = demo.post("/api/outings/plan", json={"outing": outing}).json["plan"]
    late = demo.post("/api/outings/late", json={"outing": outing}).json["later"]
    assert [one["minutes"] for one in late][:3] == [0, 5, 10]
    kept = [len(_names(one["plan"])) for one in late]
    assert kept[0] == len(_names(plan)) and kept == sorted(kept, reverse=True)
    visit = plan["days"][0]["visits"][0]
    at_it = demo.post("/api/outings/late", json={"outing": outing, "visit_id": visit["visit_id"]}).json
    leaves = datetime.fromisoformat(visit["leave_by"]["at_utc"])
    for one in at_it["later"]:
        assert datetime.fromisoformat(one["leaves_at"]) - leaves == timedelta(minutes=one["minutes"])
        assert visit["name"] not in _names(one["plan"])
    # The other route: the plan from then on, with the picture done.
    some = at_it["later"][2]
    done = [{"visit_id": visit["visit_id"], "left_at": some["leaves_at"]}]
    body = {"outing": {**outing, "done": done}, "now": some["leaves_at"]}
    assert _names(demo.post("/api/outings/plan", json=body).json["plan"]) == _names(some["plan"])
    assert demo.post("/api/outings/late", json={"outing": outing, "visit_id": "none"}).status_code == 422


def test_a_sequence_answers_for_the_spot_and_an_old_one_says_why_not(client, app, composition):
    body = {"id": str(uuid4()), "composition_id": composition["id"], "scene": example_scene()}
    made = client.post("/api/sequences", json=body).json
    table = client.get(f"/api/sequences/{made['id']}/spot-table").json
    assert table["composition_name"] == "Tarn"
    own = table["cells"][0][table["own_aperture"]][table["expected"]]
    assert own[2] == len(made["plan"]["sequence"]["frames"])
    feet = client.get(f"/api/sequences/{made['id']}/spot-table?units=feet").json
    assert "ft" in feet["apertures"][0]["holds"] and "ft" not in table["apertures"][0]["holds"]
    assert client.get(f"/api/sequences/{uuid4()}/spot-table").status_code == 404
    with app.extensions["database"].transaction() as session:
        row = session.get_one(SequenceRow, made["id"])
        row.document = {k: v for k, v in row.document.items() if k != "scene"}
    old = client.get(f"/api/sequences/{made['id']}/spot-table")
    assert old.status_code == 422 and "anew" in old.json["errors"][0]["message"]
    assert client.get(f"/api/sequences/{made['id']}").json["plan"]["scene"] is None


# --- measured on the spot


def _record(client, composition, measured, **rest):
    body = {"composition_id": composition["id"], "measured_at": MEASURED_AT, "measured": measured, **rest}
    return client.put(f"/api/spots/{rest.pop('id', uuid4())}", json={k: v for k, v in body.items() if k != "id"})


def _now(client, composition):
    return client.get(f"/api/compositions/{composition['id']}").json["composition"]


def test_what_is_measured_is_kept_once_told_with_its_error_and_can_come_back(client, composition):
    ident = uuid4()
    measured = {"kind": "position", "latitude_deg": 54.1001, "longitude_deg": -2.4002, "accuracy_m": 6.4}
    first = _record(client, composition, measured, id=ident)
    again = _record(client, composition, measured, id=ident)
    assert (first.status_code, again.status_code) == (201, 200)
    assert "± 6 m" in first.json["words"] and first.json["does"] == "The standpoint."
    listed = client.get(f"/api/spots?composition_id={composition['id']}").json["spots"]
    assert [s["id"] for s in listed] == [str(ident)]
    assert client.delete(f"/api/spots/{ident}").status_code == 204
    assert client.get("/api/spots").json["spots"] == []
    assert client.post(f"/api/spots/{ident}/restore").json["id"] == str(ident)


def test_a_position_becomes_the_standpoint(client, composition):
    latitude, longitude = position_of(54.1, -2.4, 30.0, -12.0)
    spot = _record(
        client, composition,
        {"kind": "position", "latitude_deg": latitude, "longitude_deg": longitude, "accuracy_m": 4},
    ).json  # fmt: skip
    taken = client.post(f"/api/spots/{spot['id']}/take-on").json
    assert taken["taken_on_at"] is not None
    after = _now(client, composition)
    assert (after["east_m"], after["north_m"]) == (pytest.approx(30, abs=0.02), pytest.approx(-12, abs=0.02))


def test_an_aim_by_compass_gets_the_declination_put_to_it(client, composition):
    """The World Magnetic Model has about 0.6 degrees west at 54.1 N, 2.4 W in late 2026 (as computed by pygeomag)."""
    by_compass = {"kind": "bearing", "what": "aim", "azimuth_deg": 140.0, "north": "magnetic", "error_deg": 5}
    spot = _record(client, composition, {**by_compass, "pitch_deg": -6.0}).json
    client.post(f"/api/spots/{spot['id']}/take-on")
    turned = _now(client, composition)
    assert turned["azimuth_deg"] != 140.0 and abs(turned["azimuth_deg"] - 140) < 2.5
    assert turned["pitch_deg"] == -6.0
    spot = _record(client, composition, {**by_compass, "north": "true"}).json
    client.post(f"/api/spots/{spot['id']}/take-on")
    assert (_now(client, composition)["azimuth_deg"], _now(client, composition)["pitch_deg"]) == (140.0, -6.0)


def test_a_reading_is_metered_then_and_there(client, composition):
    measured = {"kind": "reading", "aperture_n": 8, "shutter_s": 0.02, "iso": 200, "element_id": "nobody"}
    spot = _record(client, composition, measured).json
    assert spot["words"] == "f/8, 1/50 s, ISO 200"
    client.post(f"/api/spots/{spot['id']}/take-on")
    reading = _now(client, composition)["reading"]
    assert (reading["shutter_s"], reading["iso"], reading["element_id"]) == (0.02, 200, None)
    assert datetime.fromisoformat(reading["taken_at_utc"]) == datetime.fromisoformat(MEASURED_AT)


def test_a_swept_skyline_takes_the_place_of_what_was_there_and_leaves_the_rest(client, composition):
    def swept(*points):
        return {
            "kind": "skyline", "north": "true", "error_deg": 2,
            "points": [{"azimuth_deg": a, "altitude_deg": h} for a, h in points],
        }  # fmt: skip

    for points in (((90, 5), (100, 6), (110, 7), (200, 3)), ((95, 8), (105, 9))):
        spot = _record(client, composition, swept(*points)).json
        client.post(f"/api/spots/{spot['id']}/take-on")
    place = next(p for p in client.get("/api/places").json["places"] if p["id"] == composition["place_id"])["place"]
    assert place["horizon"] == "measured"
    assert [(p["azimuth_deg"], p["altitude_deg"]) for p in place["skyline"]] == [
        (90, 5), (95, 8), (105, 9), (110, 7), (200, 3),
    ]  # fmt: skip


def test_two_bearings_put_an_element_where_they_cross(client, composition):
    element = composition["composition"]["elements"][0]
    seen = []
    for east in (-40.0, 60.0):
        latitude, longitude = position_of(54.1, -2.4, east, 0.0)
        stand = {"latitude_deg": latitude, "longitude_deg": longitude, "accuracy_m": 3}
        # Both look at a point 10 m east, 50 m north.
        azimuth = {-40.0: 45.0, 60.0: 315.0}[east]
        bearing = {
            "kind": "bearing", "what": "element", "name": element["name"], "azimuth_deg": azimuth,
            "north": "true", "error_deg": 5, "stand": stand,
        }  # fmt: skip
        seen.append(_record(client, composition, bearing).json["id"])
    found = client.post("/api/spots/cross", json={"first": seen[0], "second": seen[1]}).json
    assert (found["east_m"], found["north_m"]) == (pytest.approx(10, abs=0.01), pytest.approx(50, abs=0.01))
    # 71 m away, five degrees and three metres: sqrt(6.2^2 + 3^2) on each of two lines at right angles.
    assert found["longer_m"] == pytest.approx(6.86, abs=0.05) and "±" in found["words"]
    client.post("/api/spots/cross", json={"first": seen[0], "second": seen[1], "take_on": True})
    moved = next(e for e in _now(client, composition)["elements"] if e["id"] == element["id"])
    assert (moved["east_m"], moved["north_m"]) == (10.0, 50.0)
    same = client.post("/api/spots/cross", json={"first": seen[0], "second": seen[0]})
    assert same.status_code == 422


@pytest.mark.parametrize(
    "measured",
    [
        {"kind": "position", "latitude_deg": 95, "longitude_deg": 0, "accuracy_m": 3},
        {"kind": "position", "latitude_deg": 54, "longitude_deg": 0, "accuracy_m": -1},
        {"kind": "bearing", "what": "aim", "azimuth_deg": 1e9, "north": "true", "error_deg": 5},
        {"kind": "skyline", "north": "true", "error_deg": 2, "points": [{"azimuth_deg": 1, "altitude_deg": 2}]},
        {"kind": "reading", "aperture_n": 8, "shutter_s": 0, "iso": 100},
        {"kind": "note", "text": ""},
        {"kind": "song", "text": "la"},
    ],
)
def test_what_cannot_have_been_measured_is_refused_by_its_field(client, composition, measured):
    refused = _record(client, composition, measured)
    assert refused.status_code == 422 and refused.json["errors"][0]["pointer"].startswith("/measured")
    assert client.get("/api/spots").json["spots"] == []


def test_for_nothing_that_is_there_nothing_is_kept(client, composition):
    note = {"kind": "note", "text": "gate locked"}
    body = {"measured_at": MEASURED_AT, "measured": note}
    assert client.put(f"/api/spots/{uuid4()}", json=body).json["errors"][0]["pointer"] == "/place_id"
    body["composition_id"] = str(uuid4())
    assert client.put(f"/api/spots/{uuid4()}", json=body).json["errors"][0]["pointer"] == "/composition_id"
    spot = _record(client, composition, note).json
    assert spot["does"] == "" and client.post(f"/api/spots/{spot['id']}/take-on").status_code == 422


# --- a phone


def test_a_phone_is_signed_in_once_by_the_link_of_its_owner(shared):  # noqa: F811
    ada, phone, thief = member(shared, "Ada"), visitor(shared), visitor(shared)
    made = ada.post("/api/account/devices/link").json
    token = made["link"].split("/pair#")[1]
    assert made["link"].startswith("https://ridge.example/pair#") and len(made["qr"]) > 20
    # It is no invitation: nobody chooses a password with it, and no list shows it.
    assert thief.post("/api/account/invited", json={"token": token}).status_code == 422
    joined = {"token": token, "name": "Ada", "password": PASSWORD}
    assert thief.post("/api/account/join", json=joined).status_code == 422
    signed = phone.post("/api/account/pair", json={"token": token})
    assert (signed.status_code, signed.json["name"]) == (200, "Ada")
    assert phone.get("/api/places").status_code == 200
    assert thief.post("/api/account/pair", json={"token": token}).status_code == 422
    assert len(ada.get("/api/account/devices").json["devices"]) == 2
    assert visitor(shared).post("/api/account/devices/link").status_code == 401


def test_a_link_for_a_phone_is_good_for_ten_minutes(shared):  # noqa: F811
    ada = member(shared, "Ada")
    token = ada.post("/api/account/devices/link").json["link"].split("#")[1]
    with shared.extensions["database"].transaction() as session:
        left = session.query(InvitationRow).filter(InvitationRow.pairs).one().ends_at - now()
        assert timedelta(minutes=9) < left <= timedelta(minutes=10)
        session.execute(update(InvitationRow).values(ends_at=now() - timedelta(seconds=1)))
    assert visitor(shared).post("/api/account/pair", json={"token": token}).status_code == 422
    assert sign_in(visitor(shared), "Ada").status_code == 200


def test_a_place_without_a_certificate_of_its_own_says_so(client):
    assert client.get("/api/trust").json == {"name": None, "fingerprint": None}
