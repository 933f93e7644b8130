"""Ways as they are shown: a few techniques, each the best at something, with what it gives up for it."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import cast

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.figures import significant, stops_words
from lucid_ridge.core.records import record
from lucid_ridge.core.technique.candidates import after
from lucid_ridge.core.technique.changes import (
    Change,
    PutOn,
    SetBulb,
    SetTo,
    TakeBracket,
    TakeLayers,
    TakeSlices,
)
from lucid_ridge.core.technique.layers import layer_reaching
from lucid_ridge.core.technique.moving import foliage_freezing_s, look_window
from lucid_ridge.core.technique.scene import Layer
from lucid_ridge.core.technique.state import State
from lucid_ridge.core.technique.tensions import Found, find
from lucid_ridge.core.technique.tolerances import MARK
from lucid_ridge.core.technique.ways.search import (
    COSTS,
    LAYER_SETS,
    LEAST_TRAVEL_PX,
    WANTS,
    Cost,
    Space,
    Want,
    explore,
)
from lucid_ridge.core.technique.ways.way import NAMES, Way, cost_of, make_way

MOST_WAYS = 6
_TRIED_AGAIN = 4
ALIKE = 1.1

WANT_TEXT: dict[Want, str] = {
    "sharp": "everything sharp that must be",
    "water": "the look of the water",
    "wave": "the frozen wave",
    "foliage": "the leaves sharp",
    "range": "both ends of the range held",
    "by hand": "no slower than the hand, and what you stand on, hold still",
    "frames": "no more frames than you want",
    "bulb": "no longer than the body times",
    "exposure": "the picture as bright as you want",
    "background": "the background as smooth as you want",
    "light": "the sequence done before the light goes",
    "framing": "the sequence done before the framing has drifted off",
}


@record
class WaysReport:
    """The ways of a composition. Without any that gives all that is wanted: the nearest, and what to relax."""

    ways: tuple[Way, ...]
    found: bool
    count: int
    judged: int
    sentence: str
    relax: tuple[str, ...]


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


_GIVEN_UP: tuple[tuple[Cost, str], ...] = (
    ("frames", "the frames"), ("seconds", "the time"), ("blur", "the blur"), ("iso", "the ISO"), ("travel", "the leaves' travel"),
)  # fmt: skip


def _given_up(way: Way, ways: list[Way]) -> tuple[str, ...]:
    """Where another way does clearly better, in words."""
    said = []
    for cost, words in _GIVEN_UP:
        best, here = min(cost_of(one, cost) for one in ways), cost_of(way, cost)
        if here > best * 1.15:
            said.append(f"{significant(here / best, 2)} × {words}")
    off = math.log2(cost_of(way, "lens"))
    if off > 0.5:
        said.append(
            f"{way.settings_text.split(',')[0]} is {stops_words(round(off * 3) / 3)} from where most lenses are best"
        )
    return tuple(said)


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


def ways(state: State) -> WaysReport:
    """Three to six ways to give all that is wanted, none beaten by another; or the nearest, and what to relax."""
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
    for by in NAMES:
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
    order = sorted(picked, key=lambda at: (list(NAMES).index(picked[at][0]), at))[:MOST_WAYS]
    if not order:
        return _nearest(state, space, judged)
    made_ways = [make_way(state, *kept[at], f"way-{k}", tuple(picked[at]), []) for k, at in enumerate(order)]
    told = tuple(replace(one, gives_up=_given_up(one, made_ways)) for one in made_ways)
    words = "way gives" if len(told) == 1 else "ways give"
    return WaysReport(
        ways=told,
        found=True,
        count=len(feasible),
        judged=judged,
        sentence=f"{len(told)} {words} all that you want, of {len(feasible)} that do; {judged} were judged.",
        relax=(),
    )


_SEARCHED = frozenset(
    {
        "near_soft",
        "gap_soft",
        "far_soft",
        "diffraction",
        "hand_held",
        "water_look",
        "frozen_wave",
        "foliage",
        "range",
        "bulb",
        "frames",
        "exposure",
        "iso",
        "background",
        "light_ends",
        "support",
        "drifts_off",
    }
)


def find_wanted(state: State) -> list[Found]:
    """The tensions that a technique can answer for; where the camera stands and how the lens focuses is not its to say."""
    return [one for one in find(state) if one.kind in _SEARCHED]


def _nearest(state: State, space: Space, judged: int) -> WaysReport:
    """The technique that breaks least, and the wants that stand in the way."""
    total = np.round(space.broken.sum(axis=0), 9)
    least = np.flatnonzero(total <= total.min())
    at = int(least[_scores(space, least).argmin()])
    made, changes = _whole(state, space, at)
    broken = find_wanted(made)
    way = make_way(state, made, changes, "nearest", (), broken)
    if not broken:
        # What the whole judgement finds nothing wrong with is a way, whatever the quick one missed it by.
        sentence = f"1 way gives all that you want; {judged} were judged."
        return WaysReport(
            ways=(replace(way, name=NAMES["balanced"][0]),),
            found=True,
            count=1,
            judged=judged,
            sentence=sentence,
            relax=(),
        )
    relax = []
    for k, want in enumerate(WANTS):
        others = np.delete(space.broken, k, axis=0)
        if bool((others <= 0).all(axis=0).any()):
            relax.append(f"Without {WANT_TEXT[want]} there are ways.")
    if not relax:
        worst = WANTS[int(space.broken[:, at].argmax())]
        relax.append(
            f"No single want stands in the way; {WANT_TEXT[worst]} is farthest off. Free a setting, or relax two."
        )
    locks = state.scene.composition.locks
    free = f" Locked are {', '.join(name.replace('_', ' ') for name in locks)}." if locks else ""
    return WaysReport(
        ways=(replace(way, name="The nearest"),),
        found=False,
        count=0,
        judged=judged,
        sentence=f"No way gives all that you want; {judged} were judged.{free}",
        relax=tuple(relax),
    )
