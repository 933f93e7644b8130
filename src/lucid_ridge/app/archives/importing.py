"""An archive taken in beside what is there: checked whole, then put in at once, or not at all."""

from __future__ import annotations

import tempfile
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from uuid import UUID, uuid4

from sqlalchemy import insert, select, text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from lucid_ridge.app.archives.export import FORM, Told
from lucid_ridge.app.archives.records import (
    ALL,
    KINDS,
    PREFERENCES_KIND,
    Kind,
    as_json,
    columns_of,
    read_rows,
    references,
)
from lucid_ridge.app.editing import database, owner
from lucid_ridge.app.files import files_folder
from lucid_ridge.app.photographs import files as photograph_files
from lucid_ridge.app.photographs.pictures import ENDINGS
from lucid_ridge.app.preferences.tables import PreferencesRow
from lucid_ridge.app.terrains import files as terrain_files
from lucid_ridge.formats.photographs import LARGEST_BYTES, PhotographError, read_photograph
from lucid_ridge.formats.sealed import Manifest, SealedError, verify
from lucid_ridge.formats.terrain_grids import TerrainError, check_kept_terrain

Row = dict[str, Any]
_MOST_RECORDS = 256 * 1024 * 1024
_AT_A_TIME = 500


@dataclass
class _Archive:
    """What an archive holds, read and checked. ``pictures`` are small copies of photographs, by id."""

    rows: dict[str, list[Row]]
    folder: Path
    pictures: dict[UUID, bytes] = field(default_factory=dict)

    def __getitem__(self, kind: str) -> list[Row]:
        return self.rows[kind]


@dataclass
class Taken:
    """How many records came in, by kind, and how many were here already, the same in every field.

    ``moved`` has the id that each of those that came in got.
    """

    added: dict[str, int] = field(default_factory=dict)
    known: dict[str, int] = field(default_factory=dict)
    moved: dict[UUID, UUID] = field(default_factory=dict, compare=False)


Finish = Callable[[Session, Taken], None]


def take_in(path: Path, told: Told, finish: Finish = lambda session, taken: None) -> Taken:
    """Take everything in an archive in, beside what is there; *finish* is called in the transaction that does it.

    A record whose id is free keeps it. One that is here already, the same in every field, is not doubled; one whose id is
    taken by anything else gets a new id, and whatever refers to it follows. Preferences are taken only where nothing was
    chosen yet.

    Raises
    ------
    SealedError
        If the archive is damaged, from a newer version, or anything in it cannot be used; says what. Nothing is changed then.

    """
    with tempfile.TemporaryDirectory(dir=files_folder(""), prefix=".part-archive-") as aside:
        manifest = verify(path, FORM, Path(aside), lambda share: told("reading it through", round(share * 100), 100))
        archive = _read(manifest, Path(aside))
        _check_files(archive, told)
        return _put_in(archive, told, finish)


def _read(manifest: Manifest, folder: Path) -> _Archive:
    for part in manifest.parts:
        if part.path.startswith("records/") and part.size > _MOST_RECORDS:
            raise SealedError(f"{part.path} is larger than {_MOST_RECORDS // 1024 // 1024} MB.")
    with database().transaction() as session:
        ours = session.scalar(text("SELECT version_num FROM alembic_version")) or ""
    if manifest.revision > ours:
        raise SealedError(f"It was made by a newer Lucid Ridge ({manifest.program}). Use that one to take it in.")
    rows = {kind.name: read_rows(kind, (folder / kind.part).read_bytes()) for kind in ALL}
    _check_references(rows)
    return _Archive(rows, folder)


def _check_references(rows: dict[str, list[Row]]) -> None:
    ids = {kind.name: {row["id"] for row in rows[kind.name]} for kind in KINDS}
    for kind in KINDS:
        if len(ids[kind.name]) != len(rows[kind.name]):
            raise SealedError(f"{kind.part} holds a {kind.what} twice.")
        for column, other in references(kind).items():
            for number, row in enumerate(rows[kind.name], 1):
                if row[column] not in ids[other]:
                    raise SealedError(f"{kind.part}, {kind.what} {number}: {column}: it refers to what is not in it.")
    if len(rows[PREFERENCES_KIND.name]) > 1:
        raise SealedError(f"{PREFERENCES_KIND.part} holds them twice.")


def _check_files(archive: _Archive, told: Told) -> None:
    """See that every file is what its record says; pictures are read, heights are looked at before they are."""
    expected = {f"photographs/{row['file_name']}" for row in archive["photographs"]}
    expected |= {f"terrain/{row['id'].hex}.tif" for row in archive["terrains"]}
    found = {
        one.relative_to(archive.folder).as_posix()
        for name in ("photographs", "terrain")
        for one in (archive.folder / name).rglob("*")
        if one.is_file()
    }
    for extra in sorted(found - expected):
        raise SealedError(f"{extra} belongs to no record in it.")
    whole = len(found)
    for number, row in enumerate(archive["photographs"]):
        if number % 10 == 0:
            told("looking at pictures and terrain", number, whole)
        picture = archive.folder / "photographs" / row["file_name"]
        if row["file_name"] != _file_name(row, row["id"]):
            raise SealedError(f"photographs/{row['file_name']!r} is no name that a photograph has here.")
        if picture.is_file():
            archive.pictures[row["id"]] = _shown(picture, row)
    for row in archive["terrains"]:
        heights = archive.folder / "terrain" / f"{row['id'].hex}.tif"
        if row["state"] == "ready" and heights.is_file():
            try:
                check_kept_terrain(heights, row["columns"], row["rows"])
            except TerrainError as error:
                raise SealedError(f"terrain/{heights.name}: {error}") from None


def _shown(picture: Path, row: Row) -> bytes:
    name = f"photographs/{row['file_name']}"
    if picture.stat().st_size != row["size_bytes"] or row["size_bytes"] > LARGEST_BYTES:
        raise SealedError(f"{name} has another size than its record says.")
    try:
        read = read_photograph(picture.read_bytes())
    except PhotographError as error:
        raise SealedError(f"{name}: {error}") from None
    if (read.media_type, read.width_px, read.height_px) != (row["media_type"], row["width_px"], row["height_px"]):
        raise SealedError(f"{name} is another picture than its record says.")
    return read.shown


def _file_name(row: Row, photograph_id: UUID) -> str:
    """The name under which the file of a photograph is kept, under another id too."""
    stem = str(row["file_name"]).removesuffix(ENDINGS[row["media_type"]]).removesuffix(row["id"].hex)
    return photograph_files.file_name(photograph_id, f"{stem}.x", row["media_type"])


def _put_in(archive: _Archive, told: Told, finish: Finish) -> Taken:
    written: list[Path] = []
    try:
        with database().transaction() as session:
            taken = _fitted(session, archive)
            moved = taken.moved
            _write_files(archive, moved, written)
            done, whole = 0, sum(len(rows) for rows in archive.rows.values())
            for kind in KINDS:
                rows = [_carried(kind, row, moved) for row in archive[kind.name] if row["id"] in moved]
                for start in range(0, len(rows), _AT_A_TIME):
                    session.execute(insert(kind.table), rows[start : start + _AT_A_TIME])
                    done += len(rows[start : start + _AT_A_TIME])
                    told("putting it in", done, whole)
            if archive[PREFERENCES_KIND.name] and session.get(PreferencesRow, owner()) is None:
                session.add(PreferencesRow(owner_id=owner(), **archive[PREFERENCES_KIND.name][0]))
            session.flush()
            finish(session, taken)
    except DBAPIError as error:
        _take_away(written)
        said = getattr(getattr(error.orig, "diag", None), "message_primary", None)
        raise SealedError(f"The database takes no such record: {said or 'a value is out of bounds'}.") from None
    except BaseException:
        _take_away(written)
        raise
    return taken


def _take_away(written: Iterable[Path]) -> None:
    for path in written:
        path.unlink(missing_ok=True)


def _fitted(session: Session, archive: _Archive) -> Taken:
    """What comes in, with the new id of each record: its own where that is free. Those that are here already have none."""
    taken = Taken()
    moved, same = taken.moved, set[UUID]()
    for kind in KINDS:
        rows, known = archive[kind.name], 0
        there = _there(session, kind, [row["id"] for row in rows])
        for row in rows:
            held = there.get(row["id"])
            refers = [row[column] for column in references(kind)]
            if held is not None and all(one in same for one in refers) and _is_same(kind, held, row):
                same.add(row["id"])
                known += 1
            else:
                moved[row["id"]] = row["id"] if held is None else uuid4()
        if rows:
            taken.added[kind.name], taken.known[kind.name] = len(rows) - known, known
    return taken


def _there(session: Session, kind: Kind, ids: list[UUID]) -> dict[UUID, Any]:
    """The records with some ids, whoever's they are."""
    table: Any = kind.table
    found: dict[UUID, Any] = {}
    for start in range(0, len(ids), _AT_A_TIME):
        chosen = select(table).where(table.id.in_(ids[start : start + _AT_A_TIME]))
        found |= {row.id: row for row in session.scalars(chosen)}
    return found


def _is_same(kind: Kind, held: Any, row: Row) -> bool:
    return held.owner_id == owner() and as_json(kind, held) == as_json(kind, kind.table(**row))


def _carried(kind: Kind, row: Row, moved: dict[UUID, UUID]) -> Row:
    """A record as it is put in: under its new id, owned by the asker, with everything it refers to under theirs."""
    renamed = {str(old): str(new) for old, new in moved.items() if old != new}
    carried: Row = {}
    for column in columns_of(kind):
        value = row[column.name]
        if isinstance(value, UUID):
            value = moved.get(value, value)
        elif renamed and isinstance(value, dict | list):
            value = _renamed(value, renamed)
        carried[column.name] = value
    if kind.name == "photographs":
        carried["file_name"] = _file_name(row, carried["id"])
    if kind.name == "terrains" and carried["state"] == "importing":
        carried |= {"state": "failed", "problem": "It was just being imported when this archive was written."}
    return carried | {"owner_id": owner()}


def _renamed(value: Any, names: dict[str, str]) -> Any:
    """A document in which every id is the new one."""
    if isinstance(value, str):
        return names.get(value, value)
    if isinstance(value, dict):
        return {names.get(key, key): _renamed(one, names) for key, one in value.items()}
    return [_renamed(one, names) for one in value] if isinstance(value, list) else value


def _write_files(archive: _Archive, moved: dict[UUID, UUID], written: list[Path]) -> None:
    """Put the files of new records in place: before the records, so that none is ever without its file."""
    for row in archive["terrains"]:
        heights = archive.folder / "terrain" / f"{row['id'].hex}.tif"
        if row["id"] in moved and heights.is_file():
            target = terrain_files.kept(moved[row["id"]])
            written.append(target)
            terrain_files.put_in_place(heights, target)
    for row in archive["photographs"]:
        shown = archive.pictures.get(row["id"])
        if row["id"] in moved and shown is not None:
            fresh = moved[row["id"]]
            for name, data in (
                (_file_name(row, fresh), (archive.folder / "photographs" / row["file_name"]).read_bytes()),
                (photograph_files.shown_name(fresh), shown),
            ):
                written.append(photograph_files.folder() / name)
                photograph_files.write(name, data)
