"""An archive taken in beside what is there: checked whole, then put in at once, or not at all."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from uuid import UUID, uuid4

from sqlalchemy import func, insert, select, text
from sqlalchemy.exc import DBAPIError, OperationalError
from sqlalchemy.orm import Session

from lucid_ridge.app.archives.export import ADDED, FORM, Told
from lucid_ridge.app.archives.pictured import PICTURED
from lucid_ridge.app.archives.records import (
    ALL,
    KINDS,
    OF_A_PERSON,
    Kind,
    as_json,
    columns_of,
    read_rows,
    references,
)
from lucid_ridge.app.editing import claimed, database, owner
from lucid_ridge.app.files import drop, keep
from lucid_ridge.app.jobs import operations as jobs
from lucid_ridge.app.jobs.operations import PASSING
from lucid_ridge.app.photographs.files import file_name, shown_name
from lucid_ridge.app.photographs.pictures import ENDINGS
from lucid_ridge.app.terrains import files as terrain_files
from lucid_ridge.app.terrains.tables import TerrainRow
from lucid_ridge.formats.aside import read_aside
from lucid_ridge.formats.photographs import LARGEST_BYTES, PhotographError
from lucid_ridge.formats.sealed import Manifest, SealedError, verify
from lucid_ridge.formats.terrain_grids import TerrainError, check_kept_terrain

Row = dict[str, Any]
_MOST_RECORDS = 256 * 1024 * 1024
_AT_A_TIME = 500
_ONE_AT_A_TIME = 0x1D6E0001
"""The lock that imports hold while they put things in; any number that nothing else locks."""
_WITH_FILES = {"terrains": TerrainRow, **{name: table for name, (table, _) in PICTURED.items()}}


@dataclass
class _Archive:
    """What an archive holds, read and checked: its records, and the folder in which its files lie meanwhile."""

    rows: dict[str, list[Row]]
    folder: Path

    def __getitem__(self, kind: str) -> list[Row]:
        return self.rows[kind]

    def heights(self, row: Row) -> Path:
        """The file of a terrain."""
        return self.folder / "terrain" / f"{row['id'].hex}.tif"

    def picture(self, kind: str, row: Row) -> Path:
        """The file of a photograph or a picture."""
        return self.folder / kind / str(row["file_name"])

    def small_copy(self, row: Row) -> Path:
        """The small copy of one, made while it was looked at."""
        return self.folder / f"{row['id'].hex}.shown"


@dataclass
class Taken:
    """How many records came in, by kind, and how many were here already, the same in every field.

    ``moved`` has the id that each of those that came in got.
    """

    added: dict[str, int] = field(default_factory=dict)
    known: dict[str, int] = field(default_factory=dict)
    moved: dict[UUID, UUID] = field(default_factory=dict, compare=False)


Finish = Callable[[Session, Taken], None]


def take_in(path: Path, told: Told, finish: Finish = lambda session, taken: None, called: str | None = None) -> Taken:
    """Take everything in an archive in, beside what is there; *finish* is called in the transaction that does it.

    *called* is what people know the file as, for what is said of it.

    A record whose id is free keeps it. One that is here already, the same in every field, is not doubled; one whose id is
    taken by anything else gets a new id, and whatever refers to it follows. Preferences are taken only where nothing was
    chosen yet.

    Raises
    ------
    SealedError
        If the archive is damaged, from a newer version, or anything in it cannot be used; says what. Nothing is changed then.

    """
    with tempfile.TemporaryDirectory(dir=jobs.folder(), prefix=PASSING) as aside:
        manifest = verify(
            path, FORM, Path(aside), lambda share: told("reading it through", round(share * 100), 100), called
        )
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
    rows = {kind.name: _rows(kind, folder) for kind in ALL}
    _check_references(rows)
    return _Archive(rows, folder)


def _rows(kind: Kind, folder: Path) -> list[Row]:
    path = folder / kind.part
    return [] if kind.name in ADDED and not path.is_file() else read_rows(kind, path.read_bytes())


def _check_references(rows: dict[str, list[Row]]) -> None:
    ids = {kind.name: {row["id"] for row in rows[kind.name]} for kind in KINDS}
    for kind in KINDS:
        if len(ids[kind.name]) != len(rows[kind.name]):
            raise SealedError(f"{kind.part} holds a {kind.what} twice.")
        for column, other in references(kind).items():
            for number, row in enumerate(rows[kind.name], 1):
                if row[column] is not None and row[column] not in ids[other]:
                    raise SealedError(f"{kind.part}, {kind.what} {number}: {column}: it refers to what is not in it.")
    for kind in OF_A_PERSON:
        if len(rows[kind.name]) > 1:
            raise SealedError(f"{kind.part} holds them twice.")


def _check_files(archive: _Archive, told: Told) -> None:
    """See that every file is what its record says; pictures are read, heights are looked at before they are."""
    expected = {f"{kind}/{row['file_name']}" for kind in PICTURED for row in archive[kind]}
    expected |= {f"terrain/{row['id'].hex}.tif" for row in archive["terrains"]}
    found = {
        one.relative_to(archive.folder).as_posix()
        for name in (*PICTURED, "terrain")
        for one in (archive.folder / name).rglob("*")
        if one.is_file()
    }
    for extra in sorted(found - expected):
        raise SealedError(f"{extra} belongs to no record in it.")
    whole = len(found)
    pictured = [(kind, row) for kind in PICTURED for row in archive[kind]]
    for number, (kind, row) in enumerate(pictured):
        if number % 10 == 0:
            told("looking at pictures and terrain", number, whole)
        picture = archive.picture(kind, row)
        if row["file_name"] != _file_name(row, row["id"]):
            raise SealedError(f"{kind}/{row['file_name']!r} is no name that a picture has here.")
        if picture.is_file():
            archive.small_copy(row).write_bytes(_shown(kind, picture, row))
    for row in archive["terrains"]:
        heights = archive.heights(row)
        if row["state"] == "ready" and heights.is_file():
            try:
                check_kept_terrain(heights, row["columns"], row["rows"])
            except TerrainError as error:
                raise SealedError(f"terrain/{heights.name}: {error}") from None


def _shown(kind: str, picture: Path, row: Row) -> bytes:
    name = f"{kind}/{row['file_name']}"
    if picture.stat().st_size != row["size_bytes"] or row["size_bytes"] > LARGEST_BYTES:
        raise SealedError(f"{name} has another size than its record says.")
    try:
        read = read_aside(picture.read_bytes())
    except PhotographError as error:
        raise SealedError(f"{name}: {error}") from None
    if (read.media_type, read.width_px, read.height_px) != (row["media_type"], row["width_px"], row["height_px"]):
        raise SealedError(f"{name} is another picture than its record says.")
    return read.shown


def _file_name(row: Row, record_id: UUID) -> str:
    """The name under which a picture is kept, under another id too."""
    stem = str(row["file_name"]).removesuffix(ENDINGS[row["media_type"]]).removesuffix(row["id"].hex)
    return file_name(record_id, f"{stem}.x", row["media_type"])


def _put_in(archive: _Archive, told: Told, finish: Finish) -> Taken:
    try:
        with database().transaction() as session:
            # One after the other: the second of two with the same ids sees what the first has put in. What they write has
            # names made of ids, so that whoever takes files away again must still hold the lock.
            session.execute(select(func.pg_advisory_xact_lock(_ONE_AT_A_TIME)))
            for name, table in _WITH_FILES.items():
                for row in archive[name]:
                    claimed(session, table, row["id"])
            written: list[Path] = []
            try:
                taken = _fitted(session, archive)
                _write_files(archive, taken.moved, written)
                _put_records_in(session, archive, taken.moved, told)
                finish(session, taken)
            except BaseException:
                for path in written:
                    drop(path)
                raise
    except OperationalError:
        raise
    except DBAPIError as error:
        said = getattr(getattr(error.orig, "diag", None), "message_primary", None)
        raise SealedError(f"The database takes no such record: {said or 'a value is out of bounds'}.") from None
    return taken


def _put_records_in(session: Session, archive: _Archive, moved: dict[UUID, UUID], told: Told) -> None:
    renamed = {str(old): str(new) for old, new in moved.items() if old != new}
    done, whole = 0, sum(len(rows) for rows in archive.rows.values())
    for kind in KINDS:
        rows = [_carried(kind, row, moved, renamed) for row in archive[kind.name] if row["id"] in moved]
        for start in range(0, len(rows), _AT_A_TIME):
            session.execute(insert(kind.table), rows[start : start + _AT_A_TIME])
            done += len(rows[start : start + _AT_A_TIME])
            told("putting it in", done, whole)
    for kind in OF_A_PERSON:
        if archive[kind.name] and session.get(kind.table, owner()) is None:
            session.add(kind.table(owner_id=owner(), **archive[kind.name][0]))
    session.flush()


def _fitted(session: Session, archive: _Archive) -> Taken:
    """What comes in, with the new id of each record: its own where that is free. Those that are here already have none."""
    taken = Taken()
    moved, same = taken.moved, set[UUID]()
    for kind in KINDS:
        rows, known = archive[kind.name], 0
        there, refers = _there(session, kind, [row["id"] for row in rows]), tuple(references(kind))
        for row in rows:
            held = there.get(row["id"])
            if held is not None and all(row[one] in same for one in refers) and _is_same(kind, held, row):
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


def _carried(kind: Kind, row: Row, moved: dict[UUID, UUID], renamed: dict[str, str]) -> Row:
    """A record as it is put in: under its new id, owned by the asker, with everything it refers to under theirs."""
    carried: Row = {}
    for column in columns_of(kind):
        value = row[column.name]
        if isinstance(value, UUID):
            value = moved.get(value, value)
        elif renamed and isinstance(value, dict | list):
            value = _renamed(value, renamed)
        carried[column.name] = value
    if kind.name in PICTURED:
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
        if row["id"] in moved and archive.heights(row).is_file():
            target = terrain_files.kept(moved[row["id"]])
            written.append(target)
            keep(archive.heights(row), target)
    for kind, (_, folder) in PICTURED.items():
        for row in archive[kind]:
            if row["id"] in moved and archive.picture(kind, row).is_file():
                fresh = moved[row["id"]]
                for name, lies in (
                    (_file_name(row, fresh), archive.picture(kind, row)),
                    (shown_name(fresh), archive.small_copy(row)),
                ):
                    written.append(folder.path() / name)
                    keep(lies, folder.path() / name)
