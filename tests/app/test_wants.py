"""What is wanted and what is read, sent over HTTP: meters, moments, the light, the background, the order of frames."""

from __future__ import annotations

import json
import re
from datetime import datetime, timedelta

import pytest

from lucid_ridge.app.factory import Configuration, create_app

from .conftest import close, example_scene
from .test_contract import DOCUMENT

STACK = [
    {"kind": "slices", "mode": "gapless"},
    {"kind": "bracket", "mode": "manual", "offsets_stops": [-2, 0, 2]},
]


def ask(client, path, scene, changes=(), **more):
    answer = client.post(path, json={"scene": scene, "changes": list(changes), **more})
    assert answer.status_code == 200, answer.json
    return answer.json


def tension(made, kind):
    return next((t for t in made["tensions"] if t["kind"] == kind), None)


def test_a_reading_is_told_by_the_marks_of_the_meter(client):
    # APEX: f/11 and 1/125 at ISO 100 are EV 14; f/16 and 1/60 as well.
    for n, t in ((11, 1 / 125), (16, 1 / 60)):
        made = ask(client, "/api/evaluate", example_scene(), [{"kind": "meter", "aperture_n": n, "shutter_s": t}])
        reading = made["composition"]["reading"]
        assert reading["aperture_n"] ** 2 / reading["shutter_s"] == pytest.approx(2**14, rel=1e-9)
    assert made["ledger"]["read"] == {"aperture": "f/16", "shutter": "1/60 s", "iso": "100"}
    bare = example_scene()
    bare["composition"]["reading"] = None
    assert ask(client, "/api/evaluate", bare)["ledger"]["read"] is None
    wrong = client.post("/api/evaluate", json={"scene": bare, "changes": [{"kind": "meter", "shutter_s": 0}]})
    assert wrong.status_code == 422 and wrong.json["errors"][0]["pointer"].endswith("/shutter_s")


def test_the_light_that_is_wanted_is_a_tension_with_the_moment_to_go_to(client):
    scene = example_scene()
    scene["composition"]["light_wish"] = {"lowest_deg": 10.0, "highest_deg": 14.0}
    told = tension(ask(client, "/api/evaluate", scene), "light")
    (go,) = told["mend"]["changes"]
    assert go["kind"] == "moment"
    then = ask(client, "/api/evaluate", scene, [go])
    assert tension(then, "light") is None
    assert then["composition"]["moment_utc"] == go["moment_utc"]
    # The sun is where the wish wants it, and was not a minute before.
    assert 10.0 <= then["light"]["altitude"]["value"] + 0.2 <= 14.4
    before = datetime.fromisoformat(go["moment_utc"]) - timedelta(minutes=2)
    assert tension(ask(client, "/api/evaluate", scene, [go | {"moment_utc": before.isoformat()}]), "light")
    explained = client.post("/api/explain", json={"scene": scene, "key": "light.wish"}).json
    assert "sun at 10° to 14°" in str(explained["inputs"]) and explained["source"]
    wrong = client.post(
        "/api/evaluate", json={"scene": scene, "changes": [go | {"moment_utc": "2150-01-01T00:00:00Z"}]}
    )
    assert wrong.status_code == 422 and wrong.json["errors"][0]["pointer"] == "/composition/moment_utc"


def test_a_smooth_background_is_wanted_judged_and_explained(client):
    scene = example_scene()
    scene["composition"]["wants"]["smooth_background"] = 0.05
    told = tension(ask(client, "/api/evaluate", scene), "background")
    assert told["mend"] is None and told["why_no_mend"]
    report = ask(client, "/api/ways", scene)
    assert not report["found"] and report["relax"]
    explained = client.post("/api/explain", json={"scene": scene, "key": told["figure"]["explain"]}).json
    assert explained["result"].endswith("%") and "Ray" in explained["source"]
    for share in (0, -0.1, 1.5, "smooth"):
        scene["composition"]["wants"]["smooth_background"] = share
        answer = client.post("/api/evaluate", json={"scene": scene})
        assert answer.status_code == 422, share
        assert answer.json["errors"][0]["pointer"].endswith("/wants/smooth_background")


def test_both_orders_of_frames_are_told_and_add_up(client):
    made = ask(client, "/api/evaluate", example_scene(), STACK)["sequence"]
    assert sum(one["take"] for one in made["orders"]) == 1
    for one in made["orders"]:
        scene = example_scene()
        scene["composition"]["technique"]["order"] = one["order"]
        sequence = ask(client, "/api/evaluate", scene, STACK)["sequence"]
        assert sequence["total"]["value"] == pytest.approx(one["total"]["value"])
        assert sequence["total"]["value"] == pytest.approx(sum(f["duration_s"] for f in sequence["frames"]))
        assert sum("focus" in f["changed"] for f in sequence["frames"]) == one["refocused"]
        key = f"sequence.order_stack:{one['order']}"
        explained = client.post("/api/explain", json={"scene": scene, "changes": STACK, "key": key}).json
        assert one["within_stack"]["text"] in str(explained["inputs"])
    # With a single focus there is nothing to order.
    assert ask(client, "/api/evaluate", example_scene(), STACK[1:])["sequence"]["orders"] == []


def test_a_taken_sequence_carries_its_orders_into_the_files(client):
    answer = client.post(
        "/api/sequence-file", json={"scene": example_scene(), "changes": STACK, "name": "Tarn", "form": "json"}
    )
    kept = json.loads(answer.data)
    assert {one["order"] for one in kept["sequence"]["orders"]} == {"brackets_inside", "slices_inside"}


def test_the_document_is_served_as_it_is_kept(databases):
    app = create_app(Configuration(databases.fresh(demo=False), document=DOCUMENT))
    served = app.test_client().get("/api/openapi.json")
    assert served.json == json.loads(DOCUMENT.read_text())
    # Every route under /api is in it, and nothing else.
    routes = {
        (re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", rule.rule), method)
        for rule in app.url_map.iter_rules()
        for method in rule.methods - {"HEAD", "OPTIONS"}
        if rule.rule.startswith("/api/") and rule.rule != "/api/openapi.json"
    }
    told = {(path, method.upper()) for path, methods in served.json["paths"].items() for method in methods}
    assert routes == told
    close(app)
