"""An outing as a line of time for each day, with ways, windows, tide and darkness; and what is left out, with the reason."""

from __future__ import annotations

from datetime import datetime
from zoneinfo import ZoneInfo

from lucid_ridge.core.model.outing import Outing, Spot, Wanted
from lucid_ridge.core.model.scene import Units
from lucid_ridge.core.outing.day_times import ends_of, when
from lucid_ridge.core.outing.left_out import LeftOut, what_falls
from lucid_ridge.core.outing.legs import ON_FOOT, By, LegWay
from lucid_ridge.core.outing.planning import Put
from lucid_ridge.core.outing.schedule import Plan
from lucid_ridge.core.outing.timing import Timed, latest_leave
from lucid_ridge.core.records import record
from lucid_ridge.reports.figures import significant
from lucid_ridge.reports.outing.line import Axis, Band, Mark, Moment, Part, TideLine, sun_on, tide_on
from lucid_ridge.reports.outing.steps import OutingStep, step
from lucid_ridge.reports.outing.words import (
    Clock,
    fall_words,
    left_out_words,
    leg_reasons,
    leg_words,
    minutes_words,
    value_words,
)

_BESIDE_MIN = 20
_LONG_WAIT_MIN = 75


@record
class LegShown:
    """A way on the line and on the map. ``lines`` are latitude and longitude; ``reasons`` say how its time comes about."""

    leaves: Moment
    arrives: Moment
    text: str
    dark: bool
    reasons: tuple[str, ...]
    by: tuple[By, ...]
    lines: tuple[tuple[tuple[float, float], ...], ...]


@record
class VisitShown:
    """A visit in its time. ``light`` and ``ground`` are stretches of the line; ``slack_text`` says by how much it may slip and what falls then."""

    visit_id: str
    name: str
    place_name: str
    wanted: Wanted
    way_there: LegShown
    arrive: Moment
    set_up_by: Moment
    first: Moment
    done: Moment
    leave_by: Moment
    light: tuple[Part, ...]
    ground: tuple[Part, ...] | None
    nailed: bool
    before_light_text: str
    frames_text: str
    slack_min: int
    slack_text: str
    turn_back_text: str
    position: tuple[float, float]


@record
class OtherShown:
    """A visit that is not made on a day, with its light on the day's line."""

    visit_id: str
    name: str
    wanted: Wanted
    light: tuple[Part, ...]
    ground: tuple[Part, ...] | None


@record
class DayShown:
    """A day: its line from 0 to 1 (``from_utc`` to ``to_utc``), what is on it, and the words at its head."""

    index: int
    from_utc: datetime
    to_utc: datetime
    date_text: str
    heading: str
    starts_at: str
    ends_at: str
    leave: Moment | None
    back: Moment | None
    back_by: Moment
    leave_text: str
    ticks: tuple[Mark, ...]
    bands: tuple[Band, ...]
    sun: tuple[Mark, ...]
    tides: tuple[TideLine, ...]
    visits: tuple[VisitShown, ...]
    others: tuple[OtherShown, ...]
    way_back: LegShown | None
    now: Moment | None
    zone_text: str
    steps: tuple[OutingStep, ...]


@record
class LeftOutShown:
    """A visit that is left out: why, and what would let it in."""

    visit_id: str
    name: str
    wanted: Wanted
    why: str
    remedy: str


@record
class SpotShown:
    """A start or end on the map."""

    name: str
    position: tuple[float, float]


@record
class PlanShown:
    """A whole outing. ``proven`` is whether no better plan exists; ``heading`` sums it up."""

    heading: str
    value_text: str
    proven: bool
    days: tuple[DayShown, ...]
    left_out: tuple[LeftOutShown, ...]
    spots: tuple[SpotShown, ...]


class _Day:
    """One day being put into words."""

    def __init__(self, put: Put, day: int, whole: Plan, clock: Clock, now: int | None) -> None:
        plan = next((one for one in whole.days if one.day == day), None)
        self.put, self.index, self.plan, self.clock, self.now = put, day, plan, clock, now
        self.left_out = whole.left_out
        out = put.task.days[day]
        first, last = out.leave_from, max(out.back_by, out.leave_from + 60)
        if plan is not None:
            # What lies before leaving and long after coming back is of no use; half an hour of it shows that it is there.
            first = max(first, plan.leave - 30)
            last = min(last, max(plan.back + 30, plan.back + (plan.back - plan.leave) // 4))
        self.axis = Axis(first - _BESIDE_MIN, last + _BESIDE_MIN, clock, out.leave_from)
        self.start, self.end = ends_of(put.outing, day)
        self.from_name = put.left_last[day] or self.start.name

    def leg(self, a: int, b: int, leaves: int, arrives: int) -> LegShown:
        """A way between two points of the task; what is waited for is at its end where it is not in the way itself."""
        way = self.put.way(a, b) or LegWay(())
        out = self.put.task.days[self.index]
        by_day = any(lo <= arrives - way.leg.light_min and arrives <= hi for lo, hi in out.light)
        minutes = way.leg.light_min if by_day else way.leg.dark_min
        dark = not by_day and any(s.by in ON_FOOT for s in way.stretches) and minutes > 0
        return LegShown(
            leaves=self.axis.moment(leaves),
            arrives=self.axis.moment(min(leaves + minutes, arrives)),
            text=leg_words(way, minutes, dark, self.clock.units),
            dark=dark,
            reasons=leg_reasons(way, self.put.outing.pace, self.put.outing.detour, self.clock.units),
            by=tuple(dict.fromkeys(s.by for s in way.stretches)),
            lines=tuple(s.line for s in way.stretches if s.by != "here"),
        )

    def visits(self) -> tuple[VisitShown, ...]:
        """The visits of the day in order."""
        if self.plan is None:
            return ()
        made, at, left = [], self.put.task.start(self.index), self.plan.leave
        for k, timed in enumerate(self.plan.visits):
            made.append(self._visit(k, timed, self.leg(at, timed.visit, left, timed.arrive)))
            at, left = timed.visit, timed.leave
        return tuple(made)

    def _visit(self, k: int, timed: Timed, way: LegShown) -> VisitShown:
        assert self.plan is not None
        candidate, chances = self.put.candidates[timed.visit], self.put.chances[timed.visit]
        axis, visit = self.axis, candidate.visit
        before = timed.chance.opens - timed.ready
        back_by = self.clock.at(self.put.task.days[self.index].back_by)
        falls = fall_words(self.put, what_falls(self.put.task, self.plan, k), back_by)
        use = f"{minutes_words(candidate.frames_min)} of frames"
        if visit.frames_min is None and candidate.pace != 1.0:
            use += f" at your pace, {significant(candidate.pace, 2)} ×"
        return VisitShown(
            visit_id=visit.id,
            name=candidate.name,
            place_name=candidate.state.scene.place.name,
            wanted=visit.wanted,
            way_there=way,
            arrive=axis.moment(timed.arrive),
            set_up_by=axis.moment(timed.ready),
            first=axis.moment(timed.first),
            done=axis.moment(timed.done),
            leave_by=axis.moment(timed.leave),
            light=axis.parts(chances.light),
            ground=None if chances.open_ground is None else axis.parts(chances.open_ground),
            nailed=visit.first_at is not None,
            before_light_text=_before_words(before, timed, candidate.visit.goal == "light"),
            frames_text=f"{use}, {minutes_words(visit.margin_min)} to spare" if visit.margin_min else use,
            slack_min=timed.slack_min,
            slack_text=f"may slip {minutes_words(timed.slack_min)}, {falls}",
            turn_back_text=self._turn_back(timed),
            position=candidate.point.position,
        )

    def _turn_back(self, timed: Timed) -> str:
        """When one has to turn back at the latest, straight to the end of the day."""
        out = self.put.task.days[self.index]
        way = self.put.way(timed.visit, self.put.task.end(self.index))
        if way is None:
            return ""
        last = min(latest_leave(out.back_by, way.leg, out.light), timed.chance.ground_to)
        why = (
            "before the ground closes"
            if last == timed.chance.ground_to
            else f"to be back by {self.clock.at(out.back_by)}"
        )
        return f"turn back from here by {self.clock.at(last, out.leave_from)} {why}"

    def others(self) -> tuple[OtherShown, ...]:
        """Those left out that may fall on this day."""
        made = []
        for i in self.left_out:
            candidate, chances = self.put.candidates[i], self.put.chances[i]
            if candidate.visit.day in (None, self.index):
                made.append(
                    OtherShown(
                        visit_id=candidate.visit.id,
                        name=candidate.name,
                        wanted=candidate.visit.wanted,
                        light=self.axis.parts(chances.light),
                        ground=None if chances.open_ground is None else self.axis.parts(chances.open_ground),
                    )
                )
        return tuple(made)

    def steps(self, visits: tuple[VisitShown, ...], back: LegShown | None) -> tuple[OutingStep, ...]:
        """What there is to do, one after the other."""
        if self.plan is None or back is None:
            return ()
        d = self.index
        made = [
            step(
                "leave", d, None, self.axis.moment(self.plan.leave), f"leave {self.from_name}", visits[0].way_there.text
            )
        ]
        for k, v in enumerate(visits):
            onward = visits[k + 1].way_there.text if k + 1 < len(visits) else back.text
            made += [
                step("arrive", d, v.visit_id, v.arrive, f"be at {v.name}", f"set up by {v.set_up_by.text}"),
                step("first", d, v.visit_id, v.first, f"first frame at {v.name}", v.frames_text),
                step("leave_by", d, v.visit_id, v.leave_by, f"leave {v.name}", onward),
            ]
        return (*made, step("back", d, None, self.axis.moment(self.plan.back), f"back at {self.end.name}"))

    def shown(self) -> DayShown:
        """The whole day."""
        out, axis, plan = self.put.task.days[self.index], self.axis, self.plan
        bands, sun = sun_on(axis, self.start)
        stations = dict.fromkeys(
            c.state.scene.place.tide for c in self.put.candidates if c.state.scene.place.tide is not None
        )
        visits, count = self.visits(), 0 if plan is None else len(plan.visits)
        heading, leave_text, back = "Nothing fits on this day", "", None
        if plan is not None:
            heading = (
                f"Leave {self.from_name} {self.clock.at(plan.leave)}, {count} {'picture' if count == 1 else 'pictures'}, "
                f"back {self.clock.at(plan.back, out.leave_from)}"
            )
            falls = fall_words(self.put, what_falls(self.put.task, plan, -1), self.clock.at(out.back_by))
            leave_text = f"leaving may slip {minutes_words(plan.slack_min)}, {falls}"
            last = plan.visits[-1]
            back = self.leg(last.visit, self.put.task.end(self.index), last.leave, plan.back)
        return DayShown(
            index=self.index,
            from_utc=when(axis.first),
            to_utc=when(axis.last),
            date_text=self.clock.date(out.leave_from),
            heading=heading,
            starts_at=self.from_name,
            ends_at=self.end.name,
            leave=None if plan is None else axis.moment(plan.leave),
            back=None if plan is None else axis.moment(plan.back),
            back_by=axis.moment(out.back_by),
            leave_text=leave_text,
            ticks=axis.ticks(),
            bands=bands,
            sun=sun,
            tides=tuple(tide_on(axis, s) for s in stations if s is not None),
            visits=visits,
            others=self.others(),
            way_back=back,
            now=None if self.now is None or not axis.first <= self.now <= axis.last else axis.moment(self.now),
            zone_text=f"{self.clock.local(out.leave_from):%Z}",
            steps=self.steps(visits, back),
        )


def _before_words(before: int, timed: Timed, light: bool) -> str:
    if light and before > 0:
        told = f"set up {minutes_words(before)} before its light"
        return (
            told if timed.waiting_min <= _LONG_WAIT_MIN else f"{minutes_words(timed.waiting_min)} free before its light"
        )
    if timed.waiting_min:
        return f"waits {minutes_words(timed.waiting_min)}"
    return "in its light" if light else ""


def clock_of(outing: Outing, day: int, units: Units) -> Clock:
    """The clock that a day is told by: that of where it starts."""
    return Clock(ZoneInfo(ends_of(outing, day)[0].time_zone or "UTC"), units)


def plan_shown(
    put: Put, plan: Plan, units: Units = "metric", now: int | None = None, reasons: tuple[LeftOut, ...] = ()
) -> PlanShown:
    """An outing as it is shown.

    Parameters
    ----------
    put, plan
        The outing as a task, and its schedule.
    units
        How distances are told.
    now
        The minute that is marked on the line; None for no mark.
    reasons
        Why each visit that is left out is.

    """
    days = tuple(_Day(put, d, plan, clock_of(put.outing, d, units), now).shown() for d in range(len(put.task.days)))
    several = len(days) > 1
    left = []
    for told in reasons:
        candidate = put.candidates[told.visit]
        why, remedy = left_out_words(put, told, clock_of(put.outing, told.day or 0, units), several)
        left.append(
            LeftOutShown(
                visit_id=candidate.visit.id,
                name=candidate.name,
                wanted=candidate.visit.wanted,
                why=why,
                remedy=remedy,
            )
        )
    spots = {(s.latitude_deg, s.longitude_deg): s for s in _every_spot(put.outing)}
    return PlanShown(
        heading=". ".join(d.heading for d in days if d.visits) or "Nothing fits yet",
        value_text=value_words(plan, len(put.candidates)),
        proven=plan.proven,
        days=days,
        left_out=tuple(left),
        spots=tuple(SpotShown(name=s.name, position=at) for at, s in spots.items()),
    )


def _every_spot(outing: Outing) -> list[Spot]:
    found = [outing.start, outing.end, *(s for d in outing.days for s in (d.start, d.end))]
    found += [s for ride in outing.rides for s in (ride.from_spot, ride.to_spot)]
    return [s for s in found if s is not None]
