"""Everything that somebody owns, written into one file."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator, Mapping
from contextlib import suppress
from pathlib import Path
from typing import Any
from uuid import UUID

from sqlalchemy import false, func, select, text
from sqlalchemy.orm import Session

from lucid_ridge import VERSION
from lucid_ridge.app.archives.pictured import PICTURED
from lucid_ridge.app.archives.records import ALL, OF_A_PERSON, Kind, as_json
from lucid_ridge.app.editing import database, owner
from lucid_ridge.app.files import fetched
from lucid_ridge.app.pictures.bringing import make_copies
from lucid_ridge.app.terrains import files as terrain_files
from lucid_ridge.app.terrains.tables import TerrainRow
from lucid_ridge.app.tracks.operations import shapes
from lucid_ridge.formats.geography import write_geojson
from lucid_ridge.formats.sealed import Form, Manifest, sealed

PLACES = "places.geojson"
ADDED = frozenset({"outings", "spots", "practice", "pictures"})
"""Kinds that archives of earlier versions do not hold."""
FORM = Form(
    "lucid-ridge-archive",
    1,
    "archive",
    frozenset({PLACES, *(kind.part for kind in ALL if kind.name not in ADDED)}),
    ("terrain/", *(f"{name}/" for name in PICTURED)),
    largest=20 * 1000**3,
    optional=frozenset(kind.part for kind in ALL if kind.name in ADDED),
)
_AT_A_TIME = 200
Told = Callable[[str, int, int], None]
"""Told what is being done, how much of it is done, and how much there is."""


Only = Mapping[str, set[UUID]]
"""Which records go out, by kind; of what is not in it, none."""


def _chosen(kind: Kind, only: Only | None) -> list[Any]:
    table: Any = kind.table
    mine = [table.owner_id == owner()]
    if only is None:
        return mine
    return [*mine, false() if kind in OF_A_PERSON else table.id.in_(only.get(kind.name, set()))]


def _records(session: Session, kind: Kind, only: Only | None, told: Callable[[], None]) -> Iterator[bytes]:
    table: Any = kind.table
    rows = select(table).where(*_chosen(kind, only))
    if kind not in OF_A_PERSON:
        rows = rows.order_by(table.created_at, table.id)
    between = b"[\n"
    for row in session.scalars(rows.execution_options(yield_per=_AT_A_TIME)):
        yield between + json.dumps(as_json(kind, row), ensure_ascii=False).encode()
        session.expunge(row)
        between = b",\n"
        told()
    yield b"[]\n" if between == b"[\n" else b"\n]\n"


def _count(session: Session, kind: Kind, only: Only | None) -> int:
    table: Any = kind.table
    return session.scalars(select(func.count()).select_from(table).where(*_chosen(kind, only))).one()


def write_archive(target: Path, told: Told, only: Only | None = None) -> Manifest:
    """Write everything that the asker owns into a file, whole or not at all: deleted records too, which may be brought back.

    With *only*, just these records: what each of them refers to has to be among them.

    Files that somebody took out of the folder by hand are missing in it, as they are here.

    Raises
    ------
    SealedError
        If the file cannot be written.

    """
    # What turns out to be broken only now would keep the whole archive from being taken in.
    make_copies(told)
    with database().transaction() as session:
        # One moment for all of it, whatever is saved meanwhile.
        session.connection(execution_options={"isolation_level": "REPEATABLE READ"})
        revision = session.scalar(text("SELECT version_num FROM alembic_version")) or ""
        files = _files(session, only)
        whole = sum(_count(session, kind, only) for kind in ALL) + len(files)
        done = 0

        def one_more() -> None:
            nonlocal done
            done += 1
            if done % _AT_A_TIME == 0 or done == whole:
                told("records and files", done, whole)

        with sealed(target, FORM, f"Lucid Ridge {VERSION}", revision, packed=True) as archive:
            for kind in ALL:
                archive.pieces(kind.part, _records(session, kind, only, one_more))
            archive.pieces(PLACES, iter([write_geojson(shapes(session) if only is None else []).encode()]))
            for name, path in files:
                with suppress(FileNotFoundError):
                    archive.file(name, fetched(path))
                one_more()
    assert archive.manifest is not None
    return archive.manifest


def _files(session: Session, only: Only | None) -> list[tuple[str, Path]]:
    """The files of one's records: their names in an archive, and where they lie."""
    kinds = {kind.name: kind for kind in ALL}
    terrains = session.scalars(
        select(TerrainRow.id)
        .where(TerrainRow.state == "ready", *_chosen(kinds["terrains"], only))
        .order_by(TerrainRow.id)
    ).all()
    pictures: list[tuple[str, Path]] = []
    for name, (table, folder) in PICTURED.items():
        chosen = select(table.file_name).where(*_chosen(kinds[name], only)).order_by(table.id)
        pictures += [(f"{name}/{one}", folder.path() / one) for one in session.scalars(chosen)]
    return [
        *((f"terrain/{one.hex}.tif", terrain_files.kept(one)) for one in terrains),
        *pictures,
    ]
