"""What takes teach: proposed with its evidence, taken on in every composition, seen in what is told, and given up again."""

from __future__ import annotations

import random
from datetime import UTC, datetime, timedelta
from math import log2
from typing import Any
from uuid import UUID, uuid4

import pytest
from sqlalchemy import select, update

from lucid_ridge.app.logbook.tables import Take
from lucid_ridge.app.review.tables import LookedRow

from .conftest import add_kit, add_place, example_scene
from .test_logbook import put_take

SEED = random.SystemRandom().randrange(10**6)
BEST_S = 0.35
BRIGHTER_STOPS = range(-2, 5)
"""Over as metered, an eighth of a second: a longer shutter time each."""


def scene_at(stops: float, look: str = "texture") -> dict[str, Any]:
    scene = example_scene()
    scene["composition"]["wants"]["water_look"] = look
    scene["composition"]["settings"]["compensation_stops"] = stops
    return scene


@pytest.fixture
def composition(client) -> dict[str, Any]:
    ids, place = add_kit(client), add_place(client)
    body = {"name": "Beck", "place_id": place, **ids, "composition": scene_at(0.0)["composition"]}
    made: dict[str, Any] = client.post("/api/compositions", json=body).json
    return made


@pytest.fixture
def logged(client, composition):
    """Forty takes of somebody who likes running water best at 0.35 s."""
    print("seed", SEED)
    r = random.Random(SEED)
    for stops in BRIGHTER_STOPS:
        body = {"id": str(uuid4()), "composition_id": composition["id"], "scene": scene_at(stops)}
        sequence = client.post("/api/sequences", json=body).json
        real = sequence["plan"]["sequence"]["frames"][0]["exposure_s"]
        for _ in range(6):
            stars = round(min(max(4.7 - 1.1 * abs(log2(real / BEST_S)) + r.gauss(0, 0.4), 1), 5))
            started = datetime(2025, 1, 1, tzinfo=UTC) + timedelta(minutes=r.randrange(500_000))
            put_take(client, sequence, started, rating=stars)
    return composition


def proposal(client) -> dict[str, Any]:
    [one] = client.get("/api/learning").json["proposals"]
    return dict(one)


def told(client, scene: dict[str, Any]) -> str:
    """What the tension about the look of the water says."""
    answer = client.post("/api/evaluate", json={"scene": scene, "changes": []}).json
    return next((t["sentence"] for t in answer["tensions"] if t["kind"] == "water_look"), "")


def test_a_look_is_proposed_taken_on_seen_and_given_up(client, logged):
    one = proposal(client)
    assert (one["key"], one["state"], one["taken_text"]) == ("look-texture", "proposed", "")
    assert "42 rated takes" in one["evidence"] and one["common_text"] == "1/4 s to 2 s"
    assert len(one["dots"]) == 42 and all(0 <= dot["x"] <= 1 and 0 <= dot["y"] <= 1 for dot in one["dots"])

    made = client.post("/api/learning/taken-on", json={"key": "look-texture"}).json
    assert made["compositions"] == 1 and made["proposals"][0]["state"] == "taken"
    saved = client.get(f"/api/compositions/{logged['id']}").json
    [own] = saved["composition"]["wants"]["own_looks"]
    assert own["look"] == "texture" and own["takes"] == 42
    assert own["shortest_s"] < BEST_S * 1.3 and own["longest_s"] > BEST_S / 1.3 and own["longest_s"] < 2

    slow = scene_at(4.0)
    assert "takes" not in told(client, slow)
    slow["composition"]["wants"]["own_looks"] = [own]
    assert "your own: " in told(client, slow) and "from 42 takes; common practice 1/4 s to 2 s" in told(client, slow)

    fresh = {key: logged[key] for key in ("place_id", "body_id", "lens_id", "support_id")}
    later = client.post("/api/compositions", json=fresh | {"name": "Next"}).json
    assert later["composition"]["wants"]["own_looks"] == [own], "new compositions have it"

    back = client.post("/api/learning/given-up", json={"key": "look-texture"}).json
    assert back["compositions"] == 2 and back["proposals"][0]["state"] == "proposed"
    assert client.get(f"/api/compositions/{logged['id']}").json["composition"]["wants"]["own_looks"] == []


def test_what_is_chosen_in_settings_leaves_what_was_learned(client, logged):
    client.post("/api/learning/taken-on", json={"key": "look-texture"})
    chosen = client.get("/api/preferences").json
    assert "learned" not in chosen
    assert client.put("/api/preferences", json=chosen | {"highest_iso": 800}).status_code == 200
    assert proposal(client)["state"] == "taken"


def test_a_look_that_takes_no_longer_tell_of_stays_and_can_be_given_up(client, logged):
    client.post("/api/learning/taken-on", json={"key": "look-texture"})
    for take in client.get("/api/takes?limit=200").json["takes"]:
        client.delete(f"/api/takes/{take['id']}")
    one = proposal(client)
    assert one["state"] == "taken" and "nothing clear" in one["evidence"]
    assert client.post("/api/learning/given-up", json={"key": "look-texture"}).json["proposals"] == []


def test_what_is_not_proposed_is_not_taken_on(client, composition):
    assert client.get("/api/learning").json == {"proposals": [], "rated": 0}
    for key in ("look-texture", "look-freeze", "look-any", "hold", "nonsense"):
        answer = client.post("/api/learning/taken-on", json={"key": key})
        assert (answer.status_code, answer.json["errors"][0]["pointer"]) == (422, "/key")
    assert client.post("/api/learning/given-up", json={"key": "hold"}).json["compositions"] == 0


def test_how_still_one_holds_is_learned_from_shaken_takes_and_leaves_a_factor_set_by_hand(client, composition):
    by_hand = {"name": "hands", "kind": "hand", "lowest_m": 0.2, "highest_m": 2.0}
    other = {key: composition[key] for key in ("place_id", "body_id", "lens_id", "support_id")}
    scene = scene_at(0.0)["composition"]
    scene["wants"]["hand_held_factor"] = 3.0
    mine = client.post("/api/compositions", json=other | {"name": "Mine", "composition": scene}).json
    for stops in range(-2, 5):
        scene = scene_at(stops, "any")
        scene["kit"]["support"] |= by_hand
        body = {"id": str(uuid4()), "composition_id": composition["id"], "scene": scene}
        sequence = client.post("/api/sequences", json=body).json
        for k in range(4):
            started = datetime(2025, 6, 1, 12, tzinfo=UTC) + timedelta(hours=10 * stops + k)
            put_take(client, sequence, started, faults=["shake"] if stops > 3 else [])
    [one] = client.get("/api/learning").json["proposals"]
    assert (one["key"], one["state"]) == ("hold", "proposed") and "4 of 28 takes by hand were shaken" in one["evidence"]
    made = client.post("/api/learning/taken-on", json={"key": "hold"}).json
    assert made["compositions"] == 1 and made["proposals"][0]["state"] == "taken"
    factor = client.get(f"/api/compositions/{composition['id']}").json["composition"]["wants"]["hand_held_factor"]
    assert 1.5 < factor <= 16
    assert client.get(f"/api/compositions/{mine['id']}").json["composition"]["wants"]["hand_held_factor"] == 3.0
    client.post("/api/learning/given-up", json={"key": "hold"})
    assert client.get(f"/api/compositions/{composition['id']}").json["composition"]["wants"]["hand_held_factor"] == 1.0


def test_a_pace_of_ones_own_is_learned_from_whole_takes_and_outings_count_on_it(demo):
    """Planned times from the plans themselves; a take that was cut short and one left open overnight say nothing."""
    first = demo.get("/api/takes").json["takes"][-1]
    plan = demo.get(f"/api/takes/{first['id']}").json
    sequence = demo.get(f"/api/sequences/{plan['sequence_id']}").json
    frames = sequence["plan"]["sequence"]["frames"]
    whole = sequence["plan"]["sequence"]["total"]["value"]
    began = datetime(2026, 9, 1, 6, tzinfo=UTC)
    for k, (factor, count) in enumerate([(1.6, len(frames))] * 20 + [(0.4, len(frames) - 1), (40.0, len(frames))]):
        start = began + timedelta(days=k % 25, hours=k % 3)
        body = {
            "sequence_id": plan["sequence_id"],
            "started_at": start.isoformat(),
            "ended_at": (start + timedelta(seconds=whole * factor)).isoformat(),
            "frames": [
                {"number": f["number"], "status": "done", "started_at": start.isoformat(), "exposed_s": f["exposure_s"]}
                for f in frames[:count]
            ],
        }
        assert demo.put(f"/api/takes/{uuid4()}", json=body).status_code == 201
    one = next(p for p in demo.get("/api/learning").json["proposals"] if p["key"] == "pace")
    assert one["state"] == "proposed" and one["own_text"] == "1.6 times as long as planned"
    outing = next(o for o in demo.get("/api/outings").json["outings"] if o["name"] == "Dawn at the tarn")
    body = {"outing": demo.get(f"/api/outings/{outing['id']}").json["outing"]}

    def minutes() -> dict[str, str]:
        plan = demo.post("/api/outings/plan", json=body).json["plan"]
        return {v["name"]: v["frames_text"] for day in plan["days"] for v in day["visits"]}

    before = minutes()
    assert demo.post("/api/learning/taken-on", json={"key": "pace"}).json["compositions"] == 0
    after = minutes()
    assert any("at your pace, 1.6 ×" in text for text in after.values())
    longer = [int(after[name].split(" ")[0]) / int(before[name].split(" ")[0]) for name in before.keys() & after.keys()]
    assert max(longer) > 1 and min(longer) >= 1
    assert demo.post("/api/learning/given-up", json={"key": "pace"}).status_code == 200
    assert minutes() == before


def take_like(demo, began: datetime, **rest: Any) -> Any:
    """A take like the demo's first, begun at another time: the answer of writing it."""
    first = demo.get("/api/takes").json["takes"][-1]
    kept = demo.get(f"/api/takes/{first['id']}").json
    frames = demo.get(f"/api/sequences/{kept['sequence_id']}").json["plan"]["sequence"]["frames"]
    body = {
        "sequence_id": kept["sequence_id"],
        "started_at": began.isoformat(),
        "ended_at": (began + timedelta(seconds=20)).isoformat(),
        "frames": [
            {"number": f["number"], "status": "done", "started_at": began.isoformat(), "exposed_s": f["exposure_s"]}
            for f in frames
        ],
    }
    return demo.put(f"/api/takes/{uuid4()}", json=body | rest)


def of_key(demo, key: str) -> dict[str, Any] | None:
    return next((p for p in demo.get("/api/learning").json["proposals"] if p["key"] == key), None)


def test_how_long_one_sets_up_is_learned_from_arrivals_and_new_visits_get_it(demo):
    began = datetime(2026, 9, 1, 6, tzinfo=UTC)
    minutes = [18, 20, 22, 19, 21, 20, 25, 16, 20, 20, 600, 0.2]
    for k, one in enumerate(minutes):
        start = began + timedelta(days=k)
        made = take_like(demo, start, arrived_at=(start - timedelta(minutes=one)).isoformat())
        assert made.status_code == 201 and made.json["set_up_text"]
    assert demo.get("/api/outings/usual-visit").json == {"set_up_min": 10, "set_up_text": "usual: 10", "margin_min": 15}
    one = of_key(demo, "set-up")
    assert one is not None and (one["state"], one["own_text"], one["common_text"]) == ("proposed", "20 min", "10 min")
    assert "Half of 10 times" in one["evidence"], "left open overnight or pressed in passing does not count"
    made = demo.post("/api/learning/taken-on", json={"key": "set-up"}).json
    assert made["holds_text"] == "In what is added to outings from now on." and made["compositions"] == 0
    assert demo.get("/api/outings/usual-visit").json["set_up_text"] == "your own: 20"
    taken = of_key(demo, "set-up")
    assert taken is not None and taken["state"] == "taken"
    demo.post("/api/learning/given-up", json={"key": "set-up"})
    assert demo.get("/api/outings/usual-visit").json["set_up_min"] == 10


def test_nobody_arrives_after_the_first_frame(demo):
    start = datetime(2026, 9, 1, 6, tzinfo=UTC)
    made = take_like(demo, start, arrived_at=(start + timedelta(minutes=1)).isoformat())
    assert (made.status_code, made.json["errors"][0]["pointer"]) == (422, "/arrived_at")


def test_how_long_a_charge_lasts_is_learned_from_flat_batteries_and_packing_lists_count_on_it(demo, demo_app):
    """Every second day the battery is flat by the last take; a day with two bodies says nothing."""
    with demo_app.extensions["database"].transaction() as session:
        shares = {row.body: row.charge for row in session.execute(select(Take.body, Take.charge)) if row.charge}
    assert len(shares) == 2 and all(0 < share < 0.5 for share in shares.values())
    began = datetime(2026, 7, 1, 6, tzinfo=UTC)
    for day in range(12):
        for k in range(8):
            flat = {"faults": ["flat battery"]} if k == 7 and day % 2 else {}
            assert take_like(demo, began + timedelta(days=day, minutes=10 * k), **flat).status_code == 201
    one = of_key(demo, "charge")
    assert one is not None and one["state"] == "proposed"
    assert "6 batteries ran flat, " in one["evidence"] and "lasted the day" in one["evidence"]
    outing = next(o for o in demo.get("/api/outings").json["outings"] if o["name"] == "Dawn at the tarn")
    body = {"outing": demo.get(f"/api/outings/{outing['id']}").json["outing"]}

    def charges() -> tuple[float, str]:
        groups = demo.post("/api/outings/plan", json=body).json["readiness"]["groups"]
        why = next(one["why"] for g in groups for one in g["lines"] if one["key"].startswith("batteries/"))
        return float(why.rsplit(": ", 1)[1].split(" ")[0]), why

    before, _ = charges()
    demo.post("/api/learning/taken-on", json={"key": "charge"})
    after, why = charges()
    assert after > before and "your own charge lasts 0." in why
    demo.post("/api/learning/given-up", json={"key": "charge"})
    assert charges()[0] == before
    with demo_app.extensions["database"].transaction() as session:
        session.execute(update(Take).where(Take.faults == ["flat battery"]).values(body="another body"))
    assert of_key(demo, "charge") is None


def test_how_far_to_back_off_is_learned_from_full_channels_and_exposing_goes_by_it(client, composition, app):
    """Somebody whose saturated colours are full with less than 1.3 stops of room; what nobody looked at says nothing."""
    room = {}
    for thirds in range(-9, 10):
        scene = scene_at(thirds / 3, "any")
        for element in scene["composition"]["elements"]:
            element["warm"] = element["holds_detail"] = element["name"] == "eastern sky"
        body = {"id": str(uuid4()), "composition_id": composition["id"], "scene": scene}
        sequence = client.post("/api/sequences", json=body).json
        for k in range(3):
            take = put_take(client, sequence, datetime(2025, 6, 1, 12, tzinfo=UTC) + timedelta(hours=30 * thirds + k))
            with app.extensions["database"].transaction() as session:
                left = session.get_one(Take, UUID(take)).warm_room_stops
                if k == 2:
                    continue
                full = [{"kind": "clipped", "channel": "red"}] if left < 1.3 else [{"kind": "shaken", "channel": None}]
                session.merge(
                    LookedRow(take_id=UUID(take), key="", looked_at=datetime.now(UTC), document={"findings": full})
                )
            room[thirds] = left
    assert room[3] == pytest.approx(room[0] - 1, abs=0.05), "a stop more of exposure leaves a stop less of room"
    one = of_key(client, "back-off")
    assert one is not None and (one["state"], one["common_text"]) == ("proposed", "1/3 to 2/3 stop")
    assert "of 38 takes" in one["evidence"]
    made = client.post("/api/learning/taken-on", json={"key": "back-off"}).json
    assert made["compositions"] == 1
    wants = client.get(f"/api/compositions/{composition['id']}").json["composition"]["wants"]
    assert 0.9 < wants["warm_back_off_stops"] < 1.7
    taken = of_key(client, "back-off")
    assert taken is not None and taken["state"] == "taken"

    scene["composition"]["wants"] = wants
    right = client.post("/api/evaluate", json={"scene": scene, "changes": []}).json["range"]["right_text"]
    assert "your own 1." in right and "backed off for its saturated colour" in right
    client.post("/api/learning/given-up", json={"key": "back-off"})
    wants = client.get(f"/api/compositions/{composition['id']}").json["composition"]["wants"]
    assert wants["warm_back_off_stops"] == 0.5
