"""Layers: frames of one standpoint for what moves otherwise than the rest.

White balance, aperture, focus and framing stay; the filters that only lengthen the time come off, and ISO pays for
the rest, so that every layer is as bright as the base frame.
"""

from __future__ import annotations

import math

from lucid_ridge.core.exposure.closing import filters_in_use
from lucid_ridge.core.exposure.kernels import layer_exposure
from lucid_ridge.core.model.scene import Layer, LayerPurpose
from lucid_ridge.core.state.state import State
from lucid_ridge.core.stops.film import gathered_s
from lucid_ridge.core.stops.filters import FilterInUse, cost_stops


def without_density(state: State) -> tuple[tuple[FilterInUse, ...], float]:
    """The filters in use without neutral density, and the stops that this gives back."""
    kept, gained = [], 0.0
    for owned, use in filters_in_use(state.scene):
        if owned.kind in ("nd", "variable_nd"):
            gained += cost_stops(owned, use)
        else:
            kept.append(use)
    return tuple(kept), gained


def layer_reaching(state: State, purpose: LayerPurpose, slowest_s: float) -> Layer | None:
    """A layer as bright as the base frame and no slower than that; None where no ISO allowed reaches it.

    The lowest ISO that does is taken, at the longest shutter time that it leaves.
    """
    body, wants, base = state.scene.kit.body, state.scene.composition.wants, state.exposure.settings
    if not math.isfinite(slowest_s):
        return None
    filters, gained = without_density(state)
    made = layer_exposure(
        body, wants.highest_iso, state.exposure.gathered_s * base.iso / 2**gained, base.shutter_s, slowest_s
    )
    if made.fails > 0:
        return None
    return Layer(purpose=purpose, shutter_s=float(made.shutter_s), iso=float(made.iso), filters=filters)


def layer_brightness_stops(state: State, layer: Layer) -> float:
    """How much brighter (+) or darker a layer comes out than the base frame, stops."""
    owned = {f.id: f for f in state.scene.kit.filters}
    base = state.exposure.settings
    taken = sum(cost_stops(owned[u.filter_id], u) for u in layer.filters if u.filter_id in owned)
    now = sum(cost_stops(f, u) for f, u in filters_in_use(state.scene))
    gathered = float(gathered_s(layer.shutter_s, state.scene.kit.body.reciprocity_p))
    return math.log2(gathered * layer.iso / (state.exposure.gathered_s * base.iso)) + now - taken
