"""How much a day promises: what fits on it, weighed by what the forecast lets expect."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from lucid_ridge.core.model.outing import Wanted
from lucid_ridge.core.model.place import Forecast, Place
from lucid_ridge.core.outing.planning import Candidate, Put
from lucid_ridge.core.outing.schedule import Plan
from lucid_ridge.core.outing.timing import Timed
from lucid_ridge.core.outing.weather import Judgement, Verdict, judge, needs_of, worst

WORTH: dict[Wanted, float] = {"must": 4.0, "want": 2.0, "if_fits": 1.0}
EXPECTED: dict[Verdict, float] = {"yes": 0.9, "perhaps": 0.5, "unknown": 0.5, "no": 0.15}
"""How often light comes that a forecast calls so (our own choice: forecasts of cloud are wrong about one time in ten at a day's distance)."""


@dataclass(frozen=True)
class Outlook:
    """What the forecast says of one visit: each need, and all of them together."""

    visit: int
    judgements: tuple[Judgement, ...]
    verdict: Verdict


def outlook_of(candidate: Candidate, index: int, first: int, done: int, forecast: Forecast | None) -> Outlook:
    """What a forecast says of a composition's needs between two minutes."""
    needs = needs_of(candidate.state.scene.composition)
    judged = tuple(judge(need, forecast, first * 60.0, done * 60.0) for need in needs)
    return Outlook(index, judged, worst(judged))


def outlooks(put: Put, plan: Plan, forecasts: Mapping[Place, Forecast]) -> tuple[Outlook, ...]:
    """What the forecast of its place says of each visit of a plan."""
    timed: list[Timed] = [t for day in plan.days for t in day.visits]
    made = []
    for t in timed:
        candidate = put.candidates[t.visit]
        made.append(outlook_of(candidate, t.visit, t.first, t.done, forecasts.get(candidate.state.scene.place)))
    return tuple(made)


def promise(put: Put, found: tuple[Outlook, ...]) -> float:
    """What a plan is worth with its weather: each visit by how much it is wanted and how likely its light is."""
    return sum(WORTH[put.candidates[o.visit].visit.wanted] * EXPECTED[o.verdict] for o in found)
