"""What can be done with takes."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID
from zoneinfo import ZoneInfo

from pydantic import TypeAdapter
from sqlalchemy import ColumnElement, func, select, tuple_
from sqlalchemy.orm import Session, defer

from lucid_ridge.app.documents import DocumentKind
from lucid_ridge.app.editing import check_version, claimed, database, find, owner
from lucid_ridge.app.field.plans import PLAN
from lucid_ridge.app.field.schemas import FieldPlan
from lucid_ridge.app.field.tables import SequenceRow
from lucid_ridge.app.logbook.schemas import (
    FAULTS,
    FaultCount,
    FrameTaken,
    PlaceCount,
    PlanAgainstActual,
    TakeBrief,
    TakeNew,
    TakenFrames,
    TakeOut,
    TakeReview,
    TakesOut,
    TakesQuery,
)
from lucid_ridge.app.logbook.tables import WITH_FAULTS, Take
from lucid_ridge.app.paging import cut, read_cursor
from lucid_ridge.app.pictures.operations import belong
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.problems import NotFound, Refused
from lucid_ridge.reports.figures import aperture_text, duration_text, iso_text, shutter_text

TAKEN: DocumentKind[TakenFrames] = DocumentKind("take", TypeAdapter(TakenFrames))

# An exposure this much off its plan is shown as different: a sixth of a stop.
_SAME_WITHIN = 2 ** (1 / 6)


def _local_text(instant: datetime, zone: str) -> str:
    return instant.astimezone(ZoneInfo(zone)).strftime("%-d %B %Y, %H:%M")


def compare(plan: FieldPlan, frames: list[FrameTaken]) -> list[PlanAgainstActual]:
    """Each planned frame beside the last time it was taken."""
    rows = []
    for planned in plan.sequence.frames:
        taken = [f for f in frames if f.number == planned.number]
        done = [f for f in taken if f.status == "done"]
        last = done[-1] if done else taken[-1] if taken else None
        exposed = done[-1].exposed_s if done else 0.0
        off = bool(done) and not planned.exposure_s / _SAME_WITHIN <= exposed <= planned.exposure_s * _SAME_WITHIN
        rows.append(
            PlanAgainstActual(
                number=planned.number,
                caption=planned.caption,
                planned_text=f"{planned.focus.text}, {planned.aperture.text}, {planned.shutter.text}",
                actual_text=shutter_text(exposed) if exposed > 0 else "skipped" if last else "not taken",
                status="done" if done else "skipped" if last else "missing",
                repeats=max(0, len(done) - 1),
                fault=next((f.fault for f in reversed(taken) if f.fault), None),
                note="; ".join(f.note for f in taken if f.note),
                differs=off or not done,
            )
        )
    return rows


def present(session: Session, row: Take) -> TakeOut:
    """The take as the API shows it."""
    sequence = session.get_one(SequenceRow, row.sequence_id)
    plan = PLAN.read(sequence.document)
    return TakeOut(
        id=row.id,
        version=row.version,
        sequence_id=row.sequence_id,
        composition_id=row.composition_id,
        composition_name=sequence.composition_name,
        place_id=row.place_id,
        place_name=sequence.place_name,
        started_at=row.started_at,
        started_text=_local_text(row.started_at, plan.time_zone),
        ended_at=row.ended_at,
        planned_total_text=plan.sequence.total.text,
        actual_total_text=duration_text((row.ended_at - row.started_at).total_seconds()),
        rating=row.rating,
        note=row.note,
        faults=row.faults,
        plan=plan.model_copy(update={"scene": None}),
        compared=compare(plan, TAKEN.read(row.document).frames),
    )


def record(take_id: UUID, new: TakeNew) -> tuple[TakeOut, bool]:
    """Write a take; whether it is new. The same id again gives the one written before."""
    if new.ended_at < new.started_at:
        raise Refused("/ended_at", "A take cannot end before it starts; check the clock.")
    with database().transaction() as session:
        kept = claimed(session, Take, take_id)
        if kept is not None:
            if kept.owner_id != owner():
                raise NotFound("take")
            return present(session, kept), False
        sequence = session.get(SequenceRow, new.sequence_id)
        if sequence is None or sequence.owner_id != owner():
            raise Refused("/sequence_id", "There is no such sequence.")
        faults = dict.fromkeys([*new.faults, *(f.fault for f in new.frames if f.fault)])
        row = Take(
            id=take_id,
            owner_id=owner(),
            name=sequence.composition_name,
            sequence_id=sequence.id,
            composition_id=sequence.composition_id,
            place_id=sequence.place_id,
            started_at=new.started_at,
            ended_at=new.ended_at,
            rating=new.rating,
            note=new.note,
            faults=list(faults),
            frames_done=len({f.number for f in new.frames if f.status == "done"}),
            document=TAKEN.write(TakenFrames(frames=new.frames)),
        )
        session.add(row)
        session.flush()
        belong(session, row.id, sequence.id)
        return present(session, row), True


def one(take_id: UUID) -> TakeOut:
    """One take."""
    with database().transaction() as session:
        return present(session, find(session, Take, take_id, "take"))


def review(take_id: UUID, changed: TakeReview) -> TakeOut:
    """Save rating, faults and note over the version that was changed."""
    with database().transaction() as session:
        row = find(session, Take, take_id, "take")
        check_version(row, changed.version, "take", lambda r: present(session, r))
        row.rating, row.note, row.faults = changed.rating, changed.note, list(dict.fromkeys(changed.faults))
        row.version += 1
        session.flush()
        return present(session, row)


def _settings_text(sequence: SequenceRow) -> str:
    aperture, shutter, iso = (
        aperture_text(sequence.aperture_n),
        shutter_text(sequence.shutter_s),
        iso_text(sequence.iso),
    )
    return f"{aperture}, {shutter}, ISO {iso}, filters: {sequence.filters}"


def _brief(row: Take, sequence: SequenceRow) -> TakeBrief:
    """A take in the list, from columns alone."""
    return TakeBrief(
        id=row.id,
        composition_id=row.composition_id,
        composition_name=sequence.composition_name,
        place_id=row.place_id,
        place_name=sequence.place_name,
        started_at=row.started_at,
        started_text=_local_text(row.started_at, sequence.time_zone),
        settings_text=_settings_text(sequence),
        frames_done=row.frames_done,
        frames_planned=sequence.frame_count,
        rating=row.rating,
        faults=row.faults,
        note=row.note,
    )


def all_takes(query: TakesQuery) -> TakesOut:
    """Takes, newest first, filtered; and the places and faults there are."""
    mine = [Take.owner_id == owner(), Take.deleted_at.is_(None)]
    wanted = [*mine]
    if query.place_id is not None:
        wanted.append(Take.place_id == query.place_id)
    if query.fault is not None:
        wanted += [WITH_FAULTS, Take.faults.contains([query.fault])]

    shown = list(wanted)
    if query.after is not None:
        started_at, last_id = read_cursor(query.after, datetime.fromisoformat, UUID)
        shown.append(tuple_(Take.started_at, Take.id) < (started_at, last_id))
    with database().transaction() as session:
        rows = session.execute(
            select(Take, SequenceRow)
            .join(SequenceRow, SequenceRow.id == Take.sequence_id)
            .where(*shown)
            .order_by(Take.started_at.desc(), Take.id.desc())
            .limit(query.limit + 1)
            .options(defer(Take.document), defer(SequenceRow.document))
        )
        page, following = cut(rows.all(), query.limit, lambda row: [row[0].started_at.isoformat(), str(row[0].id)])
        takes = [_brief(take, sequence) for take, sequence in page]
        places = _by_place(session)
        faults = _by_fault(session)
        total = _total(session, query, wanted, places, faults)
        return TakesOut(
            takes=takes,
            next=following,
            total=total,
            places=places,
            faults=faults,
            all_faults=list(FAULTS),
        )


def _by_place(session: Session) -> list[PlaceCount]:
    """How many takes there are at each place, by its name; counted from an index alone."""
    counted = (
        select(Take.place_id, func.count().label("takes"))
        .where(Take.owner_id == owner(), Take.deleted_at.is_(None))
        .group_by(Take.place_id)
        .subquery()
    )
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
    wanted: list[ColumnElement[bool]],
    places: list[PlaceCount],
    faults: list[FaultCount],
) -> int:
    """How many takes pass the filters: known from the counts unless two of them are set."""
    if query.fault is None:
        return sum(one.takes for one in places if query.place_id in (None, one.id))
    if query.place_id is None:
        return sum(one.takes for one in faults if one.fault == query.fault)
    return session.scalar(select(func.count()).select_from(Take).where(*wanted)) or 0
