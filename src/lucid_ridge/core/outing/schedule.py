"""Which visits to make, in which order and when: every must, then the most wants, then the most of what may fit.

Among equals the one that gives most of the time to stand ready before the light, then the one with the least walking and waiting
together: to count waiting alone would call a long way round better than standing still.

References
----------
.. [1] P. Vansteenwegen, W. Souffriau and D. Van Oudheusden, "The orienteering problem: a survey", European Journal of Operational
   Research 209 (2011) 1: the orienteering problem with time windows.
.. [2] OR-Tools CP-SAT: the circuit constraint with a loop at each point that is left out.

"""

from __future__ import annotations

import itertools
import math
import time
from dataclasses import dataclass

from lucid_ridge.core.outing.rough import Orders, idle_min, rough, short_min
from lucid_ridge.core.outing.rounds import Model, best, found
from lucid_ridge.core.outing.task import Task, Value, value_of, worth
from lucid_ridge.core.outing.timing import DayPlan, Failure, Order, run, with_slack

SECONDS = 5.0


@dataclass(frozen=True)
class Plan:
    """Days with their visits in time, which visits are left out, and how good it is.

    ``proven`` says that nothing better exists; where it is False, ``most`` is what cannot be exceeded, and ``value`` the best
    that was found in the time given. ``short_min`` is by how much visits are set up later than they would like to be, in all;
    ``idle_min`` is walking and waiting.
    """

    days: tuple[DayPlan, ...]
    left_out: tuple[int, ...]
    value: Value
    most: Value
    proven: bool
    short_min: int
    idle_min: int

    @property
    def kept(self) -> list[int]:
        """The visits that are made, by index."""
        return [t.visit for day in self.days for t in day.visits]


def _put_in_time(task: Task, d: int, order: Order, leave: int) -> DayPlan | None:
    """A day begun as early as costs neither readiness nor a minute more, so that most may slip."""
    plan = run(task, d, order, leave)
    if isinstance(plan, Failure):
        return None
    cost = (short_min(task, plan), idle_min(task, plan))
    for earlier in range(leave - 1, task.days[d].leave_from - 1, -1):
        other = run(task, d, order, earlier)
        if isinstance(other, Failure) or (short_min(task, other), idle_min(task, other)) > cost:
            break
        plan = other
    return with_slack(task, plan)


def schedule(task: Task, seconds: float = SECONDS) -> Plan:
    """The best plan, or the best that was found in a time.

    A rough plan comes first. Where it has room for everything that has a chance, only its times are left to better.

    Parameters
    ----------
    task
        Days, visits and legs.
    seconds
        How long may be searched.

    """
    until = time.monotonic() + seconds
    possible = sum(worth(task, v) for v in task.visits if v.chances)
    if not task.days or not possible:
        return _plan(task, (), possible, True)
    start = _timed(task, rough(task, min(len(task.visits) ** 2 * _ROUGH_S, seconds * 0.2)))
    model = Model(task)
    model.constrain()
    value = _worth_of(task, start)
    most = possible
    if value < possible:
        model.model.add(model.value() >= value)
        model.model.maximize(model.value())
        _hint(model, start)
        solver, status = model.solve((until - time.monotonic()) * 0.7)
        if found(status):
            value = round(solver.objective_value)
            start = _days(task, model.orders(solver))
            most = value if best(status) else max(value, math.floor(solver.best_objective_bound + 1e-6))
    left = until - time.monotonic()
    if not value or left <= 0:
        return _plan(task, start, most, not most)
    model.model.clear_objective()  # type: ignore[no-untyped-call]
    model.model.add(model.value() >= value)
    # The readiness is worth more than any walking and waiting there can be.
    longest = sum(d.back_by - d.leave_from for d in task.days) + 1
    model.model.minimize(sum(model.short) * longest + model.idle())
    _hint(model, start)
    solver, status = model.solve(left)
    if found(status):
        start = _days(task, model.orders(solver))
    return _plan(task, start, most, value == most and best(status))


_ROUGH_S = 0.0025
"""For so long, times the visits squared, a rough plan is bettered: a tenth of a second for six, a second for twenty."""


def _timed(task: Task, orders: Orders) -> tuple[DayPlan, ...]:
    """A rough plan in time, each day left as late as costs no readiness."""
    made = []
    for d, order in enumerate(orders):
        if not order:
            continue
        plan = run(task, d, order, task.days[d].leave_from)
        assert isinstance(plan, DayPlan)
        later = run(task, d, order, plan.leave + with_slack(task, plan).slack_min)
        as_ready = isinstance(later, DayPlan) and short_min(task, later) <= short_min(task, plan)
        put = _put_in_time(task, d, order, later.leave if isinstance(later, DayPlan) and as_ready else plan.leave)
        assert put is not None
        made.append(put)
    return tuple(made)


def _days(task: Task, orders: list[tuple[Order, int]]) -> tuple[DayPlan, ...]:
    plans = [_put_in_time(task, d, order, leave) for d, (order, leave) in enumerate(orders) if order]
    return tuple(p for p in plans if p is not None)


def _worth_of(task: Task, days: tuple[DayPlan, ...]) -> int:
    return sum(worth(task, task.visits[t.visit]) for day in days for t in day.visits)


def _plan(task: Task, days: tuple[DayPlan, ...], most: int, proven: bool) -> Plan:
    kept = [t.visit for day in days for t in day.visits]
    return Plan(
        days=days,
        left_out=tuple(i for i in range(len(task.visits)) if i not in kept),
        value=value_of(task, kept),
        most=_split(task, most),
        proven=proven,
        short_min=sum(short_min(task, p) for p in days),
        idle_min=sum(idle_min(task, p) for p in days),
    )


def _hint(model: Model, days: tuple[DayPlan, ...]) -> None:
    """Tell the solver a plan that holds, every choice of it."""
    task, told = model.task, model.model
    told.clear_hints()  # type: ignore[no-untyped-call]
    by_day = {day.day: day for day in days}
    timed = {t.visit: (day.day, t) for day in days for t in day.visits}
    for i, visit in enumerate(task.visits):
        d, t = timed.get(i, (-1, None))
        told.add_hint(model.in_[i], int(t is not None))
        for k, flag in enumerate(model.on_day[i]):
            told.add_hint(flag, int(k == d))
        for chance, flag in zip(visit.chances, model.chosen[i], strict=True):
            told.add_hint(flag, int(t is not None and chance is t.chance))
        if t is not None:
            told.add_hint(model.arrive[i], t.arrive)
            told.add_hint(model.first[i], t.first)
            told.add_hint(model.leave[i], t.leave)
    for d, day in enumerate(task.days):
        plan = by_day.get(d)
        told.add_hint(model.out[d], plan.leave if plan else day.leave_from)
        told.add_hint(model.back[d], plan.back if plan else day.leave_from)
        points = [0, *(t.visit + 1 for t in plan.visits), 0] if plan else []
        steps = set(itertools.pairwise(points))
        for (on, a, b), flags in model.arcs.items():
            if on == d:
                used = (a, b) in steps
                by_lamp = used and not _by_day(task, plan, a, b)
                for k, flag in enumerate(flags):
                    told.add_hint(flag, int(used and (k == 0) == by_lamp))


def _by_day(task: Task, plan: DayPlan | None, a: int, b: int) -> bool:
    """Whether a step of a plan takes its time in daylight."""
    assert plan is not None
    here = {t.visit + 1: t for t in plan.visits}
    leaves = here[a].leave if a else plan.leave
    arrives = here[b].arrive if b else plan.back
    points = (task.start(plan.day) if not a else a - 1, task.end(plan.day) if not b else b - 1)
    leg = task.legs[points[0]][points[1]]
    return leg is not None and arrives - leaves < leg.dark_min


def _split(task: Task, number: int) -> Value:
    """Musts, wants and ifs that a sum of `worth` stands for."""
    count = len(task.visits) + 1
    return number // (count * count), number % (count * count) // count, number % count
