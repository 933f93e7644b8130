"""Candidates for mends: single changes that may remove a tension, the gentlest first.

Whether one does is found by trying it, see `mends`.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import UTC, datetime

from lucid_ridge.core.camera.keep_out import KEEP_FROM_LINE_M, brought_back, crossed_line
from lucid_ridge.core.camera.mounted_lens import focus_span_m
from lucid_ridge.core.camera.reach import heights_in_reach
from lucid_ridge.core.changes.apply import (
    MOST_OFFSET,
    Change,
    ChooseCriterion,
    GoTo,
    PutOn,
    SetBulb,
    SetHandHeld,
    SetOffset,
    SetTo,
    TakeBracket,
    TakeLayers,
    TakeSlices,
    aperture_marks_between,
    apply_changes,
)
from lucid_ridge.core.changes.camera_moves import SetHeight, StandAt
from lucid_ridge.core.changes.check import widest_aperture
from lucid_ridge.core.changes.lens_changes import MountGear
from lucid_ridge.core.exposure.tolerances import is_soft
from lucid_ridge.core.figures import distance_text, stops_text, stops_words
from lucid_ridge.core.light_windows.now import light_today, when_text
from lucid_ridge.core.model.scene import LayerPurpose
from lucid_ridge.core.optics.focus_schools import balanced_focus_m
from lucid_ridge.core.sequence.timing import sequence_s
from lucid_ridge.core.state.background import background_share
from lucid_ridge.core.state.layers import layer_reaching
from lucid_ridge.core.state.state import State, build_state
from lucid_ridge.core.state.subject_motion import foliage_freezing_s, look_window
from lucid_ridge.core.stops.film import gathered_s
from lucid_ridge.core.stops.filters import FilterInUse
from lucid_ridge.core.stops.scales import aperture_text, iso_text, nudge, shutter_text, third_index
from lucid_ridge.core.tensions.find import TensionKind


@dataclass(frozen=True)
class Candidate:
    """Changes that may mend a tension, and what the button will say of the state that they lead to."""

    label: Callable[[State], str]
    changes: tuple[Change, ...]


def _said(text: str) -> Callable[[State], str]:
    """A label that hangs on nothing."""
    return lambda _: text


def _shutter_then(state: State) -> str:
    return shutter_text(state.exposure.settings.shutter_s)


def _focus_then(state: State) -> str:
    focus = state.exposure.settings.focus_m
    return "∞" if focus is None else distance_text(focus, state.scene.units)


def after(state: State, changes: tuple[Change, ...]) -> State:
    """The state after changes. Kept on the state it starts from: several tensions try the same ones."""
    if changes not in state.tried:
        state.tried[changes] = build_state(apply_changes(state.scene, changes), state, state.terrain)
    return state.tried[changes]


def _apertures(state: State) -> list[float]:
    return aperture_marks_between(state.scene.kit, state.scene.composition.settings.focal_length_mm)


def _set_aperture(n: float, verb: str) -> Candidate:
    return Candidate(
        label=lambda s: f"{verb} {aperture_text(s.exposure.settings.aperture_n)}",
        changes=(SetTo(setting="aperture", value=n),),
    )


def _set_iso(iso: float) -> Candidate:
    return Candidate(
        label=lambda s: f"ISO {iso_text(s.exposure.settings.iso)}", changes=(SetTo(setting="iso", value=iso),)
    )


def _diffraction_limit(state: State) -> float:
    """Largest f-number whose Airy disk stays within the criterion, the lens extended as it is."""
    depth = state.depth
    # The Airy disk grows in proportion to the f-number.
    return state.scene.composition.settings.aperture_n * depth.criterion_mm / depth.airy_mm


def _sharper(state: State) -> Iterator[Candidate]:
    scene, depth = state.scene, state.depth
    settings, locks = scene.composition.settings, scene.composition.locks
    f = settings.focal_length_mm
    if "focus" not in locks and scene.composition.technique.slices == "one":
        focus = balanced_focus_m(depth.near_m, depth.far_m)
        yield Candidate(label=lambda s: f"Focus at {_focus_then(s)}", changes=(SetTo(setting="focus", value=focus),))
    if "aperture" not in locks:
        limit = _diffraction_limit(state)
        narrower = [n for n in _apertures(state) if settings.aperture_n * 1.01 < n <= limit]
        sharp = [i for i, e in enumerate(scene.composition.elements) if e.sharp and state.geometry.seen(i)]
        defocus = max((float(depth.worse.defocus_mm[i]) for i in sharp), default=0.0)
        for n in narrower:
            stopped = n / settings.aperture_n
            if not is_soft(math.hypot(defocus / stopped, depth.airy_mm * stopped), depth.criterion_mm):
                yield _set_aperture(n, "Stop down to")
                break
    stacked = TakeSlices(mode="gapless")
    yield from _stack(state, (stacked,))
    if "aperture" not in locks:
        # Where the aperture in use leaves too little for defocus, a wider one with a stack does.
        for n in (8.0, 5.656854249492381, 4.0):
            if widest_aperture(scene.kit.lens, f) <= n < settings.aperture_n:
                yield from _stack(state, (SetTo(setting="aperture", value=n), stacked))


def _stack(state: State, changes: tuple[Change, ...]) -> Iterator[Candidate]:
    tried = after(state, changes)
    if not tried.depth.slices_problem:
        count = len(tried.depth.slices)
        words = f"Take {count} slices" if count > 1 else "Take the slice that holds both"
        if len(changes) > 1:
            words += f" at {aperture_text(tried.exposure.settings.aperture_n)}"
        yield Candidate(label=_said(words), changes=changes)


def _less_diffraction(state: State) -> Iterator[Candidate]:
    scene, limit = state.scene, _diffraction_limit(state)
    fitting = [n for n in _apertures(state) if n <= limit]
    if fitting and "aperture" not in scene.composition.locks:
        yield _set_aperture(fitting[-1], "Open to")
    if scene.composition.wants.criterion != "print":
        yield Candidate(label=_said("Judge by the print"), changes=(ChooseCriterion(criterion="print"),))


def _shutter_within(state: State, low_s: float, high_s: float) -> Iterator[Candidate]:
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
            yield _set_iso(iso)
    if "aperture" not in locks:
        n = nudge(settings.aperture_n, -need, "aperture")
        marks = _apertures(state)
        if marks[0] * 0.99 <= n <= marks[-1] * 1.01:
            yield _set_aperture(n, "Open to" if faster else "Stop down to")
    if "filters" not in locks:
        yield from _filters_within(state, low_s, high_s)
    if faster and "iso" not in locks:
        top = min(wants.highest_iso, scene.kit.body.highest_iso)
        widest = _apertures(state)[0]
        gain = third_index(top, "iso") - third_index(settings.iso, "iso")
        rest = need - math.floor(gain)
        n = nudge(settings.aperture_n, -rest, "aperture")
        if "aperture" not in locks and n >= widest * 0.99 and rest > 0:
            iso = nudge(settings.iso, math.floor(gain), "iso")
            yield Candidate(
                label=lambda s: (
                    f"ISO {iso_text(s.exposure.settings.iso)} and {aperture_text(s.exposure.settings.aperture_n)}"
                ),
                changes=(SetTo(setting="iso", value=iso), SetTo(setting="aperture", value=n)),
            )


def _filters_within(state: State, low_s: float, high_s: float) -> Iterator[Candidate]:
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
        words = f"Put on {' + '.join(f.name for f in chosen)}" if chosen else "Take off the ND"
        yield Candidate(
            label=lambda s, words=words: f"{words}, {_shutter_then(s)}",  # type: ignore[misc]
            changes=(PutOn(filters=(*kept, *(FilterInUse(filter_id=f.id) for f in chosen))),),
        )
        return


def _freeze_foliage(state: State) -> Iterator[Candidate]:
    yield from _shutter_within(state, 0.0, foliage_freezing_s(state))
    yield from _layer_for(state, "foliage", "the leaves", foliage_freezing_s(state))


def _freeze_wave(state: State) -> Iterator[Candidate]:
    yield from _layer_for(state, "wave", "the wave", look_window(state, "freeze")[1])


def _layer_for(state: State, purpose: LayerPurpose, what: str, slowest_s: float) -> Iterator[Candidate]:
    layer = layer_reaching(state, purpose, slowest_s)
    if layer is not None:
        others = tuple(one for one in state.scene.composition.technique.layers if one.purpose != purpose)
        label = f"A layer for {what}, {shutter_text(layer.shutter_s)} at ISO {iso_text(layer.iso)}"
        yield Candidate(label=_said(label), changes=(TakeLayers(layers=(*others, layer)),))


def _fewer_frames(state: State) -> Iterator[Candidate]:
    technique = state.scene.composition.technique
    if technique.layers:
        yield Candidate(label=_said("Without the layers"), changes=(TakeLayers(layers=()),))
    if technique.bracket != "none":
        yield Candidate(label=_said("Without the bracket"), changes=(TakeBracket(mode="none"),))
    if technique.slices != "one":
        yield Candidate(label=_said("One focus"), changes=(TakeSlices(mode="one"),))


def _lower_iso(state: State) -> Iterator[Candidate]:
    most = state.scene.composition.wants.highest_iso
    if "iso" not in state.scene.composition.locks:
        yield _set_iso(most)


def _steadier(state: State) -> Iterator[Candidate]:
    if state.scene.kit.support.kind != "hand":
        yield Candidate(label=_said(f"Use the {state.scene.kit.support.name}"), changes=(SetHandHeld(on=False),))
    yield from _shutter_within(state, 0.0, state.steadiness_s)


def _bulb_mends(state: State) -> Iterator[Candidate]:
    if state.scene.kit.body.has_bulb:
        yield Candidate(label=_said("Set bulb"), changes=(SetBulb(on=True),))
    yield from _shutter_within(state, 0.0, state.scene.kit.body.longest_timed_s)


def _hold_range(state: State) -> Iterator[Candidate]:
    plan = after(state, (TakeBracket(mode="range"),)).range.bracket
    if plan is None:
        return
    count = len(plan.offsets_stops)
    if count == 1:
        # One frame holds the scene once it is exposed for it: a choice in the account, no bracket.
        now = state.scene.composition.settings.offset_stops
        offset = min(max(now + plan.offsets_stops[0], -MOST_OFFSET), MOST_OFFSET)
        yield Candidate(
            label=lambda s: f"Expose {stops_text(s.scene.composition.settings.offset_stops - now)}",
            changes=(SetOffset(stops=offset),),
        )
    else:
        yield Candidate(
            label=_said(f"Bracket {count} × {stops_words(plan.step_stops)}"),
            changes=(TakeBracket(mode="range"),),
        )


def _focus_at_minimum(state: State) -> Iterator[Candidate]:
    settings, lens = state.scene.composition.settings, state.scene.kit.lens
    nearest, _ = focus_span_m(lens, settings.focal_length_mm)
    technique = state.scene.composition.technique
    if technique.slices == "hand":
        foci = tuple(max(s, nearest) for s in technique.hand_foci_m)
        change: Change = TakeSlices(mode="hand", foci_m=foci)
    elif technique.slices == "gapless":
        change = TakeSlices(mode="one")
    else:
        change = SetTo(setting="focus", value=nearest)
    yield Candidate(label=_said(f"Focus at {distance_text(nearest, state.scene.units)}"), changes=(change,))


def _focus_within(state: State) -> Iterator[Candidate]:
    """Take the extending gear off where the focus is wanted far; else focus as far as it goes."""
    composition = state.scene.composition
    yield Candidate(label=_said("Take the close-up gear off"), changes=(MountGear(mounted=()),))
    _, farthest = focus_span_m(state.scene.kit.lens, composition.settings.focal_length_mm)
    if math.isfinite(farthest) and composition.technique.slices == "one":
        yield Candidate(label=lambda s: f"Focus at {_focus_then(s)}", changes=(SetTo(setting="focus", value=farthest),))


def _balance(state: State) -> Iterator[Candidate]:
    off = state.exposure.brighter_stops - state.scene.composition.settings.offset_stops
    settings, locks = state.scene.composition.settings, state.scene.composition.locks
    thirds = round(off * 3)
    if "aperture" not in locks:
        n = nudge(settings.aperture_n, thirds, "aperture")
        marks = _apertures(state)
        if marks[0] * 0.99 <= n <= marks[-1] * 1.01:
            yield _set_aperture(n, "Set")
    if off > 0 and "filters" not in locks:
        t = state.exposure.settings.shutter_s
        yield from _filters_within(state, t * 2 ** (off - 0.4), t * 2 ** (off + 0.4))


def _into_reach(state: State) -> Iterator[Candidate]:
    low, high = heights_in_reach(state.scene, state.steady)
    now = state.scene.composition.camera_height_m
    height = min(max(now, low), high)
    verb = "Raise" if height > now else "Lower"
    text = distance_text(height, state.scene.units)
    yield Candidate(label=_said(f"{verb} to {text}"), changes=(SetHeight(camera_height_m=height),))


def _off_the_line(state: State) -> Iterator[Candidate]:
    composition = state.scene.composition
    line = crossed_line(composition, composition.east_m, composition.north_m)
    if line is not None:
        east, north = brought_back(line, composition.east_m, composition.north_m, KEEP_FROM_LINE_M)
        by = math.hypot(east - composition.east_m, north - composition.north_m)
        text = distance_text(by, state.scene.units)
        yield Candidate(label=_said(f"Step back {text}"), changes=(StandAt(east_m=east, north_m=north),))


def _smoother(state: State) -> Iterator[Candidate]:
    """The narrowest aperture that is open enough; one focus instead of slices that hold the background too."""
    composition, wanted = state.scene.composition, state.scene.composition.wants.smooth_background
    if wanted is None:
        return
    if "aperture" not in composition.locks:
        needed = composition.settings.aperture_n * background_share(state) / wanted
        opened = [n for n in _apertures(state) if n <= needed * 1.02]
        if opened:
            yield _set_aperture(opened[-1], "Open to")
    if composition.technique.slices != "one":
        yield Candidate(label=_said("One focus"), changes=(TakeSlices(mode="one"),))


def _go_to(state: State, unix_s: float, verb: str) -> Candidate:
    return Candidate(
        label=_said(f"{verb} {when_text(state, unix_s)}"),
        changes=(GoTo(moment_utc=datetime.fromtimestamp(unix_s, UTC)),),
    )


def _into_the_light(state: State) -> Iterator[Candidate]:
    """To the beginning of the window nearest by: all of it is left then."""
    today = light_today(state)
    nearest = today.nearest_to(state.unix_s) if today else None
    if nearest is not None:
        yield _go_to(state, nearest[0], "Go to")


def _before_it_goes(state: State) -> Iterator[Candidate]:
    """Begin earlier in the window, or take less time."""
    today = light_today(state)
    window = today.window_at(state.unix_s) if today else None
    if window is not None:
        begin = math.floor((window[1] - sequence_s(state) - 30) / 60) * 60.0
        if begin >= window[0]:
            yield _go_to(state, begin, "Begin at")
    yield from _fewer_frames(state)


CANDIDATES: dict[TensionKind, Callable[[State], Iterator[Candidate]]] = {
    "near_soft": _sharper,
    "gap_soft": _sharper,
    "far_soft": _sharper,
    "diffraction": _less_diffraction,
    "minimum_focus": _focus_at_minimum,
    "farthest_focus": _focus_within,
    "hand_held": _steadier,
    "water_look": lambda s: _shutter_within(s, *look_window(s)),
    "frozen_wave": _freeze_wave,
    "frames": _fewer_frames,
    "iso": _lower_iso,
    "foliage": _freeze_foliage,
    "range": _hold_range,
    "bulb": _bulb_mends,
    "exposure": _balance,
    "reach": _into_reach,
    "standing": _off_the_line,
    "background": _smoother,
    "light": _into_the_light,
    "light_ends": _before_it_goes,
    "support": lambda s: _shutter_within(s, 0.0, s.steadiness_s),
    "drifts_off": _fewer_frames,
}
