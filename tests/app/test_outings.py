"""Outings over the API: kept, planned, compared, written out; and what goes wrong."""

from __future__ import annotations

import json
import threading
import zipfile
from datetime import UTC, date, datetime, timedelta
from uuid import uuid4

import gpxpy
import icalendar
import pytest

from lucid_ridge.app.archives.export import FORM, write_archive
from lucid_ridge.app.archives.importing import take_in
from lucid_ridge.app.factory import Configuration, create_app
from lucid_ridge.formats.sealed import MANIFEST, verify
from lucid_ridge.standins.forecast import make_server

from .conftest import close

DAY = "2026-12-05"


@pytest.fixture
def forecast_demo(databases):
    weather = make_server()
    threading.Thread(target=weather.serve_forever, daemon=True).start()
    address = f"http://127.0.0.1:{weather.server_address[1]}"
    made = create_app(Configuration(databases.fresh(demo=True), databases.files, forecast_url=address))
    yield made.test_client()
    close(made)
    weather.shutdown()
    weather.server_close()


def _saved(client, name: str) -> dict:
    one = next(o for o in client.get("/api/outings").json["outings"] if o["name"] == name)
    return dict(client.get(f"/api/outings/{one['id']}").json)


def _on(outing: dict, day: str) -> dict:
    return {**outing, "days": [{**outing["days"][0], "date": day}]}


def _plan(client, outing: dict, **rest) -> dict:
    made = client.post("/api/outings/plan", json={"outing": outing, **rest})
    assert made.status_code == 200, made.json
    return dict(made.json)


def _kept(plan: dict) -> list[str]:
    return [v["name"] for d in plan["plan"]["days"] for v in d["visits"]]


def test_the_demo_dawn_has_room_for_three_of_four_and_says_why(demo):
    plan = _plan(demo, _saved(demo, "Dawn at the tarn")["outing"])
    assert len(_kept(plan)) <= 3 and plan["gone"] == [] and "Tarn turned to glass" in _kept(plan)
    for left in plan["plan"]["left_out"]:
        assert left["why"].endswith(".") and ("would fit" in left["remedy"] or not left["remedy"])
    assert plan["plan"]["proven"] and "no better plan exists" in plan["plan"]["value_text"]
    names = {line["name"] for g in plan["readiness"]["groups"] for line in g["lines"]}
    assert {"24-70 mm f/2.8", "carbon tripod", "thermos", "cable release or remote"} <= names
    assert plan["readiness"]["groups"][0]["key"] == "forgotten"
    assert plan["readiness"]["groups"][0]["lines"][0]["name"] == "cable release or remote"


def test_a_battery_that_went_flat_is_remembered(demo):
    outing = _on(_saved(demo, "Dawn at the tarn")["outing"], DAY)
    take = demo.get("/api/takes").json["takes"][0]
    whole = demo.get(f"/api/takes/{take['id']}").json
    frame = {"number": 1, "status": "done", "started_at": whole["started_at"], "exposed_s": 1}
    body = {key: whole[key] for key in ("sequence_id", "started_at", "ended_at")} | {"frames": [frame]}
    again = demo.put(f"/api/takes/{uuid4()}", json={**body, "faults": ["flat battery"]})
    assert again.status_code < 300, again.json
    first = _plan(demo, outing)["readiness"]["groups"][0]
    assert first["key"] == "forgotten"
    (line,) = [one for one in first["lines"] if one["key"] == "fault/flat battery"]
    assert "charged" in line["name"] and "flat battery on" in line["why"]
    long_ago = _on(outing, "2028-12-05")
    assert "fault/flat battery" not in str(_plan(demo, long_ago)["readiness"])


def test_ten_minutes_more_at_one_picture_make_another_fall(demo):
    outing = _on(_saved(demo, "Dawn at the tarn")["outing"], DAY)

    def kept(spare: int, more: int = 0) -> list[str]:
        visits = [{**v, "margin_min": spare + (more if v["id"] == "valley-visit" else 0)} for v in outing["visits"]]
        # Out of its order nobody would notice: the long one is nailed to the beginning of the light.
        visits = [{**v, "first_at": f"{DAY}T08:46:00Z"} if v["id"] == "valley-visit" else v for v in visits]
        return _kept(_plan(demo, {**outing, "visits": visits}))

    assert len(kept(12)) == 4
    assert len(kept(12, 30)) == 3


def test_a_nailed_picture_keeps_its_minute(demo):
    outing = _on(_saved(demo, "Dawn at the tarn")["outing"], DAY)
    visits = [{**v, "first_at": f"{DAY}T09:05:00Z"} if v["id"] == "glass-visit" else v for v in outing["visits"]]
    plan = _plan(demo, {**outing, "visits": visits})
    (glass,) = [v for d in plan["plan"]["days"] for v in d["visits"] if v["visit_id"] == "glass-visit"]
    assert glass["first"]["text"] == "09:05" and glass["nailed"]


def test_the_tide_walk_has_its_cut_off(demo):
    saved = _saved(demo, "Out to the withy")
    plan = _plan(demo, saved["outing"])
    assert _kept(plan) == ["Withy in the channel"]
    assert any("cut off from" in c["text"] for c in plan["readiness"]["cautions"])
    assert len(plan["plan"]["days"][0]["tides"][0]["points"]) > 10
    dry = [{**saved["outing"]["visits"][0], "tide_below_m": -5.0}]
    (left,) = _plan(demo, {**saved["outing"], "visits": dry})["plan"]["left_out"]
    assert "tide closes its ground" in left["why"]


def test_two_days_are_held_against_the_forecast(forecast_demo):
    saved = _saved(forecast_demo, "Two days in the valley")
    plan = _plan(forecast_demo, saved["outing"])
    assert len(plan["plan"]["days"]) == 2 and all(d["visits"] for d in plan["plan"]["days"])
    weather = plan["weather"]
    assert "simulated" in weather["source_text"] and len(weather["visits"]) == len(_kept(plan))
    assert all(v["verdict"] in ("yes", "perhaps", "no") and v["lines"] for v in weather["visits"])
    bad = [v["name"] for v in weather["visits"] if v["verdict"] == "no"]
    assert all(name in weather["text"] for name in bad) and (weather["advice"] == "go") <= (not bad)


def test_days_side_by_side_and_the_best_of_them(forecast_demo):
    outing = _saved(forecast_demo, "Dawn at the tarn")["outing"]
    first = (datetime.now(UTC).date() + timedelta(days=1)).isoformat()
    made = forecast_demo.post("/api/outings/dates", json={"outing": outing, "first": first, "count": 14})
    assert made.status_code == 200
    dates = made.json["dates"]["dates"]
    assert [d["first"] for d in dates] == [
        (date.fromisoformat(first) + timedelta(days=k)).isoformat() for k in range(14)
    ]
    (best,) = [d for d in dates if d["best"]]
    assert best["date_text"] in made.json["dates"]["text"]
    for one in dates:
        alone = _plan(forecast_demo, _on(outing, one["first"]))
        assert one["kept"] == len(_kept(alone))
        assert one["sun_text"] and one["moon_text"] and one["forecast_text"]


def test_what_else_is_near_wants_the_light_that_is_likely(forecast_demo):
    outing = _saved(forecast_demo, "Dawn at the tarn")["outing"]
    first = (datetime.now(UTC).date() + timedelta(days=1)).isoformat()
    made = forecast_demo.post("/api/outings/instead", json={"outing": _on(outing, first)})
    assert made.status_code == 200 and made.json["looked_at"] > 0
    mine = {v["composition_id"] for v in outing["visits"]}
    assert not mine & {one["composition_id"] for one in made.json["found"]}
    assert all(one["lines"] and one["when_text"] for one in made.json["found"])


def test_kept_changed_deleted_and_brought_back(demo):
    saved = _saved(demo, "Dawn at the tarn")
    body = {"version": saved["version"], "name": "Dawn, again", "outing": saved["outing"]}
    changed = demo.put(f"/api/outings/{saved['id']}", json=body)
    assert changed.status_code == 200 and changed.json["version"] == saved["version"] + 1
    stale = demo.put(f"/api/outings/{saved['id']}", json=body)
    assert stale.status_code == 409 and stale.json["current"]["name"] == "Dawn, again"
    copy = demo.post(f"/api/outings/{saved['id']}/duplicate").json
    assert copy["name"].endswith("copy") and copy["outing"]["packing"]["ticked"] == []
    assert demo.delete(f"/api/outings/{copy['id']}").status_code == 204
    assert demo.get(f"/api/outings/{copy['id']}").status_code == 404
    assert demo.post(f"/api/outings/{copy['id']}/restore").status_code == 200
    assert demo.get(f"/api/outings/{uuid4()}").status_code == 404


def test_a_spot_gets_the_zone_of_where_it_lies(demo):
    outing = _saved(demo, "Dawn at the tarn")["outing"]
    start = {"name": "car", "latitude_deg": 38.0, "longitude_deg": -7.0}
    made = demo.post("/api/outings", json={"name": "far", "outing": {**outing, "start": start}})
    assert made.status_code == 201 and made.json["outing"]["start"]["time_zone"] in ("Europe/Madrid", "Europe/Lisbon")


@pytest.mark.parametrize(
    ("change", "pointer"),
    [
        ({"days": []}, "/outing/days"),
        ({"pace": {"own": 9}}, "/outing/pace/own"),
        ({"start": {"name": "x", "latitude_deg": 99, "longitude_deg": 0}}, "/outing/start/latitude_deg"),
        ({"days": [{"date": "2026-02-30", "leave_from": "05:00:00", "back_by": "06:00:00"}]}, "/outing/days/0/date"),
        ({"days": [{"date": "1800-02-03", "leave_from": "05:00:00", "back_by": "06:00:00"}]}, "/outing/days/0/date"),
        ({"unheard_of": 1}, "/outing/unheard_of"),
        ({"visits": [{"id": "a", "composition_id": "b", "goal": "moment"}]}, "/outing/visits/0/moment"),
    ],
)
def test_what_is_wrong_is_told_field_by_field(demo, change, pointer):
    outing = {**_saved(demo, "Dawn at the tarn")["outing"], **change}
    for path, body in (
        ("/api/outings", {"name": "wrong", "outing": outing}),
        ("/api/outings/plan", {"outing": outing}),
        ("/api/outings/dates", {"outing": outing, "first": DAY}),
    ):
        made = demo.post(path, json=body)
        assert made.status_code == 422, made.json
        assert any(e["pointer"].endswith(pointer) for e in made.json["errors"]), made.json


def test_a_composition_that_is_gone_is_named_and_the_rest_planned(demo):
    saved = _saved(demo, "Dawn at the tarn")
    outing = _on(saved["outing"], DAY)
    demo.delete(f"/api/compositions/{outing['visits'][0]['composition_id']}")
    visits = [*outing["visits"], {"id": "x", "composition_id": "no id at all"}]
    plan = _plan(demo, {**outing, "visits": visits})
    assert len(plan["gone"]) == 2 and _kept(plan)


def test_everything_in_it_may_be_impossible(demo):
    outing = _on(_saved(demo, "Dawn at the tarn")["outing"], DAY)
    night = {**outing["days"][0], "leave_from": "20:00:00", "back_by": "20:30:00"}
    plan = _plan(demo, {**outing, "days": [night]})
    assert _kept(plan) == [] and len(plan["plan"]["left_out"]) == 4
    assert all("outside the hours" in one["why"] for one in plan["plan"]["left_out"])
    assert plan["plan"]["days"][0]["heading"] == "Nothing fits on this day"
    empty = _plan(demo, {**outing, "visits": []})
    assert empty["plan"]["heading"] == "Nothing fits yet" and empty["weather"]["advice"] == "unknown"


def test_files_say_what_the_plan_says(demo):
    saved = _saved(demo, "Dawn at the tarn")
    body = {"version": saved["version"], "name": saved["name"], "outing": _on(saved["outing"], DAY)}
    assert demo.put(f"/api/outings/{saved['id']}", json=body).status_code == 200
    plan = _plan(demo, body["outing"])["plan"]
    visits = plan["days"][0]["visits"]

    def file(form: str):
        made = demo.get(f"/api/outings/{saved['id']}/files/{form}")
        assert made.status_code == 200 and f"outing-{DAY}.{form}" in made.headers["Content-Disposition"]
        return made.data

    read = gpxpy.parse(file("gpx").decode())
    points = {w.name: (w.latitude, w.longitude) for w in read.waypoints}
    for visit in visits:
        assert points[visit["name"]] == pytest.approx(tuple(visit["position"]))
    assert len(read.tracks) == 2 and read.tracks[0].name == f"Lay-by at the dam to {visits[0]['name']}"
    ends = read.tracks[0].segments[0].points
    assert (ends[-1].latitude, ends[-1].longitude) == pytest.approx(tuple(visits[0]["position"]))

    calendar = icalendar.Calendar.from_ical(file("ics"))
    events = {str(e["summary"]): e for e in calendar.walk("VEVENT")}
    for visit in visits:
        event = events[visit["name"]]
        assert event["dtstart"].dt == datetime.fromisoformat(visit["arrive"]["at_utc"])
        assert event["dtend"].dt == datetime.fromisoformat(visit["leave_by"]["at_utc"])
    first = events[visits[0]["name"]]
    (alarm,) = first.walk("VALARM")
    leaves = datetime.fromisoformat(visits[0]["way_there"]["leaves"]["at_utc"])
    assert first["dtstart"].dt + alarm["trigger"].dt == leaves
    assert str(alarm["description"]).startswith("Leave now for")
    again = {str(e["uid"]) for e in icalendar.Calendar.from_ical(file("ics")).walk("VEVENT")}
    assert {str(e["uid"]) for e in events.values()} == again

    note = file("note.txt").decode()
    assert "Back by Sat 5 Dec" in note and "call" in note and "grey estate car" in note
    assert all(visit["name"] in note for visit in visits)
    whole = json.loads(file("json"))
    assert whole["outing"]["visits"] and whole["plan"]["days"][0]["visits"][0]["name"] == visits[0]["name"]
    paper = file("pdf")
    assert paper.startswith(b"%PDF-") and paper.count(b"/Type /Page\n") + paper.count(b"/Type /Page ") >= 2
    assert demo.get(f"/api/outings/{saved['id']}/files/exe").status_code == 422


def test_the_next_outing_and_what_comes_next_in_it(demo):
    found = demo.get("/api/outings/next").json
    # Which of the demo's outings comes first hangs on the day of the week.
    listed = [demo.get(f"/api/outings/{o['id']}").json for o in demo.get("/api/outings").json["outings"]]
    begins = {o["name"]: o["outing"]["days"][0]["date"] for o in listed}
    assert found["name"] == min((day, name) for name, day in begins.items() if name != "A still morning")[1]
    assert found["next_text"].startswith("leave")
    assert datetime.fromisoformat(found["next_at"]) > datetime.now(UTC)
    for one in demo.get("/api/outings").json["outings"]:
        demo.delete(f"/api/outings/{one['id']}")
    assert demo.get("/api/outings/next").json["id"] is None
    assert demo.get("/api/outings").json["outings"] == []


def test_planned_from_now_on(demo):
    outing = _on(_saved(demo, "Dawn at the tarn")["outing"], DAY)
    first = _plan(demo, outing)["plan"]["days"][0]["visits"][0]
    left = datetime.fromisoformat(first["leave_by"]["at_utc"])
    done = [{"visit_id": first["visit_id"], "left_at": left.isoformat()}]
    plan = _plan(demo, {**outing, "done": done}, now=left.isoformat())
    assert first["name"] not in _kept(plan) and _kept(plan)
    leave = datetime.fromisoformat(plan["plan"]["days"][0]["leave"]["at_utc"])
    assert leave >= left
    assert plan["plan"]["days"][0]["now"] is not None
    assert plan["plan"]["days"][0]["heading"].startswith(f"Leave {first['name']} ")
    late = _plan(demo, {**outing, "done": done}, now=(left + timedelta(hours=6)).isoformat())
    assert _kept(late) == []


def test_an_archive_from_before_there_were_outings_is_taken_in(demo_app, tmp_path):
    path, old = tmp_path / "all.zip", tmp_path / "old.zip"
    with demo_app.app_context():
        write_archive(path, lambda what, done, whole: None)
        assert any(p.path == "records/outings.json" for p in verify(path, FORM).parts)
        with zipfile.ZipFile(path) as source, zipfile.ZipFile(old, "w") as target:
            for info in source.infolist():
                data = source.read(info)
                if info.filename == MANIFEST:
                    told = json.loads(data)
                    told["parts"] = [p for p in told["parts"] if p["path"] != "records/outings.json"]
                    data = json.dumps(told).encode()
                if info.filename != "records/outings.json":
                    target.writestr(info, data)
        taken = take_in(old, lambda what, done, whole: None)
        assert taken.known["compositions"] == 10 and "outings" not in taken.known
        assert take_in(path, lambda what, done, whole: None).known["outings"] == 4
