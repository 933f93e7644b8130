"""At the edge: what no text, number or address may be is told as the sender's mistake; one id at the same moment is one record."""

from __future__ import annotations

import csv
import io
import json
from concurrent.futures import ThreadPoolExecutor
from uuid import UUID, uuid4

import pytest
from sqlalchemy.exc import IntegrityError

from lucid_ridge.app import problems
from lucid_ridge.app.database import Photographer
from lucid_ridge.app.factory import Configuration, create_app
from lucid_ridge.app.field.tables import SequenceRow
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.runtime.upgrade import revisions
from tests.app.test_from_photograph import photograph
from tests.app.test_light_and_land import TIFF, settled, valley  # noqa: F401

from .conftest import add_kit, add_place, example_scene

PLACE = {"name": "Ling Moss", "latitude_deg": 54.1, "longitude_deg": -2.4, "time_zone": "Europe/London"}
JSON = {"content_type": "application/json"}


def named(name: str) -> str:
    return json.dumps({"place": PLACE | {"name": name}})


@pytest.mark.parametrize("name", ["a\u0000b", "\u0000", "\\\u0000", "a\ud800b", "\udfff"])
def test_text_that_no_database_can_keep_is_refused(client, name):
    for method, path in (("POST", "/api/places"), ("PUT", f"/api/places/{uuid4()}")):
        answer = client.open(path, method=method, data=named(name), **JSON)
        assert answer.status_code in (400, 422), answer.data
    scene = example_scene()
    scene["composition"]["elements"][0]["name"] = name
    assert client.post("/api/evaluate", data=json.dumps({"scene": scene}), **JSON).status_code in (400, 422)


@pytest.mark.parametrize("name", ["\u202e", "\\u0000", "a\\\\u0000", "\U0001f304", "漢", "\u200d", "=1+1", "\ufffe"])
def test_odd_text_that_can_be_kept_is_kept(client, name):
    made = client.post("/api/places", data=named(name), **JSON)
    assert made.status_code == 201, made.json
    assert made.json["place"]["name"] == name


@pytest.mark.parametrize("path", ["/api/places", "/api/evaluate", "/api/kit", "/api/compositions", "/api/ways"])
@pytest.mark.parametrize(
    "data",
    [
        "[" * 500_000,
        '{"scene":' * 100_000,
        '{"place":' + "[" * 90_000 + "]" * 90_000 + "}",
        "1" * 5000,
        "\x00",
        "\ufeff{}",
    ],
)
def test_json_of_no_use_is_told_so(client, path, data):
    answer = client.post(path, data=data.encode(), **JSON)
    assert answer.status_code in (400, 422)
    assert answer.content_type == "application/problem+json"


@pytest.mark.parametrize("number", ["1e999", "NaN", "-Infinity", "1" + "0" * 400])
def test_numbers_without_bounds_are_refused(client, number):
    answer = client.post("/api/places", data=json.dumps({"place": PLACE}).replace("54.1", number), **JSON)
    assert answer.status_code in (400, 422)


@pytest.mark.parametrize("moment", ["0001-01-01T00:00:00+14:00", "9999-12-31T23:59:59-14:00", "2026-10-18T07:25:00"])
def test_moments_out_of_all_bounds_are_refused(client, moment):
    scene = example_scene()
    scene["composition"]["moment_utc"] = moment
    assert client.post("/api/evaluate", json={"scene": scene}).status_code == 422
    for path in ("/api/logbook", "/api/terrains"):
        assert client.get(path, query_string={"after": moment}).status_code in (404, 422)


@pytest.mark.parametrize("origin", ["http://[::1", "null", "http://other.test", "file://", "http://127.0.0.1:1"])
def test_writes_from_an_odd_origin_are_refused(client, origin):
    assert client.post("/api/places", json={"place": PLACE}, headers={"Origin": origin}).status_code == 403


@pytest.mark.parametrize("host", ["[::1", "other.test", "127.0.0.1.other.test", ""])
def test_another_host_name_does_not_reach_it(client, host):
    assert client.get("/api/places", headers={"Host": host}).status_code == 400


def test_odd_addresses_are_not_there_or_the_page(tmp_path):
    (tmp_path / "assets").mkdir()
    (tmp_path / "index.html").write_text("<p>page</p>")
    (tmp_path / ".sources").write_text("secret")
    app = create_app(Configuration("postgresql+psycopg://nobody@127.0.0.1:1/none", web_folder=tmp_path))
    client = app.test_client()
    for path in (
        "/%00",
        "/" + "a" * 300,
        "/assets/" + "a" * 300,
        "/assets/%00",
        "/..%2f..%2fetc%2fpasswd",
        "/.sources",
    ):
        with client.get(path) as answer:
            assert answer.status_code in (200, 404, 422), path
            assert b"secret" not in answer.data and b"root:" not in answer.data
    app.extensions["database"].dispose()


@pytest.fixture
def links(client) -> dict[str, str]:
    """A place and a kit to compose with."""
    return {"place_id": add_place(client), **add_kit(client)}


def ways_to_make(client, links, data) -> dict[str, tuple[str, str, dict]]:
    """For each kind of record: how one is made under an id that the sender chose."""
    scene = example_scene()
    body = {"name": "One", **links}
    composition = client.post("/api/compositions", json=body).json
    kit = {k: v for k, v in links.items() if k != "place_id"}
    sequence = {"composition_id": composition["id"], "scene": scene}
    made = client.post("/api/sequences", json={"id": str(uuid4()), **sequence})
    assert made.status_code == 201, made.json
    take = {
        "sequence_id": made.json["id"], "started_at": "2026-10-18T07:25:00Z", "ended_at": "2026-10-18T07:26:00Z", "frames": [],
    }  # fmt: skip
    at = f"/api/compositions/{composition['id']}"
    item = {"kind": "support", "details": scene["kit"]["support"]}
    track = {
        "place_id": links["place_id"],
        "name": "Way",
        "kind": "path",
        "sort": "other",
        "points": [[54, -2, None], [54.1, -2, 3.0]],
    }
    return {
        "place": ("POST", "/api/places", {"json": {"id": None, "place": PLACE}}),
        "kit item": ("POST", "/api/kit", {"json": {"id": None, "item": item}}),
        "composition": ("POST", "/api/compositions", {"json": {"id": None, **body}}),
        "track": ("POST", "/api/tracks", {"json": {"id": None, **track}}),
        "variant": (
            "POST",
            f"{at}/variants",
            {"json": {"id": None, "name": "V", **kit, "composition": composition["composition"]}},
        ),
        "sequence": ("POST", "/api/sequences", {"json": {"id": None, **sequence}}),
        "take": ("PUT", "/api/takes/ID", {"json": take}),
        "photograph": ("PUT", f"{at}/photographs/ID?name=a.jpg", {"data": photograph(), "content_type": "image/jpeg"}),
        "terrain": ("PUT", "/api/terrains/ID?name=valley", {"data": data, "content_type": TIFF}),
    }


KINDS = ("place", "kit item", "composition", "track", "variant", "sequence", "take", "photograph", "terrain")


@pytest.mark.parametrize("kind", KINDS)
def test_one_id_sent_many_times_at_once_is_one_record(app, client, links, valley, kind):  # noqa: F811
    method, path, sent = ways_to_make(client, links, valley)[kind]
    for _ in range(4):
        record = str(uuid4())
        body = {**sent, "json": {**sent["json"], "id": record}} if "id" in sent.get("json", {}) else sent
        with ThreadPoolExecutor(6) as pool:
            answers = list(
                pool.map(
                    lambda _, body=body, record=record: app.test_client().open(
                        path.replace("ID", record), method=method, **body
                    ),
                    range(6),
                )
            )
        codes = sorted(a.status_code for a in answers)
        assert codes.count(201) + codes.count(202) == 1, [a.json for a in answers if a.status_code >= 400]
        # The others are told that it is there already: by the record itself, or as an id that is taken.
        assert set(codes) <= {200, 201, 202, 422}, codes
        assert all(a.json["id"] == record for a in answers if a.status_code < 300)
        assert all("exists already" in a.json["detail"] for a in answers if a.status_code == 422)


def test_an_id_of_somebody_elses_sequence_is_taken(app, client, links):
    stranger = uuid4()
    composition = client.post("/api/compositions", json={"name": "One", **links}).json["id"]
    mine = client.post(
        "/api/sequences", json={"id": str(uuid4()), "composition_id": composition, "scene": example_scene()}
    ).json["id"]
    with app.extensions["database"].transaction() as session:
        session.add(Photographer(id=stranger, name="Somebody else"))
        session.flush()
        session.get(SequenceRow, UUID(mine)).owner_id = stranger
    again = client.post("/api/sequences", json={"id": mine, "composition_id": composition, "scene": example_scene()})
    assert again.status_code == 422 and "exists already" in again.json["detail"]
    assert client.get(f"/api/sequences/{mine}").status_code == 404


@pytest.mark.parametrize("name", ["two\nlines", "a\r\nSet-Cookie: b=c", "../../out", 'quo"ted', "...", "漢\u2028x"])
def test_a_terrain_of_any_name_can_be_taken_away_as_a_file(client, valley, name):  # noqa: F811
    made = client.put(f"/api/terrains/{uuid4()}", query_string={"name": name}, data=valley, content_type=TIFF)
    assert made.status_code == 202, made.json
    settled(client, made.json["id"])
    with client.get(f"/api/terrains/{made.json['id']}/file") as answer:
        assert answer.status_code == 200
        told = answer.headers["Content-Disposition"]
        assert "Set-Cookie" not in answer.headers
    assert told.startswith("attachment") and "\n" not in told
    # Line ends and what leads into folders are gone from the name itself.
    assert not set("/\\\r\n") & set(told.split("filename", 1)[1].replace('\\"', ""))


def test_a_spreadsheet_takes_no_cell_for_a_formula(client):
    scene = example_scene()
    names = ["=HYPERLINK(1)", "+1", "-1", "@x", "\tx", "plain"]
    for element, name in zip(scene["composition"]["elements"], names, strict=False):
        element["name"] = name
    answer = client.post("/api/sequence-file", json={"scene": scene, "changes": [], "form": "csv"})
    assert answer.status_code == 200, answer.data[:300]
    rows = list(csv.reader(io.StringIO(answer.text)))
    assert len(rows) > 1
    for cell in (cell for row in rows[1:] for cell in row):
        number = cell.removeprefix("-").replace(".", "", 1).replace("e-", "", 1).isdigit()
        assert number or not cell.startswith(("=", "+", "-", "@", "\t", "\r")), cell


def test_what_people_write_is_in_no_error_of_the_database(app, caplog):
    database = app.extensions["database"]
    with pytest.raises(IntegrityError) as told, database.transaction() as session:
        session.add(PlaceRow(id=uuid4(), owner_id=uuid4(), name="a secret place", latitude_deg=54.123456))
    with app.test_request_context(), caplog.at_level("WARNING"):
        assert problems._taken(told.value).status_code == 409
    assert "not-null" in caplog.text
    assert "secret" not in caplog.text and "54.123" not in caplog.text


def test_a_server_tells_whether_it_lives_and_whether_it_can_work(client):
    assert client.get("/api/health/live").json["version"]
    ready = client.get("/api/health/ready")
    assert ready.status_code == 200 and ready.json["revision"] == revisions()[-1]
    gone = create_app(Configuration("postgresql+psycopg://nobody@127.0.0.1:1/none"))
    assert gone.test_client().get("/api/health/live").status_code == 200
    answer = gone.test_client().get("/api/health/ready")
    assert answer.status_code == 503 and answer.content_type == "application/problem+json"
    gone.extensions["database"].dispose()


def test_each_answer_has_a_name_of_its_own_and_a_problem_says_it(client):
    names = {client.get("/api/places").headers["X-Request-Id"] for _ in range(5)}
    assert len(names) == 5
    problem = client.get(f"/api/places/{uuid4()}/nothing")
    assert problem.json["instance"].endswith(problem.headers["X-Request-Id"])
