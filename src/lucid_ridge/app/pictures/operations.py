"""What can be done with pictures that came back."""

from __future__ import annotations

import hashlib
import io
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from uuid import UUID, uuid5

from PIL import Image
from sqlalchemy import Text, func, select
from sqlalchemy.dialects.postgresql import array
from sqlalchemy.orm import Session

from lucid_ridge.app.database import now
from lucid_ridge.app.editing import check_version, claimed, database, find, owner
from lucid_ridge.app.logbook.tables import Take
from lucid_ridge.app.paging import page
from lucid_ridge.app.photographs.files import CAME_BACK, file_name, shown_name
from lucid_ridge.app.photographs.pictures import Photograph, read_picture
from lucid_ridge.app.pictures.documents import FACTS
from lucid_ridge.app.pictures.schemas import BroughtPicture, BroughtPictures, BroughtQuery, PictureJudged
from lucid_ridge.app.pictures.tables import PictureRow
from lucid_ridge.app.problems import NotFound, Refused
from lucid_ridge.formats.maker_notes import focus_of
from lucid_ridge.formats.photographs import Facts, Head
from lucid_ridge.formats.sidecars import embedded
from lucid_ridge.reports.figures import aperture_text, iso_text, shutter_text

SMALL_PX = 360


@dataclass(frozen=True)
class Frame:
    """The frame of a sequence that a picture is of, and the id of its take, which may not be written yet."""

    sequence_id: UUID
    number: int
    take_id: UUID


def settings_text(facts: Facts) -> str:
    """What a picture was taken with, as far as it tells."""
    told = [
        None if facts.f_number is None else aperture_text(facts.f_number),
        None if facts.exposure_s is None else shutter_text(facts.exposure_s),
        None if facts.iso is None else f"ISO {iso_text(facts.iso)}",
        None if facts.focal_length_mm is None else f"{facts.focal_length_mm:g} mm",
    ]
    return ", ".join(one for one in told if one is not None)


def present(row: PictureRow) -> BroughtPicture:
    """The picture as the API shows it."""
    facts = FACTS.read(row.document)
    return BroughtPicture.model_validate(
        {
            "settings": settings_text(facts),
            "taken_text": row.taken_at.astimezone(UTC).strftime("%-d %B %Y, %H:%M:%S"),
            **{
                name: getattr(row, name)
                for name in BroughtPicture.model_fields
                if name not in ("settings", "taken_text")
            },
        }
    )


def _clock(facts: Facts) -> datetime:
    """What the camera's clock showed, told as UTC where it told no zone; now where it told nothing."""
    taken = facts.taken or now()
    return taken.replace(tzinfo=UTC) if taken.tzinfo is None else taken


def here(session: Session, picture_id: UUID, digest: str) -> PictureRow | None:
    """The picture that is here already: under this id, or the same file under another."""
    kept = claimed(session, PictureRow, picture_id)
    if kept is not None:
        if kept.owner_id != owner():
            raise Refused("/id", "A record with this id exists already; use another id.")
        return kept
    session.execute(select(func.pg_advisory_xact_lock(func.hashtextextended(f"{owner()}{digest}", 0))))
    return session.scalars(
        select(PictureRow)
        .where(PictureRow.owner_id == owner(), PictureRow.sha256 == digest, PictureRow.deleted_at.is_(None))
        .limit(1)
    ).one_or_none()


def id_of(digest: str) -> UUID:
    """The id of a picture that nobody gave one: of its owner and what it holds, by its SHA-256."""
    return uuid5(owner(), digest)


def here_of_many(session: Session, digests: Mapping[str, UUID]) -> dict[str, UUID]:
    """Of files, each by its digest with the id that it is to have, those that are here, or were and somebody took them out.

    Until the transaction ends nobody else brings one of them in.
    """
    # In the order of `here`, and in one order for everybody: two that bring in the same wait for each other, and not both.
    for keys in (sorted(map(str, digests.values())), sorted(f"{owner()}{one}" for one in digests)):
        key = func.unnest(array(keys, type_=Text)).column_valued("key")
        session.execute(select(func.pg_advisory_xact_lock(func.hashtextextended(key, 0))))
    rows = session.execute(
        select(PictureRow.id, PictureRow.sha256).where(
            PictureRow.owner_id == owner(),
            (PictureRow.sha256.in_(digests) & PictureRow.deleted_at.is_(None)) | PictureRow.id.in_(digests.values()),
        )
    )
    return {digest: found for found, digest in rows}


def fresh_row(
    picture_id: UUID, name: str, data: bytes, digest: str, head: Head, frame: Frame | None = None
) -> PictureRow:
    """The record of a picture that is to be kept; it says of itself what its file says."""
    inside = embedded(data)
    return PictureRow(
        id=picture_id,
        owner_id=owner(),
        name=name[:80],
        sequence_id=frame.sequence_id if frame else None,
        number=frame.number if frame else None,
        for_take=frame.take_id if frame else None,
        taken_at=_clock(head.facts),
        file_name=file_name(picture_id, name, head.media_type),
        media_type=head.media_type,
        size_bytes=len(data),
        width_px=head.width_px,
        height_px=head.height_px,
        sha256=digest,
        document=FACTS.write(head.facts),
        rating=inside.rating,
        verdict="reject" if inside.rejected else None,
        keywords=list(inside.keywords),
    )


def keep(picture_id: UUID, name: str, data: bytes, frame: Frame | None = None) -> tuple[BroughtPicture, bool]:
    """Keep a picture; whether it is new. One that is here already, whatever it is called, is not kept twice.

    Raises
    ------
    Refused
        If it is nothing that is read here.

    """
    digest = hashlib.sha256(data).hexdigest()
    with database().transaction() as session:
        known = here(session, picture_id, digest)
        if known is not None:
            return present(known), False
    read = _with_notes(read_picture(data), data)
    CAME_BACK.store(picture_id, name, data, read)
    with database().transaction() as session:
        known = here(session, picture_id, digest)
        if known is not None:
            return present(known), False
        row = fresh_row(picture_id, name, data, digest, read, frame)
        row.take_id = _written(session, frame)
        session.add(row)
        session.flush()
        return present(row), True


def _with_notes(read: Photograph, data: bytes) -> Photograph:
    """A picture with how far it is focused from its camera's maker, where it does not tell by itself."""
    if read.facts.focus_m is not None:
        return read
    [focus_m] = focus_of([data])
    return replace(read, facts=replace(read.facts, focus_m=focus_m))


def _written(session: Session, frame: Frame | None) -> UUID | None:
    """The take of a frame, where it is written already."""
    take = session.get(Take, frame.take_id) if frame else None
    return take.id if take is not None and frame is not None and take.sequence_id == frame.sequence_id else None


def one(picture_id: UUID) -> BroughtPicture | None:
    """A picture; None where there is none."""
    with database().transaction() as session:
        row = session.get(PictureRow, picture_id)
        return present(row) if row is not None and row.owner_id == owner() else None


def listed(query: BroughtQuery) -> BroughtPictures:
    """Pictures in the order in which they were taken."""
    mine = [PictureRow.owner_id == owner(), PictureRow.deleted_at.is_(None)]
    chosen = select(PictureRow).where(*mine)
    if query.take_id is not None:
        chosen = chosen.where(PictureRow.take_id == query.take_id)
    if query.loose:
        chosen = chosen.where(PictureRow.take_id.is_(None))
    columns = {"cursor_taken": PictureRow.taken_at, "cursor_id": PictureRow.id}
    with database().transaction() as session:
        rows, following = page(session, chosen, query, columns, (datetime.fromisoformat, UUID))
        loose = session.scalars(
            select(func.count()).select_from(PictureRow).where(*mine, PictureRow.take_id.is_(None))
        ).one()
        return BroughtPictures(pictures=[present(row[0]) for row in rows], next=following, loose=loose)


def judge(picture_id: UUID, judged: PictureJudged) -> BroughtPicture:
    """Save how good a picture is over the version that was judged."""
    with database().transaction() as session:
        row = find(session, PictureRow, picture_id, "picture")
        check_version(row, judged.version, "picture", present)
        row.rating, row.verdict = judged.rating, judged.verdict
        if judged.keywords is not None:
            row.keywords = list(dict.fromkeys(judged.keywords))
        row.version += 1
        session.flush()
        return present(row)


def belong(session: Session, take_id: UUID, sequence_id: UUID) -> None:
    """Give a take that is written the pictures that the camera took for it."""
    rows = session.scalars(
        select(PictureRow).where(
            PictureRow.owner_id == owner(),
            PictureRow.sequence_id == sequence_id,
            PictureRow.for_take == take_id,
            PictureRow.take_id.is_(None),
        )
    )
    for row in rows:
        row.take_id = take_id


def copy_of(picture_id: UUID) -> bytes:
    """A copy for the screen, made now where nobody has made it yet.

    Raises
    ------
    NotFound
        If there is no such picture, or its file was taken out of the folder.
    Refused
        If it cannot be read after all.

    """
    with database().transaction() as session:
        row = find(session, PictureRow, picture_id, "picture")
        name, has_copy = row.file_name, row.has_copy
    data = CAME_BACK.read(shown_name(picture_id)) if has_copy else None
    if data is not None:
        return data
    whole = CAME_BACK.read(name)
    if whole is None:
        raise NotFound("picture's file")
    shown = read_picture(whole).shown
    CAME_BACK.write(shown_name(picture_id), shown)
    with database().transaction() as session:
        find(session, PictureRow, picture_id, "picture").has_copy = True
    return shown


def file(picture_id: UUID, size: str) -> tuple[bytes, str, str]:
    """Bytes, media type and file name: of the file as it came, of a copy for the screen, or of a small one.

    Raises
    ------
    NotFound, Refused
        If there is no such picture, its file was taken out of the folder, or it is broken.

    """
    with database().transaction() as session:
        row = find(session, PictureRow, picture_id, "picture")
        media_type, name = row.media_type, row.file_name
    if size == "file":
        data = CAME_BACK.read(name)
        if data is None:
            raise NotFound("picture's file")
        return data, media_type, name
    shown = copy_of(picture_id)
    return _small(shown) if size == "small" else shown, "image/jpeg", name


def _small(shown: bytes) -> bytes:
    image = Image.open(io.BytesIO(shown), formats=["JPEG"])
    image.draft("RGB", (SMALL_PX, SMALL_PX))
    image.thumbnail((SMALL_PX, SMALL_PX), reducing_gap=2.0)
    made = io.BytesIO()
    image.save(made, "JPEG", quality=80)
    return made.getvalue()
