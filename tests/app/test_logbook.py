"""The logbook's views against counting by hand over its own file; days, seasons and the sun against other routes."""

from __future__ import annotations

import csv
import io
import json
import random
from collections import Counter
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4
from zoneinfo import ZoneInfo

import pytest
from skyfield.api import load, load_file, wgs84
from skyfield_data import get_skyfield_data_path
from sqlalchemy import select, update

from lucid_ridge.app.database import WORKED_OUT
from lucid_ridge.app.logbook.facts import season_of, work_out_left
from lucid_ridge.app.tables import Take

from .conftest import add_kit, add_place, example_scene

SEED = random.SystemRandom().randrange(10**6)
FAULTS = ("shake", "wind blur", "missed slice", "late for the light")
NOTES = (
    "=2+3",
    "low sun",
    "Sunlit reeds, windless",
    "it's raining 100%",
    "",
    "grüne Wiese",
    "back\\slash",
    'a "quoted" one, twice',
)
NORTH, SOUTH = {"name": "Ling Moss"}, {"name": "Wattle Flat", "latitude_deg": -37.2, "time_zone": "Australia/Melbourne", "longitude_deg": 145.3}  # fmt: skip


def put_take(client, sequence: dict[str, Any], started: datetime, **parts: Any) -> str:
    take = str(uuid4())
    ended = started + timedelta(minutes=4)
    frames = [{"number": 1, "status": "done", "started_at": started.isoformat(), "exposed_s": 1.0}]
    body = {
        "sequence_id": sequence["id"],
        "started_at": started.isoformat(),
        "ended_at": ended.isoformat(),
        "frames": frames,
    }
    made = client.put(f"/api/takes/{take}", json=body | parts)
    assert made.status_code == 201, made.json
    return take


def sequences(client, place: dict[str, Any]) -> tuple[str, list[dict[str, Any]]]:
    """A place and two sequences of it: a frozen single frame and a stack with texture."""
    ids, place_id = add_kit(client), add_place(client, **place)
    composition = client.post(
        "/api/compositions",
        json={"name": "Tarn", "place_id": place_id, **ids, "composition": example_scene()["composition"]},
    ).json
    made = []
    for slices, look, shutter in (("one", "any", 0.01), ("gapless", "texture", 0.5)):
        scene = example_scene()
        scene["place"] |= {
            "latitude_deg": place.get("latitude_deg", 54.1),
            "time_zone": place.get("time_zone", "Europe/London"),
        }
        scene["composition"]["technique"]["slices"] = slices
        scene["composition"]["wants"]["water_look"] = look
        scene["composition"]["settings"]["shutter_s"] = shutter
        body = {"id": str(uuid4()), "composition_id": composition["id"], "scene": scene}
        answer = client.post("/api/sequences", json=body)
        assert answer.status_code == 201, answer.json
        made.append(answer.json)
    return place_id, made


@pytest.fixture
def filled(client):
    """A logbook of a hundred drawn takes at two places, one on each side of the equator."""
    print("seed", SEED)
    r = random.Random(SEED)
    places = [sequences(client, one) for one in (NORTH, SOUTH)]
    for _ in range(100):
        _, of_place = r.choice(places)
        put_take(
            client,
            r.choice(of_place),
            datetime(2023, 1, 1, tzinfo=UTC) + timedelta(minutes=r.randrange(3 * 365 * 1440)),
            rating=r.choice([None, 0, 1, 2, 3, 4, 5]),
            faults=r.sample(FAULTS, r.choice([0, 0, 1, 2])),
            note=r.choice(NOTES),
        )
    return {"client": client, "places": [one for one, _ in places]}


def everything(client, **query: Any) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = json.loads(client.get("/api/takes/file", query_string={"form": "json"} | query).data)[
        "takes"
    ]
    return found


def words_of(take: dict[str, Any]) -> list[str]:
    text = " ".join([take["composition"], take["note"], take["place"], *take["faults"]]).lower()
    return "".join(c if c.isalnum() else " " for c in text).split()


def test_each_filter_gives_what_counting_by_hand_gives(filled):
    client = filled["client"]
    takes = everything(client)
    assert len(takes) == 100
    for query, holds in (
        ({"season": "winter"}, lambda one: one["season"] == "winter"),
        ({"rating": 4}, lambda one: (one["rating"] or 0) >= 4),
        ({"day": takes[7]["day"]}, lambda one: one["day"] == takes[7]["day"]),
        ({"fault": "shake", "season": "summer"}, lambda one: "shake" in one["faults"] and one["season"] == "summer"),
        ({"words": "sun"}, lambda one: any(w.startswith("sun") for w in words_of(one))),
        ({"words": "SUN low"}, lambda one: all(any(w.startswith(k) for w in words_of(one)) for k in ("sun", "low"))),
        ({"words": "wattle"}, lambda one: one["place"] == "Wattle Flat"),
        ({"words": "blur", "rating": 2}, lambda one: "wind blur" in one["faults"] and (one["rating"] or 0) >= 2),
        ({"words": "grün"}, lambda one: "grüne" in one["note"]),
    ):
        wanted = {one["id"] for one in takes if holds(one)}
        shown = client.get("/api/takes", query_string=query | {"limit": 200}).json
        assert {one["id"] for one in shown["takes"]} == wanted, query
        assert shown["total"] == len(wanted), query
        assert {one["id"] for one in everything(client, **query)} == wanted, query


@pytest.mark.parametrize("words", ["'", "\\", "%", "_", ":*", "& | !", "' OR 1=1 --", "(", "a" * 200, "🌄", "\u202e"])
def test_no_word_breaks_the_search(filled, words):
    assert filled["client"].get("/api/takes", query_string={"words": words}).status_code == 200


def test_what_cannot_be_asked_is_named(client):
    for query in ("rating=9", "season=monsoon", "day=yesterday", "words=" + "x" * 201):
        answer = client.get(f"/api/takes?{query}")
        assert (answer.status_code, answer.json["errors"][0]["pointer"]) == (422, "/" + query.split("=")[0])
    assert client.get("/api/takes?words=a%00b").status_code == 422
    assert client.get(f"/api/takes/seasons?place_id={uuid4()}").status_code == 404


def test_the_calendar_has_every_day_as_the_clocks_there_showed_it(filled):
    client = filled["client"]
    takes = everything(client)
    zones = {"Ling Moss": "Europe/London", "Wattle Flat": "Australia/Melbourne"}
    for one in takes:
        assert one["day"] == str(
            datetime.fromisoformat(one["started_at"]).astimezone(ZoneInfo(zones[one["place"]])).date()
        )
    last = client.get("/api/takes/calendar").json
    assert last["year"] == max(last["years"]) == max(int(one["day"][:4]) for one in takes)
    days = [one for year in last["years"] for one in client.get(f"/api/takes/calendar?year={year}").json["days"]]
    assert {one["day"]: one["takes"] for one in days} == Counter(one["day"] for one in takes)
    for day in days:
        rated = [one["rating"] for one in takes if one["day"] == day["day"] and one["rating"] is not None]
        assert day["best"] == (max(rated) if rated else None)


def test_an_empty_logbook_has_empty_views(client):
    assert client.get("/api/takes/calendar").json == {"year": None, "years": [], "days": []}
    assert client.get("/api/takes/places").json == {"places": []}
    assert client.get("/api/takes/works").json == {"takes": 0, "rated": 0, "groups": [], "years": []}
    assert everything(client) == []
    assert len(client.get("/api/takes/file").data.splitlines()) == 1


def test_seasons_turn_round_on_the_other_side(filled):
    client, (north, south) = filled["client"], filled["places"]
    takes = everything(client)
    for one in takes:
        month = int(one["day"][5:7])
        assert one["season"] == season_of(month, 54.1 if one["place"] == "Ling Moss" else -37.2)
    assert (season_of(1, 1.0), season_of(1, -1.0), season_of(12, 50.0), season_of(10, -50.0)) == (
        "winter",
        "summer",
        "winter",
        "spring",
    )
    for place, name in ((north, "Ling Moss"), (south, "Wattle Flat")):
        shown = client.get(f"/api/takes/seasons?place_id={place}").json["seasons"]
        assert [one["season"] for one in shown] == ["winter", "spring", "summer", "autumn"]
        for season in shown:
            own = [one for one in takes if one["place"] == name and one["season"] == season["season"]]
            assert season["takes"] == len(own)
            assert {f["fault"]: f["takes"] for f in season["faults"]} == Counter(
                f for one in own for f in one["faults"]
            )
            assert season["best"] == []


def test_the_sun_stood_where_another_library_says(filled):
    """Skyfield's own refraction-free altitude and azimuth, without the track that the core keeps."""
    timescale = load.timescale(builtin=True)
    bodies = load_file(get_skyfield_data_path() + "/de421.bsp")
    looks = example_scene()["composition"]["azimuth_deg"]
    for one in everything(filled["client"])[::9]:
        north = one["place"] == "Ling Moss"
        here = bodies["earth"] + wgs84.latlon(*((54.1, -2.4) if north else (-37.2, 145.3)))
        at = timescale.from_datetime(datetime.fromisoformat(one["started_at"]))
        altitude, azimuth, _ = here.at(at).observe(bodies["sun"]).apparent().altaz()
        assert one["sun_height_deg"] == pytest.approx(altitude.degrees, abs=0.02)
        off = abs((azimuth.degrees - looks + 180) % 360 - 180)
        assert one["sun_off_deg"] == pytest.approx(off, abs=0.05)
    bodies.close()


def test_what_works_adds_up(filled):
    client = filled["client"]
    takes = everything(client)
    works = client.get("/api/takes/works").json
    groups = {one["key"]: one["rows"] for one in works["groups"]}
    assert works["takes"] == 100 and works["rated"] == sum(one["rating"] is not None for one in takes)
    assert {row["name"]: row["takes"] for row in groups["way"]} == {
        "one frame": sum(one["way"] == "one frame" for one in takes),
        "focus stack": sum(one["way"] == "stack" for one in takes),
    }
    up = [one for one in takes if one["sun_height_deg"] > -0.833]
    assert sum(row["takes"] for row in groups["direction"]) == len(up)
    into = [one for one in up if one["sun_off_deg"] < 45]
    assert sum(row["takes"] for row in groups["direction"] if row["name"] == "into the sun") == len(into)
    assert sum(row["takes"] for row in groups["height"]) == 100
    low = next(row for row in groups["height"] if row["name"] == "low, under 6°")
    rated = [o["rating"] for o in takes if -0.833 <= o["sun_height_deg"] < 6 and o["rating"] is not None]
    assert low["mean"] == pytest.approx(sum(rated) / len(rated) / 5 if rated else 0)
    assert low["kept"] == pytest.approx(sum(one >= 4 for one in rated) / len(rated) if rated else 0)
    assert low["few"] == (len(rated) < 5)
    [water] = groups["water"]
    assert water["name"].startswith("texture, ") and water["takes"] == sum(
        one["water_look"] == "texture" for one in takes
    )
    for year in works["years"]:
        own = [one for one in takes if one["day"].startswith(str(year["year"]))]
        assert year["takes"] == len(own)
        assert {f["fault"]: f["takes"] for f in year["faults"]} == Counter(f for one in own for f in one["faults"])
    place = filled["places"][0]
    assert client.get(f"/api/takes/works?place_id={place}").json["takes"] == sum(
        o["place"] == "Ling Moss" for o in takes
    )


def test_the_places_of_takes_lie_where_they_are(filled):
    client = filled["client"]
    shown = {one["name"]: one for one in client.get("/api/takes/places").json["places"]}
    counts = Counter(one["place"] for one in everything(client))
    assert {name: one["takes"] for name, one in shown.items()} == counts
    assert (shown["Wattle Flat"]["latitude_deg"], shown["Wattle Flat"]["longitude_deg"]) == (-37.2, 145.3)


def test_the_table_says_what_the_json_says_and_runs_no_formula(filled):
    client = filled["client"]
    answer = client.get("/api/takes/file")
    assert answer.content_type.startswith("text/csv") and "takes.csv" in answer.headers["Content-Disposition"]
    rows = list(csv.DictReader(io.StringIO(answer.data.decode())))
    for row, take in zip(rows, everything(client), strict=True):
        assert row["note"].removeprefix("'") == take["note"].removeprefix("'")
        assert not row["note"].startswith("=")
        assert row["faults"] == "; ".join(take["faults"])
        assert (row["id"], row["rating"]) == (take["id"], "" if take["rating"] is None else str(take["rating"]))


def test_what_came_without_is_worked_out_afterwards(filled, app):
    database = app.extensions["database"]
    names = [column.name for column in Take.__table__.columns if column.info is WORKED_OUT]

    def rows() -> list[Any]:
        columns = [getattr(Take, name) for name in names]
        with database.transaction() as session:
            return list(session.execute(select(Take.id, Take.updated_at, *columns).order_by(Take.id)).all())

    before, shown = rows(), everything(filled["client"])
    assert {"day", "kind", "words", "charge"} <= set(names) and all(None not in row[:4] for row in before)
    with database.transaction() as session:
        session.execute(update(Take).values(**dict.fromkeys(names), updated_at=Take.updated_at))
    with app.app_context():
        assert (work_out_left(), work_out_left()) == (100, 0)
    assert rows() == before and everything(filled["client"]) == shown
