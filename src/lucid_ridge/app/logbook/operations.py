"""What can be done with takes."""

from __future__ import annotations

from uuid import UUID

from sqlalchemy.orm import Session

from lucid_ridge.app.editing import check_version, claimed, database, find, owner
from lucid_ridge.app.field.plans import PLAN
from lucid_ridge.app.field.schemas import FieldPlan
from lucid_ridge.app.field.tables import SequenceRow
from lucid_ridge.app.logbook.facts import TAKEN, facts_of, words_of
from lucid_ridge.app.logbook.lists import local_text
from lucid_ridge.app.logbook.schemas import (
    FrameTaken,
    PlanAgainstActual,
    TakeNew,
    TakenFrames,
    TakeOut,
    TakeReview,
)
from lucid_ridge.app.logbook.tables import Take
from lucid_ridge.app.pictures.operations import belong
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.problems import NotFound, Refused
from lucid_ridge.reports.figures import duration_text, shutter_text

# An exposure this much off its plan is shown as different: a sixth of a stop.
_SAME_WITHIN = 2 ** (1 / 6)


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
        started_text=local_text(row.started_at, plan.time_zone),
        ended_at=row.ended_at,
        set_up_text="" if row.arrived_at is None else duration_text((row.started_at - row.arrived_at).total_seconds()),
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
    if new.arrived_at is not None and new.arrived_at > new.started_at:
        raise Refused("/arrived_at", "A take cannot start before you are there; check the clock.")
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
            arrived_at=new.arrived_at,
            started_at=new.started_at,
            ended_at=new.ended_at,
            rating=new.rating,
            note=new.note,
            faults=list(faults),
            frames_done=len({f.number for f in new.frames if f.status == "done"}),
            document=TAKEN.write(TakenFrames(frames=new.frames)),
        )
        place = session.get_one(PlaceRow, row.place_id)
        for name, value in facts_of(row, sequence, PLAN.read(sequence.document), place).items():
            setattr(row, name, value)
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
        row.words = words_of(row, session.get_one(SequenceRow, row.sequence_id).place_name)
        row.version += 1
        session.flush()
        return present(session, row)
