"""Which of the techniques that were searched are worth showing: a few, each the best at something."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import cast

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.changes.kinds import Change, PutOn, SetBulb, SetTo, TakeBracket, TakeLayers, TakeSlices
from lucid_ridge.core.exposure.tolerances import MARK
from lucid_ridge.core.model.scene import Layer
from lucid_ridge.core.state.layers import layer_reaching
from lucid_ridge.core.state.state import State
from lucid_ridge.core.state.subject_motion import foliage_freezing_s, look_window
from lucid_ridge.core.tensions.find import RULE, find
from lucid_ridge.core.tensions.levers import after
from lucid_ridge.core.tensions.rule import Found
from lucid_ridge.core.ways.search import COSTS, LAYER_SETS, LEAST_TRAVEL_PX, WANTS, Cost, Space, Want, explore

MOST_WAYS = 6
_TRIED_AGAIN = 4
ALIKE = 1.1
KEPT_FOR = ("balanced", "frames", "seconds", "blur", "iso", "travel", "lens")
"""What a way can be the best at: everything together, or one cost."""


@dataclass(frozen=True)
class Chosen:
    """A technique that is worth showing: its state, the changes that lead there, and what it is the best at."""

    state: State
    changes: tuple[Change, ...]
    kept_for: tuple[str, ...]
    broken: tuple[Found, ...] = ()


@dataclass(frozen=True)
class Choice:
    """The techniques worth showing, of ``count`` that give all that is wanted.

    Without any (``found`` False) the one that breaks least, the wants each of which alone stands in the way, and the one
    that it breaks most.
    """

    ways: tuple[Chosen, ...]
    found: bool
    count: int
    judged: int
    alone_in_the_way: tuple[Want, ...] = ()
    farthest_off: Want | None = None


def _changes_of(state: State, space: Space, at: int) -> tuple[Change, ...]:
    """The changes that turn a scene's technique into one of the space, layers aside."""
    a, i, c, p, bracket, _ = (int(v) for v in space.index[at])
    locks = state.scene.composition.locks
    focus = space.focuses[p]
    changes: list[Change] = []
    if "aperture" not in locks:
        changes.append(SetTo(setting="aperture", value=float(space.apertures[a])))
    if "iso" not in locks and "shutter" not in locks:
        changes.append(SetTo(setting="iso", value=float(space.isos[i])))
    if "filters" not in locks:
        changes.append(PutOn(filters=space.filters[c].uses))
    if focus.kind == "one":
        changes.append(TakeSlices(mode="one"))
        changes.append(
            SetTo(setting="focus", value=None if focus.focus_m is None or math.isinf(focus.focus_m) else focus.focus_m)
        )
    elif focus.kind == "gapless":
        changes.append(TakeSlices(mode="gapless"))
    changes.append(TakeBracket(mode="range" if bracket else "none"))
    changes.append(TakeLayers(layers=()))
    return tuple(changes)


def _whole(state: State, space: Space, at: int) -> tuple[State, tuple[Change, ...]]:
    """The state of a technique with its layers and bulb, and all changes that lead there."""
    changes = _changes_of(state, space, at)
    made = after(state, changes)
    layers: list[Layer] = []
    for purpose in LAYER_SETS[int(space.index[at, 5])]:
        slowest = foliage_freezing_s(made) if purpose == "foliage" else look_window(made, "freeze")[1]
        layer = layer_reaching(made, purpose, slowest)
        if layer is not None:
            layers.append(layer)
    body = made.scene.kit.body
    bulb = made.exposure.settings.shutter_s > body.longest_timed_s * MARK and body.has_bulb
    more: tuple[Change, ...] = (TakeLayers(layers=tuple(layers)), SetBulb(on=bulb))
    return after(state, (*changes, *more)), (*changes, *more)


def _scores(space: Space, chosen: NDArray[np.intp]) -> NDArray[np.float64]:
    """Sum of costs, each as doublings above the least among the chosen."""
    cost = space.cost[:, chosen]
    least = np.maximum(cost.min(axis=1, keepdims=True), 1e-9)
    return np.asarray(np.round(np.log2(np.maximum(cost, 1e-9) / least).sum(axis=0), 9))


def _first(space: Space, chosen: NDArray[np.intp], together: NDArray[np.float64], by: str) -> list[int]:
    """The best few of the chosen: by one cost and then all together, or by all together.

    The first is beaten by none: what beat it would have no more of the one cost, and less of all together.
    """
    if by == "balanced":
        best = np.flatnonzero(together <= together.min())
        order = np.concatenate([best, np.setdiff1d(np.argsort(together, kind="stable")[:_TRIED_AGAIN], best)])
    else:
        cost = np.round(space.cost[COSTS.index(cast(Cost, by)), chosen], 9)
        least = np.flatnonzero(cost <= cost.min())
        order = least[np.argsort(together[least], kind="stable")]
    return [int(chosen[k]) for k in order[:_TRIED_AGAIN]]


def _too_alike(space: Space, at: int, by: str, others: list[int]) -> bool:
    """Whether what a way is the best at is had within a tenth by one that is shown already."""
    if by == "balanced" or not others:
        return False
    cost = space.cost[COSTS.index(cast(Cost, by))]
    return bool(cost[others].min() <= cost[at] * ALIKE)


def choose(state: State) -> Choice:
    """Up to six techniques that give all that is wanted, none beaten by another; or the nearest."""
    space = explore(state)
    feasible = np.flatnonzero(space.feasible)
    judged = space.broken.shape[1]
    if len(feasible) == 0:
        return _nearest(state, space, judged)
    picked: dict[int, list[str]] = {}
    kept: dict[int, tuple[State, tuple[Change, ...]]] = {}
    together = _scores(space, feasible)
    # Where nothing sways, or all of it stays within what anyone sees, no way is the stillest.
    still = space.cost[COSTS.index("travel")].max() <= LEAST_TRAVEL_PX
    for by in KEPT_FOR:
        if by == "travel" and still:
            continue
        for at in _first(space, feasible, together, by):
            if at not in kept and _too_alike(space, at, by, list(picked)):
                break
            if at not in kept:
                made, changes = _whole(state, space, at)
                if find_wanted(made):
                    continue
                kept[at] = (made, changes)
            picked.setdefault(at, []).append(by)
            break
    order = sorted(picked, key=lambda at: (KEPT_FOR.index(picked[at][0]), at))[:MOST_WAYS]
    if not order:
        return _nearest(state, space, judged)
    chosen = tuple(Chosen(*kept[at], tuple(picked[at])) for at in order)
    return Choice(ways=chosen, found=True, count=len(feasible), judged=judged)


def find_wanted(state: State) -> list[Found]:
    """The tensions that a technique can answer for; where the camera stands and how the lens focuses is not its to say."""
    return [one for one in find(state) if RULE[one.kind].searched]


def _nearest(state: State, space: Space, judged: int) -> Choice:
    """The technique that breaks least, and the wants that stand in the way."""
    total = np.round(space.broken.sum(axis=0), 9)
    least = np.flatnonzero(total <= total.min())
    at = int(least[_scores(space, least).argmin()])
    made, changes = _whole(state, space, at)
    broken = tuple(find_wanted(made))
    if not broken:
        # What the whole judgement finds nothing wrong with is a way, whatever the quick one missed it by.
        return Choice(ways=(Chosen(made, changes, ("balanced",)),), found=True, count=1, judged=judged)
    alone = tuple(
        want for k, want in enumerate(WANTS) if bool((np.delete(space.broken, k, axis=0) <= 0).all(axis=0).any())
    )
    return Choice(
        ways=(Chosen(made, changes, (), broken),),
        found=False,
        count=0,
        judged=judged,
        alone_in_the_way=alone,
        farthest_off=WANTS[int(space.broken[:, at].argmax())],
    )
