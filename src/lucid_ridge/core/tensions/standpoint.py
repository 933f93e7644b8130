"""Tensions of where the camera stands: the reach of its support, lines not to cross."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from lucid_ridge.core.camera.keep_out import KEEP_FROM_LINE_M, brought_back, crossed_line, side_of
from lucid_ridge.core.camera.reach import heights_in_reach
from lucid_ridge.core.changes.camera_moves import Level, SetHeight, StandAt
from lucid_ridge.core.exposure.tolerances import TILT_DEG
from lucid_ridge.core.state.state import State
from lucid_ridge.core.tensions.rule import Candidate, Found, Rule


def _reach(state: State) -> Iterator[Found]:
    height = state.scene.composition.camera_height_m
    if not state.steady:
        return
    low, high = heights_in_reach(state.scene, state.steady)
    if not low - 1e-6 <= height <= high + 1e-6:
        yield Found("reach", height)


def _standing(state: State) -> Iterator[Found]:
    """A standpoint on the wrong side of a line not to cross."""
    composition = state.scene.composition
    line = crossed_line(composition, composition.east_m, composition.north_m)
    if line is not None:
        yield Found("standing", -side_of(line, composition.east_m, composition.north_m))


def _horizon(state: State) -> Iterator[Found]:
    """A horizon tilted by more than anyone takes for level, in a landscape that is not looked down on."""
    tilt = state.scene.composition.roll_deg
    if abs(tilt) > TILT_DEG and horizon_in_picture(state):
        yield Found("horizon", tilt)


def horizon_in_picture(state: State) -> bool:
    """Whether the level line of the eye crosses the picture after the crop."""
    left, top, width, height = state.geometry.crop
    x = left + np.array([0.0, 0.5, 1.0]) * width
    _, above = state.geometry.camera.directions(x, np.full(3, top))
    _, below = state.geometry.camera.directions(x, np.full(3, top + height))
    return bool((above > 0).any() and (below < 0).any())


def _into_reach(state: State) -> Iterator[Candidate]:
    low, high = heights_in_reach(state.scene, state.steady)
    now = state.scene.composition.camera_height_m
    height = min(max(now, low), high)
    yield (SetHeight(camera_height_m=height),)


def _off_the_line(state: State) -> Iterator[Candidate]:
    composition = state.scene.composition
    line = crossed_line(composition, composition.east_m, composition.north_m)
    if line is not None:
        east, north = brought_back(line, composition.east_m, composition.north_m, KEEP_FROM_LINE_M)
        yield (StandAt(east_m=east, north_m=north),)


def _level(state: State) -> Iterator[Candidate]:
    yield (Level(),)


REACH = Rule(
    kind="reach",
    find=_reach,
    candidates=_into_reach,
    severity="spoils",
)

STANDING = Rule(
    kind="standing",
    find=_standing,
    candidates=_off_the_line,
)

HORIZON = Rule(
    kind="horizon",
    find=_horizon,
    candidates=_level,
)
