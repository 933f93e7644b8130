"""The search: every technique judged at once, by what it breaks and by what it costs.

Violations are in stops, or doublings, of what is wanted; nought where it is given. What a technique costs is
frames, seconds, the worst blur in pixels, ISO and the travel of what ought to stand still.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.camera.mounted_lens import extension_loss_stops
from lucid_ridge.core.camera.panorama import panels
from lucid_ridge.core.exposure.kernels import doublings_above, layer_exposure, set_times
from lucid_ridge.core.exposure.tolerances import BACKGROUND, EXPOSURE_STOPS, MARK_STOPS, RANGE_STOPS, SHARP
from lucid_ridge.core.light_windows.now import light_left_s
from lucid_ridge.core.model.scene import LayerPurpose
from lucid_ridge.core.motion.travel import LOOK_SLACK_STOPS
from lucid_ridge.core.sequence import acts as durations
from lucid_ridge.core.state.state import State
from lucid_ridge.core.state.subject_motion import element_travel_mm, foliage_freezing_s, look_window, moving_elements
from lucid_ridge.core.stops.film import gathered_s, held_open_s
from lucid_ridge.core.ways.bracketing import Bracketing, bracketing_of
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
_NO_SLICES = 20.0
"""Doublings by which a technique misses sharpness where no number of slices gives it."""
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


def lens_cost(apertures: Array) -> Array:
    """Doublings of the light, as a factor, by which apertures lie outside the lens's best ones; 1 within."""
    low, high = BEST_APERTURES
    return np.asarray(np.maximum(np.maximum(low / apertures, apertures / high), 1.0) ** 2)


@dataclass(frozen=True)
class _Grid:
    """Every aperture, ISO and filter set: shapes (apertures, isos, filters) unless told otherwise."""

    state: State
    apertures: Array
    isos: Array
    filters: list[FilterSet]
    times: Array
    brighter: Array
    iso: Array
    density: Array
    put_on: Array

    @property
    def shape(self) -> tuple[int, ...]:
        """Of the arrays."""
        return self.times.shape

    @cached_property
    def indices(self) -> NDArray[np.intp]:
        """Which aperture, ISO and filter set each is, shape (techniques, 3)."""
        axes = np.meshgrid(*(np.arange(n) for n in self.shape), indexing="ij")
        return np.stack(axes, axis=-1).reshape(-1, 3)

    @cached_property
    def turns(self) -> int:
        """Panels; 1 without a panorama."""
        scene = self.state.scene
        return len(panels(scene.composition, scene.kit)) or 1

    def spread(self, of_apertures: Array) -> Array:
        """What hangs on the aperture alone, over the whole grid."""
        return np.broadcast_to(of_apertures[:, None, None], self.shape)

    @cached_property
    def always(self) -> dict[Want, Array]:
        """What is broken whatever the focus, the bracket and the layers are."""
        state, body, times, zero = self.state, self.state.scene.kit.body, self.times, np.zeros(self.shape)
        low, high = look_window(state)
        too_short = np.where(times < low / 2**LOOK_SLACK_STOPS * (1 - 1e-9), np.log2(max(low, 1e-9) / times), 0.0)
        water = np.maximum(doublings_above(times, high, LOOK_SLACK_STOPS), too_short)
        return {
            "water": water if moving_elements(state, "water") else zero,
            "by hand": doublings_above(times, state.steadiness_s, MARK_STOPS),
            "bulb": zero if body.has_bulb else doublings_above(times, body.longest_timed_s, MARK_STOPS),
            "exposure": np.where(np.abs(self.brighter) > EXPOSURE_STOPS, np.abs(self.brighter), 0.0),
        }


@dataclass(frozen=True)
class _Moving:
    """What layers are for: pixels that leaves move in a second, and the times in seconds that freeze leaves and waves."""

    sway_px_s: float
    freezing_s: float
    frozen_s: float
    leaves_wanted: bool
    wave_wanted: bool

    def layer_sets(self) -> list[tuple[LayerPurpose, ...]]:
        """The layers worth taking together."""
        wanted = {"foliage": self.leaves_wanted, "wave": self.wave_wanted}
        return [one for one in LAYER_SETS if all(wanted[purpose] for purpose in one)]


@dataclass(frozen=True)
class _Layers:
    """Layers over the grid: times that leaves and waves are taken at, the highest ISO, seconds spent, stops missed."""

    leaves: Array
    wave: Array
    noisiest: Array
    seconds: Array
    failed: dict[LayerPurpose, Array]


def _grid(state: State) -> _Grid:
    apertures, isos, filters = aperture_marks(state), iso_marks(state), filter_sets(state)
    while len(isos) > 2 and len(apertures) * len(isos) * len(filters) > MOST_CELLS:
        isos = isos[::2]
    times, brighter = _on_marks(state, _exact_times(state, apertures, isos, filters))
    of_filters = (np.array([f.density for f in filters]), np.array([len(f.uses) for f in filters], dtype=float))
    density, put_on = (np.broadcast_to(one[None, None, :], times.shape) for one in of_filters)
    iso = np.broadcast_to(isos[None, :, None], times.shape)
    return _Grid(state, apertures, isos, filters, times, brighter, iso, density, put_on)


def _moving(state: State) -> _Moving:
    wants, body = state.scene.composition.wants, state.scene.kit.body
    swaying = moving_elements(state, "foliage")
    pitch = body.sensor_width_mm / body.pixels_across
    return _Moving(
        sway_px_s=max((element_travel_mm(state, i, 1.0) for i in swaying), default=0.0) / pitch,
        freezing_s=foliage_freezing_s(state),
        frozen_s=look_window(state, "freeze")[1],
        leaves_wanted=bool(wants.sharp_foliage and swaying),
        wave_wanted=bool(wants.frozen_wave and moving_elements(state, "water")),
    )


def _layers(grid: _Grid, purposes: tuple[LayerPurpose, ...], moving: _Moving, slices: Array) -> _Layers:
    """Layers of some purposes. They are taken before density goes on; where slices are focused anew, so is the layer."""
    composition, body = grid.state.scene.composition, grid.state.scene.kit.body
    seconds, noisiest = np.zeros(grid.shape), np.array(grid.iso)
    failed: dict[LayerPurpose, Array] = {"foliage": np.zeros(grid.shape), "wave": np.zeros(grid.shape)}
    taken: dict[LayerPurpose, Array] = {"foliage": grid.times, "wave": grid.times}
    product = gathered_s(grid.times, body.reciprocity_p) * grid.iso / 2**grid.density
    around = durations.SETTLE_S + composition.settings.timer_s + durations.BETWEEN_FRAMES_S
    for purpose in purposes:
        slowest = moving.freezing_s if purpose == "foliage" else moving.frozen_s
        made = layer_exposure(body, composition.wants.highest_iso, product, grid.times, slowest)
        failed[purpose], taken[purpose] = made.fails, made.shutter_s
        noisiest = np.maximum(noisiest, made.iso)
        seconds = seconds + np.where(slices > 1, durations.REFOCUS_S, 0.0) + around + made.shutter_s
    return _Layers(taken["foliage"], taken["wave"], noisiest, seconds, failed)


def _judged(
    grid: _Grid,
    focus: FocusPlan,
    bracketing: Bracketing | None,
    lost_alone: Array,
    purposes: tuple[LayerPurpose, ...],
    moving: _Moving,
) -> tuple[dict[Want, Array], dict[Cost, Array]]:
    """What techniques of one focus plan, with or without a bracket, with these layers, break and cost."""
    state, wants, zero = grid.state, grid.state.scene.composition.wants, np.zeros(grid.shape)
    circle, pitch = (
        state.depth.circle_of_confusion_mm,
        state.scene.kit.body.sensor_width_mm / state.scene.kit.body.pixels_across,
    )
    slices, blur = grid.spread(focus.frames.astype(float)), grid.spread(focus.worst_mm)
    count, bursts, lost, open_s = np.ones(grid.shape), np.ones(grid.shape), lost_alone, grid.times
    if bracketing is not None:
        most = (wants.most_frames - len(purposes)) / (np.maximum(slices, 1) * grid.turns)
        count, open_s, bursts, lost = bracketing.fitting(most)
    open_s = open_s + _dark(state, grid.times, open_s)
    layers = _layers(grid, purposes, moving, slices)
    frames = slices * count * grid.turns + len(purposes)
    sharp_slack = math.log2(SHARP)
    pitch_travel = layers.leaves * moving.sway_px_s * pitch
    broken: dict[Want, Array] = {
        **grid.always,
        "sharp": np.where(
            slices > 0, doublings_above(np.where(slices > 0, blur, 1.0), circle, sharp_slack), _NO_SLICES
        ),
        "range": np.where(lost > RANGE_STOPS, lost, 0.0) if wants.hold_range else zero,
        "foliage": np.maximum(doublings_above(pitch_travel, circle, sharp_slack), layers.failed["foliage"])
        if moving.leaves_wanted
        else zero,
        "wave": np.maximum(doublings_above(layers.wave, moving.frozen_s, LOOK_SLACK_STOPS), layers.failed["wave"])
        if moving.wave_wanted
        else zero,
        "frames": doublings_above(frames, wants.most_frames, 0.0),
        "background": grid.spread(_rough(state, focus)),
    }
    seconds = _seconds(grid, slices, count, bursts, open_s) + layers.seconds
    broken["light"] = doublings_above(seconds, light_left_s(state), 0.0)
    broken["framing"] = doublings_above(seconds, state.sway.holds_s, 0.0)
    cost: dict[Cost, Array] = {
        "frames": frames,
        "seconds": np.maximum(seconds, LEAST_SECONDS),
        "blur": np.maximum(blur / pitch, LEAST_BLUR_PX),
        "iso": layers.noisiest,
        "travel": np.maximum(layers.leaves * moving.sway_px_s, LEAST_TRAVEL_PX),
        "lens": grid.spread(lens_cost(grid.apertures)),
    }
    return broken, cost


def _seconds(grid: _Grid, slices: Array, count: Array, bursts: Array, open_s: Array) -> Array:
    """How long the base frames take, as `sequence.timing` counts them one by one."""
    timer = grid.state.scene.composition.settings.timer_s
    wait = max(durations.BETWEEN_FRAMES_S, durations.flash_wait_s(grid.state))
    foci = slices * grid.turns
    refocused = np.where(slices > 1, foci, 1.0)
    return np.asarray(
        refocused * durations.REFOCUS_S + durations.FILTER_S * grid.put_on + foci * bursts * (durations.SETTLE_S + timer)
        + foci * open_s + foci * durations.BETWEEN_FRAMES_S * count + refocused * (wait - durations.BETWEEN_FRAMES_S)
        + (grid.turns - 1) * durations.TURN_S
    )  # fmt: skip


def explore(state: State) -> Space:
    """Judge every technique that the locks and the kit leave open."""
    grid, moving = _grid(state), _moving(state)
    focuses = focus_plans(state, grid.apertures)
    brackets = bracketing_of(state, grid.isos, grid.filters, grid.times, grid.brighter)
    # A bracket is tried only where something is lost without one.
    worth = state.scene.composition.wants.hold_range and (brackets.lost[0] < brackets.lost_alone - 1e-9).any()
    index, broken, cost = [], [], []
    for b, bracketing in enumerate((None, brackets) if worth else (None,)):
        for p, focus in enumerate(focuses):
            for purposes in moving.layer_sets():
                breaks, costs = _judged(grid, focus, bracketing, brackets.lost_alone, purposes, moving)
                broken.append(np.stack([breaks[w].ravel() for w in WANTS]))
                cost.append(np.stack([costs[c].ravel() for c in COSTS]))
                which = np.broadcast_to(np.array([p, b, LAYER_SETS.index(purposes)]), (len(grid.indices), 3))
                index.append(np.concatenate([grid.indices, which], axis=1))
    return Space(
        apertures=grid.apertures,
        isos=grid.isos,
        filters=grid.filters,
        focuses=focuses,
        index=np.concatenate(index).astype(np.int32),
        broken=np.concatenate(broken, axis=1),
        cost=np.concatenate(cost, axis=1),
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
