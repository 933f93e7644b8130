"""Layers: frames of one standpoint for what moves otherwise than the rest.

White balance, aperture, focus and framing stay; the filters that only lengthen the time come off, and ISO pays for
the rest, so that every layer is as bright as the base frame.
"""

from __future__ import annotations

import math

from lucid_ridge.core.exposure.closing import filters_in_use
from lucid_ridge.core.exposure.tolerances import MARK
from lucid_ridge.core.model.scene import Layer, LayerPurpose
from lucid_ridge.core.state.state import State
from lucid_ridge.core.stops.film import gathered_s, held_open_s
from lucid_ridge.core.stops.filters import FilterInUse, cost_stops
from lucid_ridge.core.stops.scales import nearest_third, on_third, third_index


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
    # Light to gather: time before the film's correction by ISO, without the density.
    product = state.exposure.gathered_s * base.iso / 2**gained
    longest = min(slowest_s * MARK, base.shutter_s)
    least = product / float(gathered_s(longest, body.reciprocity_p))
    index = max(
        math.ceil(third_index(least, "iso") - 1e-6), round(third_index(nearest_third(body.base_iso, "iso"), "iso"))
    )
    iso = on_third(index, "iso")
    shutter = nearest_third(float(held_open_s(product / iso, body.reciprocity_p)), "shutter")
    if iso > min(wants.highest_iso, body.highest_iso) * MARK or shutter < body.shortest_shutter_s / MARK:
        return None
    return Layer(purpose=purpose, shutter_s=shutter, iso=iso, filters=filters) if shutter <= longest * MARK else None


def layer_brightness_stops(state: State, layer: Layer) -> float:
    """How much brighter (+) or darker a layer comes out than the base frame, stops."""
    owned = {f.id: f for f in state.scene.kit.filters}
    base = state.exposure.settings
    taken = sum(cost_stops(owned[u.filter_id], u) for u in layer.filters if u.filter_id in owned)
    now = sum(cost_stops(f, u) for f, u in filters_in_use(state.scene))
    gathered = float(gathered_s(layer.shutter_s, state.scene.kit.body.reciprocity_p))
    return math.log2(gathered * layer.iso / (state.exposure.gathered_s * base.iso)) + now - taken
