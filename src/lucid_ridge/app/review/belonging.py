"""Pictures that are given to takes, and let go."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from uuid import UUID

from sqlalchemy.orm import Session

from lucid_ridge.app.editing import database, find
from lucid_ridge.app.logbook.tables import Take
from lucid_ridge.app.pictures.documents import FACTS
from lucid_ridge.app.pictures.tables import PictureRow
from lucid_ridge.app.problems import Refused
from lucid_ridge.app.review.schemas import LetGo
from lucid_ridge.core.review.matching import Setting


def setting_of(row: PictureRow) -> Setting:
    """When a picture was taken by the camera's clock, and with what."""
    facts = FACTS.read(row.document)
    return Setting(row.taken_at.timestamp(), facts.exposure_s, facts.f_number, facts.iso, facts.focus_m)


def loose(session: Session, ids: Collection[UUID]) -> list[PictureRow]:
    """Pictures by their ids, of no take yet.

    Raises
    ------
    NotFound, Refused
        If one is not there, or belongs to a take already.

    """
    rows = [find(session, PictureRow, one, "picture") for one in sorted(ids)]
    if any(row.take_id is not None for row in rows):
        raise Refused("/pictures", "Some of these belong to a take already. Look at what is loose again.")
    return rows


def give(take_id: UUID, sequence_id: UUID, numbers: Mapping[UUID, int], made: bool) -> None:
    """Give pictures to a take, each as a frame by its number. One that was *made* of them before and taken away comes back.

    Raises
    ------
    NotFound, Refused
        If there is no such take or picture, or the take is of another sequence.

    """
    with database().transaction() as session:
        take = find(session, Take, take_id, "take", deleted=made)
        take.deleted_at = None
        if take.sequence_id != sequence_id:
            raise Refused("/take_id", "This take is of another sequence.")
        for picture_id, number in numbers.items():
            row = find(session, PictureRow, picture_id, "picture")
            row.take_id, row.sequence_id, row.number = take_id, sequence_id, number
            row.version += 1


def let_go(body: LetGo) -> None:
    """Take pictures out of their takes: they are loose again."""
    with database().transaction() as session:
        for picture_id in sorted(set(body.pictures)):
            row = find(session, PictureRow, picture_id, "picture")
            row.take_id = row.sequence_id = row.number = None
            row.version += 1
