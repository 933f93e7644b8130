"""Tensions of what moves in the picture: water, waves, leaves."""

from __future__ import annotations

import math
from collections.abc import Iterator

from lucid_ridge.core.exposure.tolerances import is_soft
from lucid_ridge.core.figures import Figure, micrometres_text
from lucid_ridge.core.motion.travel import LOOK_TEXT, within_look
from lucid_ridge.core.state.state import State
from lucid_ridge.core.state.subject_motion import (
    element_travel_mm,
    foliage_freezing_s,
    layer_of,
    look_window,
    moving_elements,
)
from lucid_ridge.core.stops.scales import nearest_third, shutter_text
from lucid_ridge.core.tensions.levers import element_id_of, layer_for, shutter_within
from lucid_ridge.core.tensions.rule import Candidate, Found, Rule


def _water(state: State) -> Iterator[Found]:
    wants, shutter = state.scene.composition.wants, state.exposure.settings.shutter_s
    water = moving_elements(state, "water")
    if not water:
        return
    look, window = wants.water_look, look_window(state)
    if not within_look(window, shutter):
        yield Found(
            "water_look",
            f"Water will not be {LOOK_TEXT[look]}" if look == "freeze" else f"Not the wanted water: {LOOK_TEXT[look]}",
            f"The shutter is open {shutter_text(shutter)}; this look takes {window_text(window)}.",
            Figure(value=shutter, text=shutter_text(shutter), explain="motion.look"),
            element_id_of(state, water[0]),
        )
    frozen = look_window(state, "freeze")
    layer = layer_of(state, "wave")
    taken = shutter if layer is None else min(layer, shutter)
    if wants.frozen_wave and not within_look(frozen, taken):
        yield Found(
            "frozen_wave",
            "No frame has the wave frozen",
            f"The shortest frame is open {shutter_text(taken)}; a frozen wave takes {window_text(frozen)}.",
            Figure(value=taken, text=shutter_text(taken), explain="motion.frozen"),
            element_id_of(state, water[0]),
        )


def window_text(window_s: tuple[float, float]) -> str:
    """A span of shutter times in words, to the nearest marks."""
    low, high = (nearest_third(t, "shutter") if 0 < t < 1 else t for t in window_s)
    if low <= 0:
        return f"up to {shutter_text(high)}"
    return f"{shutter_text(low)} to {shutter_text(high)}" if math.isfinite(high) else f"{shutter_text(low)} or longer"


def _foliage(state: State) -> Iterator[Found]:
    if not state.scene.composition.wants.sharp_foliage:
        return
    shutter = state.exposure.settings.shutter_s
    layer = layer_of(state, "foliage")
    taken = shutter if layer is None else min(layer, shutter)
    moving = [(element_travel_mm(state, i, taken), i) for i in moving_elements(state, "foliage")]
    travel, i = max(moving, default=(0.0, 0))
    if not is_soft(travel, state.depth.criterion_mm):
        return
    element = state.scene.composition.elements[i]
    yield Found(
        "foliage",
        f"{element.name[0].upper()}{element.name[1:]} blurs in the wind",
        f"At {element.speed_m_s:g} m/s it moves {micrometres_text(travel)} in "
        f"{shutter_text(taken)}; {micrometres_text(state.depth.criterion_mm)} allowed.",
        Figure(value=travel * 1000, text=micrometres_text(travel), explain=f"motion.foliage:{element.id}"),
        element.id,
    )


def _freeze_foliage(state: State) -> Iterator[Candidate]:
    yield from shutter_within(state, 0.0, foliage_freezing_s(state))
    yield from layer_for(state, "foliage", "the leaves", foliage_freezing_s(state))


def _freeze_wave(state: State) -> Iterator[Candidate]:
    yield from layer_for(state, "wave", "the wave", look_window(state, "freeze")[1])


WATER_LOOK = Rule(
    kind="water_look",
    find=_water,
    candidates=lambda s: shutter_within(s, *look_window(s)),
    no_mend="No filter owned, aperture or ISO that is free reaches that time.",
    searched=True,
)

FROZEN_WAVE = Rule(
    kind="frozen_wave",
    find=_water,
    candidates=_freeze_wave,
    no_mend="Nothing free, and no layer, reaches that shutter time within the ISO you allow.",
    searched=True,
)

FOLIAGE = Rule(
    kind="foliage",
    find=_foliage,
    candidates=_freeze_foliage,
    no_mend="Nothing free reaches that shutter time within the ISO you allow; wait for a lull.",
    searched=True,
)
