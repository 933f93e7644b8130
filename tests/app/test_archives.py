"""Archives: everything goes out and comes back in, equal in every field and file; beside what is there; or not at all."""

from __future__ import annotations

import copy
import io
import json
import threading
import time
import zipfile
from collections.abc import Callable
from contextlib import suppress
from datetime import UTC, datetime, timedelta
from random import Random
from typing import Any
from uuid import UUID, uuid4

import pytest
from flask import g
from sqlalchemy import ARRAY, Boolean, DateTime, Float, Integer, String, Uuid, delete, insert, select
from sqlalchemy.dialects.postgresql import JSONB

from lucid_ridge.app.archives.export import FORM, PLACES, write_archive
from lucid_ridge.app.archives.importing import Taken, take_in
from lucid_ridge.app.archives.records import ALL, KINDS, as_json, columns_of, references, schema
from lucid_ridge.app.database import LOCAL_PHOTOGRAPHER, Photographer
from lucid_ridge.app.factory import Configuration, create_app
from lucid_ridge.app.identity import Who
from lucid_ridge.app.jobs.works import counted
from lucid_ridge.app.tables import Base, OutlookRow, PlaceRow, SequenceRow
from lucid_ridge.formats.geography import read_geojson
from lucid_ridge.formats.sealed import SealedError, verify
from tests.runtime.test_backup import parts_of, rewritten

from .conftest import close


def quiet(*_: Any) -> None:
    """Nobody is told."""


def exported(app, target, who: UUID = LOCAL_PHOTOGRAPHER):
    with app.app_context():
        g.who = Who(who, "", "owner")
        write_archive(target, quiet)
    return target


def imported(app, source, who: UUID = LOCAL_PHOTOGRAPHER) -> Taken:
    with app.app_context():
        g.who = Who(who, "", "owner")
        return take_in(source, quiet)


def everything(app, who: UUID = LOCAL_PHOTOGRAPHER) -> dict[str, list[dict[str, Any]]]:
    """Every column of every record that somebody owns."""
    with app.extensions["database"].transaction() as session:
        return {
            kind.name: sorted(
                (as_json(kind, row) for row in session.scalars(select(kind.table).where(kind.table.owner_id == who))),
                key=lambda row: str(row.get("id")),
            )
            for kind in ALL
        }


def files_of(app) -> dict[str, bytes]:
    root = app.extensions["files_folder"]
    return {
        path.relative_to(root).as_posix(): path.read_bytes()
        for path in root.rglob("*")
        if path.is_file() and ".tiles" not in path.parts
    }


def emptied(app) -> None:
    with app.extensions["database"].transaction() as session:
        for table in reversed(Base.metadata.sorted_tables):
            if table is not Photographer.__table__:
                session.execute(delete(table))


def another(app) -> UUID:
    who = uuid4()
    with app.extensions["database"].transaction() as session:
        session.add(Photographer(id=who, name="another"))
    return who


@pytest.fixture
def valley(databases, tmp_path_factory):
    """The demo, with files of its own that a test may change."""
    import shutil

    files, url = tmp_path_factory.mktemp("valley") / "files", databases.fresh(demo=True)
    shutil.copytree(databases.files, files)
    made = create_app(Configuration(url, files))
    yield made
    close(made)


@pytest.fixture
def bare(databases, tmp_path_factory):
    made = create_app(Configuration(databases.fresh(demo=False), tmp_path_factory.mktemp("files")))
    yield made
    close(made)


def test_the_demo_goes_into_another_installation_field_by_field_and_file_by_file(valley, bare, tmp_path):
    valley.test_client().put("/api/preferences", json={"highest_iso": 800})
    source = exported(valley, tmp_path / "a.zip")
    taken = imported(bare, source)
    before, after = everything(valley), everything(bare)
    assert after == before
    assert all(before[kind.name] for kind in KINDS), "the demo has something of every kind"
    assert taken.added == {kind.name: len(before[kind.name]) for kind in KINDS}
    files, brought = files_of(valley), files_of(bare)
    whole = {name: data for name, data in files.items() if "/.shown" not in name}
    assert {name: brought.get(name) for name in whole} == whole
    # It is in use there as it was: one evaluation, one photograph, one terrain.
    composition = before["compositions"][0]["id"]
    assert bare.test_client().get(f"/api/compositions/{composition}").status_code == 200
    photograph = before["photographs"][0]["id"]
    assert bare.test_client().get(f"/api/photographs/{photograph}/shown").status_code == 200
    assert exported(bare, tmp_path / "b.zip").stat().st_size > 0
    assert {k: v for k, v in parts_of(tmp_path / "b.zip").items() if k != "manifest.json"} == {
        k: v for k, v in parts_of(source).items() if k != "manifest.json"
    }


def test_twice_the_same_archive_doubles_nothing(valley, tmp_path):
    source, before = exported(valley, tmp_path / "a.zip"), everything(valley)
    taken = imported(valley, source)
    assert everything(valley) == before
    assert set(taken.added.values()) == {0}
    assert taken.known == {kind.name: len(before[kind.name]) for kind in KINDS}


def test_what_was_changed_meanwhile_is_kept_beside_what_comes_in(valley, tmp_path):
    source, client = exported(valley, tmp_path / "a.zip"), valley.test_client()
    place = client.get("/api/places").json["places"][0]
    changed = {"version": place["version"], "place": place["place"] | {"name": "Renamed meanwhile"}}
    assert client.put(f"/api/places/{place['id']}", json=changed).status_code == 200
    before = everything(valley)
    taken = imported(valley, source)
    after = everything(valley)
    assert taken.added["places"] == 1
    for kind in ALL:
        assert all(row in after[kind.name] for row in before[kind.name])
    (fresh,) = [row for row in after["places"] if row not in before["places"]]
    assert fresh["name"] == place["place"]["name"]
    # Whatever stood at the place that was changed comes in anew, and stands at the fresh one.
    stands = [row for row in before["compositions"] if row["place_id"] == place["id"]]
    again = [row for row in after["compositions"] if row["place_id"] == fresh["id"]]
    assert len(again) == len(stands) == taken.added["compositions"]


def test_another_photographer_gets_all_of_it_under_ids_of_their_own(valley, tmp_path):
    source, mine = exported(valley, tmp_path / "a.zip"), everything(valley)
    who = another(valley)
    imported(valley, source, who)
    theirs = everything(valley, who)
    assert everything(valley) == mine
    ids = {kind.name: {row["id"] for row in mine[kind.name]} for kind in KINDS}
    for kind in KINDS:
        assert len(theirs[kind.name]) == len(mine[kind.name])
        assert not ids[kind.name] & {row["id"] for row in theirs[kind.name]}
        names = {other.name: {row["id"] for row in theirs[other.name]} for other in KINDS}
        for row in theirs[kind.name]:
            for column, other in references(kind).items():
                assert row[column] in names[other]
    # References inside of documents follow as well: a place's terrain is the other's own.
    terrains = {row["id"] for row in theirs["terrains"]}
    told = [row["sky"]["terrain_id"] for row in theirs["places"] if row["sky"].get("terrain_id")]
    assert told and set(told) <= terrains
    old = "".join(ids[kind.name] and " ".join(ids[kind.name]) for kind in KINDS).split()
    written = json.dumps(theirs)
    assert not [one for one in old if one in written]


def test_two_that_take_the_same_archive_in_at_once_keep_each_others_files(valley, bare, tmp_path):
    """One was thought dead and is not: what it takes back must not be what the other has just put in."""
    source = exported(valley, tmp_path / "a.zip")
    holding, go_on = threading.Event(), threading.Event()

    class TakenBack(Exception):
        pass

    def take_back(*_: Any) -> None:
        holding.set()
        go_on.wait(60)
        raise TakenBack

    def first() -> None:
        with bare.app_context(), suppress(TakenBack):
            g.who = Who(LOCAL_PHOTOGRAPHER, "", "owner")
            take_in(source, quiet, take_back)

    thinking_it_lives = threading.Thread(target=first)
    thinking_it_lives.start()
    assert holding.wait(60)
    second = threading.Thread(target=imported, args=(bare, source))
    second.start()
    time.sleep(0.5)
    go_on.set()
    thinking_it_lives.join()
    second.join()
    assert everything(bare) == everything(valley)
    names = {name for name in files_of(valley) if not name.startswith("jobs/")}
    assert names <= files_of(bare).keys()


def test_deleted_records_come_along_and_can_be_brought_back(valley, bare, tmp_path):
    place = valley.test_client().get("/api/places").json["places"][0]["id"]
    assert valley.test_client().delete(f"/api/places/{place}").status_code == 204
    imported(bare, exported(valley, tmp_path / "a.zip"))
    assert place not in bare.test_client().get("/api/places").get_data(as_text=True)
    assert bare.test_client().post(f"/api/places/{place}/restore").status_code == 200


def test_preferences_of_ones_own_are_kept(valley, bare, tmp_path):
    valley.test_client().put("/api/preferences", json={"highest_iso": 800})
    bare.test_client().put("/api/preferences", json={"highest_iso": 400})
    imported(bare, exported(valley, tmp_path / "a.zip"))
    assert bare.test_client().get("/api/preferences").json["highest_iso"] == 400


def test_nothing_at_all_goes_out_and_comes_in(bare, tmp_path):
    assert imported(bare, exported(bare, tmp_path / "a.zip")) == Taken()


def test_other_programs_can_read_it(valley, tmp_path):
    parts = parts_of(exported(valley, tmp_path / "a.zip"))
    assert len(read_geojson(parts[PLACES]).shapes) > 10
    import rasterio

    (terrain,) = [data for name, data in parts.items() if name.startswith("terrain/")]
    with rasterio.MemoryFile(terrain) as file, file.open() as source:
        assert source.count == 1
    for part, told in schema().items():
        names = set(
            told["items"]["properties"]
            if "properties" in told["items"]
            else next(iter(told["$defs"].values()))["properties"]
        )
        for record in json.loads(parts[part]):
            assert set(record) == names


# --- any records at all ----------------------------------------------------------------------------------

WORDS = [
    "",
    "a",
    "漢字",
    "\U0001f304",
    "\u202e",
    "=1+1",
    "a\\u0000b",
    "\ufffe",
    "x" * 400,
    " \n\t",
    "\u0301",
    "'; --",
    "\x7f",
]
WITHIN: dict[str, Callable[[Random], Any]] = {
    "version": lambda r: r.randint(1, 10**6),
    "name": lambda r: (words(r) + "x")[:80],
    "elevation_m": lambda r: r.uniform(-400, 8000),
    "rating": lambda r: r.choice([None, 0, 5]),
    "done": lambda r: r.random(),
    "latitude_deg": lambda r: r.uniform(-90, 90),
    "longitude_deg": lambda r: r.uniform(-180, 180),
    "cell_m": lambda r: r.uniform(1, 1000),
    "state": lambda r: r.choice(["ready", "failed"]),
    "verdict": lambda r: r.choice([None, "keep", "reject"]),
    "number": lambda r: r.choice([1, 2000]),
}
FIXED = {
    "kind",
    "file_name",
    "media_type",
    "size_bytes",
    "width_px",
    "height_px",
    "columns",
    "rows",
    "points",
    "time_zone",
    "sha256",
}


def words(r: Random) -> str:
    return "".join(r.choice(WORDS) for _ in range(r.randint(0, 3)))


def anything(r: Random, depth: int = 3) -> Any:
    """Any JSON."""
    kind = r.randrange(8 if depth else 6)
    if kind == 6:
        return [anything(r, depth - 1) for _ in range(r.randint(0, 3))]
    if kind == 7:
        return {words(r): anything(r, depth - 1) for _ in range(r.randint(0, 3))}
    plain = [None, r.random() < 0.5, r.randint(-(2**60), 2**60), r.uniform(-1e300, 1e300), 5e-324, words(r)]
    return plain[kind]


def value_of(column: Any, r: Random) -> Any:
    """Whatever a column may hold."""
    kind = column.type
    if column.nullable and r.random() < 0.3:
        return None
    if column.name in WITHIN:
        return WITHIN[column.name](r)
    if isinstance(kind, DateTime):
        return datetime(1970, 1, 1, tzinfo=UTC) + timedelta(seconds=r.uniform(0, 7e9))
    if isinstance(kind, Boolean):
        return r.random() < 0.5
    if isinstance(kind, Integer):
        return r.choice([0, 1, 2**31 - 1])
    if isinstance(kind, Float):
        return r.choice([0.0, -0.0, 5e-324, r.uniform(-1e9, 1e9), 1e308])
    if isinstance(kind, ARRAY):
        return [words(r)[:40] for _ in range(r.randint(0, 3))]
    assert isinstance(kind, String)
    return words(r)[: kind.length or 1000]


def shaken(r: Random, kind: Any, row: dict[str, Any]) -> dict[str, Any]:
    """A record like one of the demo's, with whatever its columns may hold, and with what no version knows in its documents."""
    made = copy.deepcopy(row)
    for column in columns_of(kind):
        if isinstance(column.type, Uuid) or column.name in FIXED:
            continue
        if isinstance(column.type, JSONB):
            made[column.name][f"later {words(r)}"] = anything(r)
        elif r.random() < 0.3:
            made[column.name] = value_of(column, r)
    if kind.name == "takes":
        made["ended_at"] = max(made["started_at"], made["ended_at"])
    return made


@pytest.mark.parametrize("seed", range(12))
def test_any_records_come_back_equal_in_every_field(valley_for_all, seed):
    app, rows, folder = valley_for_all
    emptied(app)
    r = Random(seed)
    with app.extensions["database"].transaction() as session:
        for kind in KINDS:
            made = [shaken(r, kind, row) for row in rows[kind.name]]
            session.execute(insert(kind.table), [row | {"owner_id": LOCAL_PHOTOGRAPHER} for row in made])
    before = everything(app)
    source = exported(app, folder / "any.zip")
    emptied(app)
    imported(app, source)
    assert everything(app) == before
    assert set(imported(app, source).added.values()) == {0}


@pytest.fixture(scope="module")
def valley_for_all(databases, tmp_path_factory):
    folder = tmp_path_factory.mktemp("any")
    made = create_app(Configuration(databases.fresh(demo=True), folder / "files"))
    with made.extensions["database"].transaction() as session:
        rows = {
            kind.name: [
                {column.name: getattr(row, column.name) for column in columns_of(kind)}
                for row in session.scalars(select(kind.table))
            ]
            for kind in KINDS
        }
    yield made, rows, folder
    close(made)


# --- hostile and damaged ---------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def parts(databases, tmp_path_factory):
    folder = tmp_path_factory.mktemp("parts")
    app = create_app(Configuration(databases.fresh(demo=True), databases.files))
    found = parts_of(exported(app, folder / "a.zip"))
    close(app)
    return found


def resealed(parts: dict[str, bytes]) -> dict[str, bytes]:
    """The parts, with a manifest that tells of them as they are."""
    import hashlib

    told = json.loads(parts["manifest.json"])
    told["parts"] = [
        {"path": name, "size": len(data), "sha256": hashlib.sha256(data).hexdigest()}
        for name, data in parts.items()
        if name != "manifest.json"
    ]
    return {**parts, "manifest.json": json.dumps(told).encode()}


def changed(kind: str, change: Any):
    def apply(parts: dict[str, bytes]) -> dict[str, bytes]:
        rows = json.loads(parts[f"records/{kind}.json"])
        change(rows)
        return resealed({**parts, f"records/{kind}.json": json.dumps(rows).encode()})

    return apply


def put(**values: Any) -> Any:
    return lambda rows: rows[0].update(values)


def raw(kind: str, old: str, new: str):
    def apply(parts: dict[str, bytes]) -> dict[str, bytes]:
        text = parts[f"records/{kind}.json"].decode()
        assert old in text
        return resealed({**parts, f"records/{kind}.json": text.replace(old, new, 1).encode()})

    return apply


def picture(data: bytes):
    def apply(parts: dict[str, bytes]) -> dict[str, bytes]:
        name = next(n for n in parts if n.startswith("photographs/"))
        return resealed({**parts, name: data})

    return apply


def heights(data: bytes):
    def apply(parts: dict[str, bytes]) -> dict[str, bytes]:
        return resealed({**parts, next(n for n in parts if n.startswith("terrain/")): data})

    return apply


def bomb() -> bytes:
    """A TIFF of a few kilobytes that claims ten thousand million heights."""
    import rasterio
    from rasterio.transform import from_origin

    with rasterio.MemoryFile() as memory:
        with memory.open(
            driver="GTiff", width=100_000, height=100_000, count=1, dtype="float32", sparse_ok=True, tiled=True,
            compress="deflate", transform=from_origin(9, 9, 1, 1), blockxsize=16384, blockysize=16384,
        ):  # fmt: skip
            pass
        return bytes(memory.read())


HOSTILE = {
    "a field too many": changed("places", put(evil=1)),
    "a field missing": changed("places", lambda rows: rows[0].pop("name")),
    "another owner": changed("places", put(owner_id=str(uuid4()))),
    "a name too long": changed("places", put(name="x" * 81)),
    "NUL": changed("kit", put(name="a\0b")),
    "NUL deep in a document": changed("compositions", lambda rows: rows[0]["document"].update(x={"y": ["\0"]})),
    "half a pair": raw("places", '"name": "', '"name": "\\ud800'),
    "no number": raw("places", '"latitude_deg": ', '"latitude_deg": NaN, "x": '),
    "beyond the pole": changed("places", put(latitude_deg=91.0)),
    "text for a number": changed("places", put(latitude_deg="54")),
    "a huge number": changed("terrains", put(size_bytes=10**18)),
    "a moment without a zone": changed("places", put(created_at="2026-01-01T00:00:00")),
    "a moment before all": changed("places", put(created_at="0001-01-01T00:00:00Z")),
    "an unknown kind": changed("kit", put(kind="drone")),
    "a lens without its focal length": changed(
        "kit", lambda rows: next(r for r in rows if r["kind"] == "lens")["details"].clear()
    ),
    "a composition that is none": changed("compositions", lambda rows: rows[0].update(document={})),
    "a sequence that is none": changed("sequences", lambda rows: rows[0].update(document={"frames": "no"})),
    "points beyond the Earth": changed("tracks", lambda rows: rows[0].update(points=[[91, 0, None]])),
    "a take before it began": changed("takes", lambda rows: rows[0].update(ended_at="1990-01-01T00:00:00Z")),
    "eleven of five": changed("takes", put(rating=11)),
    "a reference to nothing": changed("compositions", put(place_id=str(uuid4()))),
    "twice": changed("places", lambda rows: rows.append(rows[0])),
    "no list": lambda p: resealed({**p, "records/kit.json": b"{}"}),
    "deep": lambda p: resealed({**p, "records/kit.json": b"[" * 100_000}),
    "no JSON": lambda p: resealed({**p, "records/kit.json": b"\xff"}),
    "no records": lambda p: resealed({k: v for k, v in p.items() if k != "records/kit.json"}),
    "a file of nobody": lambda p: resealed({**p, "terrain/extra.tif": b"x"}),
    "another folder": lambda p: resealed({**p, "elsewhere/x": b"x"}),
    "a way out": changed("photographs", put(file_name="../../out.jpg")),
    "no picture": picture(b"\xff\xd8\xff\xe0 no picture"),
    "another picture": picture(b"GIF89a"),
    "no terrain": heights(b"II*\0"),
    "a terrain that claims gigabytes": heights(bomb()),
    "a newer one": lambda p: {**p, "manifest.json": json.dumps(json.loads(p["manifest.json"]) | {"revision": "9999"}).encode()},
}  # fmt: skip


@pytest.mark.parametrize("kind", HOSTILE)
def test_what_cannot_be_used_is_named_and_nothing_is_changed(bare, parts, tmp_path, kind):
    source = rewritten(HOSTILE[kind](dict(parts)), tmp_path / "hostile.zip")
    with pytest.raises(SealedError) as refused:
        imported(bare, source)
    assert len(str(refused.value)) < 600
    assert everything(bare) == {kind.name: [] for kind in ALL}
    assert files_of(bare) == {}
    assert not (tmp_path.parent / "out.jpg").exists()


def test_a_photograph_with_a_path_for_a_name_never_leaves_the_folder(bare, parts, tmp_path):
    names = ["..", ".", "/etc/passwd", "a/b.jpg", "a\\b.jpg", "", "x" * 160]
    for name in names:
        source = rewritten(changed("photographs", put(file_name=name))(dict(parts)), tmp_path / "a.zip")
        with pytest.raises(SealedError):
            imported(bare, source)
    assert files_of(bare) == {}


def test_the_form_of_archives_and_of_backups_are_not_taken_for_each_other(parts, tmp_path):
    other = {
        **parts,
        "manifest.json": json.dumps(json.loads(parts["manifest.json"]) | {"form": "lucid-ridge-backup"}).encode(),
    }
    with pytest.raises(SealedError, match="no archive"):
        verify(rewritten(other, tmp_path / "a.zip"), FORM)


def test_a_place_that_this_version_cannot_read_keeps_nothing_else_from_going_out(valley, tmp_path):
    with valley.extensions["database"].transaction() as session:
        session.scalars(select(PlaceRow)).first().name = ""
    parts = parts_of(exported(valley, tmp_path / "a.zip"))
    assert len(json.loads(parts["records/places.json"])) == len(everything(valley)["places"])
    assert valley.test_client().get("/api/tracks/export.gpx").status_code == 200


def test_every_table_with_an_owner_is_in_it():
    owned = {table.name for table in Base.metadata.sorted_tables if "owner_id" in table.columns} - {"jobs", "shares"}
    assert owned == {kind.table.__tablename__ for kind in ALL}
    assert OutlookRow.__tablename__ not in owned, "what is worked out is worked out again"
    for kind in KINDS:
        earlier = [k.name for k in KINDS[: KINDS.index(kind)]]
        assert set(references(kind).values()) <= set(earlier), "each refers only to what comes in before it"


def test_an_archive_may_come_while_others_write(valley, tmp_path):
    """It shows one moment: what refers to something has it."""
    source = exported(valley, tmp_path / "a.zip")
    with zipfile.ZipFile(io.BytesIO(source.read_bytes())) as archive:
        assert archive.testzip() is None
    with valley.extensions["database"].transaction() as session:
        session.execute(delete(OutlookRow))
        assert session.scalars(select(SequenceRow)).first() is not None


def test_every_kind_of_record_has_its_words():
    counts = {kind.name: number for number, kind in enumerate(KINDS, 2)}
    said = counted(counts)
    assert all(f"{number} " in said for number in counts.values()) and said.count(",") == len(KINDS) - 1
