"""Which frames a sequence takes, in which order, and how long each takes; `sequence` tells them in words.

The order of slices and brackets is the photographer's. Frames that are blended for focus want the same light; those
of a bracket differ by what is known anyway.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from lucid_ridge.core.camera.panorama import Panel, panels, turns_of
from lucid_ridge.core.exposure.closing import bracket_shutter_s, filters_in_use
from lucid_ridge.core.exposure.tolerances import MARK
from lucid_ridge.core.light.ephemeris import LAST_UNIX
from lucid_ridge.core.light.falling import LONG_S, NOTICED_STOPS, seconds_in_changing_light
from lucid_ridge.core.model.scene import FrameOrder, Layer
from lucid_ridge.core.sequence.acts import (
    BETWEEN_FRAMES_S,
    DARK_FRAME_FROM_S,
    FILTER_S,
    REFOCUS_S,
    SETTLE_S,
    TURN_S,
    flash_wait_s,
    move_s,
)
from lucid_ridge.core.state.state import State

ORDERS: tuple[FrameOrder, ...] = ("brackets_inside", "slices_inside")
MOST_FRAMES = 2000
"""More are counted, but not laid out: nobody carries them out."""
_CORRECTED_WITHIN_S = 86_400.0
"""Whoever is still at it a day later has metered again."""


@dataclass(frozen=True)
class ScheduledFrame:
    """One frame of a sequence. ``shutter_s`` is as set, or held as long as the changing light asks for.

    ``turned_stops`` is by how much the hand turns the shutter dial before it. ``first`` begins the base frames, on which what is in front of the lens goes on; ``layer`` is None for these.
    """

    nominal_s: float
    shutter_s: float
    by_hand: bool
    refocus: bool
    new_shutter: bool
    first: bool
    timer_s: float
    dark_frame_s: float
    starts_after_s: float
    duration_s: float
    panel: Panel | None = None
    before: Panel | None = None
    slice_at: int = 0
    bracket_at: int = 0
    offset_stops: float = 0.0
    starts_burst: bool = True
    turned_stops: float = 0.0
    layer: Layer | None = None

    @property
    def turning(self) -> bool:
        """Whether the camera is turned before this frame."""
        return self.panel is not None and self.panel is not self.before

    @property
    def ends_after_s(self) -> float:
        """When the next frame begins, from the start of the sequence."""
        return self.starts_after_s + self.duration_s


def light_stops(state: State, after_s: ArrayLike) -> NDArray[np.float64]:
    """How much brighter the light on what was metered is so long after the moment than at it, stops; any shape."""
    at = np.minimum(state.unix_s + np.asarray(after_s, dtype=float), LAST_UNIX)
    lux = state.metered_light.lux(np.append(at.ravel(), state.unix_s))
    return np.asarray(np.log2(lux[:-1] / lux[-1]).reshape(at.shape))


def light_corrected_s(state: State, shutter_s: float, starts_after_s: float) -> float | None:
    """What a frame held open by hand takes in the light that it gets; None where a twelfth of a stop covers it.

    A body times its own exposures; those stay on their marks. Nothing is promised where the light goes faster
    than it can be gathered.
    """
    if shutter_s < LONG_S or starts_after_s + shutter_s > _CORRECTED_WITHIN_S:
        return None
    opens = min(state.unix_s + starts_after_s, LAST_UNIX)
    taken = seconds_in_changing_light(shutter_s, opens, state.light_curve, state.unix_s)
    if math.isinf(taken) or abs(math.log2(taken / shutter_s)) < NOTICED_STOPS:
        return None
    return taken


def _timed(state: State, shutter_s: float) -> bool:
    """Whether the body times a shutter time itself."""
    return shutter_s <= state.scene.kit.body.longest_timed_s * MARK


def bracketed_by_body(state: State, order: FrameOrder | None = None) -> bool:
    """Whether the body runs a bracket by itself: it has that mode, times all of it, and the bracket is in one piece.

    No body knows the film's own correction: what it would have to correct is set by hand.
    """
    plan, offsets = state.range.bracket, state.offsets
    return (
        plan is not None
        and plan.by_body
        and len(offsets) > 1
        and (order or state.scene.composition.technique.order) == "brackets_inside"
        and _timed(state, state.exposure.gathered_s * 2 ** max(offsets))
        and (state.scene.kit.body.reciprocity_p is None or state.exposure.gathered_s * 2 ** max(offsets) <= 1)
    )


def dark_frame_s(state: State, shutter_s: float) -> float:
    """How long the body takes its dark frame after a frame."""
    return shutter_s if state.scene.kit.body.dark_frame and shutter_s >= DARK_FRAME_FROM_S else 0.0


def layer_refocuses(state: State, first: bool) -> bool:
    """Whether the lens is focused before a layer: for the first of all, and where slices are focused anew."""
    return first or len(state.depth.slices) > 1


def _layers(state: State) -> Iterator[ScheduledFrame]:
    clock = 0.0
    timer = state.scene.composition.settings.timer_s
    for k, layer in enumerate(state.scene.composition.technique.layers):
        refocus = layer_refocuses(state, k == 0)
        dark = dark_frame_s(state, layer.shutter_s)
        duration = (
            (REFOCUS_S if refocus else 0.0)
            + (FILTER_S * len(layer.filters) if k == 0 else 0.0)
            + SETTLE_S
            + timer
            + layer.shutter_s
            + dark
            + BETWEEN_FRAMES_S
        )
        yield ScheduledFrame(
            nominal_s=layer.shutter_s,
            shutter_s=layer.shutter_s,
            by_hand=not _timed(state, layer.shutter_s),
            refocus=refocus,
            new_shutter=True,
            first=k == 0,
            timer_s=timer,
            dark_frame_s=dark,
            starts_after_s=clock,
            duration_s=duration,
            layer=layer,
        )
        clock += duration


def put_on_now(state: State) -> list[str]:
    """Names of the filters that go on before the base frames: all but those that the layers found on already."""
    layers = state.scene.composition.technique.layers
    already = layers[-1].filters if layers else ()
    return [owned.name for owned, use in filters_in_use(state.scene) if use not in already]


def frame_count(state: State) -> int:
    """How many frames the technique takes, counted without laying them out."""
    turns = turns_of(state.scene.composition, state.scene.kit)
    return turns * len(state.depth.slices) * len(state.offsets) + len(state.scene.composition.technique.layers)


# Long: one pass in the order of the frames; what is waited for hangs on the frame before.
def scheduled_frames(state: State, order: FrameOrder | None = None) -> list[ScheduledFrame]:
    """Every frame in order, layers first: they wait for a moment, and density is not on yet.

    *order* is the composition's own unless another is asked about. Of more than `MOST_FRAMES` the first so many.
    """
    technique, settings = state.scene.composition.technique, state.scene.composition.settings
    body, offsets, count = state.scene.kit.body, state.offsets, len(state.depth.slices)
    order = order or technique.order
    by_body = bracketed_by_body(state, order)
    pairs = [(s, b) for s in range(count) for b in range(len(offsets))]
    if order == "slices_inside":
        pairs = [(s, b) for b in range(len(offsets)) for s in range(count)]
    made = list(_layers(state))
    clock = made[-1].ends_after_s if made else 0.0
    # With one focus the base frames find it set.
    before: tuple[int, float] | None = (0, made[-1].shutter_s) if made and count == 1 else None
    last: Panel | None = None
    wait, filters_s = flash_wait_s(state), FILTER_S * len(put_on_now(state))
    started = len(made)
    # Each frame of a bracket is as long at every focus.
    nominals = [
        bracket_shutter_s(body, state.exposure.gathered_s, offset) if offset else settings.shutter_s
        for offset in offsets
    ]
    every = itertools.product(panels(state.scene.composition, state.scene.kit) or (None,), pairs)
    for panel, (s, b) in itertools.islice(every, MOST_FRAMES - started):
        first = len(made) == started
        nominal = nominals[b]
        timed = _timed(state, nominal)
        shutter = nominal if timed else light_corrected_s(state, nominal, clock) or nominal
        refocus = before is None or before[0] != s
        moving = move_s(state, s) if refocus else 0.0
        starts_burst = not by_body or b == 0
        timer = settings.timer_s if starts_burst else 0.0
        dark = dark_frame_s(state, shutter)
        duration = (
            moving
            + (TURN_S if panel is not None and last is not None and panel is not last else 0.0)
            + (filters_s if first else 0.0)
            + (SETTLE_S if starts_burst else 0.0)
            + timer
            + shutter
            + dark
            + max(BETWEEN_FRAMES_S, wait - moving)
        )
        made.append(
            ScheduledFrame(
                panel=panel,
                before=last,
                slice_at=s,
                bracket_at=b,
                offset_stops=offsets[b],
                nominal_s=nominal,
                shutter_s=shutter,
                by_hand=not timed,
                refocus=refocus,
                new_shutter=before is None or before[1] != nominal,
                starts_burst=starts_burst,
                turned_stops=_turned_stops(state, before, nominal, starts_burst),
                first=first,
                timer_s=timer,
                dark_frame_s=dark,
                starts_after_s=clock,
                duration_s=duration,
            )
        )
        clock += duration
        before, last = (s, nominal), panel
    return made


def _turned_stops(state: State, before: tuple[int, float] | None, nominal_s: float, by_hand: bool) -> float:
    """By how much the shutter dial is turned by hand from the frame before; nought where the body or a remote does it."""
    if before is None or not by_hand or not (_timed(state, nominal_s) and _timed(state, before[1])):
        return 0.0
    stops = math.log2(nominal_s / before[1])
    return stops if abs(stops) > 1 / 12 else 0.0


def sequence_s(state: State) -> float:
    """How long the whole sequence takes, seconds; more frames than are laid out take in proportion."""
    timed = scheduled_frames(state)
    return timed[-1].ends_after_s * frame_count(state) / len(timed)


@dataclass(frozen=True)
class OrderCost:
    """What an order of slices and brackets costs.

    Seconds, turns of the focus, and how far the light moves within the frames that are blended for focus, and within
    those of a bracket, in stops without sign.
    """

    order: FrameOrder
    seconds: float
    refocused: int
    within_stack: float
    within_bracket: float


def _spans(groups: list[list[ScheduledFrame]]) -> list[tuple[float, float]]:
    """From the beginning of each group's first frame to the end of its last."""
    return [(one[0].starts_after_s, one[-1].ends_after_s) for one in groups]


def order_costs(state: State) -> tuple[OrderCost, ...]:
    """Both orders of slices and brackets; nothing where there is but one of either, or more than is laid out."""
    slices, offsets = len(state.depth.slices), len(state.offsets)
    if slices < 2 or offsets < 2 or frame_count(state) > MOST_FRAMES:
        return ()
    kept, spans = [], []
    for order in ORDERS:
        base = [one for one in scheduled_frames(state, order) if one.layer is None]
        # Of a panorama the first panel speaks for all.
        base = [one for one in base if one.panel is base[0].panel]
        kept.append((order, base))
        spans += _spans([[one for one in base if one.bracket_at == b] for b in range(offsets)])
        spans += _spans([[one for one in base if one.slice_at == s] for s in range(slices)])
    # All in one go: asking where the sun stands costs more than all the rest.
    moved = np.abs(np.diff(light_stops(state, spans), axis=1)).reshape(len(ORDERS), offsets + slices)
    return tuple(
        OrderCost(
            order=order,
            seconds=base[-1].ends_after_s - base[0].starts_after_s,
            refocused=sum(one.refocus for one in base),
            within_stack=float(drift[:offsets].max()),
            within_bracket=float(drift[offsets:].max()),
        )
        for (order, base), drift in zip(kept, moved, strict=True)
    )
