"""Parting two elements that meet in the frame."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from lucid_ridge.core.camera.geometry import Geometry, build_geometry
from lucid_ridge.core.camera.reach import heights_in_reach
from lucid_ridge.core.changes.apply import apply_changes
from lucid_ridge.core.changes.camera_moves import SetHeight, Step, TurnAim
from lucid_ridge.core.changes.kinds import Change
from lucid_ridge.core.framing.separation import gap
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.solve.common import behind_the_line, beyond_a_line, granted, only, position_of, refused
from lucid_ridge.core.solve.wishes import Part, Solution
from lucid_ridge.core.state.separation import skyline_cut, stands_behind
from lucid_ridge.core.state.state import State

_FINEST_M = 0.001
_GRID_M = 0.01
_GROWTH = 1.03

Clear = Callable[[Scene], float]


def _bearing_to(geometry: Geometry) -> float:
    return geometry.away(0)[1]


def _gap_measure(state: State, wish: Part) -> tuple[Clear, Scene, bool]:
    """A function from a scene of the pair to its gap in frame heights, that scene, and whether a skyline matters.

    Where the other's skyline is what matters there is no gap to tell: minus the share of the subject
    at which it cuts it, infinity once it runs clear.
    """
    i, j = position_of(state, wish.element_id, "/wish/element_id"), position_of(state, wish.other_id, "/wish/other_id")
    elements, near = state.geometry.elements, state.geometry.near_m
    behind = stands_behind(elements[i], elements[j], float(near[i]), float(near[j]))

    def measure(scene: Scene) -> float:
        geometry = build_geometry(scene)
        a, b = geometry.area(0), geometry.area(1)
        if a.is_empty or b.is_empty or not (geometry.seen(0) and geometry.seen(1)):
            return -math.inf
        if not behind:
            return gap(a, b)
        share = skyline_cut(a, b)
        return math.inf if share is None else -share

    return measure, only(state.scene, (elements[i], elements[j])), behind


def _nearest(clear: Callable[[float], bool], tried: list[float], now: float) -> float | None:
    """The value nearest to *now* that is clear, to the millimetre and on its clear side."""
    for value in sorted(tried, key=lambda v: abs(v - now)):
        if not clear(value):
            continue
        good, bad = value, now
        while abs(good - bad) > _FINEST_M:
            middle = (good + bad) / 2
            good, bad = (middle, bad) if clear(middle) else (good, middle)
        away = math.ceil if good > now else math.floor
        exact = away(good / _FINEST_M - 1e-6 * (1 if good > now else -1)) * _FINEST_M
        for candidate in (round(exact, 3), round(good, 6)):
            if clear(candidate):
                return candidate
        return good
    return None


def part(state: State, wish: Part) -> Solution:
    """The smallest change of height, or step to a side, after which the two stand apart."""
    measure, pair, skyline = _gap_measure(state, wish)
    wanted = wish.gap_percent / 100
    if measure(pair) >= wanted:
        return refused("stand_apart", skyline=skyline)
    if wish.by == "height":
        return _by_height(state, wish, measure, pair, skyline)
    return _by_step(state, wish, measure, pair)


def _granted(changes: tuple[Change, ...], measure: Clear, pair: Scene) -> Solution:
    return granted(changes, gap=measure(apply_changes(pair, changes)))


def _by_height(state: State, wish: Part, measure: Clear, pair: Scene, skyline: bool) -> Solution:
    low, high = heights_in_reach(state.scene, state.steady)
    now = state.scene.composition.camera_height_m
    wanted = wish.gap_percent / 100

    def gap_at(height: float) -> float:
        return measure(apply_changes(pair, (SetHeight(camera_height_m=height),)))

    heights = [float(h) for h in np.append(np.arange(low, high, _GRID_M), high)]
    found = _nearest(lambda h: low <= h <= high and gap_at(h) >= wanted, heights, now)
    if found is None:
        best = max([*heights[::5], heights[-1]], key=gap_at)
        reached = gap_at(best)
        most = {} if skyline or math.isinf(reached) else {"most": reached, "most_at_m": best}
        return refused("no_height_parts", low_m=low, high_m=high, **most)
    return _granted((SetHeight(camera_height_m=found),), measure, pair)


def _by_step(state: State, wish: Part, measure: Clear, pair: Scene) -> Solution:
    wanted = wish.gap_percent / 100
    start = _bearing_to(build_geometry(pair))
    hindered: list[Scene] = []

    def changes_for(right: float) -> tuple[Change, ...]:
        """A step, and the aim kept on the first of the two."""
        step = Step(right_m=right)
        turned = _bearing_to(build_geometry(apply_changes(pair, (step,)))) - start
        return step, TurnAim(right_deg=round((turned + 180) % 360 - 180, 6))

    def clear(right: float) -> bool:
        scene = apply_changes(pair, changes_for(right))
        if measure(scene) < wanted:
            return False
        if beyond_a_line(scene):
            hindered.append(scene)
            return False
        return True

    steps: list[float] = []
    size = _GRID_M
    while size <= wish.farthest_step_m:
        steps += [size, -size]
        size = max(size + _GRID_M, size * _GROWTH)
    found = _nearest(clear, steps, 0.0)
    if found is None:
        return behind_the_line(hindered[0]) if hindered else refused("no_step_parts")
    return _granted(changes_for(found), measure, pair)
