"""The search: every technique judged at once, by what it breaks and by what it costs.

Violations are in stops, or doublings, of what is wanted; nought where it is given. What a technique costs is
frames, seconds, the worst blur in pixels, ISO and the travel of what ought to stand still.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.motion.travel import LOOK_SLACK_STOPS
from lucid_ridge.core.optics.thin_lens import close_up_loss_stops
from lucid_ridge.core.range.brackets import held, plan_bracket, usable_range_stops
from lucid_ridge.core.stops.filters import cost_stops
from lucid_ridge.core.technique import frames as durations
from lucid_ridge.core.technique.light_now import light_left_s
from lucid_ridge.core.technique.moving import element_travel_mm, foliage_freezing_s, look_window, moving_elements
from lucid_ridge.core.technique.scene import LayerPurpose
from lucid_ridge.core.technique.state import State
from lucid_ridge.core.technique.tolerances import BACKGROUND, EXPOSURE_STOPS, MARK, MARK_STOPS, RANGE_STOPS, SHARP
from lucid_ridge.core.technique.ways.space import (
    MOST_CELLS,
    FilterSet,
    FocusPlan,
    aperture_marks,
    filter_sets,
    focus_plans,
    held_tones,
    iso_marks,
)

Array = NDArray[np.float64]
Want = Literal[
    "sharp", "water", "wave", "foliage", "range", "by hand", "frames", "bulb", "exposure", "background", "light"
]
Cost = Literal["frames", "seconds", "blur", "iso", "travel", "lens"]

WANTS: tuple[Want, ...] = (
    "sharp", "water", "wave", "foliage", "range", "by hand", "frames", "bulb", "exposure", "background", "light",
)  # fmt: skip
COSTS: tuple[Cost, ...] = ("frames", "seconds", "blur", "iso", "travel", "lens")

# Below these nothing is gained that anyone sees: pixels of blur, pixels of travel, seconds.
LEAST_BLUR_PX, LEAST_TRAVEL_PX, LEAST_SECONDS = 2.0, 1.0, 10.0
BEST_APERTURES = (5.6, 11.4)
"""Where most lenses are at their best: about f/8 (common practice)."""


@dataclass(frozen=True)
class Space:
    """Every technique that was judged, flat: what it is, what it breaks and what it costs.

    ``broken`` has shape (wants, techniques) and ``cost`` (costs, techniques); the indices say of which aperture,
    ISO, filter set, focus plan, bracket and layers a technique is.
    """

    apertures: Array
    isos: Array
    filters: list[FilterSet]
    focuses: list[FocusPlan]
    index: NDArray[np.int32]
    broken: Array
    cost: Array

    @property
    def feasible(self) -> NDArray[np.bool_]:
        """Which techniques give all that is wanted."""
        return np.asarray((self.broken <= 0).all(axis=0))


LAYER_SETS: tuple[tuple[LayerPurpose, ...], ...] = ((), ("foliage",), ("wave",), ("foliage", "wave"))


def _exact_times(state: State, apertures: Array, isos: Array, filters: list[FilterSet]) -> Array:
    """Shutter times that close the account, shape (apertures, isos, filters), film corrected."""
    composition, metered = state.scene.composition, state.exposure.metered
    reading = composition.reading
    owned = {f.id: f for f in state.scene.kit.filters}
    given = metered.light_since_stops - composition.settings.offset_stops
    if reading is not None and reading.through_lens and not reading.incident:
        given += sum(cost_stops(owned[u.filter_id], u) for u in reading.filters_on if u.filter_id in owned)
    if reading is not None and not reading.through_lens:
        extended = state.depth.image_distance_mm / composition.settings.focal_length_mm - 1
        given -= float(close_up_loss_stops(extended, state.scene.kit.lens.pupil_magnification))
    taken = np.array([f.stops for f in filters])
    times = (
        apertures[:, None, None] ** 2
        / 2**metered.ev100
        * 100
        / isos[None, :, None]
        * 2 ** (taken[None, None, :] - given)
    )
    power = state.scene.kit.body.reciprocity_p
    return np.asarray(times if power is None else np.where(times > 1, times**power, times))


def _on_marks(state: State, exact: Array) -> tuple[Array, Array]:
    """Times as they are set, and how much brighter (+) that makes the frame, stops."""
    body, composition = state.scene.kit.body, state.scene.composition
    if "shutter" in composition.locks:
        fixed = np.full_like(exact, composition.settings.shutter_s)
        return fixed, np.log2(fixed / exact)
    timed = exact <= body.longest_timed_s * MARK
    marks = np.maximum(2 ** (np.round(3 * np.log2(exact)) / 3), body.shortest_shutter_s)
    times = np.where(timed, marks, exact)
    return times, np.log2(times / exact)


@dataclass(frozen=True)
class Bracketing:
    """Brackets over the grid (apertures, isos, filters): frames, seconds open, presses, and what is lost with and without."""

    frames: Array
    open_s: Array
    presses: Array
    lost: Array
    lost_alone: Array


def _bracketing(state: State, isos: Array, filters: list[FilterSet], times: Array, brighter: Array) -> Bracketing:
    """What bracket each technique asks for. Few differ, by grad, ISO and rounding: each of those is planned once."""
    scene, exposure, body = state.scene, state.exposure, state.scene.kit.body
    base = scene.composition.settings.offset_stops - exposure.metered.ev100
    tones = [(i, ev + base) for i, ev in held_tones(state)]
    ends = [[stops - float(f.element_stops[i]) for i, stops in tones] or [0.0] for f in filters]
    low = np.array([min(one) for one in ends])[None, None, :] + brighter
    high = np.array([max(one) for one in ends])[None, None, :] + brighter
    shape = times.shape
    # Few differ: by grad, ISO, and how the time came onto a mark. One whole number tells them apart.
    _, k, c = np.indices(shape)
    same = {f.element_stops.tobytes(): n for n, f in enumerate(filters)}
    grad = np.array([same[f.element_stops.tobytes()] for f in filters])
    codes = ((grad[c] * len(isos) + k) * 1_000_000 + np.round((brighter + 40) * 1e4).astype(int)).ravel()
    unique, first, inverse = np.unique(codes, return_index=True, return_inverse=True)
    flat = times.ravel()
    count, opened, presses, lost, alone = (
        np.ones(len(flat)),
        flat.copy(),
        np.ones(len(flat)),
        np.zeros(len(flat)),
        np.zeros(len(flat)),
    )
    limit = body.longest_timed_s * MARK
    slice_by_slice = scene.composition.technique.order == "brackets_inside"
    lows, highs, marks_iso = (
        low.ravel()[first],
        high.ravel()[first],
        np.broadcast_to(isos[None, :, None], shape).ravel()[first],
    )
    groups = np.split(np.argsort(inverse, kind="stable"), np.cumsum(np.bincount(inverse, minlength=len(unique)))[:-1])
    for darkest, brightest, iso, members in zip(lows.tolist(), highs.tolist(), marks_iso.tolist(), groups, strict=True):
        usable = usable_range_stops(body.usable_range_stops, iso, body.base_iso)
        headroom = min(body.headroom_stops, usable)
        one = held(darkest, brightest, (0.0,), usable, headroom)
        alone[members] = lost[members] = max(one.lost_above, one.lost_below)
        try:
            plan = plan_bracket(darkest, brightest, usable, headroom, body.bracket_modes)
        except ValueError:
            continue
        if plan is None:
            continue
        left = held(darkest, brightest, plan.offsets_stops, usable, headroom)
        lost[members] = max(left.lost_above, left.lost_below)
        series = flat[members, None] * 2 ** np.array(plan.offsets_stops)[None, :]
        marks = np.maximum(2 ** (np.round(3 * np.log2(series)) / 3), body.shortest_shutter_s)
        opened[members] = np.where(series <= limit, marks, series).sum(axis=1)
        count[members] = len(plan.offsets_stops)
        by_body = plan.by_body and slice_by_slice and len(plan.offsets_stops) > 1
        presses[members] = np.where(by_body & (series.max(axis=1) <= limit), 1.0, float(len(plan.offsets_stops)))
    return Bracketing(*(one.reshape(shape) for one in (count, opened, presses, lost, alone)))


def _above(value: Array, allowed: float, slack: float) -> Array:
    """By how many doublings something exceeds what is allowed."""
    if not math.isfinite(allowed):
        return np.zeros_like(value)
    with np.errstate(divide="ignore"):
        over = np.log2(np.maximum(value, 1e-300) / max(allowed, 1e-300))
    return np.asarray(np.where(over > slack + 1e-9, over, 0.0))


def _layer(state: State, times: Array, iso: Array, density: Array, slowest_s: float) -> tuple[Array, Array, Array]:
    """Shutter times and ISO of a layer, and by how many stops it fails; see `layers.layer_reaching`."""
    body, wants = state.scene.kit.body, state.scene.composition.wants
    product = times * iso / 2**density
    longest = np.minimum(slowest_s * MARK, times)
    lowest = round(3 * math.log2(body.base_iso / 100))
    index = np.maximum(np.ceil(3 * np.log2(product / longest / 100) - 1e-6), lowest)
    taken = 100 * 2 ** (index / 3)
    shutter = 2 ** (np.round(3 * np.log2(product / taken)) / 3)
    most = min(wants.highest_iso, body.highest_iso)
    fails = np.maximum(
        _above(taken, most, MARK_STOPS),
        np.maximum(
            _above(shutter, float(slowest_s) * MARK, MARK_STOPS),
            np.where(shutter < body.shortest_shutter_s / MARK, 1.0, 0.0),
        ),
    )
    return shutter, taken, fails


def lens_cost(apertures: Array) -> Array:
    """Doublings of the light, as a factor, by which apertures lie outside the lens's best ones; 1 within."""
    low, high = BEST_APERTURES
    return np.asarray(np.maximum(np.maximum(low / apertures, apertures / high), 1.0) ** 2)


def explore(state: State) -> Space:
    """Judge every technique that the locks and the kit leave open."""
    composition, body = state.scene.composition, state.scene.kit.body
    wants = composition.wants
    apertures, isos, filters = aperture_marks(state), iso_marks(state), filter_sets(state)
    while len(isos) > 2 and len(apertures) * len(isos) * len(filters) > MOST_CELLS:
        isos = isos[::2]
    focuses = focus_plans(state, apertures)
    exact = _exact_times(state, apertures, isos, filters)
    times, brighter = _on_marks(state, exact)
    shape = times.shape
    iso = np.broadcast_to(isos[None, :, None], shape)
    density = np.broadcast_to(np.array([f.density for f in filters])[None, None, :], shape)
    put_on = np.broadcast_to(np.array([len(f.uses) for f in filters], dtype=float)[None, None, :], shape)

    water, swaying = moving_elements(state, "water"), moving_elements(state, "foliage")
    pitch = body.sensor_width_mm / body.pixels_across
    window, frozen = look_window(state), look_window(state, "freeze")
    freezing = foliage_freezing_s(state)
    sway_px = max((element_travel_mm(state, i, 1.0) for i in swaying), default=0.0) / pitch
    zero = np.zeros(shape)
    lens = np.broadcast_to(lens_cost(apertures)[:, None, None], shape)

    common: dict[Want, Array] = {
        "water": np.maximum(
            _above(times, window[1], LOOK_SLACK_STOPS),
            np.where(times < window[0] / 2**LOOK_SLACK_STOPS * (1 - 1e-9), np.log2(max(window[0], 1e-9) / times), 0.0),
        )
        if water
        else zero,
        "by hand": zero if state.steady else _above(times, state.hand_held_limit_s, MARK_STOPS),
        "bulb": zero if body.has_bulb else _above(times, body.longest_timed_s, MARK_STOPS),
        "exposure": np.where(np.abs(brighter) > EXPOSURE_STOPS, np.abs(brighter), 0.0),
    }
    left_s = light_left_s(state)
    brackets = _bracketing(state, isos, filters, times, brighter)
    # A bracket is tried only where something is lost without one.
    bracketing: list[bool] = (
        [False, True] if wants.hold_range and (brackets.lost < brackets.lost_alone - 1e-9).any() else [False]
    )
    layer_sets = [
        one for one in LAYER_SETS
        if ("foliage" not in one or (wants.sharp_foliage and swaying)) and ("wave" not in one or (wants.frozen_wave and water))
    ]  # fmt: skip

    all_index, all_broken, all_cost = [], [], []
    grid = np.stack(np.meshgrid(*(np.arange(n) for n in shape), indexing="ij"), axis=-1).reshape(-1, 3)
    timer = composition.settings.timer_s
    wait = max(durations.BETWEEN_FRAMES_S, durations.flash_wait_s(state))
    for b, bracket in enumerate(bracketing):
        count, bursts = (brackets.frames, brackets.presses) if bracket else (np.ones(shape), np.ones(shape))
        lost, open_s = (brackets.lost, brackets.open_s) if bracket else (brackets.lost_alone, times)
        open_s = open_s + _dark(state, times, open_s)
        range_broken = np.where(lost > RANGE_STOPS, lost, 0.0) if wants.hold_range else zero
        for p, focus in enumerate(focuses):
            slices = np.broadcast_to(focus.frames[:, None, None].astype(float), shape)
            possible = slices > 0
            rough = np.broadcast_to(_rough(state, focus)[:, None, None], shape)
            blur = np.broadcast_to(focus.worst_mm[:, None, None], shape)
            sharp = np.where(
                possible, _above(np.where(possible, blur, 1.0), state.depth.criterion_mm, math.log2(SHARP)), 20.0
            )
            for layers in layer_sets:
                leaves, wave, noisiest = times, times, np.array(iso)
                layer_s, failed = np.zeros(shape), {"foliage": zero, "wave": zero}
                for purpose in layers:
                    slowest = freezing if purpose == "foliage" else frozen[1]
                    shutter, taken, fails = _layer(state, times, iso, density, slowest)
                    failed[purpose] = fails
                    noisiest = np.maximum(noisiest, taken)
                    # Taken before density goes on; where slices are focused anew, so is the layer.
                    layer_s = layer_s + (
                        np.where(slices > 1, durations.REFOCUS_S, 0.0)
                        + durations.SETTLE_S + timer + shutter + durations.BETWEEN_FRAMES_S
                    )  # fmt: skip
                    leaves = shutter if purpose == "foliage" else leaves
                    wave = shutter if purpose == "wave" else wave
                frames = slices * count + len(layers)
                broken: dict[Want, Array] = {
                    **common,
                    "sharp": sharp,
                    "range": range_broken,
                    "foliage": np.maximum(
                        _above(leaves * sway_px * pitch, state.depth.criterion_mm, math.log2(SHARP)), failed["foliage"]
                    )
                    if wants.sharp_foliage and swaying
                    else zero,
                    "wave": np.maximum(_above(wave, frozen[1], LOOK_SLACK_STOPS), failed["wave"])
                    if wants.frozen_wave and water
                    else zero,
                    "frames": _above(frames, wants.most_frames, 0.0),
                    "background": rough,
                }
                seconds = (
                    slices * durations.REFOCUS_S + durations.FILTER_S * put_on + slices * bursts * (durations.SETTLE_S + timer)
                    + slices * open_s + slices * durations.BETWEEN_FRAMES_S * count + slices * (wait - durations.BETWEEN_FRAMES_S) + layer_s
                )  # fmt: skip
                broken["light"] = _above(seconds, left_s, 0.0)
                cost = {
                    "frames": frames,
                    "seconds": np.maximum(seconds, LEAST_SECONDS),
                    "blur": np.maximum(blur / pitch, LEAST_BLUR_PX),
                    "iso": noisiest,
                    "travel": np.maximum(leaves * sway_px, LEAST_TRAVEL_PX),
                    "lens": lens,
                }
                all_broken.append(np.stack([broken[w].ravel() for w in WANTS]))
                all_cost.append(np.stack([cost[c].ravel() for c in COSTS]))
                which = np.broadcast_to(np.array([p, b, LAYER_SETS.index(layers)]), (len(grid), 3))
                all_index.append(np.concatenate([grid, which], axis=1))
    return Space(
        apertures=apertures,
        isos=isos,
        filters=filters,
        focuses=focuses,
        index=np.concatenate(all_index).astype(np.int32),
        broken=np.concatenate(all_broken, axis=1),
        cost=np.concatenate(all_cost, axis=1),
    )


def _rough(state: State, focus: FocusPlan) -> Array:
    """By how many doublings the background's blur disk falls short of what is wanted, shape (apertures,)."""
    wanted = state.scene.composition.wants.smooth_background
    if wanted is None:
        return np.zeros(len(focus.frames))
    least = wanted * (1 - BACKGROUND) * state.geometry.picture_mm[0]
    return np.maximum(np.log2(least / np.maximum(focus.background_mm, 1e-9)), 0.0)


def _dark(state: State, times: Array, open_s: Array) -> Array:
    """Seconds of dark frames; of a bracket, as long as all of it where its base is long enough."""
    if not state.scene.kit.body.dark_frame:
        return np.zeros_like(times)
    return np.where(times >= durations.DARK_FRAME_FROM_S, open_s, 0.0)
