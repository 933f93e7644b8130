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

from lucid_ridge.core.camera.mounted_lens import extension_loss_stops
from lucid_ridge.core.camera.panorama import panels
from lucid_ridge.core.exposure.tolerances import BACKGROUND, EXPOSURE_STOPS, MARK, MARK_STOPS, RANGE_STOPS, SHARP
from lucid_ridge.core.light_windows.now import light_left_s
from lucid_ridge.core.model.scene import LayerPurpose
from lucid_ridge.core.motion.travel import LOOK_SLACK_STOPS
from lucid_ridge.core.sequence import acts as durations
from lucid_ridge.core.state.state import State
from lucid_ridge.core.state.subject_motion import element_travel_mm, foliage_freezing_s, look_window, moving_elements
from lucid_ridge.core.stops.film import gathered_s, held_open_s
from lucid_ridge.core.ways.bracketing import bracketing_of, set_times
from lucid_ridge.core.ways.space import (
    MOST_CELLS,
    FilterSet,
    FocusPlan,
    aperture_marks,
    filter_sets,
    focus_plans,
    iso_marks,
)

Array = NDArray[np.float64]
Want = Literal[
    "sharp",
    "water",
    "wave",
    "foliage",
    "range",
    "by hand",
    "frames",
    "bulb",
    "exposure",
    "background",
    "light",
    "framing",
]
Cost = Literal["frames", "seconds", "blur", "iso", "travel", "lens"]

WANTS: tuple[Want, ...] = (
    "sharp", "water", "wave", "foliage", "range", "by hand", "frames", "bulb", "exposure", "background", "light", "framing",
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
    """Times that close the account before the film's own correction, shape (apertures, isos, filters)."""
    composition, metered = state.scene.composition, state.exposure.metered
    reading = composition.reading
    given = metered.light_since_stops + metered.seen_stops - composition.settings.compensation_stops
    if metered.predicted or (reading is not None and not reading.through_lens):
        # The same at every aperture: light sees the f-number that is set times a factor.
        given -= extension_loss_stops(state.scene.kit.lens, composition.settings, state.depth.magnification)
    taken = np.array([f.stops for f in filters])
    base = apertures[:, None, None] ** 2 / 2**metered.ev100 * 100 / isos[None, :, None]
    return np.asarray(base * 2 ** (taken[None, None, :] - given))


def _on_marks(state: State, exact: Array) -> tuple[Array, Array]:
    """Times as they are set, and how much brighter (+) that makes the frame, stops."""
    body, composition = state.scene.kit.body, state.scene.composition
    if "shutter" in composition.locks:
        times = np.full_like(exact, composition.settings.shutter_s)
    else:
        times = set_times(body, held_open_s(exact, body.reciprocity_p))
    return times, np.log2(gathered_s(times, body.reciprocity_p) / exact)


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
    power = body.reciprocity_p
    product = gathered_s(times, power) * iso / 2**density
    longest = gathered_s(np.minimum(slowest_s * MARK, times), power)
    lowest = round(3 * math.log2(body.base_iso / 100))
    index = np.maximum(np.ceil(3 * np.log2(product / longest / 100) - 1e-6), lowest)
    taken = 100 * 2 ** (index / 3)
    shutter = 2 ** (np.round(3 * np.log2(held_open_s(product / taken, power))) / 3)
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
        "by hand": _above(times, state.steadiness_s, MARK_STOPS),
        "bulb": zero if body.has_bulb else _above(times, body.longest_timed_s, MARK_STOPS),
        "exposure": np.where(np.abs(brighter) > EXPOSURE_STOPS, np.abs(brighter), 0.0),
    }
    left_s = light_left_s(state)
    brackets = bracketing_of(state, isos, filters, times, brighter)
    # A bracket is tried only where something is lost without one.
    bracketing: list[bool] = (
        [False, True] if wants.hold_range and (brackets.lost[0] < brackets.lost_alone - 1e-9).any() else [False]
    )
    layer_sets = [
        one for one in LAYER_SETS
        if ("foliage" not in one or (wants.sharp_foliage and swaying)) and ("wave" not in one or (wants.frozen_wave and water))
    ]  # fmt: skip

    all_index, all_broken, all_cost = [], [], []
    grid = np.stack(np.meshgrid(*(np.arange(n) for n in shape), indexing="ij"), axis=-1).reshape(-1, 3)
    timer, turns = composition.settings.timer_s, len(panels(composition, state.scene.kit)) or 1
    wait = max(durations.BETWEEN_FRAMES_S, durations.flash_wait_s(state))
    for b, bracket in enumerate(bracketing):
        for p, focus in enumerate(focuses):
            slices = np.broadcast_to(focus.frames[:, None, None].astype(float), shape)
            possible = slices > 0
            rough = np.broadcast_to(_rough(state, focus)[:, None, None], shape)
            blur = np.broadcast_to(focus.worst_mm[:, None, None], shape)
            sharp = np.where(
                possible,
                _above(np.where(possible, blur, 1.0), state.depth.circle_of_confusion_mm, math.log2(SHARP)),
                20.0,
            )
            for layers in layer_sets:
                count, bursts, lost, open_s = np.ones(shape), np.ones(shape), brackets.lost_alone, times
                if bracket:
                    most = (wants.most_frames - len(layers)) / (np.maximum(slices, 1) * turns)
                    count, open_s, bursts, lost = brackets.fitting(most)
                open_s = open_s + _dark(state, times, open_s)
                range_broken = np.where(lost > RANGE_STOPS, lost, 0.0) if wants.hold_range else zero
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
                frames = slices * count * turns + len(layers)
                broken: dict[Want, Array] = {
                    **common,
                    "sharp": sharp,
                    "range": range_broken,
                    "foliage": np.maximum(
                        _above(leaves * sway_px * pitch, state.depth.circle_of_confusion_mm, math.log2(SHARP)),
                        failed["foliage"],
                    )
                    if wants.sharp_foliage and swaying
                    else zero,
                    "wave": np.maximum(_above(wave, frozen[1], LOOK_SLACK_STOPS), failed["wave"])
                    if wants.frozen_wave and water
                    else zero,
                    "frames": _above(frames, wants.most_frames, 0.0),
                    "background": rough,
                }
                foci = slices * turns
                refocused = np.where(slices > 1, foci, 1.0)
                seconds = (
                    refocused * durations.REFOCUS_S + durations.FILTER_S * put_on + foci * bursts * (durations.SETTLE_S + timer)
                    + foci * open_s + foci * durations.BETWEEN_FRAMES_S * count + refocused * (wait - durations.BETWEEN_FRAMES_S)
                    + layer_s + (turns - 1) * durations.TURN_S
                )  # fmt: skip
                broken["light"] = _above(seconds, left_s, 0.0)
                broken["framing"] = _above(seconds, state.sway.holds_s, 0.0)
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
