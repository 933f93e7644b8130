"""What can be done with outings."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime, timedelta
from uuid import UUID, uuid4

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from lucid_ridge.app.database import now
from lucid_ridge.app.documents import UnreadableError
from lucid_ridge.app.editing import check_new_id, check_version, copy_name, database, find, owner
from lucid_ridge.app.logbook.tables import Take
from lucid_ridge.app.outings.assembling import Assembled, Remembered, assemble, forecasts_for, id_of, shelf, with_zones
from lucid_ridge.app.outings.documents import OUTING
from lucid_ridge.app.outings.files import TYPES, written
from lucid_ridge.app.outings.schemas import (
    DatesBody,
    DatesOut,
    FileForm,
    InsteadOut,
    NextOut,
    OutingBrief,
    OutingChange,
    OutingNew,
    OutingOut,
    OutingPlanOut,
    OutingsOut,
    PlanBody,
    UsualVisitOut,
)
from lucid_ridge.app.outings.tables import OutingRow
from lucid_ridge.app.preferences.operations import chosen, own_pace
from lucid_ridge.app.problems import Refused
from lucid_ridge.app.turns import turn
from lucid_ridge.core.light.terrain import surely_farther
from lucid_ridge.core.model.outing import MARGIN_MIN, SET_UP_MIN, Outing, OutingVisit
from lucid_ridge.core.model.place import Forecast, Place
from lucid_ridge.core.model.scene import Units
from lucid_ridge.core.outing.check import FIRST_DATE, LAST_DATE, check_outing
from lucid_ridge.core.outing.day_times import bounds_of, minute_of, when
from lucid_ridge.core.outing.left_out import LeftOut, left_out
from lucid_ridge.core.outing.planning import Candidate, Put, on_dates, put_together, stands_at
from lucid_ridge.core.outing.schedule import Plan, schedule
from lucid_ridge.core.records import SceneError
from lucid_ridge.reports.outing.plan import PlanShown, clock_of, plan_shown
from lucid_ridge.reports.outing.readiness import SPARED, readiness_shown
from lucid_ridge.reports.outing.weather import dates_shown, go_or_stay, instead
from lucid_ridge.reports.outing.words import minutes_words

SCHEDULE_S, REASONS_S = 5.0, 3.0
_NEAR_M = 15_000.0
_MOST_OTHERS = 16
_LISTED = 200


def present(row: OutingRow) -> OutingOut:
    """The outing as the API shows it."""
    return OutingOut(
        id=row.id, version=row.version, updated_at=row.updated_at, name=row.name, outing=OUTING.read(row.document)
    )


def checked(outing: Outing) -> Outing:
    """The outing with the zones of its spots.

    Raises
    ------
    SceneError
        If it contradicts itself.

    """
    outing = with_zones(outing)
    problems = check_outing(outing)
    if problems:
        raise SceneError(problems)
    return outing


def _fill(row: OutingRow, sent: OutingNew | OutingChange) -> None:
    outing = checked(sent.outing)
    row.name, row.document = sent.name, OUTING.write(outing, row.document)
    row.leaves_at = when(bounds_of(outing, 0)[0])
    row.back_at = when(bounds_of(outing, len(outing.days) - 1)[1])


def _when_words(row: OutingRow, outing: Outing) -> str:
    clock = clock_of(outing, 0, "metric")
    first, last = minute_of(row.leaves_at), minute_of(row.back_at)
    days = len(outing.days)
    if days > 1:
        return f"{clock.date(first)} to {clock.date(last)}, {days} days"
    return f"{clock.date(first)}, {clock.at(first)} to {clock.at(last, first)}"


def away_words(minutes: int) -> str:
    """How far ahead something is: in 40 min, in 9 h, in 3 days."""
    if minutes < 0:
        return "over"
    if minutes < 120:
        return f"in {minutes_words(minutes)}"
    hours = round(minutes / 60)
    return f"in {hours} h" if hours < 48 else f"in {round(hours / 24)} days"


def _brief(row: OutingRow, at: datetime) -> OutingBrief:
    outing = OUTING.read(row.document)
    over = row.back_at < at
    ahead = round((row.leaves_at - at).total_seconds() / 60)
    return OutingBrief(
        id=row.id,
        name=row.name,
        leaves_at=row.leaves_at,
        when_text=_when_words(row, outing),
        away_text="over" if over else "now" if ahead <= 0 else away_words(ahead),
        visits=len(outing.visits),
        over=over,
    )


def list_outings() -> OutingsOut:
    """Those to come, the nearest first, then those that are over, the latest first; two hundred of each at most."""
    at = now()
    mine = select(OutingRow).where(OutingRow.owner_id == owner(), OutingRow.deleted_at.is_(None))
    with database().transaction() as session:
        ahead = session.scalars(
            mine.where(OutingRow.back_at >= at).order_by(OutingRow.leaves_at, OutingRow.id).limit(_LISTED)
        ).all()
        past = session.scalars(
            mine.where(OutingRow.back_at < at).order_by(OutingRow.leaves_at.desc(), OutingRow.id).limit(_LISTED)
        ).all()
        return OutingsOut(outings=[_brief(row, at) for row in (*ahead, *past)])


def one(outing_id: UUID) -> OutingOut:
    """One outing."""
    with database().transaction() as session:
        return present(find(session, OutingRow, outing_id, "outing"))


def add(new: OutingNew) -> OutingOut:
    """Add an outing."""
    with database().transaction() as session:
        check_new_id(session, OutingRow, new.id)
        row = OutingRow(id=new.id or uuid4(), owner_id=owner())
        _fill(row, new)
        session.add(row)
        session.flush()
        return present(row)


def change(outing_id: UUID, changed: OutingChange) -> OutingOut:
    """Save a changed outing over the version that was changed."""
    with database().transaction() as session:
        row = find(session, OutingRow, outing_id, "outing")
        check_version(row, changed.version, "outing", present)
        _fill(row, changed)
        row.version += 1
        session.flush()
        return present(row)


def duplicate(outing_id: UUID) -> OutingOut:
    """Add a copy of an outing, with nothing done or ticked yet."""
    with database().transaction() as session:
        row = find(session, OutingRow, outing_id, "outing")
        outing = OUTING.read(row.document)
        fresh = replace(outing, done=(), packing=replace(outing.packing, ticked=(), forgotten=()))
        copied = OutingRow(
            id=uuid4(),
            owner_id=owner(),
            name=copy_name(row.name),
            leaves_at=row.leaves_at,
            back_at=row.back_at,
            document=OUTING.write(fresh, row.document),
        )
        session.add(copied)
        session.flush()
        return present(copied)


def _places(candidates: tuple[Candidate, ...]) -> list[Place]:
    return list(dict.fromkeys(c.state.scene.place for c in candidates))


def _forecasts(put: Put) -> dict[Place, Forecast]:
    days = put.task.days
    return forecasts_for(
        _places(put.candidates), when(min(d.leave_from for d in days)), when(max(d.back_by for d in days))
    )


def forgotten_before(session: Session, before: datetime) -> tuple[str, ...]:
    """What was left at home on the latest outing before an instant that tells of anything."""
    rows = session.scalars(
        select(OutingRow)
        .where(OutingRow.owner_id == owner(), OutingRow.deleted_at.is_(None), OutingRow.leaves_at < before)
        .order_by(OutingRow.leaves_at.desc(), OutingRow.id)
        .limit(5)
    ).all()
    for row in rows:
        try:
            packing = OUTING.read(row.document).packing
        except UnreadableError:
            continue
        if packing.forgotten:
            return packing.forgotten
    return ()


_plans: Remembered[tuple[Plan, tuple[LeftOut, ...]]] = Remembered(64)
"""Ticking a list or naming whom to call asks for nothing new."""


def faults_before(session: Session, before: datetime) -> tuple[tuple[str, date], ...]:
    """The last days of the year before an instant on which something failed that packing spares one."""
    found = []
    for fault in SPARED:
        at = session.scalar(
            select(func.max(Take.started_at)).where(
                Take.owner_id == owner(),
                Take.deleted_at.is_(None),
                Take.faults.contains([fault]),
                Take.started_at < before,
                Take.started_at > before - timedelta(days=365),
            )
        )
        if at is not None:
            found.append((fault, at.date()))
    return tuple(found)


def planned(found: Assembled, at: datetime | None) -> tuple[Put, Plan, tuple[LeftOut, ...]]:
    """An outing as a task, its schedule from an instant on, and why each visit that falls does."""
    minute = None if at is None else minute_of(at)
    put = put_together(found.outing, found.candidates, found.ways, minute)

    def make() -> tuple[Plan, tuple[LeftOut, ...]]:
        made = schedule(put.task, SCHEDULE_S)
        return made, left_out(put.task, made, REASONS_S)

    return put, *_plans.get(put.task, make)


def usual_visit() -> UsualVisitOut:
    """What a visit is given that is added."""
    with database().transaction() as session:
        own = chosen(session).learned.set_up_min
    return UsualVisitOut(
        set_up_min=own or SET_UP_MIN,
        set_up_text=f"your own: {own}" if own else f"usual: {SET_UP_MIN}",
        margin_min=MARGIN_MIN,
    )


def plan(sent: PlanBody) -> OutingPlanOut:
    """Plan an outing as it stands on the screen: when to be where, what falls, whether to go, what to pack.

    Raises
    ------
    SceneError
        If it contradicts itself.

    """
    outing = checked(sent.outing)
    with turn():
        return plan_of(outing, sent.units, sent.now)


def plan_of(outing: Outing, units: Units, at: datetime | None = None) -> OutingPlanOut:
    """The plan of an outing that was checked."""
    found = assemble(outing)
    put, made, reasons = planned(found, at)
    shown = plan_shown(put, made, units, minute_of(at or now()), reasons)
    with database().transaction() as session:
        first = when(put.task.days[0].leave_from)
        forgotten, faults = forgotten_before(session, first), faults_before(session, first)
        charge_lasts = chosen(session).learned.charge or 1.0
    return OutingPlanOut(
        plan=shown,
        weather=go_or_stay(put, made, _forecasts(put), units),
        readiness=readiness_shown(found.outing, put, shown, found.places, forgotten, faults, charge_lasts),
        gone=found.gone,
    )


def dates(sent: DatesBody) -> DatesOut:
    """The same outing begun on several dates.

    Raises
    ------
    SceneError
        If it contradicts itself.
    Refused
        If a date lies beyond what is known of sun and moon.

    """
    outing = checked(sent.outing)
    last = outing.days[-1].date - outing.days[0].date + timedelta(days=sent.count) + sent.first
    if not FIRST_DATE <= sent.first <= last <= LAST_DATE:
        raise Refused(
            "/first", f"Sun and Moon are known from {FIRST_DATE.year} to {LAST_DATE.year}; choose a date in between."
        )
    with turn():
        found = assemble(outing)
        tried = on_dates(
            found.outing, found.candidates, found.ways, sent.first, sent.count, SCHEDULE_S, minute_of(now())
        )
        begins = when(min(t.put.task.days[0].leave_from for t in tried))
        ends = when(max(t.put.task.days[-1].back_by for t in tried))
        forecasts = forecasts_for(_places(found.candidates), begins, ends)
        return DatesOut(dates=dates_shown(tried, forecasts, outing.days[0].date, sent.units))


def in_place_of_it(sent: PlanBody) -> InsteadOut:
    """Compositions near by whose light is likely within the days of the outing.

    Raises
    ------
    SceneError
        If it contradicts itself.

    """
    outing = checked(sent.outing)
    mine = {id_of(v) for v in outing.visits}
    start = (outing.start.latitude_deg, outing.start.longitude_deg)
    with turn():
        found = assemble(outing)
        put = put_together(found.outing, found.candidates, found.ways)
        with database().transaction() as session:
            saved = shelf(session)
        near = [
            (row.name, row.id)
            for row, place in saved.pairs.values()
            if row.id not in mine and not surely_farther(place.latitude_deg, place.longitude_deg, start, _NEAR_M)
        ]
        others = []
        for name, composition_id in sorted(near)[:_MOST_OTHERS]:
            visit = OutingVisit(id=str(composition_id), composition_id=str(composition_id))
            try:
                state = saved.state(composition_id)
            except (SceneError, UnreadableError, ValueError):
                continue
            others.append(Candidate(visit, name, state, stands_at(state), own_pace()))
        days = put.task.days
        forecasts = forecasts_for(_places(tuple(others)), when(days[0].leave_from), when(days[-1].back_by))
        return InsteadOut(found=list(instead(put, others, forecasts, sent.units)), looked_at=len(others))


_NOTHING = NextOut(id=None, name="", heading="", when_text="", leave_at=None, next_text="", next_at=None)


def next_one(units: Units) -> NextOut:
    """The outing one is on or that comes next, with when to leave."""
    at = now()
    with database().transaction() as session:
        row = session.scalars(
            select(OutingRow)
            .where(OutingRow.owner_id == owner(), OutingRow.deleted_at.is_(None), OutingRow.back_at >= at)
            .order_by(OutingRow.leaves_at, OutingRow.id)
            .limit(1)
        ).one_or_none()
    if row is None:
        return _NOTHING
    outing = OUTING.read(row.document)
    with turn():
        # Once something of it is done, the rest is planned from now on.
        put, made, reasons = planned(assemble(outing), at if outing.done else None)
        shown = plan_shown(put, made, units, minute_of(at), reasons)
    leave_at = next((d.leave.at_utc for d in shown.days if d.leave is not None and d.leave.at_utc > at), None)
    text, next_at = _next_step(shown, at)
    return NextOut(
        id=row.id,
        name=row.name,
        heading=shown.heading,
        when_text=_when_words(row, outing),
        leave_at=leave_at,
        next_text=text,
        next_at=next_at,
    )


def _next_step(shown: PlanShown, at: datetime) -> tuple[str, datetime | None]:
    """What comes next on the line of an outing."""
    ahead = (one for day in shown.days for one in day.steps if one.at_utc > at)
    found = next(ahead, None)
    return ("", None) if found is None else (found.text, found.at_utc)


def file_of(outing_id: UUID, form: FileForm, units: Units) -> tuple[bytes, str, str]:
    """An outing in one of its forms: what is in the file, of which type, and its name."""
    with database().transaction() as session:
        row = find(session, OutingRow, outing_id, "outing")
        name, outing = row.name, OUTING.read(row.document)
    with turn():
        made = plan_of(outing, units)
    data = written(form, str(outing_id), name, outing, made.plan, made.readiness)
    return data, TYPES[form], f"outing-{outing.days[0].date}.{form}"
