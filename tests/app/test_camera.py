"""The camera that takes a sequence's frames: the simulated one behind its interface, and what is kept of it."""

from __future__ import annotations

import json
import threading
import time
import urllib.request
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4

import pytest
from pydantic import TypeAdapter

from lucid_ridge.app.factory import Configuration, create_app
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.demo.names import demo_id
from lucid_ridge.demo.valley import scene_of
from lucid_ridge.formats.photographs import read_photograph
from lucid_ridge.standins.camera import TROUBLES, make_server
from lucid_ridge.standins.forecast import make_server as make_forecast

from .conftest import close

HURRY = 30.0


@pytest.fixture(scope="module")
def stand_in():
    server = make_server(hurry=HURRY)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_address[1]}"
    server.shutdown()
    server.server_close()


@pytest.fixture(scope="module")
def no_camera():
    server = make_forecast()
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_address[1]}"
    server.shutdown()
    server.server_close()


@pytest.fixture
def app(databases, stand_in):
    made = create_app(Configuration(databases.fresh(demo=True), databases.files, camera_url=stand_in))
    wrong(stand_in, None)
    yield made
    close(made)


@pytest.fixture
def client(app):
    return app.test_client()


def wrong(address: str, trouble: str | None) -> None:
    """Have something be wrong with the camera."""
    asked = urllib.request.Request(
        f"{address}/v1/simulated/trouble", json.dumps({"trouble": trouble}).encode(), method="PUT"
    )
    urllib.request.urlopen(asked).close()


def to_the_field(client, name: str) -> dict[str, Any]:
    """Take a composition of the demo to the field."""
    scene = TypeAdapter(Scene).dump_python(scene_of(name), mode="json")
    body = {"id": str(uuid4()), "composition_id": str(demo_id(f"composition/{name}")), "scene": scene}
    made = client.post("/api/sequences", json=body)
    assert made.status_code == 201, made.json
    return made.json


def taken(client, sequence: dict[str, Any], number: int, take: str | None = None, **more: Any) -> str:
    """The camera takes a frame; its id once it is kept."""
    frame = str(uuid4())
    body = {"sequence_id": sequence["id"], "take_id": take or str(uuid4()), "number": number, **more}
    for _ in range(200):
        answer = client.put(f"/api/camera/frames/{frame}", json=body)
        assert answer.status_code == 200, answer.json
        if answer.json["state"] == "kept":
            return frame
        time.sleep(0.05)
    raise AssertionError("the frame does not come")


def test_it_carries_a_stack_out_and_writes_the_truth_into_each_frame(client):
    """What a frame's own metadata say is what the plan asked for: read back by the reader of photographs."""
    sequence = to_the_field(client, "stones")
    planned = sequence["plan"]["sequence"]["frames"]
    began = datetime.now(UTC) - timedelta(seconds=1)
    take = str(uuid4())
    ids = [taken(client, sequence, frame["number"], take) for frame in planned]
    for frame, picture in zip(planned, ids, strict=True):
        data = client.get(f"/api/pictures/{picture}/file").data
        facts = read_photograph(data).facts
        assert facts.exposure_s == pytest.approx(frame["exposure_s"], rel=1e-3)
        assert facts.f_number == pytest.approx(frame["aperture"]["value"], rel=0.02)
        assert facts.focus_m == pytest.approx(frame["focus"]["value"], rel=0.02)
        assert facts.taken.tzinfo is None, "a camera's clock knows no zone"
    frames = [
        {"number": f["number"], "status": "done", "started_at": began.isoformat(), "exposed_s": f["exposure_s"]}
        for f in planned
    ]
    body = {
        "sequence_id": sequence["id"],
        "started_at": began.isoformat(),
        "ended_at": datetime.now(UTC).isoformat(),
        "frames": frames,
    }
    assert client.put(f"/api/takes/{take}", json=body).status_code == 201
    # One that was on its way when the take was written goes to it too.
    ids.append(taken(client, sequence, planned[-1]["number"], take))
    planned.append(planned[-1])
    of_take = client.get(f"/api/pictures?take_id={take}").json["pictures"]
    assert [(one["id"], one["number"]) for one in of_take] == [
        (i, f["number"]) for i, f in zip(ids, planned, strict=True)
    ]


def test_the_same_frame_asked_for_again_is_taken_once(client, stand_in):
    sequence = to_the_field(client, "stones")
    before = json.load(urllib.request.urlopen(f"{stand_in}/v1/state"))["frames_left"]
    frame = taken(client, sequence, 1)
    body = {"sequence_id": sequence["id"], "take_id": str(uuid4()), "number": 1}
    for _ in range(3):
        assert client.put(f"/api/camera/frames/{frame}", json=body).json["state"] == "kept"
    assert json.load(urllib.request.urlopen(f"{stand_in}/v1/state"))["frames_left"] == before - 1


def test_its_clock_may_be_wrong(client):
    sequence = to_the_field(client, "stones")
    right, fast = (
        read_photograph(
            client.get(f"/api/pictures/{taken(client, sequence, 1, clock_off_s=off)}/file").data
        ).facts.taken
        for off in (0, 3600)
    )
    assert (fast - right).total_seconds() == pytest.approx(3600, abs=20)


@pytest.mark.parametrize("trouble", TROUBLES)
def test_what_is_wrong_with_it_is_told_and_the_frame_comes_afterwards(client, stand_in, trouble):
    sequence = to_the_field(client, "stones")
    frame, body = str(uuid4()), {"sequence_id": sequence["id"], "take_id": str(uuid4()), "number": 1}
    wrong(stand_in, trouble)
    answer = client.put(f"/api/camera/frames/{frame}", json=body)
    assert answer.status_code == 502 and len(answer.json["detail"].split(".")) >= 2, answer.json
    if trouble == "connection lost":
        assert "does not answer" in client.get("/api/camera").json["trouble"]
    wrong(stand_in, None)
    for _ in range(100):
        if client.put(f"/api/camera/frames/{frame}", json=body).json["state"] == "kept":
            break
        time.sleep(0.05)
    assert client.get(f"/api/pictures/{frame}/shown").status_code == 200


def test_a_frame_that_is_stopped_tells_for_how_long_it_was_exposed(client):
    """The file tells for how long it really was exposed."""
    sequence = to_the_field(client, "glass")
    number = sequence["plan"]["sequence"]["frames"][0]["number"]
    seconds = sequence["plan"]["sequence"]["frames"][0]["exposure_s"]
    assert seconds > 20, "a long exposure"
    frame, body = str(uuid4()), {"sequence_id": sequence["id"], "take_id": str(uuid4()), "number": number}
    assert client.put(f"/api/camera/frames/{frame}", json=body).json["state"] == "exposing"
    time.sleep(0.4)
    assert client.delete(f"/api/camera/frames/{frame}").status_code == 204
    assert client.put(f"/api/camera/frames/{frame}", json=body).json["state"] == "kept"
    exposed = read_photograph(client.get(f"/api/pictures/{frame}/file").data).facts.exposure_s
    assert 0.2 * HURRY < exposed < seconds


def test_without_a_camera_it_says_so(databases):
    made = create_app(Configuration(databases.fresh(demo=True), databases.files))
    client = made.test_client()
    assert client.get("/api/camera").json["there"] is False
    sequence = to_the_field(client, "stones")
    body = {"sequence_id": sequence["id"], "take_id": str(uuid4()), "number": 1}
    refused = client.put(f"/api/camera/frames/{uuid4()}", json=body)
    assert refused.status_code == 422 and "by hand" in refused.json["detail"]
    close(made)


def test_a_number_too_many_and_anything_that_is_no_camera_are_told(client, databases, no_camera):
    sequence = to_the_field(client, "stones")
    body = {"sequence_id": sequence["id"], "take_id": str(uuid4()), "number": 999}
    assert client.put(f"/api/camera/frames/{uuid4()}", json=body).status_code == 422
    made = create_app(Configuration(databases.fresh(demo=False), databases.files, camera_url=no_camera))
    assert made.test_client().get("/api/camera").json["trouble"]
    close(made)
