"""Tensions of what moves in the picture: water, waves, leaves."""

from __future__ import annotations

from collections.abc import Iterator

from lucid_ridge.core.exposure.tolerances import is_soft
from lucid_ridge.core.motion.travel import within_look
from lucid_ridge.core.state.state import State
from lucid_ridge.core.state.subject_motion import (
    element_travel_mm,
    foliage_freezing_s,
    layer_of,
    look_window,
    moving_elements,
)
from lucid_ridge.core.tensions.levers import element_id_of, layer_for, shutter_within
from lucid_ridge.core.tensions.rule import Candidate, Found, Rule


def _water(state: State) -> Iterator[Found]:
    wants, shutter = state.scene.composition.wants, state.exposure.settings.shutter_s
    water = moving_elements(state, "water")
    if not water:
        return
    if not within_look(look_window(state), shutter):
        yield Found("water_look", shutter, element_id_of(state, water[0]))
    frozen = look_window(state, "freeze")
    layer = layer_of(state, "wave")
    taken = shutter if layer is None else min(layer, shutter)
    if wants.frozen_wave and not within_look(frozen, taken):
        yield Found("frozen_wave", taken, element_id_of(state, water[0]))


def _foliage(state: State) -> Iterator[Found]:
    if not state.scene.composition.wants.sharp_foliage:
        return
    shutter = state.exposure.settings.shutter_s
    layer = layer_of(state, "foliage")
    taken = shutter if layer is None else min(layer, shutter)
    moving = [(element_travel_mm(state, i, taken), i) for i in moving_elements(state, "foliage")]
    travel, i = max(moving, default=(0.0, 0))
    if not is_soft(travel, state.depth.circle_of_confusion_mm):
        return
    yield Found("foliage", travel, element_id_of(state, i), taken)


def _freeze_foliage(state: State) -> Iterator[Candidate]:
    yield from shutter_within(state, 0.0, foliage_freezing_s(state))
    yield from layer_for(state, "foliage", foliage_freezing_s(state))


def _freeze_wave(state: State) -> Iterator[Candidate]:
    yield from layer_for(state, "wave", look_window(state, "freeze")[1])


WATER_LOOK = Rule(
    kind="water_look",
    find=_water,
    candidates=lambda s: shutter_within(s, *look_window(s)),
    searched=True,
)

FROZEN_WAVE = Rule(
    kind="frozen_wave",
    find=_water,
    candidates=_freeze_wave,
    searched=True,
)

FOLIAGE = Rule(
    kind="foliage",
    find=_foliage,
    candidates=_freeze_foliage,
    searched=True,
)
