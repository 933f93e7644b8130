"""When one arrives, takes the first frame and leaves, along an order of visits; what gives when time slips.

A leg takes its daylight time where all of it lies in one stretch of daylight, else its time in the dark. One may wait for the
light where that arrives sooner, so nobody who leaves later ever arrives earlier than who left before.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from lucid_ridge.core.outing.task import Chance, Day, Leg, Task

Order = tuple[tuple[int, Chance], ...]
"""Visits of one day by index, in order, each with the chance that it takes."""
FailureKind = Literal["late", "ground", "back", "no_way"]


@dataclass(frozen=True)
class Timed:
    """A visit in its time. ``arrive`` to ``ready`` is set-up; ``first`` to ``done`` the frames; then the margin until ``leave``."""

    visit: int
    chance: Chance
    arrive: int
    ready: int
    first: int
    done: int
    leave: int
    slack_min: int = 0

    @property
    def waiting_min(self) -> int:
        """How long one stands there ready before the first frame."""
        return self.first - self.ready


@dataclass(frozen=True)
class DayPlan:
    """A day in its time: when one leaves the start and is back, and how much leaving may slip."""

    day: int
    leave: int
    visits: tuple[Timed, ...]
    back: int
    slack_min: int = 0


@dataclass(frozen=True)
class Failure:
    """Where an order of visits breaks: which one in it (None for the way back), how, and by how many minutes."""

    at: int | None
    kind: FailureKind
    by_min: int
    timed: tuple[Timed, ...]
    would: int


def arrival(leave: int, leg: Leg, light: tuple[tuple[int, int], ...]) -> int:
    """The earliest arrival of whoever leaves at a minute or waits a little for daylight."""
    best = leave + leg.dark_min
    for begins, ends in light:
        by_day = max(leave, begins) + leg.light_min
        if by_day <= ends:
            best = min(best, by_day)
    return best


def latest_leave(arrive: int, leg: Leg, light: tuple[tuple[int, int], ...]) -> int:
    """The latest minute to leave at so as to have arrived by another."""
    best = arrive - leg.dark_min
    for begins, ends in light:
        by_day = min(arrive, ends) - leg.light_min
        if by_day >= begins:
            best = max(best, by_day)
    return best


def _timed(task: Task, index: int, chance: Chance, arrive: int) -> Timed:
    visit = task.visits[index]
    ready = arrive + visit.set_up_min
    first = max(ready, chance.first_from)
    done = first + visit.frames_min
    return Timed(index, chance, arrive, ready, first, done, done + visit.margin_min)


def run(task: Task, day: int, order: Order, leave: int) -> DayPlan | Failure:
    """Go through an order of visits from a minute of leaving on, everything as early as it may be."""
    out = task.days[day]
    at, now = task.start(day), leave
    made: list[Timed] = []
    for index, chance in order:
        leg = task.legs[at][index]
        if leg is None:
            return Failure(index, "no_way", 0, tuple(made), now)
        timed = _timed(task, index, chance, max(arrival(now, leg, out.light), chance.ground_from))
        if timed.first > chance.first_to:
            return Failure(index, "late", timed.first - chance.first_to, tuple(made), timed.first)
        if timed.leave > chance.ground_to:
            return Failure(index, "ground", timed.leave - chance.ground_to, tuple(made), timed.leave)
        made.append(timed)
        at, now = index, timed.leave
    leg = task.legs[at][task.end(day)]
    if leg is None:
        return Failure(None, "no_way", 0, tuple(made), now)
    back = arrival(now, leg, out.light)
    if back > out.back_by:
        return Failure(None, "back", back - out.back_by, tuple(made), back)
    return DayPlan(day, leave, tuple(made), back)


def latest(task: Task, day: int, order: Order) -> list[int]:
    """The latest minutes of leaving the start and then each visit, so that all that follows still holds.

    Whoever leaves a visit no later than that, and not before it can be left, is in time for the rest. There is a way.
    """
    out = task.days[day]
    made = []
    at, by = task.end(day), out.back_by
    for index, chance in reversed(order):
        visit, leg = task.visits[index], task.legs[index][at]
        assert leg is not None
        leave = min(latest_leave(by, leg, out.light), chance.ground_to)
        made.append(leave)
        first = min(leave - visit.margin_min - visit.frames_min, chance.first_to)
        at, by = index, first - visit.set_up_min
    leg = task.legs[task.start(day)][at]
    assert leg is not None
    made.append(latest_leave(by, leg, out.light))
    return made[::-1]


def with_slack(task: Task, plan: DayPlan) -> DayPlan:
    """The plan with how much each leaving may slip before something falls."""
    order = tuple((t.visit, t.chance) for t in plan.visits)
    last = latest(task, plan.day, order)
    timed = tuple(
        Timed(t.visit, t.chance, t.arrive, t.ready, t.first, t.done, t.leave, until - t.leave)
        for t, until in zip(plan.visits, last[1:], strict=True)
    )
    return DayPlan(plan.day, plan.leave, timed, plan.back, last[0] - plan.leave)


def after_delay(task: Task, plan: DayPlan, position: int, delay_min: int) -> DayPlan | Failure:
    """What becomes of a plan when the start (-1) or a visit, by its position, is left later than planned; the order stays."""
    order = tuple((t.visit, t.chance) for t in plan.visits)
    if position < 0:
        return run(task, plan.day, order, plan.leave + delay_min)
    done = plan.visits[: position + 1]
    last = done[-1]
    now = last.leave + delay_min
    if now > last.chance.ground_to:
        return Failure(last.visit, "ground", now - last.chance.ground_to, done[:-1], now)
    out = task.days[plan.day]
    rest = order[position + 1 :]
    # The visit just left is where the rest of the day starts.
    moved = Task(
        days=(Day(now, out.back_by, out.light),),
        visits=task.visits,
        legs=_from_visit(task, last.visit, plan.day),
    )
    found = run(moved, 0, rest, now)
    if isinstance(found, Failure):
        return Failure(found.at, found.kind, found.by_min, (*done, *found.timed), found.would)
    return DayPlan(plan.day, plan.leave, (*done, *found.visits), found.back)


def _from_visit(task: Task, visit: int, day: int) -> tuple[tuple[Leg | None, ...], ...]:
    """The legs of a task with one day that starts at a visit."""
    count = len(task.visits)
    points = [*range(count), visit, task.end(day)]
    return tuple(tuple(task.legs[a][b] for b in points) for a in points)
