"""Why a visit is left out, in numbers, and the smallest change with which it would fit beside all that is kept."""

from __future__ import annotations

import time
from dataclasses import dataclass, replace
from typing import Literal

from lucid_ridge.core.outing.rounds import MOST_CHANGED_MIN, Model, best, found
from lucid_ridge.core.outing.schedule import Plan
from lucid_ridge.core.outing.task import Task, worth
from lucid_ridge.core.outing.timing import DayPlan, Failure, Order, Timed, after_delay, run

ReasonKind = Literal["no_chance", "late", "ground", "back", "no_way", "pushes", "outdone"]
ChangeKind = Literal["margin", "earlier", "later"]
SECONDS = 3.0


@dataclass(frozen=True)
class Change:
    """What would have to give: a visit's margin, or a day's beginning or end, by so many minutes. ``smallest`` if none less does."""

    kind: ChangeKind
    index: int
    minutes: int
    smallest: bool


@dataclass(frozen=True)
class LeftOut:
    """Why one visit does not fit.

    ``after`` is the visit before it (None for the start) where it would fit best on ``day``; it would arrive at ``arrive`` and could take its first
    frame at ``would``, ``by_min`` later than can be. With ``pushes`` that happens to the visit ``pushed``, with ``back`` to the end of the
    day. ``outdone``: it fits, but a choice with more that is wanted, or with less waiting for as much, does without it. ``change`` fits it in
    beside all that is kept, ``reordered`` where the others come in another order then; ``instead`` are those that fall where it is made in their place. None where nothing of the kind was found.
    """

    visit: int
    kind: ReasonKind
    day: int | None = None
    after: int | None = None
    arrive: int | None = None
    would: int | None = None
    by_min: int = 0
    pushed: int | None = None
    change: Change | None = None
    reordered: bool = False
    instead: tuple[int, ...] | None = None


def _insertions(task: Task, plan: Plan, index: int) -> list[tuple[int, int, Order, int]]:
    """Each way of putting a visit into the plan: day, position, the order with it, and the earliest leaving."""
    made = []
    by_day = {day.day: day for day in plan.days}
    for chance in task.visits[index].chances:
        timed: tuple[Timed, ...] = by_day[chance.day].visits if chance.day in by_day else ()
        order = tuple((t.visit, t.chance) for t in timed)
        for k in range(len(order) + 1):
            with_it = (*order[:k], (index, chance), *order[k:])
            made.append((chance.day, k, with_it, task.days[chance.day].leave_from))
    return made


def _fits_in(task: Task, plan: Plan, index: int) -> bool:
    """Whether a visit fits into the order that there is."""
    return any(isinstance(run(task, d, order, leave), DayPlan) for d, _, order, leave in _insertions(task, plan, index))


def _near_miss(task: Task, plan: Plan, index: int) -> LeftOut:
    """Where the visit fails by least, with the order of the others kept."""
    nearest: tuple[int, int, LeftOut] | None = None
    for day, k, order, leave in _insertions(task, plan, index):
        done = run(task, day, order, leave)
        after = order[k - 1][0] if k else None
        if isinstance(done, DayPlan):
            return LeftOut(index, "outdone", day, after)
        if done.kind == "no_way":
            continue
        mine = next((t for t in done.timed if t.visit == index), None)
        arrive = mine.arrive if mine else done.would - (task.visits[index].set_up_min if done.kind == "late" else 0)
        if done.at == index:
            told = LeftOut(index, done.kind, day, after, arrive, done.would, done.by_min)
        elif mine is None:
            # Some other visit fails before this one is reached: the order without it does not hold from here.
            continue
        elif done.at is None:
            told = LeftOut(index, "back", day, after, arrive, done.would, done.by_min)
        else:
            told = LeftOut(index, "pushes", day, after, arrive, done.would, done.by_min, pushed=done.at)
        # What falls on its own account says more than what falls by it.
        rank = (done.by_min, 0 if done.at == index else 1)
        if nearest is None or rank < nearest[:2]:
            nearest = (*rank, told)
    return nearest[2] if nearest else LeftOut(index, "no_way")


def change_in_order(task: Task, plan: Plan, index: int) -> Change | None:
    """The one thing that has to give least so that a visit fits into the order that there is, found without a search."""
    best: Change | None = None
    for day, _, order, leave in _insertions(task, plan, index):
        things: list[tuple[ChangeKind, int, int]] = [("margin", i, task.visits[i].margin_min) for i, _ in order]
        things += [("earlier", day, MOST_CHANGED_MIN), ("later", day, MOST_CHANGED_MIN)]
        for kind, i, could in things:
            most = could if best is None else min(could, best.minutes - 1)
            if most < 1 or not _holds(task, Change(kind, i, most, False), day, order, leave):
                continue
            low, high = 0, most
            while high - low > 1:
                middle = (low + high) // 2
                low, high = (
                    (low, middle) if _holds(task, Change(kind, i, middle, False), day, order, leave) else (middle, high)
                )
            best = Change(kind, i, high, False)
    return best


def _holds(task: Task, change: Change, day: int, order: Order, leave: int) -> bool:
    begins = leave - change.minutes if change.kind == "earlier" else leave
    return isinstance(run(changed(task, change), day, order, begins), DayPlan)


def smallest_change(
    task: Task, plan: Plan, index: int, seconds: float = SECONDS, known: Change | None = None
) -> Change | None:
    """The one thing that has to give least so that a visit fits beside all that is kept; None where none of them helps.

    What is *known* to help is what is left where nothing smaller is found in the time.
    """
    model = Model(task)
    given = model.relax(MOST_CHANGED_MIN)
    model.constrain(given)
    for i in range(len(task.visits)):
        model.model.add(model.in_[i] == int(i == index or i in plan.kept))
    given_in_all = sum(amount for _, _, amount in given)
    if known is not None:
        model.model.add(given_in_all <= known.minutes)
    model.model.minimize(given_in_all)
    solver, status = model.solve(seconds)
    if not found(status):
        return known
    kind, i, minutes = max(((k, i, solver.value(a)) for k, i, a in given), key=lambda g: g[2], default=("", 0, 0))
    return Change(kind, i, minutes, best(status)) if minutes else None  # type: ignore[arg-type]


def changed(task: Task, change: Change) -> Task:
    """The task with a change made."""
    if change.kind == "margin":
        visit = task.visits[change.index]
        return task.with_visit(change.index, replace(visit, margin_min=visit.margin_min - change.minutes))
    day = task.days[change.index]
    if change.kind == "earlier":
        return task.with_day(change.index, replace(day, leave_from=day.leave_from - change.minutes))
    return task.with_day(change.index, replace(day, back_by=day.back_by + change.minutes))


def for_one_other(task: Task, plan: Plan, index: int) -> tuple[int, ...] | None:
    """One visit, the least wanted first, in whose place another fits while the order of the rest stays; None without any."""
    by_day = {day.day: tuple((t.visit, t.chance) for t in day.visits) for day in plan.days}
    days = {c.day for c in task.visits[index].chances}
    for other in sorted(plan.kept, key=lambda i: worth(task, task.visits[i])):
        d = next(d for d, order in by_day.items() if any(i == other for i, _ in order))
        rest = tuple(one for one in by_day[d] if one[0] != other)
        out = task.days[d]
        if d not in days or (rest and isinstance(run(task, d, rest, out.leave_from), Failure)):
            continue
        for chance in (c for c in task.visits[index].chances if c.day == d):
            for k in range(len(rest) + 1):
                tried = (*rest[:k], (index, chance), *rest[k:])
                if isinstance(run(task, d, tried, out.leave_from), DayPlan):
                    return (other,)
    return None


def in_place_of(task: Task, plan: Plan, index: int, seconds: float = SECONDS) -> tuple[int, ...] | None:
    """Which visits fall where one is made in any case; None where it cannot be made at all."""
    model = Model(task)
    model.constrain()
    for i in plan.left_out:
        model.model.add(model.in_[i] == int(i == index))
    # Of what is worth the same, what is kept already.
    count = len(task.visits) + 1
    model.model.maximize(model.value() * count + sum(model.in_[i] for i in plan.kept))
    solver, status = model.solve(seconds)
    if not found(status):
        return None
    return tuple(i for i in plan.kept if not solver.boolean_value(model.in_[i]))


def left_out(task: Task, plan: Plan, seconds: float = SECONDS) -> tuple[LeftOut, ...]:
    """Why each visit that is left out is, in at most so many seconds together; later ones may lack their change then."""
    until = time.monotonic() + seconds
    made = []
    for k, index in enumerate(plan.left_out):
        if not task.visits[index].chances:
            made.append(LeftOut(index, "no_chance"))
            continue
        reason = _near_miss(task, plan, index)
        known = change_in_order(task, plan, index)
        # Each its share of the time that is left.
        left = (until - time.monotonic()) / (len(plan.left_out) - k)
        change = smallest_change(task, plan, index, left, known) if left > 0 else known
        left = (until - time.monotonic()) / (len(plan.left_out) - k)
        instead = for_one_other(task, plan, index) if change is None else None
        if change is None and instead is None and left > 0:
            instead = in_place_of(task, plan, index, left)
        reordered = change is not None and not _fits_in(changed(task, change), plan, index)
        made.append(replace(reason, change=change, reordered=reordered, instead=instead))
    return tuple(made)


@dataclass(frozen=True)
class Fall:
    """What falls when something slips by a minute more than it may: a visit, or the way back (None)."""

    visit: int | None
    kind: str


def what_falls(task: Task, plan: DayPlan, position: int) -> Fall | None:
    """What falls first when the start (-1) or a visit is left a minute later than it may be."""
    slack = plan.slack_min if position < 0 else plan.visits[position].slack_min
    done = after_delay(task, plan, position, slack + 1)
    return Fall(done.at, done.kind) if isinstance(done, Failure) else None
