"""Sidecars of pictures: taken in by the name of their picture, and written again with what was judged here."""

from __future__ import annotations

import io
import zipfile
from datetime import timedelta
from uuid import UUID

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from lucid_ridge.app.editing import database, find, owner
from lucid_ridge.app.logbook.tables import Take
from lucid_ridge.app.pictures.operations import present
from lucid_ridge.app.pictures.schemas import BroughtPicture
from lucid_ridge.app.pictures.tables import PictureRow
from lucid_ridge.app.problems import Refused
from lucid_ridge.formats.sidecars import Judged, SidecarError, read_sidecar, stem_of, with_judged

KINDS = ("application/rdf+xml", "application/xml", "text/xml")
ENDING = ".xmp"
_ONE_EXPOSURE = timedelta(seconds=2)


def judged_of(row: PictureRow) -> Judged:
    """How a picture was judged, as a sidecar says it."""
    return Judged(row.rating, row.verdict == "reject", tuple(row.keywords))


def put_on(row: PictureRow, judged: Judged) -> None:
    """Judge a picture as a sidecar does; what the sidecar does not say stays as it is."""
    if judged.rating is not None:
        row.rating = judged.rating
    if judged.rejected:
        row.verdict = "reject"
    elif judged.rating is not None and row.verdict == "reject":
        row.verdict = None
    if judged.keywords:
        row.keywords = list(judged.keywords)


def _named(session: Session, stem: str, among: set[UUID] | None) -> list[PictureRow]:
    """The pictures of one exposure with this name, a JPEG and its raw file say; the latest that came in, or one *among* some."""
    like = stem.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    rows = session.scalars(
        select(PictureRow)
        .where(
            PictureRow.owner_id == owner(),
            PictureRow.deleted_at.is_(None),
            func.lower(PictureRow.name).like(f"{like}.%"),
        )
        .order_by(PictureRow.created_at.desc(), PictureRow.id)
    )
    same = [row for row in rows if stem_of(row.name) == stem and (among is None or row.id in among)]
    return [row for row in same if abs(row.taken_at - same[0].taken_at) <= _ONE_EXPOSURE]


def take_in(name: str, data: bytes, among: set[UUID] | None = None) -> list[BroughtPicture]:
    """Judge pictures as their sidecar does, and keep it; no others than those *among* which it is looked for.

    Raises
    ------
    Refused
        If it is none, or no picture here has its name.

    """
    try:
        judged = read_sidecar(data)
        kept = data.decode("utf-8-sig")
    except SidecarError as error:
        raise Refused("", str(error)) from None
    except UnicodeDecodeError:
        raise Refused("", "This sidecar is not written in UTF-8. Write it again, and send it then.") from None
    if "\x00" in kept:
        raise Refused("", "No text may hold the character NUL (U+0000).")
    with database().transaction() as session:
        rows = _named(session, stem_of(name), among)
        if not rows:
            raise Refused("/name", f"No picture here goes with {name[:80]}. Bring the picture in first.")
        for row in rows:
            put_on(row, judged)
            row.sidecar = kept
            row.version += 1
        session.flush()
        return [present(row) for row in rows]


def _written(row: PictureRow) -> bytes:
    try:
        return with_judged(None if row.sidecar is None else row.sidecar.encode(), judged_of(row))
    except SidecarError:
        # An archive may have brought anything.
        return with_judged(None, judged_of(row))


def _file_name(row: PictureRow) -> str:
    """The name of a sidecar: its picture's, whatever its ending is."""
    stem = row.name.rsplit(".", 1)[0] if "." in row.name else row.name
    return "".join(c if c.isalnum() or c in "-_ .()" else "_" for c in stem).strip(" .") + ENDING


def of_picture(picture_id: UUID) -> tuple[bytes, str]:
    """The sidecar of a picture, and its name."""
    with database().transaction() as session:
        row = find(session, PictureRow, picture_id, "picture")
        return _written(row), _file_name(row)


def of_take(take_id: UUID) -> bytes:
    """The sidecars of a take's pictures in one archive."""
    made = io.BytesIO()
    with database().transaction() as session, zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        find(session, Take, take_id, "take")
        rows = session.scalars(
            select(PictureRow)
            .where(PictureRow.take_id == take_id, PictureRow.owner_id == owner(), PictureRow.deleted_at.is_(None))
            .order_by(PictureRow.number.nulls_last(), PictureRow.taken_at, PictureRow.id)
        )
        used: set[str] = set()
        for row in rows:
            name = _file_name(row)
            if name.lower() in used:
                name = f"{name.removesuffix(ENDING)} {row.id.hex[:8]}{ENDING}"
            used.add(name.lower())
            archive.writestr(name, _written(row))
    return made.getvalue()
