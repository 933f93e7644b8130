"""Which frames of which sequences loose pictures are of; proposed, and taken on by a press."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from uuid import UUID, uuid5
from zoneinfo import ZoneInfo

from sqlalchemy import select
from sqlalchemy.orm import Session

from lucid_ridge.app.editing import database, owner
from lucid_ridge.app.field.plans import PLAN
from lucid_ridge.app.field.schemas import FieldPlan
from lucid_ridge.app.field.tables import SequenceRow
from lucid_ridge.app.logbook import operations as logbook
from lucid_ridge.app.logbook.facts import TAKEN
from lucid_ridge.app.logbook.schemas import FrameTaken, TakeNew
from lucid_ridge.app.logbook.tables import Take
from lucid_ridge.app.pictures.documents import FACTS
from lucid_ridge.app.pictures.tables import PictureRow
from lucid_ridge.app.problems import Refused
from lucid_ridge.app.review.belonging import give, loose, setting_of
from lucid_ridge.app.review.grouping import groups_of
from lucid_ridge.app.review.schemas import FramePicture, MatchedOut, MatchOut, MatchTakenOn, TakenOn
from lucid_ridge.core.review.matching import Match, Setting, match
from lucid_ridge.reports.figures import stops_text

_AROUND = timedelta(hours=36)
_MOST_PICTURES, _MOST_SEQUENCES = 2000, 60
_RIGHT_S = 90.0


@dataclass(frozen=True)
class _Candidate:
    row: SequenceRow
    plan: FieldPlan
    take: Take | None
    frames: tuple[Setting, ...]


def _candidate(row: SequenceRow, take: Take | None) -> _Candidate:
    """A sequence with its frames at the times at which they were taken, or else were to be."""
    plan = PLAN.read(row.document)
    at = {one.number: one.started_at for one in TAKEN.read(take.document).frames} if take else {}
    start = take.started_at if take else plan.moment_utc
    frames = tuple(
        Setting(
            at.get(one.number, start + timedelta(seconds=one.starts_after_s)).timestamp(),
            one.exposure_s,
            one.aperture.value,
            one.iso.value,
            one.focus.value,
        )
        for one in plan.sequence.frames
    )
    return _Candidate(row, plan, take, frames)


def _candidates(session: Session, first: datetime, last: datetime) -> list[_Candidate]:
    """The sequences about that time that have no pictures yet: those that were carried out, and those that were only planned."""
    with_pictures = select(PictureRow.sequence_id).where(
        PictureRow.owner_id == owner(), PictureRow.take_id.is_not(None), PictureRow.deleted_at.is_(None)
    )
    mine = (
        select(SequenceRow, Take)
        .outerjoin(Take, (Take.sequence_id == SequenceRow.id) & Take.deleted_at.is_(None))
        .where(
            SequenceRow.owner_id == owner(),
            # What was put together afterwards is no plan.
            SequenceRow.composition_id.is_not(None),
            SequenceRow.id.not_in(with_pictures.scalar_subquery()),
        )
        .order_by(SequenceRow.created_at.desc(), SequenceRow.id)
    )
    near = mine.where(Take.started_at.between(first - _AROUND, last + _AROUND))
    found = [_candidate(row, take) for row, take in session.execute(near.limit(_MOST_SEQUENCES))]
    for row, take in session.execute(mine.where(Take.id.is_(None)).limit(_MOST_SEQUENCES)):
        one = _candidate(row, take)
        if first - _AROUND <= one.plan.moment_utc <= last + _AROUND:
            found.append(one)
    return [one for one in found if one.frames][:_MOST_SEQUENCES]


def clock_text(off_s: float) -> str:
    """By how much a camera's clock is off."""
    if abs(off_s) < _RIGHT_S:
        return "The camera's clock was right."
    hours, minutes = divmod(round(abs(off_s) / 60), 60)
    parts = [f"{hours} h"] * (hours > 0) + [f"{minutes} min"] * (minutes > 0)
    return f"The camera's clock was {' '.join(parts)} {'fast' if off_s > 0 else 'slow'}."


def proposed() -> MatchOut:
    """What the loose pictures are of, as far as it can be told."""
    with database().transaction() as session:
        rows = session.scalars(
            select(PictureRow)
            .where(PictureRow.owner_id == owner(), PictureRow.deleted_at.is_(None), PictureRow.take_id.is_(None))
            .order_by(PictureRow.taken_at, PictureRow.id)
            .limit(_MOST_PICTURES)
        ).all()
        if not rows:
            return MatchOut(clock_text="", clock_off_s=None, matched=[], groups=[])
        candidates = _candidates(session, rows[0].taken_at, rows[-1].taken_at)
        found = match([setting_of(row) for row in rows], [one.frames for one in candidates])
        matched = [_told(one, candidates[one.sequence], rows) for one in found]
        taken = {i for one in found for i, _ in one.frames}
        groups = groups_of(session, [row for i, row in enumerate(rows) if i not in taken])
    if not found:
        return MatchOut(clock_text="", clock_off_s=None, matched=[], groups=groups)
    best = max(found, key=lambda one: (one.sure, one.score))
    zone = ZoneInfo(candidates[best.sequence].plan.time_zone)
    offset = rows[0].taken_at.astimezone(zone).utcoffset() or timedelta(0)
    zoned = FACTS.read(rows[best.frames[0][0]].document).taken
    local = timedelta(0) if zoned is not None and zoned.tzinfo is not None else offset
    return MatchOut(
        clock_text=clock_text(best.clock_off_s - local.total_seconds()),
        clock_off_s=best.clock_off_s,
        matched=matched,
        groups=groups,
    )


def _told(one: Match, candidate: _Candidate, rows: Sequence[PictureRow]) -> MatchedOut:
    zone = ZoneInfo(candidate.plan.time_zone)
    began = datetime.fromtimestamp(candidate.frames[0].at_s, UTC).astimezone(zone)
    numbers = [candidate.plan.sequence.frames[j].number for _, j in one.frames]
    lacking = len(candidate.frames) - len(set(numbers))
    repeats = len(numbers) - len(set(numbers))
    told = [f"{len(set(numbers))} of {len(candidate.frames)} frames"]
    told += [f"{repeats} taken again"] if repeats else []
    told += [f"{lacking} missing"] if lacking else []
    if abs(one.shift_stops) > 0.2:
        told.append(
            f"{stops_text(abs(one.shift_stops), signed=False)} {'longer' if one.shift_stops > 0 else 'shorter'} than planned"
        )
    return MatchedOut(
        sequence_id=candidate.row.id,
        take_id=candidate.take.id if candidate.take else None,
        composition_name=candidate.row.composition_name,
        place_name=candidate.row.place_name,
        when_text=began.strftime("%-d %B %Y, %H:%M"),
        told=", ".join(told),
        frames=len(candidate.frames),
        sure=one.sure,
        pictures=[
            FramePicture(picture_id=rows[i].id, number=number)
            for (i, _), number in zip(one.frames, numbers, strict=True)
        ],
    )


def taken_on(body: MatchTakenOn) -> TakenOn:
    """Give pictures to a take; to a new one where nobody wrote any."""
    ids = [one.picture_id for one in body.pictures]
    if len(set(ids)) < len(ids):
        raise Refused("/pictures", "A picture is in it twice.")
    with database().transaction() as session:
        rows = {row.id: row for row in loose(session, ids)}
        frames = [_frame(rows[one.picture_id], one.number, body.clock_off_s) for one in body.pictures]
    if body.take_id is None:
        take_id = uuid5(body.sequence_id, str(sorted(ids)[0]))
        logbook.record(take_id, _new_take(body.sequence_id, frames))
    else:
        take_id = body.take_id
    give(take_id, body.sequence_id, {one.picture_id: one.number for one in body.pictures}, body.take_id is None)
    return TakenOn(take_id=take_id)


def _frame(row: PictureRow, number: int, clock_off_s: float) -> FrameTaken:
    exposed = FACTS.read(row.document).exposure_s or 0.0
    at = row.taken_at - timedelta(seconds=clock_off_s)
    return FrameTaken(number=number, status="done", started_at=at, exposed_s=exposed)


def _new_take(sequence_id: UUID, frames: list[FrameTaken]) -> TakeNew:
    last = max(frames, key=lambda one: one.started_at)
    return TakeNew(
        sequence_id=sequence_id,
        started_at=min(one.started_at for one in frames),
        ended_at=last.started_at + timedelta(seconds=last.exposed_s),
        frames=sorted(frames, key=lambda one: one.started_at),
    )
