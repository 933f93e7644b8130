"""Tensions of where the camera stands: the reach of its support, lines not to cross."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from lucid_ridge.core.camera.keep_out import KEEP_BACK, KEEP_FROM_LINE_M, brought_back, crossed_line, side_of
from lucid_ridge.core.camera.reach import heights_in_reach
from lucid_ridge.core.changes.camera_moves import Level, SetHeight, StandAt
from lucid_ridge.core.exposure.tolerances import TILT_DEG
from lucid_ridge.core.figures import Figure, degrees_text, distance_text
from lucid_ridge.core.state.state import State
from lucid_ridge.core.tensions.levers import said
from lucid_ridge.core.tensions.rule import Candidate, Found, Rule


def _reach(state: State) -> Iterator[Found]:
    support, height = state.scene.kit.support, state.scene.composition.camera_height_m
    if not state.steady:
        return
    low, high = heights_in_reach(state.scene, state.steady)
    if not low - 1e-6 <= height <= high + 1e-6:
        units = state.scene.units
        yield Found(
            "reach",
            "Out of the support's reach",
            f"The lens is at {distance_text(height, units)}; the {support.name} reaches "
            f"{distance_text(low, units)} to {distance_text(high, units)}.",
            Figure(value=height, text=distance_text(height, units)),
        )


def _standing(state: State) -> Iterator[Found]:
    """A standpoint on the wrong side of a line not to cross."""
    composition, units = state.scene.composition, state.scene.units
    line = crossed_line(composition, composition.east_m, composition.north_m)
    if line is not None:
        beyond = -side_of(line, composition.east_m, composition.north_m)
        yield Found(
            "standing",
            f"You stand beyond the {line.name}",
            f"By {distance_text(beyond, units)}. {KEEP_BACK}",
            Figure(value=beyond, text=distance_text(beyond, units)),
        )


def _horizon(state: State) -> Iterator[Found]:
    """A horizon tilted by more than anyone takes for level, in a landscape that is not looked down on."""
    tilt = state.scene.composition.roll_deg
    if abs(tilt) > TILT_DEG and horizon_in_picture(state):
        text = degrees_text(abs(tilt), 1)
        yield Found(
            "horizon",
            "The horizon is tilted",
            f"By {text}, down to the {'right' if tilt < 0 else 'left'}; half a degree is seen.",
            Figure(value=tilt, text=text, explain="framing.tilt"),
        )


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
    verb = "Raise" if height > now else "Lower"
    text = distance_text(height, state.scene.units)
    yield Candidate(label=said(f"{verb} to {text}"), changes=(SetHeight(camera_height_m=height),))


def _off_the_line(state: State) -> Iterator[Candidate]:
    composition = state.scene.composition
    line = crossed_line(composition, composition.east_m, composition.north_m)
    if line is not None:
        east, north = brought_back(line, composition.east_m, composition.north_m, KEEP_FROM_LINE_M)
        by = math.hypot(east - composition.east_m, north - composition.north_m)
        text = distance_text(by, state.scene.units)
        yield Candidate(label=said(f"Step back {text}"), changes=(StandAt(east_m=east, north_m=north),))


def _level(state: State) -> Iterator[Candidate]:
    yield Candidate(label=said("Level the camera"), changes=(Level(),))


REACH = Rule(
    kind="reach",
    find=_reach,
    candidates=_into_reach,
    no_mend="Set the camera height within the reach, or change the support.",
    severity="spoils",
)

STANDING = Rule(
    kind="standing",
    find=_standing,
    candidates=_off_the_line,
    no_mend="Several lines are in the way: choose another standpoint in the plan.",
)

HORIZON = Rule(
    kind="horizon",
    find=_horizon,
    candidates=_level,
    no_mend="Level the camera by its level, or leave it tilted on purpose.",
)
