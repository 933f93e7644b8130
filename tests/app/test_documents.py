"""Documents over the years: old ones are brought forward, and nothing that is not understood is lost by a save."""

from __future__ import annotations

from dataclasses import dataclass

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter
from sqlalchemy import text

from lucid_ridge.app.compositions.documents import COMPOSITION
from lucid_ridge.app.documents import DocumentKind, UnreadableError, renamed

from .conftest import add_kit, add_place, example_scene


@dataclass(frozen=True)
class Leaf:
    id: str
    size: float = 1.0


@dataclass(frozen=True)
class Tree:
    height: float
    leaves: tuple[Leaf, ...] = ()


TREE = DocumentKind("tree", TypeAdapter(Tree), (lambda old: renamed(old, {"tall": "height"}),))

words = st.text("abc", min_size=1, max_size=3)
strange = st.dictionaries(words.map(lambda w: "x_" + w), st.integers() | words | st.lists(st.integers()), max_size=3)
leaves = st.lists(st.tuples(words, st.floats(0, 9), strange), max_size=4, unique_by=lambda one: one[0])


def test_an_old_document_is_brought_forward_once():
    assert TREE.version == 2
    assert TREE.read({"tall": 3.0}) == Tree(3.0) == TREE.read({"schema_version": 2, "height": 3.0})
    # A document of today that happens to carry a field of an old name is not translated again.
    assert TREE.read({"schema_version": 2, "height": 3.0, "tall": 9.0}) == Tree(3.0)
    with pytest.raises(UnreadableError, match="tree"):
        TREE.read({"schema_version": 2, "tall": 3.0})


@given(st.floats(0, 9), leaves, strange, st.randoms(use_true_random=False))
def test_what_is_unknown_outlives_a_save(height, kept, more, rng):
    saved = {
        "schema_version": 7,
        "height": 1.0,
        "leaves": [{"id": name, "size": size, **extra} for name, size, extra in kept],
        **more,
    }
    # The leaves are changed and come in another order; one may be gone.
    changed = [Leaf(name, size + 1) for name, size, _ in kept]
    rng.shuffle(changed)
    written = TREE.write(Tree(height, tuple(changed[:3])), saved)
    assert written["height"] == height and written["schema_version"] == 7
    assert {k: written[k] for k in more} == more
    extras = {name: extra for name, _, extra in kept}
    for leaf, one in zip(written["leaves"], changed[:3], strict=True):
        assert leaf == {"id": one.id, "size": one.size, **extras[one.id]}
    assert TREE.read(written) == Tree(height, tuple(changed[:3]))


def test_entries_that_share_an_id_are_all_kept():
    saved = {"schema_version": 2, "height": 1.0, "leaves": [{"id": "a", "size": 1.0, "x_": 1}]}
    written = TREE.write(Tree(1.0, (Leaf("a", 2.0), Leaf("a", 3.0))), saved)
    assert [leaf["size"] for leaf in written["leaves"]] == [2.0, 3.0]


@given(st.floats(0, 9), leaves)
def test_what_is_written_is_read_again(height, kept):
    record = Tree(height, tuple(Leaf(name, size) for name, size, _ in kept))
    assert TREE.read(TREE.write(record)) == record == TREE.read(TREE.write(record, TREE.write(Tree(0.0))))


def test_a_composition_of_a_newer_version_keeps_what_this_one_does_not_know(app):
    client = app.test_client()
    scene, place = example_scene(), add_place(client)
    sent = {"name": "Tarn", "place_id": place, **add_kit(client), "composition": scene["composition"]}
    made = client.post("/api/compositions", json=sent).json
    newer = """jsonb_set(jsonb_set(document, '{mood}', '"quiet"'), '{elements,1,scent}', '"thyme"') || '{"schema_version": 99}'"""
    with app.extensions["database"].transaction() as session:
        session.execute(text(f"UPDATE compositions SET document = {newer}"))
    shown = client.get(f"/api/compositions/{made['id']}").json
    composition = shown["composition"] | {
        "azimuth_deg": 12.0,
        "elements": list(reversed(shown["composition"]["elements"])),
    }
    saved = client.put(f"/api/compositions/{made['id']}", json=sent | {"composition": composition, "version": 1})
    assert saved.status_code == 200 and saved.json["composition"]["azimuth_deg"] == 12.0
    with app.extensions["database"].transaction() as session:
        document = session.execute(text("SELECT document FROM compositions")).scalar_one()
    assert document["mood"] == "quiet" and document["schema_version"] == 99 and document["azimuth_deg"] == 12.0
    scented = [one["id"] for one in document["elements"] if one.get("scent") == "thyme"]
    assert scented == [scene["composition"]["elements"][1]["id"]]


def test_every_composition_names_its_version():
    record = COMPOSITION.read(example_scene()["composition"])
    assert COMPOSITION.write(record)["schema_version"] == COMPOSITION.version == 2
