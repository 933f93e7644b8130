"""What many mends pull: aperture, ISO, filters, layers, fewer frames."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator

from lucid_ridge.core.changes.apply import aperture_marks_between, apply_changes
from lucid_ridge.core.changes.kinds import Change, PutOn, SetTo, TakeBracket, TakeLayers, TakeSlices
from lucid_ridge.core.model.scene import LayerPurpose
from lucid_ridge.core.state.layers import layer_reaching
from lucid_ridge.core.state.state import State, build_state
from lucid_ridge.core.stops.film import gathered_s
from lucid_ridge.core.stops.filters import FilterInUse
from lucid_ridge.core.stops.scales import nudge, third_index
from lucid_ridge.core.tensions.rule import Candidate


def element_id_of(state: State, index: int) -> str:
    """The id of an element by its position."""
    return state.scene.composition.elements[index].id


def after(state: State, changes: tuple[Change, ...]) -> State:
    """The state after changes. Kept on the state it starts from: several tensions try the same ones."""
    if changes not in state.tried:
        state.tried[changes] = build_state(apply_changes(state.scene, changes), state, state.terrain)
    return state.tried[changes]


def apertures(state: State) -> list[float]:
    """The marks that the lens has at this focal length, the widest first."""
    return aperture_marks_between(state.scene.kit, state.scene.composition.settings.focal_length_mm)


def shutter_within(state: State, low_s: float, high_s: float) -> Iterator[Candidate]:
    """Single changes that bring the shutter time between two times."""
    scene, shutter = state.scene, state.exposure.settings.shutter_s
    settings, locks, wants = scene.composition.settings, scene.composition.locks, scene.composition.wants
    if "shutter" in locks or low_s <= shutter <= high_s:
        return
    faster = shutter > high_s
    # Whole thirds to move; the goal is the nearest end of the span.
    edge = high_s if faster else low_s
    thirds = 3 * math.log2(shutter / edge)
    need = math.ceil(thirds - 1e-6) if faster else math.floor(thirds + 1e-6)
    if "iso" not in locks:
        iso = nudge(settings.iso, need, "iso")
        body = scene.kit.body
        if body.base_iso * 0.95 <= iso <= min(wants.highest_iso, body.highest_iso) * 1.05:
            yield (SetTo(setting="iso", value=iso),)
    if "aperture" not in locks:
        n = nudge(settings.aperture_n, -need, "aperture")
        marks = apertures(state)
        if marks[0] * 0.99 <= n <= marks[-1] * 1.01:
            yield (SetTo(setting="aperture", value=n),)
    if "filters" not in locks:
        yield from filters_within(state, low_s, high_s)
    if faster and "iso" not in locks:
        top = min(wants.highest_iso, scene.kit.body.highest_iso)
        widest = apertures(state)[0]
        gain = third_index(top, "iso") - third_index(settings.iso, "iso")
        rest = need - math.floor(gain)
        n = nudge(settings.aperture_n, -rest, "aperture")
        if "aperture" not in locks and n >= widest * 0.99 and rest > 0:
            iso = nudge(settings.iso, math.floor(gain), "iso")
            yield (SetTo(setting="iso", value=iso), SetTo(setting="aperture", value=n))


def filters_within(state: State, low_s: float, high_s: float) -> Iterator[Candidate]:
    """ND filters owned, up to two together, in place of those on the lens; nearest to the span's middle first."""
    scene = state.scene
    kinds = {f.id: f for f in scene.kit.filters}
    kept = tuple(
        use for use in scene.composition.settings.filters if kinds[use.filter_id].kind not in ("nd", "variable_nd")
    )
    now = sum(
        f.least_stops + use.strength * (f.stops - f.least_stops) if f.kind == "variable_nd" else f.stops
        for use in scene.composition.settings.filters
        for f in [kinds[use.filter_id]]
        if f.kind in ("nd", "variable_nd")
    )
    power = scene.kit.body.reciprocity_p
    bare = state.exposure.asked_s / 2**now
    low_s, high_s = (float(gathered_s(one, power)) if math.isfinite(one) else one for one in (low_s, high_s))
    middle = math.log2(max(low_s, high_s / 64) * high_s) / 2 if math.isfinite(high_s) else math.log2(low_s) + 1
    solid = [f for f in scene.kit.filters if f.kind == "nd"]
    sets = [c for k in (0, 1, 2) for c in itertools.combinations(solid, k)]
    ranked = sorted((abs(math.log2(bare) + sum(f.stops for f in c) - middle), len(c), i, c) for i, c in enumerate(sets))
    for _, _, _, chosen in ranked:
        stops = sum(f.stops for f in chosen)
        if not low_s / 1.13 <= bare * 2**stops <= high_s * 1.13 or abs(stops - now) < 1e-6:
            continue
        yield (PutOn(filters=(*kept, *(FilterInUse(filter_id=f.id) for f in chosen))),)
        return


def layer_for(state: State, purpose: LayerPurpose, slowest_s: float) -> Iterator[Candidate]:
    """Take a layer of its own for what moves, no slower than *slowest_s* seconds."""
    layer = layer_reaching(state, purpose, slowest_s)
    if layer is not None:
        others = tuple(one for one in state.scene.composition.technique.layers if one.purpose != purpose)
        yield (TakeLayers(layers=(*others, layer)),)


def fewer_frames(state: State) -> Iterator[Candidate]:
    """Leave out layers, the bracket or the slices."""
    technique = state.scene.composition.technique
    if technique.layers:
        yield (TakeLayers(layers=()),)
    if technique.bracket != "none":
        yield (TakeBracket(mode="none"),)
    if technique.slices != "one":
        yield (TakeSlices(mode="one"),)
