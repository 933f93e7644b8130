"""The frames of layers: bound to a moment, so taken first, before density goes on."""

from __future__ import annotations

import math
from typing import cast

from lucid_ridge.core.model.scene import Layer, LayerPurpose
from lucid_ridge.core.optics.slices import Slice
from lucid_ridge.core.sequence.timing import ScheduledFrame
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import Readout, aperture_text, distance_text, duration_text, iso_text, shutter_text
from lucid_ridge.reports.sequence.frames import PlannedFrame


def focus_target(state: State, one: Slice) -> str:
    """Name of the element to focus on for a slice: solid, within it, nearest to its focus in dioptres.

    Empty where nothing solid lies in the slice; water and sky give a focus aid nothing to hold.
    """
    best, best_rank = "", math.inf
    inverse = 1 / one.focus_m
    for i, element in enumerate(state.scene.composition.elements):
        near, far = float(state.geometry.near_m[i]), float(state.geometry.far_m[i])
        if math.isnan(near) or element.role in ("sky", "water") or near > one.far_m or far < one.near_m:
            continue
        miss = max(0.0, inverse - 1 / max(near, 1e-3), 1 / max(far, 1e-3) - inverse)
        # Of elements that all hold the distance the shallowest is the clearest target.
        rank = miss * 1e6 + (far - near)
        if rank < best_rank:
            best, best_rank = element.name, rank
    return best


LAYER_TEXT: dict[LayerPurpose, str] = {"foliage": "sharp leaves", "wave": "frozen wave"}
_MOVING: dict[LayerPurpose, str] = {"foliage": "foliage", "wave": "water"}


def _layer_slice(state: State, purpose: LayerPurpose) -> int:
    """Position of the slice in which the first of what a layer is for stands."""
    elements = state.scene.composition.elements
    for i, element in enumerate(elements):
        near = float(state.geometry.near_m[i])
        if element.motion == _MOVING[purpose] and not math.isnan(near):
            return min(range(len(state.depth.slices)), key=lambda k: abs(1 / state.depth.slices[k].focus_m - 1 / near))
    return 0


# Long: one record, field by field.
def layer_frame(state: State, timed: ScheduledFrame, number: int) -> PlannedFrame:
    """The frame of a layer, taken before the base frames: focus where its subject stands, settings of its own."""
    settings, units = state.scene.composition.settings, state.scene.units
    layer, first = cast(Layer, timed.layer), timed.first
    owned = {f.id: f.name for f in state.scene.kit.filters}
    k = _layer_slice(state, layer.purpose)
    one = state.depth.slices[k]
    actions = []
    names = [owned[u.filter_id] for u in layer.filters if u.filter_id in owned]
    if timed.refocus:
        target = focus_target(state, one)
        actions.append(f"Focus at {distance_text(one.focus_m, units)}" + (f", on the {target}" if target else ""))
    if first and names:
        actions.append(f"Put on {' + '.join(names)}, after focusing; no density yet")
    elif first and settings.filters:
        actions.append("No density yet")
    actions.append("Same white balance and framing; touch nothing else")
    if layer.purpose == "wave":
        actions.append("Wait for the wave")
    elif layer.purpose == "foliage":
        actions.append("Wait for a lull")
    if timed.timer_s:
        actions.append(f"Self-timer {timed.timer_s:g} s, or the remote at the moment")
    return PlannedFrame(
        number=number,
        slice_number=k + 1,
        slice_count=len(state.depth.slices),
        bracket_number=1,
        bracket_count=1,
        offset_stops=0.0,
        title=f"Layer: {LAYER_TEXT[layer.purpose]}",
        caption=f"layer for the {LAYER_TEXT[layer.purpose]}",
        actions=tuple(actions),
        changed=(
            "shutter",
            "iso",
            *(("filters", "aperture") if first else ()),
            *(("focus",) if timed.refocus else ()),
        ),
        focus=Readout(
            value=None if math.isinf(one.focus_m) else one.focus_m,
            text=distance_text(one.focus_m, units),
            explain=f"sequence.focus:{number}",
        ),
        aperture=Readout(value=settings.aperture_n, text=aperture_text(settings.aperture_n)),
        shutter=Readout(
            value=layer.shutter_s, text=shutter_text(layer.shutter_s), explain=f"sequence.shutter:{number}"
        ),
        iso=Readout(value=layer.iso, text=iso_text(layer.iso)),
        filters=" + ".join(names) or "none",
        bulb=timed.by_hand,
        layer=layer.purpose,
        timer_s=timed.timer_s,
        exposure_s=layer.shutter_s,
        dark_frame_s=timed.dark_frame_s,
        duration_s=timed.duration_s,
        duration=Readout(
            value=timed.duration_s, text=duration_text(timed.duration_s), explain=f"sequence.frame:{number}"
        ),
        starts_after_s=timed.starts_after_s,
    )
