"""Pictures that came back: which frames they are of, what they show, and what that changes."""

from __future__ import annotations

import io
import threading
from datetime import datetime, timedelta
from typing import Any
from uuid import uuid4

import pytest
from PIL import Image
from pydantic import TypeAdapter

from lucid_ridge.app.pictures import operations as pictures
from lucid_ridge.app.review.looking import look_at
from lucid_ridge.core.changes.apply import apply_changes
from lucid_ridge.core.changes.kinds import SetTo, TakeSlices
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.rehearsal.mishaps import Mishap
from lucid_ridge.demo.names import demo_id
from lucid_ridge.demo.pictures import taken
from lucid_ridge.demo.valley import scene_of
from tests.app.test_jobs import ended

SLICED = apply_changes(scene_of("boathouse"), (TakeSlices(mode="gapless"), SetTo(setting="aperture", value=5.6)))
"""Four slices."""


def as_json(scene: Scene) -> dict[str, Any]:
    made: dict[str, Any] = TypeAdapter(Scene).dump_python(scene, mode="json")
    return made


def planned(client, scene: Scene = SLICED) -> dict[str, Any]:
    """A sequence taken to the field."""
    body = {"id": str(uuid4()), "composition_id": str(demo_id("composition/boathouse")), "scene": as_json(scene)}
    made = client.post("/api/sequences", json=body)
    assert made.status_code == 201, made.json
    return made.json


def brought(client, data: bytes, name: str = "a.jpg") -> dict[str, Any]:
    """Bring a picture in."""
    answer = client.put(f"/api/pictures/{uuid4()}?name={name}", data=data, content_type="image/jpeg")
    assert answer.status_code in (200, 201), answer.json
    return answer.json


def came_back(
    client, scene: Scene = SLICED, clock_off_s: float = 0.0, mishaps: tuple[Mishap, ...] = (), px: int = 1200
):
    """Bring in the frames of a scene as a camera with a wrong clock took them."""
    began = scene.composition.moment_utc + timedelta(seconds=clock_off_s)
    return [brought(client, data, f"f{n}.jpg")["picture"]["id"] for n, data in taken(scene, began, mishaps, px)]


def done() -> None:
    """Wait for what goes on in the background."""
    for thread in threading.enumerate():
        if thread.name.startswith("job "):
            thread.join(120)


def a_take_of(client, pictures: list[str]) -> tuple[str, dict[str, Any]]:
    """Take on what the pictures are proposed to be; the take, and what was proposed."""
    proposed = client.get("/api/review/matches").json
    one = next(m for m in proposed["matched"] if {p["picture_id"] for p in m["pictures"]} == set(pictures))
    body = {name: one[name] for name in ("sequence_id", "take_id", "pictures")} | {
        "clock_off_s": proposed["clock_off_s"]
    }
    answer = client.post("/api/review/matches", json=body)
    assert answer.status_code == 200, answer.json
    return answer.json["take_id"], proposed


@pytest.mark.parametrize(
    ("off_s", "said"), [(0, "was right"), (7 * 60, "7 min fast"), (3600, "1 h fast"), (-7200, "2 h slow")]
)
def test_pictures_find_their_sequence_whatever_the_clock_showed(demo, off_s, said):
    sequence = planned(demo)
    pictures = came_back(demo, clock_off_s=off_s, px=400)
    take, proposed = a_take_of(demo, pictures)
    assert said in proposed["clock_text"]
    found = demo.get(f"/api/takes/{take}").json
    assert found["sequence_id"] == sequence["id"] and [row["status"] for row in found["compared"]] == ["done"] * 4
    of_take = demo.get(f"/api/pictures?take_id={take}").json["pictures"]
    assert [(p["id"], p["number"]) for p in of_take] == [(i, k) for k, i in enumerate(pictures, 1)]
    assert demo.post("/api/review/let-go", json={"pictures": pictures}).status_code == 204
    assert demo.get("/api/pictures?loose=true").json["loose"] == 4
    # The take that was made goes with that, and comes back when they are taken on again.
    assert demo.delete(f"/api/takes/{take}").status_code == 204
    assert a_take_of(demo, pictures)[0] == take
    assert len(demo.get(f"/api/pictures?take_id={take}").json["pictures"]) == 4
    assert demo.get(f"/api/takes/{take}").status_code == 200


def test_a_missed_slice_is_found_proposed_and_put_into_the_composition(demo):
    planned(demo)
    take, _ = a_take_of(demo, came_back(demo, mishaps=(Mishap(kind="missed_slice", frame=3, size=1),), px=1500))
    assert demo.get(f"/api/review/takes/{take}").json["state"] == "none"
    assert demo.post(f"/api/review/takes/{take}/look", json={}).status_code == 202
    done()
    looked = demo.get(f"/api/review/takes/{take}").json
    assert looked["state"] == "good"
    at, missed = next((i, s) for i, s in enumerate(looked["shown"]) if s["kind"] == "slice_missing")
    assert missed["title"].startswith("Slice 3,") and missed["fault"] == "missed slice" and missed["sure"] == "certain"
    assert not any(s["kind"] in ("camera_moved", "shaken") for s in looked["shown"])
    ident = str(demo_id("composition/boathouse"))
    before = demo.get(f"/api/compositions/{ident}").json
    answer = demo.post(f"/api/review/takes/{take}/next-time", json={"finding": at, "proposal": 0})
    assert answer.status_code == 200, answer.json
    after = demo.get(f"/api/compositions/{ident}").json
    assert after["version"] == answer.json["version"] == before["version"] + 1
    assert after["composition"]["technique"]["slices"] == "manual"
    assert len(after["composition"]["technique"]["manual_foci_m"]) == 4
    gone = demo.post(f"/api/review/takes/{take}/next-time", json={"finding": 99, "proposal": 0})
    assert gone.status_code == 422 and "again" in gone.json["detail"]


def test_a_picture_is_kept_once_and_as_it_came(demo):
    data = next(taken(SLICED, SLICED.composition.moment_utc, longest_px=400))[1]
    first, second = brought(demo, data, "one.jpg"), brought(demo, data, "the same.jpg")
    assert not first["known"] and second["known"] and first["picture"]["id"] == second["picture"]["id"]
    ident = first["picture"]["id"]
    assert demo.get(f"/api/pictures/{ident}/file").data == data
    small = Image.open(io.BytesIO(demo.get(f"/api/pictures/{ident}/small").data))
    assert max(small.size) <= 360
    assert demo.delete(f"/api/pictures/{ident}").status_code == 204
    assert brought(demo, data)["known"] is False, "one that was taken out may come back"


def test_what_is_no_picture_is_refused_and_says_what_to_do(demo):
    answer = demo.put(f"/api/pictures/{uuid4()}?name=a.jpg", data=b"\xff\xd8 nothing", content_type="image/jpeg")
    assert answer.status_code == 422 and answer.json["detail"].count(" ") > 4


def test_pictures_are_judged_over_the_version_that_was_seen(demo):
    data = next(taken(SLICED, SLICED.composition.moment_utc, longest_px=400))[1]
    one = brought(demo, data)["picture"]
    judged = demo.put(f"/api/pictures/{one['id']}/judged", json={"version": 1, "rating": 4, "verdict": "keep"})
    assert (judged.json["rating"], judged.json["verdict"], judged.json["version"]) == (4, "keep", 2)
    stale = demo.put(f"/api/pictures/{one['id']}/judged", json={"version": 1, "rating": 1, "verdict": None})
    assert stale.status_code == 409 and stale.json["current"]["rating"] == 4
    wrong = demo.put(f"/api/pictures/{one['id']}/judged", json={"version": 2, "rating": 6, "verdict": None})
    assert wrong.status_code == 422


def test_pictures_that_fit_nothing_become_takes_of_their_own_and_loose_again(demo):
    """Two sequences that nobody planned, an hour apart, by a camera whose clock is at the time of the place."""
    old = SLICED.composition.moment_utc - timedelta(days=400)
    for began in (old, old + timedelta(hours=1)):
        for number, data in taken(SLICED, began, longest_px=400):
            brought(demo, data, f"{began:%H}-{number}.jpg")
    proposed = demo.get("/api/review/matches").json
    assert proposed["matched"] == [] and proposed["clock_off_s"] is None
    one, other = proposed["groups"]
    assert [len(group["pictures"]) for group in (one, other)] == [4, 4]
    assert one["told"] == "4 frames, focused at 4 distances"
    place = next(p for p in demo.get("/api/places").json["places"] if p["place"]["name"] == "Hollin Tarn")
    body = {"place_id": place["id"], "name": "Reeds, unplanned", "clock_off_s": None, "pictures": one["pictures"]}
    made = demo.post("/api/review/groups", json=body)
    assert made.status_code == 200, made.json
    assert demo.post("/api/review/groups", json=body).status_code == 422, "they belong to a take by now"
    take = demo.get(f"/api/takes/{made.json['take_id']}").json
    assert take["composition_id"] is None and take["composition_name"] == "Reeds, unplanned"
    assert datetime.fromisoformat(take["started_at"]) == old.replace(microsecond=0)
    assert [row["status"] for row in take["compared"]] == ["done"] * 4
    assert take["plan"]["unplanned"] and take["plan"]["sequence"]["slice_count"] == 4
    listed = demo.get("/api/takes?words=reeds").json["takes"]
    assert [(t["frames_done"], t["frames_planned"]) for t in listed] == [(4, 4)] and "filters" not in listed[0][
        "settings_text"
    ]
    looked = demo.post(f"/api/review/takes/{take['id']}/look")
    assert ended(demo, looked.json)["text"].startswith("This take was put together of its pictures")
    rated = {"version": take["version"], "rating": 4, "faults": [], "note": "worth planning"}
    saved = demo.put(f"/api/takes/{take['id']}/review", json=rated)
    assert saved.status_code == 200, saved.json
    # Undone: they are loose again, and what was put together is no plan that they fit.
    assert demo.post("/api/review/let-go", json={"pictures": one["pictures"]}).status_code == 204
    assert demo.delete(f"/api/takes/{take['id']}").status_code == 204
    again = demo.get("/api/review/matches").json
    assert again["matched"] == [] and len(again["groups"]) == 2
    assert demo.post("/api/review/groups", json=body).json == made.json
    assert demo.get(f"/api/takes/{take['id']}").json["rating"] == 4


def test_a_take_of_its_own_needs_a_place_a_name_and_pictures(demo):
    data = next(taken(SLICED, SLICED.composition.moment_utc - timedelta(days=300), longest_px=400))[1]
    one = brought(demo, data)["picture"]["id"]
    place = demo.get("/api/places").json["places"][0]["id"]
    good = {"place_id": place, "name": "Reeds", "clock_off_s": None, "pictures": [one]}
    for wrong, status in (
        ({"place_id": str(uuid4())}, 404),
        ({"name": "  "}, 422),
        ({"pictures": []}, 422),
        ({"pictures": [str(uuid4())]}, 404),
        ({"clock_off_s": "late"}, 422),
    ):
        refused = demo.post("/api/review/groups", json=good | wrong)
        assert refused.status_code == status and refused.json["detail"], wrong


def test_a_take_without_pictures_has_nothing_to_look_at(demo):
    take = demo.get("/api/takes").json["takes"][0]["id"]
    assert demo.get(f"/api/review/takes/{take}").json == {"state": "none", "pictures": 0, "shown": []}
    assert demo.post(f"/api/review/takes/{take}/look", json={}).status_code == 422


def test_a_single_frame_that_is_softer_than_earlier_takes_says_so(demo_app, demo):
    """Three good ones and one that was put down to shake, which is no yardstick; then one whose focus was off."""
    scene, ids = scene_of("stones"), []
    for k in range(5):
        began = scene.composition.moment_utc - timedelta(days=40 - k)
        mishaps = (Mishap(kind="focus_off", frame=1, size=3),) if k in (1, 4) else ()
        sequence = uuid4()
        body = {
            "id": str(sequence),
            "composition_id": str(demo_id("composition/stones")),
            "scene": TypeAdapter(Scene).dump_python(scene, mode="json"),
        }
        assert demo.post("/api/sequences", json=body).status_code == 201
        take = uuid4()
        with demo_app.app_context():
            for number, data in taken(scene, began, mishaps, 1000, seed=k):
                pictures.keep(uuid4(), f"{k}-{number}.jpg", data, pictures.Frame(sequence, number, take))
        record = {
            "sequence_id": str(sequence),
            "started_at": began.isoformat(),
            "ended_at": (began + timedelta(seconds=30)).isoformat(),
            "frames": [{"number": 1, "status": "done", "started_at": began.isoformat(), "exposed_s": 0.5}],
            "faults": ["shake"] if k == 1 else [],
        }
        assert demo.put(f"/api/takes/{take}", json=record).status_code == 201
        with demo_app.app_context():
            look_at(take)
        ids.append(take)
    shown = [
        [one for one in demo.get(f"/api/review/takes/{take}").json["shown"] if one["kind"] == "soft"] for take in ids
    ]
    assert [len(one) for one in shown] == [0, 0, 0, 0, 1], "too few before, and good ones"
    (found,) = shown[-1]
    assert "softer in frame 1 than in 3 earlier takes" in found["title"] and found["next_time"]
    assert "stones" in found["title"].lower()
