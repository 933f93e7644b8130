"""Many pictures at once: first what each tells of itself, so that the list is there soon; then their copies for the screen."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from uuid import UUID

from sqlalchemy import select

from lucid_ridge.app.editing import database, owner
from lucid_ridge.app.files import drop
from lucid_ridge.app.photographs.files import CAME_BACK
from lucid_ridge.app.pictures.documents import FACTS
from lucid_ridge.app.pictures.operations import copy_of, fresh_row, here_of_many, id_of
from lucid_ridge.app.pictures.tables import PictureRow
from lucid_ridge.app.problems import NotFound, Refused
from lucid_ridge.formats.aside import read_heads_aside
from lucid_ridge.formats.maker_notes import focus_of
from lucid_ridge.formats.photographs import Head, PhotographError

MOST_AT_ONCE = 32
MOST_BYTES_AT_ONCE = 64 * 1024 * 1024
"""So much may wait to be read together; one larger file goes alone."""
MOST_NOTED = 8
"""So many are read together for what their makers wrote: each may be large."""
Told = Callable[[str, int, int], None]
"""Told what is being done, how far it is, and of how many."""


@dataclass(frozen=True)
class Kept:
    """What became of a file: the picture that it is, and whether that is new; or why it cannot be used."""

    picture_id: UUID | None = None
    is_new: bool = False
    why: str = ""


def keep_many(files: Sequence[tuple[str, bytes]]) -> list[Kept]:
    """Keep pictures, each by its name and bytes; of each what became of it.

    Only their heads are read: a picture whose head is good and whose rest is broken is found out by `make_copies`.
    """
    digests = [hashlib.sha256(data).hexdigest() for _, data in files]
    named = dict(zip(digests, files, strict=True))
    ids = {digest: id_of(digest) for digest in named}
    with database().transaction() as session:
        known = here_of_many(session, ids)
    fresh = [digest for digest in named if digest not in known]
    heads = dict(zip(fresh, read_heads_aside([named[one][1] for one in fresh]) if fresh else (), strict=True))
    rows = {
        digest: fresh_row(ids[digest], *named[digest], digest, head)
        for digest, head in heads.items()
        if isinstance(head, Head)
    }
    for digest, row in rows.items():
        CAME_BACK.write(row.file_name, named[digest][1])
        row.has_copy = False
    kept = {digest: Kept(why=str(head)) for digest, head in heads.items() if isinstance(head, PhotographError)}
    with database().transaction() as session:
        # Somebody may have brought some of them in meanwhile.
        known |= here_of_many(session, ids)
        session.add_all(row for digest, row in rows.items() if digest not in known)
    kept |= {digest: Kept(ids[digest], True) for digest in rows}
    kept |= {digest: Kept(found) for digest, found in known.items()}
    # One that lies there twice is new once.
    return [replace(kept[one], is_new=kept[one].is_new and one not in digests[:k]) for k, one in enumerate(digests)]


def make_copies(told: Told) -> dict[UUID, tuple[str, str]]:
    """Make the copies for the screen that are missing; of what turns out to be broken its name, and why it cannot be used.

    Before that, what only the camera's maker tells of a picture is read.
    """
    with database().transaction() as session:
        waiting = session.execute(
            select(PictureRow.id, PictureRow.name)
            .where(PictureRow.owner_id == owner(), PictureRow.deleted_at.is_(None), ~PictureRow.has_copy)
            .order_by(PictureRow.taken_at, PictureRow.id)
        ).all()
    broken = {}
    for done, (picture_id, name) in enumerate(waiting):
        told("making copies for the screen", done, len(waiting))
        if done % MOST_NOTED == 0:
            read_notes([one for one, _ in waiting[done : done + MOST_NOTED]])
        try:
            copy_of(picture_id)
        except NotFound:
            continue
        except Refused as error:
            broken[picture_id] = (name, error.message)
            _take_out(picture_id)
    return broken


def read_notes(ids: Sequence[UUID]) -> None:
    """Read how far pictures are focused where only their cameras' makers tell."""
    with database().transaction() as session:
        rows = session.execute(
            select(PictureRow.id, PictureRow.file_name, PictureRow.document).where(PictureRow.id.in_(ids))
        )
        untold = {i: name for i, name, document in rows if FACTS.read(document).focus_m is None}
    files = {i: data for i, name in untold.items() if (data := CAME_BACK.read(name)) is not None}
    for i, focus_m in zip(files, focus_of(list(files.values())), strict=True):
        if focus_m is None:
            continue
        with database().transaction() as session:
            row = session.get(PictureRow, i)
            if row is not None:
                row.document = FACTS.write(replace(FACTS.read(row.document), focus_m=focus_m), row.document)


def _take_out(picture_id: UUID) -> None:
    """Nobody can look at it: it is no picture. Brought in again it is named again."""
    with database().transaction() as session:
        row = session.scalars(
            select(PictureRow)
            .where(PictureRow.id == picture_id, PictureRow.owner_id == owner(), ~PictureRow.has_copy)
            .with_for_update()
        ).one_or_none()
        if row is None:
            return
        kept_as = row.file_name
        session.delete(row)
    for path in CAME_BACK.paths(picture_id, kept_as):
        drop(path)
