"""What can be done with reference photographs."""

from __future__ import annotations

from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from lucid_ridge.app.compositions.tables import CompositionRow
from lucid_ridge.app.editing import claimed, database, find, owner
from lucid_ridge.app.photographs.files import REFERENCE, shown_name
from lucid_ridge.app.photographs.pictures import LARGEST_BYTES, MOST_PIXELS, read_picture
from lucid_ridge.app.photographs.schemas import PhotographOut, PhotographsOut
from lucid_ridge.app.photographs.tables import PhotographRow
from lucid_ridge.app.problems import NotFound, Refused


def present(row: PhotographRow) -> PhotographOut:
    """The photograph as the API shows it."""
    return PhotographOut(
        id=row.id,
        created_at=row.created_at,
        name=row.name,
        file_name=row.file_name,
        media_type=row.media_type,
        size_bytes=row.size_bytes,
        width_px=row.width_px,
        height_px=row.height_px,
        view_deg=row.view_deg,
    )


def of_composition(composition_id: UUID) -> PhotographsOut:
    """Every reference photograph of a composition, oldest first."""
    with database().transaction() as session:
        find(session, CompositionRow, composition_id, "composition")
        rows = session.scalars(
            select(PhotographRow)
            .where(PhotographRow.composition_id == composition_id, PhotographRow.deleted_at.is_(None))
            .order_by(PhotographRow.created_at, PhotographRow.id)
        )
        return PhotographsOut(
            photographs=[present(row) for row in rows], largest_bytes=LARGEST_BYTES, most_pixels=MOST_PIXELS
        )


def _kept(session: Session, composition_id: UUID, photograph_id: UUID) -> PhotographRow | None:
    """The photograph that has this id already."""
    find(session, CompositionRow, composition_id, "composition")
    kept = claimed(session, PhotographRow, photograph_id)
    if kept is not None and (kept.owner_id != owner() or kept.composition_id != composition_id):
        raise Refused("/photograph_id", "A record with this id exists already; use another id.")
    return kept


def attach(composition_id: UUID, photograph_id: UUID, name: str, data: bytes) -> tuple[PhotographOut, bool]:
    """Keep a picture as a file and attach it; whether it is new. The same id again gives the one that is kept."""
    with database().transaction() as session:
        kept = _kept(session, composition_id, photograph_id)
        if kept is not None:
            return present(kept), False
    picture = read_picture(data)
    kept_as = REFERENCE.store(photograph_id, name, data, picture)
    with database().transaction() as session:
        kept = _kept(session, composition_id, photograph_id)
        if kept is not None:
            # Sent twice at the same moment: the other one was faster, with the same file.
            return present(kept), False
        row = PhotographRow(
            id=photograph_id,
            owner_id=owner(),
            composition_id=composition_id,
            name=name[:80],
            file_name=kept_as,
            media_type=picture.media_type,
            size_bytes=len(data),
            width_px=picture.width_px,
            height_px=picture.height_px,
            view_deg=picture.view_deg,
        )
        session.add(row)
        session.flush()
        return present(row), True


def picture(photograph_id: UUID, whole: bool) -> tuple[bytes, str, str]:
    """Bytes, media type and file name: of the file as it was given, or of the small copy.

    Raises
    ------
    NotFound
        If there is no such photograph, or its file was taken out of the folder.

    """
    with database().transaction() as session:
        row = find(session, PhotographRow, photograph_id, "photograph")
        media_type, name = row.media_type, row.file_name
    data = REFERENCE.read(name if whole else shown_name(photograph_id))
    if data is None:
        raise NotFound("photograph's file")
    return data, media_type if whole else "image/jpeg", name
