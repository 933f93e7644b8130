"""Outings drawn at random, and the best plan of one by trying everything: another route to what the schedule finds."""

from __future__ import annotations

import itertools
import random

import numpy as np

from lucid_ridge.core.outing.task import WANTED, Chance, Day, Leg, Task, Visit, value_of

NEVER = 10**9
SHORT = 10**5


def drawn(r: random.Random, count: int, days: int = 1) -> Task:
    """Visits scattered over an hour's walk, with chances that overlap, touch, miss the day or last no time."""
    base = 1000
    outs = []
    for d in range(days):
        begins = base + 700 * d
        dawn = begins + r.randint(0, 120)
        light = ((dawn, dawn + r.randint(0, 500)),) if r.random() < 0.8 else ()
        outs.append(Day(begins, begins + r.randint(150, 600), light))
    visits = []
    for i in range(count):
        chances = []
        for _ in range(r.choice([0, 1, 1, 1, 2, 2])):
            d = r.randrange(days)
            opens = outs[d].leave_from + r.randint(0, 400)
            closes = opens + r.choice([0, 5, 20, 60, 200])
            low, high = opens - r.choice([1000, 1000, 30]), closes + r.choice([1000, 1000, 40])
            chances.append(Chance(d, opens, closes, low, high, opens))
        visits.append(
            Visit(
                f"v{i}",
                r.choice(WANTED),
                r.choice([0, 5, 10]),
                r.choice([1, 5, 20]),
                r.choice([0, 5, 15]),
                r.choice([0, 0, 10, 30]),
                tuple(chances),
            )
        )
    points = [(r.uniform(0, 60), r.uniform(0, 60)) for _ in range(count + 2 * days)]

    def leg(a: tuple[float, float], b: tuple[float, float]) -> Leg | None:
        if r.random() < 0.03:
            return None
        light = round(float(np.hypot(a[0] - b[0], a[1] - b[1]))) + r.randint(0, 6)
        return Leg(light, round(light * r.choice([1, 1.3, 1.5])))

    return Task(tuple(outs), tuple(visits), tuple(tuple(leg(a, b) for b in points) for a in points))


class _DayTried:
    """Every order of visits of one day, from its end: what it costs from each minute of leaving a point on."""

    def __init__(self, task: Task, day: int) -> None:
        self.task, self.day, self.out = task, day, task.days[day]
        self.minutes = np.arange(self.out.leave_from - 5, self.out.back_by + 60)
        self.best: dict[frozenset[int], int] = {frozenset(): 0}
        arrived = np.where(self.minutes <= self.out.back_by, 0, NEVER).astype(np.int64)
        self._before(task.end(day), arrived, frozenset())

    def _leaving(self, arriving: np.ndarray, leg: Leg | None) -> np.ndarray:
        """Cost of leaving at each minute, where arriving at each costs so much; one may tarry before setting out."""
        if leg is None:
            return np.full(len(self.minutes), NEVER, dtype=np.int64)
        light = np.zeros(len(self.minutes), dtype=bool)
        for begins, ends in self.out.light:
            light |= (self.minutes >= begins) & (self.minutes + leg.light_min <= ends)
        costs = np.full(len(self.minutes), NEVER, dtype=np.int64)
        for by_day, minutes in ((False, leg.dark_min), (True, leg.light_min)):
            shifted = np.full(len(self.minutes), NEVER, dtype=np.int64)
            if minutes < len(self.minutes):
                shifted[: len(self.minutes) - minutes] = arriving[minutes:] + minutes
            costs = np.where(light == by_day, shifted, costs)
        for i in range(len(costs) - 2, -1, -1):
            costs[i] = min(costs[i], costs[i + 1] + 1)
        return costs

    def _before(self, point: int, arriving: np.ndarray, made: frozenset[int]) -> None:
        """Put every visit before what is there already."""
        task = self.task
        if made:
            begun = self._leaving(arriving, task.legs[task.start(self.day)][point])
            begun = begun[self.minutes >= self.out.leave_from].min()
            if begun < NEVER:
                work = sum(task.visits[i].work_min for i in made)
                self.best[made] = min(self.best.get(made, NEVER), int(begun) - work)
        for i, visit in enumerate(task.visits):
            if i in made:
                continue
            leaving = self._leaving(arriving, task.legs[i][point])
            for chance in (c for c in visit.chances if c.day == self.day):
                here = self._visited(i, chance, leaving)
                if here.min() < NEVER:
                    self._before(i, here, made | {i})

    def _visited(self, index: int, chance: Chance, leaving: np.ndarray) -> np.ndarray:
        """Cost of arriving at a visit at each minute."""
        visit, at = self.task.visits[index], self.minutes
        costs = np.full(len(at), NEVER, dtype=np.int64)
        for f in range(max(chance.first_from, int(at[0])), min(chance.first_to, int(at[-1])) + 1):
            leave = f + visit.frames_min + visit.margin_min
            k = leave - int(at[0])
            if leave > chance.ground_to or not 0 <= k < len(at):
                continue
            ok = (at + visit.set_up_min <= f) & (at >= chance.ground_from)
            costs = np.where(ok, np.minimum(costs, leave - at + leaving[k]), costs)
        short = np.clip(at + visit.set_up_min - (chance.opens - visit.ready_min), 0, visit.ready_min)
        return np.where(costs < NEVER, np.minimum(costs + SHORT * short, NEVER), NEVER)


def best_by_trying(task: Task) -> tuple[tuple[int, int, int], int, int]:
    """The value of the best plan, its minutes short of readiness, and its walking and waiting."""
    tried = [_DayTried(task, d).best for d in range(len(task.days))]
    best = ((0, 0, 0), 0)
    for sets in itertools.product(*(t.items() for t in tried)):
        chosen = [i for made, _ in sets for i in made]
        if len(set(chosen)) < len(chosen):
            continue
        found = (value_of(task, chosen), -sum(cost for _, cost in sets))
        best = max(best, found)
    return best[0], -best[1] // SHORT, -best[1] % SHORT
