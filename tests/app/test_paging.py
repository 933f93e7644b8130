"""Lists a page at a time: whole, in order, each entry once, whatever is added or deleted meanwhile."""

from __future__ import annotations

import random

import pytest

from .conftest import add_kit, add_place, example_scene

FILTER = {"kind": "filter", "details": {"id": "x", "name": "", "kind": "nd", "stops": 6}}


def pages(client, path: str, field: str, limit: int, between=lambda: None):
    found, after = [], None
    while True:
        query = {"limit": limit} | ({"after": after} if after else {})
        answer = client.get(path, query_string=query)
        assert answer.status_code == 200, answer.json
        assert len(answer.json[field]) <= limit
        found += answer.json[field]
        after = answer.json["next"]
        if after is None:
            return found
        between()


def add_filter(client, name: str) -> str:
    made = client.post("/api/kit", json={"item": FILTER | {"details": FILTER["details"] | {"name": name}}})
    return str(made.json["id"])


@pytest.mark.parametrize("limit", [1, 2, 3, 7, 8, 1000])
def test_every_entry_comes_once_and_in_order_also_with_like_names(client, limit):
    names = ["ND 6", "nd 6", "ND 6", "Ñandú, grey", "", "zz'\"%_", "ND 10"]
    ids = {add_filter(client, name or "?") for name in names}
    whole = client.get("/api/kit").json
    assert whole["next"] is None and {one["id"] for one in whole["items"]} == ids
    assert [one["id"] for one in pages(client, "/api/kit", "items", limit)] == [one["id"] for one in whole["items"]]


def test_what_is_added_and_deleted_meanwhile_shifts_nothing(client):
    rng = random.Random(5)
    there = [add_filter(client, f"filter {rng.random():.6f}") for _ in range(12)]
    gone = there[::4]

    def meanwhile():
        add_filter(client, f"filter {rng.random():.6f}")
        if gone:
            client.delete(f"/api/kit/{gone.pop()}")

    seen = [one["id"] for one in pages(client, "/api/kit", "items", 3, meanwhile)]
    assert len(seen) == len(set(seen)) and set(there) - set(there[::4]) <= set(seen)


def test_places_and_compositions_page_alike(client):
    kit, scene = add_kit(client), example_scene()
    places = [add_place(client, name=name) for name in ("Mire", "Fell", "Mire")]
    for i, place in enumerate(places):
        for k in range(3):
            sent = {"name": f"Study {k % 2}", "place_id": place, **kit, "composition": scene["composition"]}
            assert client.post("/api/compositions", json=sent).status_code == 201, i
    assert [one["id"] for one in pages(client, "/api/places", "places", 2)] == [
        one["id"] for one in client.get("/api/places").json["places"]
    ]
    found = pages(client, "/api/compositions", "compositions", 4)
    assert len(found) == 9 and len({one["id"] for one in found}) == 9
    assert [(one["place_name"], one["name"]) for one in found] == sorted(
        (one["place_name"], one["name"]) for one in found
    )
    assert {one["elements"] for one in found} == {len(scene["composition"]["elements"])}


@pytest.mark.parametrize("path", ["kit", "places", "compositions", "tracks", "terrains", "takes"])
@pytest.mark.parametrize(
    "after", ["x", "!!!", "W10=", "WyJhIiwgImIiXQ==", "bnVsbA==", "MQ==", "WyJcdTAwMDAiLCAiXHUwMDAwIiwgImEiXQ=="]
)
def test_a_cursor_that_is_none_is_refused_by_name(client, path, after):
    answer = client.get(f"/api/{path}", query_string={"after": after})
    assert answer.status_code == 422 and answer.json["errors"][0]["pointer"] == "/after"
    assert "begin at its start" in answer.json["errors"][0]["message"]


@pytest.mark.parametrize("limit", ["0", "-1", "1001", "many"])
def test_a_page_has_a_size(client, limit):
    assert client.get("/api/kit", query_string={"limit": limit}).status_code == 422
