"""Lists of takes."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Any
from uuid import UUID
from zoneinfo import ZoneInfo

from sqlalchemy import ColumnElement, Select, func, select, tuple_
from sqlalchemy.orm import Session, defer

from lucid_ridge.app.editing import database, owner
from lucid_ridge.app.field.tables import SequenceRow
from lucid_ridge.app.logbook.filters import has_words, mine, wanted, wanted_but_words
from lucid_ridge.app.logbook.schemas import FAULTS, FaultCount, PlaceCount, TakeBrief, TakesOut, TakesQuery
from lucid_ridge.app.logbook.tables import WITH_FAULTS, Take
from lucid_ridge.app.paging import cut, read_cursor
from lucid_ridge.app.pictures.tables import PictureRow
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.reports.figures import aperture_text, iso_text, shutter_text
from lucid_ridge.reports.logbook.works import sun_text

MOST_COUNTED = 200
"""So many takes are counted that are found by words; where there are more it is said to be at least that."""
_NEWEST = 2000
_NEWEST_FIRST = (Take.started_at.desc(), Take.id.desc())


def local_text(instant: datetime, zone: str) -> str:
    """A moment as the clocks at the place showed it."""
    return instant.astimezone(ZoneInfo(zone)).strftime("%-d %B %Y, %H:%M")


def _settings_text(sequence: SequenceRow) -> str:
    told = [aperture_text(sequence.aperture_n)] * (sequence.aperture_n > 0)
    told += [shutter_text(sequence.shutter_s)] * (sequence.shutter_s > 0)
    told += [f"ISO {iso_text(sequence.iso)}"] * (sequence.iso > 0)
    told += [f"filters: {sequence.filters}"] * (sequence.composition_id is not None)
    return ", ".join(told)


def _brief(take: Take, sequence: SequenceRow, picture_id: UUID | None) -> TakeBrief:
    """A take in the list, from columns alone."""
    return TakeBrief(
        id=take.id,
        composition_id=take.composition_id,
        composition_name=sequence.composition_name,
        place_id=take.place_id,
        place_name=sequence.place_name,
        started_at=take.started_at,
        started_text=local_text(take.started_at, sequence.time_zone),
        settings_text=_settings_text(sequence),
        frames_done=take.frames_done,
        frames_planned=sequence.frame_count,
        rating=take.rating,
        faults=take.faults,
        note=take.note,
        picture_id=picture_id,
        sun_text=sun_text(take.sun_height_deg, take.sun_off_deg),
    )


_PICTURE = (
    select(PictureRow.id)
    .where(PictureRow.take_id == Take.id, PictureRow.deleted_at.is_(None))
    .order_by(
        (PictureRow.verdict == "reject").asc().nulls_first(),
        PictureRow.rating.desc().nulls_last(),
        PictureRow.number.nulls_last(),
        PictureRow.id,
    )
    .limit(1)
    .correlate(Take)
    .scalar_subquery()
)
"""The best picture of a take: none that is rejected where there is another, then by rating."""


def briefs(session: Session, only: Sequence[ColumnElement[bool]], order: Sequence[Any], limit: int) -> list[TakeBrief]:
    """The first takes for which something holds, in an order."""
    rows = session.execute(
        select(Take, SequenceRow, _PICTURE)
        .join(SequenceRow, SequenceRow.id == Take.sequence_id)
        .where(*only)
        .order_by(*order)
        .limit(limit)
        .options(defer(Take.document), defer(SequenceRow.document))
    )
    return [_brief(take, sequence, picture_id) for take, sequence, picture_id in rows]


def _found(session: Session, query: TakesQuery) -> list[TakeBrief]:
    """A page of takes, newest first. What is often found by its words is looked for among the newest first."""
    if query.words.split():
        rows = briefs(session, [Take.id.in_(_among_newest(query, _after(query)))], _NEWEST_FIRST, query.limit + 1)
        if len(rows) > query.limit:
            return rows
    return briefs(session, [*wanted(query), *_after(query)], _NEWEST_FIRST, query.limit + 1)


def _among_newest(query: TakesQuery, after: list[ColumnElement[bool]]) -> Select[tuple[UUID]]:
    """Those among the newest takes that have the words."""
    newest = (
        select(Take.id, Take.words)
        .where(*wanted_but_words(query), *after)
        .order_by(*_NEWEST_FIRST)
        .limit(_NEWEST)
        .cte("newest")
        .prefix_with("MATERIALIZED")
    )
    return select(newest.c.id).where(*has_words(query, newest.c.words))


def _after(query: TakesQuery) -> list[ColumnElement[bool]]:
    if query.after is None:
        return []
    started_at, last_id = read_cursor(query.after, datetime.fromisoformat, UUID)
    return [tuple_(Take.started_at, Take.id) < (started_at, last_id)]


def all_takes(query: TakesQuery) -> TakesOut:
    """Takes, newest first, filtered; and the places and faults there are."""
    only = wanted(query)
    with database().transaction() as session:
        rows = _found(session, query)
        page, following = cut(rows, query.limit, lambda one: [one.started_at.isoformat(), str(one.id)])
        places = _by_place(session)
        faults = _by_fault(session)
        return TakesOut(
            takes=list(page),
            next=following,
            total=(total := _total(session, query, only, places, faults)),
            at_least=bool(query.words.split()) and total >= MOST_COUNTED,
            places=places,
            faults=faults,
            all_faults=list(FAULTS),
        )


def _by_place(session: Session) -> list[PlaceCount]:
    """How many takes there are at each place, by its name; counted from an index alone."""
    counted = select(Take.place_id, func.count().label("takes")).where(*mine()).group_by(Take.place_id).subquery()
    rows = session.execute(
        select(PlaceRow.id, PlaceRow.name, counted.c.takes)
        .join(counted, counted.c.place_id == PlaceRow.id)
        .order_by(PlaceRow.name, PlaceRow.id)
    )
    return [PlaceCount(id=i, name=n, takes=c) for i, n, c in rows]


def _by_fault(session: Session) -> list[FaultCount]:
    """How many takes have each fault, the most frequent first; read from an index that holds those with any."""
    fault = func.unnest(Take.faults).label("fault")
    found = select(fault).where(Take.owner_id == owner(), Take.deleted_at.is_(None), WITH_FAULTS).subquery()
    rows = session.execute(
        select(found.c.fault, func.count()).group_by(found.c.fault).order_by(func.count().desc(), found.c.fault)
    )
    return [FaultCount(fault=f, takes=c) for f, c in rows]


def _total(
    session: Session,
    query: TakesQuery,
    only: list[ColumnElement[bool]],
    places: list[PlaceCount],
    faults: list[FaultCount],
) -> int:
    """How many takes pass the filters: known from the counts where no more than a place or a fault is set."""
    found = select(Take.id).where(*only)
    if query.words.split():
        often = session.scalar(select(func.count()).select_from(_among_newest(query, []).subquery())) or 0
        if often >= MOST_COUNTED:
            return MOST_COUNTED
        found = found.limit(MOST_COUNTED)
    elif not (query.season or query.rating or query.day):
        if query.fault is None:
            return sum(one.takes for one in places if query.place_id in (None, one.id))
        if query.place_id is None:
            return sum(one.takes for one in faults if one.fault == query.fault)
    return session.scalar(select(func.count()).select_from(found.subquery())) or 0
