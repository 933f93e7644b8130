"""A good plan at once: visits put in where they cost least, then some taken out and put in anew for as long as there is time.

It is where the exact search begins, and what is left where that finds nothing in its time.

References
----------
.. [1] D. Pisinger and S. Ropke, "Large neighborhood search", Handbook of Metaheuristics (2010) 399: ruin and recreate.

"""

from __future__ import annotations

import random
import time

from lucid_ridge.core.outing.task import Task, Value, value_of, worth
from lucid_ridge.core.outing.timing import DayPlan, Failure, Order, run

Orders = tuple[Order, ...]
_SEED = 11
_MOST_OUT = 4
_BY_WORTH = 0.7


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


def orders_value(task: Task, orders: Orders) -> Value:
    """What the visits of all days hold."""
    return value_of(task, [i for order in orders for i, _ in order])


def _cost(task: Task, orders: Orders) -> tuple[int, int]:
    """Minutes short of readiness and minutes between leaving as early as may be and being back, over all days."""
    short = out = 0
    for d, order in enumerate(orders):
        if order:
            plan = run(task, d, order, task.days[d].leave_from)
            assert isinstance(plan, DayPlan)
            short += short_min(task, plan)
            out += plan.back - plan.leave
    return short, out


def _put_in(task: Task, orders: list[Order], index: int) -> None:
    """Put a visit where the day ends soonest for it, if there is room."""
    best: tuple[int, int, Order] | None = None
    for chance in task.visits[index].chances:
        d, order = chance.day, orders[chance.day]
        before = 0
        if order:
            plan = run(task, d, order, task.days[d].leave_from)
            before = plan.back - plan.leave if isinstance(plan, DayPlan) else 0
        for k in range(len(order) + 1):
            tried = (*order[:k], (index, chance), *order[k:])
            made = run(task, d, tried, task.days[d].leave_from)
            if isinstance(made, Failure):
                continue
            more = made.back - made.leave - before + short_min(task, made)
            if best is None or more < best[0]:
                best = (more, d, tried)
    if best is not None:
        orders[best[1]] = best[2]


def rough(task: Task, seconds: float) -> Orders:
    """The visits of each day in order, each with its chance, as good as it gets in a time; the same for the same task and speed."""
    until = time.monotonic() + seconds
    r = random.Random(_SEED)
    every = [i for i, v in enumerate(task.visits) if v.chances]
    best: Orders = tuple(() for _ in task.days)
    best_rank: tuple[Value, int, int] = ((0, 0, 0), 0, 0)
    tried = 0
    while not tried or (time.monotonic() < until and len(every) > 1):
        orders: list[Order] = [() for _ in task.days]
        if tried:
            inside = [i for order in best for i, _ in order]
            out = set(r.sample(inside, min(len(inside), r.randint(1, _MOST_OUT))))
            left = [tuple(one for one in order if one[0] not in out) for order in best]
            # Without some of its visits an order may have no way.
            orders = [order if _goes(task, d, order) else () for d, order in enumerate(left)]
        there = {i for order in orders for i, _ in order}
        missing = [i for i in every if i not in there]
        r.shuffle(missing)
        if not tried or r.random() < _BY_WORTH:
            missing.sort(key=lambda i: (-worth(task, task.visits[i]), 0 if tried else len(task.visits[i].chances)))
        for i in missing:
            _put_in(task, orders, i)
        made = tuple(orders)
        short, out_min = _cost(task, made)
        rank = (orders_value(task, made), -short, -out_min)
        if not tried or rank >= best_rank:
            best, best_rank = made, rank
        tried += 1
        # With everything in, order and times are for the search.
        if tried > len(every) and sum(map(len, best)) == len(every):
            break
    return best


def _goes(task: Task, d: int, order: Order) -> bool:
    return not order or isinstance(run(task, d, order, task.days[d].leave_from), DayPlan)
