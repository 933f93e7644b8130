"""Rehearsals and practice over the API: frames drawn by their own process, drills asked, judged and brought back."""

from __future__ import annotations

import io
from base64 import b64decode
from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest
from PIL import Image

from lucid_ridge.app.database import now
from lucid_ridge.app.practice.cards import LOGGED_AS, answered, due_at, order
from lucid_ridge.app.practice.schemas import Practice
from lucid_ridge.app.rehearsal.desk import Desk
from lucid_ridge.app.rehearsal.messages import Asked, Drawn, LacksTerrain
from lucid_ridge.app.rehearsal.studio import DESK
from lucid_ridge.calc.requests import SceneRequest
from lucid_ridge.core.practice.drills import keys

from .conftest import add_kit, add_place, example_scene


def _picture(coded: str) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(b64decode(coded))).convert("RGB"))


def _stack():
    scene = example_scene()
    scene["composition"]["technique"] = {"slices": "gapless"}
    scene["composition"]["settings"]["aperture_n"] = 4.0
    return scene


def test_a_plan_lists_every_frame_and_what_is_invented(client):
    made = client.post("/api/rehearsal", json={"scene": _stack()})
    assert made.status_code == 200
    frames = made.json["frames"]
    assert [f["number"] for f in frames] == list(range(1, made.json["count"] + 1)) and len(frames) > 3
    assert all("ISO" in f["settings"] for f in frames) and len({f["title"] for f in frames}) == len(frames)
    assert any("invented" in text for text in made.json["invented"])
    assert {m["kind"] for m in made.json["mishaps"]} >= {"camera_moved", "missed_slice", "shake"}
    assert made.json["shutters"] and len(made.json["apertures"]) > 3


def test_a_frame_is_a_jpeg_of_the_size_asked_for_and_the_same_each_time(client):
    body = {"scene": example_scene(), "longest_px": 480}
    first, again = (client.post("/api/rehearsal/frame", json=body).json for _ in range(2))
    assert first["jpeg"] == again["jpeg"]
    assert _picture(first["jpeg"]).shape == (first["height"], first["width"], 3)
    assert max(first["width"], first["height"]) == 480
    assert len(first["told"]["histogram"]) == 3 and all(len(row) == 64 for row in first["told"]["histogram"])


def test_a_change_a_mishap_a_time_and_a_piece_each_give_another_picture(client):
    base = {"scene": example_scene(), "longest_px": 320}
    plain = client.post("/api/rehearsal/frame", json=base).json["jpeg"]
    others = [
        {"changes": [{"kind": "turn_aim", "right_deg": 5, "up_deg": 0}]},
        {"mishaps": [{"kind": "shake", "frame": 1, "size": 300}]},
        {"shutter_s": 30},
        {"aperture_n": 2.8284271247461903, "piece": {"x": 0.5, "y": 0.6}},
        {"piece": {"x": 0.5, "y": 0.6}},
    ]
    drawn = [client.post("/api/rehearsal/frame", json=base | one) for one in others]
    assert [one.status_code for one in drawn] == [200] * len(others)
    assert len({one.json["jpeg"] for one in drawn} | {plain}) == len(others) + 1
    assert (drawn[-1].json["width"], drawn[-1].json["height"]) == (600, 400)


def test_a_proof_says_what_a_missed_slice_leaves_soft(client):
    base = {"scene": _stack(), "longest_px": 320}
    whole = client.post("/api/rehearsal/proof", json=base).json
    count = client.post("/api/rehearsal", json=base | {}).status_code
    assert count == 422, "what is not known is refused"
    missing = client.post(
        "/api/rehearsal/proof", json=base | {"mishaps": [{"kind": "missed_slice", "frame": 2, "size": 1}]}
    ).json
    assert "Merged from" in whole["told"]["title"]
    assert whole["told"]["told"] != missing["told"]["told"] and "Soft in every frame" in missing["told"]["told"][0]
    assert missing["soft"] is not None


@pytest.mark.parametrize(
    ("part", "pointer"),
    [
        ({"number": 999}, "/number"),
        ({"number": 0}, "/number"),
        ({"longest_px": 100_000}, "/longest_px"),
        ({"piece": {"x": 2, "y": 0}}, "/piece/x"),
        ({"mishaps": [{"kind": "rain", "frame": 1, "size": 1}]}, "/mishaps/0"),
        ({"mishaps": [{"kind": "shake", "frame": 1, "size": 0}]}, "/mishaps/0/size"),
    ],
)
def test_what_cannot_be_drawn_is_named(client, part, pointer):
    made = client.post("/api/rehearsal/frame", json={"scene": example_scene()} | part)
    assert made.status_code == 422
    assert made.json["errors"][0]["pointer"].startswith(pointer)


def test_an_empty_picture_can_be_drawn(client):
    scene = example_scene()
    scene["composition"]["elements"] = []
    scene["composition"]["reading"] = None
    made = client.post("/api/rehearsal/frame", json={"scene": scene, "longest_px": 320})
    assert made.status_code == 200


def test_where_the_drawing_process_was_killed_the_next_frame_has_another(client):
    body = {"scene": example_scene(), "longest_px": 320}
    first = client.post("/api/rehearsal/frame", json=body).json["jpeg"]
    assert DESK.process is not None
    DESK.process.kill()
    DESK.process.wait()
    assert client.post("/api/rehearsal/frame", json=body).json["jpeg"] == first


def test_every_demo_composition_can_be_drawn_over_its_terrain(demo):
    """By the workbench's own way: with the place's terrain, which the drawing process is told once."""
    for one in demo.get("/api/compositions").json["compositions"][:3]:
        drill = {"key": "shutter", "composition_id": one["id"], "seed": 3, "level": 0}
        made = demo.post("/api/practice/picture", json=drill)
        assert made.status_code in (200, 422), made.json


# --- practice


def _answer(client, drill, given, took_s=20.0):
    ref = {k: drill[k] for k in ("key", "composition_id", "seed", "level")}
    return client.post("/api/practice/answers", json=ref | {"given": given, "took_s": took_s})


def test_nothing_is_asked_before_there_is_a_composition(client):
    made = client.post("/api/practice/next", json={}).json
    assert made["drill"] is None and "Make one first" in made["why_none"]


def test_ten_drills_are_asked_judged_and_remembered(demo):
    after, seen = None, []
    for _ in range(10):
        drill = demo.post("/api/practice/next", json={"after": after}).json["drill"]
        assert drill["key"] != after
        asked = drill["asked"]
        given = asked["options"][0]["value"] if asked["options"] else "1/4"
        made = _answer(demo, drill, given)
        assert made.status_code == 200, made.json
        answer = made.json["answer"]
        assert answer["truth"] and answer["reasons"]
        card = made.json["card"]
        assert card["answered"] >= 1 and (card["right"] == card["answered"]) == (False not in card["last"])
        after = drill["key"]
        seen.append(after)
    progress = demo.get("/api/practice").json
    assert progress["answered"] == 10 and len({*seen}) > 4
    assert {c["key"] for c in progress["cards"]} == set(keys())


def test_what_the_logbook_is_full_of_comes_first(demo):
    progress = demo.get("/api/practice").json
    logged = {c["key"]: c["logged"] for c in progress["cards"]}
    assert max(logged.values()) > 0
    first = demo.post("/api/practice/next", json={}).json["drill"]
    assert logged[first["key"]] == max(logged.values())


def test_a_wrong_answer_comes_back_sooner_and_easier_and_right_ones_get_harder():
    at = now()
    card = None
    for _ in range(9):
        card = answered(card, True, 20, at)
        at = due_at(card) or at
    assert card is not None
    assert card.level == 3
    wrong = answered(card, False, 20, at)
    right = answered(card, True, 20, at)
    assert (due_at(wrong) or at) - at < timedelta(hours=1) < (due_at(right) or at) - at
    assert wrong.level == 2 and right.right == 10


def test_due_cards_come_before_new_ones_and_the_last_asked_at_the_end():
    at = now()
    practice = Practice(
        cards={"focus": answered(None, False, 5, at - timedelta(days=2)), "stops": answered(None, True, 5, at)}
    )
    assert order(practice, {}, at, None)[0] == "focus"
    assert order(practice, {}, at, "focus")[-1] == "focus"
    assert order(practice, {"mishap:gust": 3}, at, "focus")[0] == "mishap:gust"
    assert set(order(practice, {}, at, None)) == set(keys())
    assert {one for each in LOGGED_AS.values() for one in each} <= set(keys())


def test_a_typed_answer_may_be_a_fraction_and_no_other_text(demo):
    one = demo.get("/api/compositions").json["compositions"][0]
    drill = {"key": "stops", "composition_id": one["id"], "seed": 11, "level": 0}
    made = _answer(demo, drill, "soon")
    assert made.status_code == 422 and "1/8" in made.json["errors"][0]["message"]
    truth = _answer(demo, drill, "1/4000").json["answer"]["truth"]
    given = truth.replace(" s", "").replace(" min", "")
    if "min" not in truth:
        assert _answer(demo, drill, given).json["answer"]["right"]
    assert _answer(demo, drill, "1/0").status_code == 422


def test_a_drill_of_a_composition_that_was_changed_or_deleted_is_said(demo):
    listed = demo.get("/api/compositions").json["compositions"]
    ref = {"key": "shutter", "composition_id": listed[0]["id"], "seed": 1, "level": 0}
    still = demo.post("/api/practice/picture", json=ref | {"key": "mishap:nonsense"})
    assert still.status_code == 422 and "Go on to the next" in still.json["errors"][0]["message"]
    assert demo.delete(f"/api/compositions/{listed[0]['id']}").status_code == 204
    assert demo.post("/api/practice/picture", json=ref).status_code == 404


def test_pairs_are_drawn_and_differ_where_something_went_wrong(demo):
    drawn = 0
    for _ in range(12):
        drill = demo.post("/api/practice/next", json={"after": "focus"}).json["drill"]
        if drill["asked"]["picture"] != "pair":
            _answer(demo, drill, "1")
            continue
        ref = {k: drill[k] for k in ("key", "composition_id", "seed", "level")}
        made = demo.post("/api/practice/picture", json=ref).json
        left, right = (_picture(one).astype(float) for one in made["jpegs"])
        truth = _answer(demo, drill, "nothing").json["answer"]
        if not truth["right"] and made["seen"]:
            assert np.percentile(np.abs(left - right).max(axis=2), 99) > 8
        drawn += 1
        if drawn == 3:
            break
    assert drawn == 3


def test_practice_is_one_persons_own(client):
    ids, place = add_kit(client), add_place(client)
    composition = example_scene()["composition"]
    composition["settings"]["filters"] = []
    body = {"name": "Tarn", "place_id": place, **ids, "composition": composition}
    assert client.post("/api/compositions", json=body).status_code == 201
    drill = client.post("/api/practice/next", json={}).json["drill"]
    assert drill["composition"] == "Tarn"
    assert _answer(client, drill, "1").status_code == 200
    assert client.get("/api/practice").json["answered"] == 1


def test_a_terrain_that_is_not_at_hand_yet_is_asked_for_again():
    """The drawing process must not remember that there was none."""
    scene = SceneRequest.model_validate({"scene": example_scene()}).scene
    scene = replace(scene, place=replace(scene.place, horizon="terrain", terrain_id="t"))
    desk, asked = Desk(), Asked(scene=scene, mishaps=(), longest_px=160)
    assert isinstance(desk.answer(asked), LacksTerrain)
    desk.learn("t", None)
    assert isinstance(desk.answer(asked), Drawn)
    assert isinstance(desk.answer(asked), LacksTerrain)
    for name in "abcd":
        desk.learn(name, None)
    plain = replace(scene, place=replace(scene.place, horizon="flat", terrain_id=None))
    assert isinstance(desk.answer(replace(asked, scene=plain)), Drawn)
