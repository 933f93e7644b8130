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

import math
import time
from dataclasses import dataclass
from typing import TYPE_CHECKING

from lucid_ridge.core.outing.rounds import Model, best, found
from lucid_ridge.core.outing.task import Task, Value, value_of, worth
from lucid_ridge.core.outing.timing import DayPlan, Failure, Order, run, with_slack

if TYPE_CHECKING:
    from ortools.sat.python import cp_model

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


def short_min(task: Task, plan: DayPlan) -> int:
    """By how much the visits of a day are set up later than they would like to be."""
    made = 0
    for t in plan.visits:
        wished = task.visits[t.visit].ready_min
        made += min(max(t.ready - (t.chance.opens - wished), 0), wished)
    return made


def idle_min(task: Task, plan: DayPlan) -> int:
    """Walking and waiting on a day."""
    return plan.back - plan.leave - sum(task.visits[t.visit].work_min for t in plan.visits)


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

    Parameters
    ----------
    task
        Days, visits and legs.
    seconds
        How long may be searched.

    """
    began = time.monotonic()
    count = len(task.visits)
    nothing = Plan((), tuple(range(count)), (0, 0, 0), (0, 0, 0), True, 0, 0)
    if not task.days or not any(v.chances for v in task.visits):
        return nothing
    model = Model(task)
    model.constrain()
    model.model.maximize(model.value())
    solver, status = model.solve(seconds * 0.6)
    if not found(status):
        return Plan(
            (), tuple(range(count)), (0, 0, 0), _split(task, sum(worth(task, v) for v in task.visits)), False, 0, 0
        )
    value, proven = round(solver.objective_value), best(status)
    most = value if proven else max(value, math.floor(solver.best_objective_bound + 1e-6))
    orders = model.orders(solver)
    if value:
        model.model.add(model.value() >= value)
        model.model.clear_objective()  # type: ignore[no-untyped-call]
        # The readiness is worth more than any walking and waiting there can be.
        longest = sum(d.back_by - d.leave_from for d in task.days) + 1
        model.model.minimize(sum(model.short) * longest + model.idle())
        _hint(model, solver)
        solver, status = model.solve(seconds - (time.monotonic() - began))
        if found(status):
            orders, proven = model.orders(solver), proven and best(status)
        else:
            proven = False
    plans = [_put_in_time(task, d, order, leave) for d, (order, leave) in enumerate(orders) if order]
    days = tuple(p for p in plans if p is not None)
    kept = [t.visit for day in days for t in day.visits]
    return Plan(
        days=days,
        left_out=tuple(i for i in range(count) if i not in kept),
        value=value_of(task, kept),
        most=_split(task, most),
        proven=proven,
        short_min=sum(short_min(task, p) for p in days),
        idle_min=sum(idle_min(task, p) for p in days),
    )


def _hint(model: Model, solver: cp_model.CpSolver) -> None:
    model.model.clear_hints()  # type: ignore[no-untyped-call]
    for var in (*model.in_, *model.arrive, *model.first, *model.leave, *model.out, *model.back):
        model.model.add_hint(var, solver.value(var))
    for flags in (*model.chosen, *model.on_day, *model.arcs.values()):
        for flag in flags:
            model.model.add_hint(flag, solver.value(flag))


def _split(task: Task, number: int) -> Value:
    """Musts, wants and ifs that a sum of `worth` stands for."""
    count = len(task.visits) + 1
    return number // (count * count), number % (count * count) // count, number % count
