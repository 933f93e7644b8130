"""The sequence: layers, then panels times slices times brackets in order, with every action between the frames."""

from __future__ import annotations

import math

from lucid_ridge.core.camera.panorama import turns_of
from lucid_ridge.core.exposure.closing import filters_in_use
from lucid_ridge.core.light.drift import STALE_DRIFT_STOPS
from lucid_ridge.core.records import FieldProblem, SceneError
from lucid_ridge.core.sequence.timing import (
    MOST_FRAMES,
    OrderCost,
    ScheduledFrame,
    bracketed_by_body,
    frame_count,
    light_stops,
    order_costs,
    put_on_now,
    scheduled_frames,
    sequence_s,
)
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import (
    Readout,
    aperture_text,
    degrees_text,
    distance_text,
    duration_text,
    iso_text,
    shutter_text,
    stops_text,
    stops_words,
)
from lucid_ridge.reports.frame.words import turn_text
from lucid_ridge.reports.sequence.dial import clicks_words
from lucid_ridge.reports.sequence.frames import Order, PlannedFrame, Sequence, move_words
from lucid_ridge.reports.sequence.layer_frames import focus_target, layer_frame

_UNSEEN_STOPS = 1 / 12
"""A step in brightness that nobody sees in a blend."""


def drift_text(drift: float) -> str:
    """How far the light moves, to a sixth of a stop."""
    if abs(drift) < 1 / 12:
        return "under ⅙ stop"
    return ("+" if drift > 0 else "−") + stops_words(round(abs(drift) * 6) / 6)


def _actions(state: State, timed: ScheduledFrame, by_body: bool, target: str, move: str) -> list[str]:
    """What is done before a frame, in order."""
    units, offsets = state.scene.units, state.offsets
    actions: list[str] = []
    if timed.panel is not None and timed.turning:
        aim = f"{timed.panel.azimuth_deg:.1f}°, pitch {degrees_text(timed.panel.pitch_deg, 1)}"
        turn = turn_text(timed.before, timed.panel)
        actions.append(f"Turn {turn}, to {aim}" if timed.before else f"Level the base, turn to {aim}")
    if timed.refocus and move:
        actions.append(move)
    elif timed.refocus:
        focus_m = float(state.depth.focused_m[timed.slice_at])
        actions.append(f"Focus at {distance_text(focus_m, units)}" + (f", on the {target}" if target else ""))
    if timed.first and (names := put_on_now(state)):
        actions.append(f"Put on {' + '.join(names)}, after focusing")
    if by_body and timed.bracket_at == 0 and state.range.bracket:
        step = state.range.bracket.step_stops
        clicks = clicks_words(step, state.scene.kit.body.clicks_per_stop)
        actions.append(f"Bracketing {len(offsets)} frames, {stops_words(step)} apart{f' ({clicks})' if clicks else ''}")
    if timed.turned_stops:
        clicks = clicks_words(timed.turned_stops, state.scene.kit.body.clicks_per_stop)
        actions.append(f"Shutter {clicks} {'longer' if timed.turned_stops > 0 else 'shorter'}")
    if timed.timer_s:
        actions.append(f"Self-timer {timed.timer_s:g} s")
    if timed.shutter_s != timed.nominal_s:
        held, planned = duration_text(timed.shutter_s), duration_text(timed.nominal_s)
        actions.append(f"{held} instead of {planned}: the light changes meanwhile")
    return actions


def _title(timed: ScheduledFrame, by_body: bool, target: str, move: str) -> str:
    if timed.refocus and move:
        return move
    if timed.refocus and target:
        return f"Focus on the {target}"
    if timed.panel is not None and timed.turning and not timed.refocus:
        return f"Turn to panel {timed.panel.number}"
    words = shutter_text(timed.nominal_s)
    return f"The body goes on: {words}" if by_body and not timed.refocus else f"Shutter {words}"


def _frame(
    state: State, timed: ScheduledFrame, number: int, panel_count: int, by_body: bool, filters: str
) -> PlannedFrame:
    settings, slices, offsets = state.scene.composition.settings, state.depth.slices, state.offsets
    # On a rail the lens stays focused where it is.
    focus_m = float(state.depth.focused_m[timed.slice_at])
    action, move_title = move_words(state, timed.slice_at) if timed.refocus else ("", "")
    target = focus_target(state, slices[timed.slice_at])
    parts = []
    if timed.panel is not None:
        parts.append(f"panel {timed.panel.number} of {panel_count}")
    if len(slices) > 1:
        parts.append(f"slice {timed.slice_at + 1} of {len(slices)}")
    if len(offsets) > 1:
        parts.append(f"bracket {stops_text(timed.offset_stops)}")
    changed = ["aim"] if timed.turning else []
    changed += ["focus"] if timed.refocus else []
    changed += ["shutter"] if timed.new_shutter else []
    changed += ["filters", "aperture", "iso"] if timed.first else []
    return PlannedFrame(
        number=number,
        slice_number=timed.slice_at + 1,
        slice_count=len(slices),
        bracket_number=timed.bracket_at + 1,
        bracket_count=len(offsets),
        panel_number=timed.panel.number if timed.panel else 1,
        panel_count=panel_count,
        offset_stops=timed.offset_stops,
        title=_title(timed, by_body, target, move_title),
        caption=", ".join(parts) or "single frame",
        actions=tuple(_actions(state, timed, by_body, target, action)),
        changed=tuple(changed),
        focus=Readout(
            value=None if math.isinf(focus_m) else focus_m,
            text=distance_text(focus_m, state.scene.units),
            explain=f"sequence.focus:{number}",
        ),
        aperture=Readout(value=settings.aperture_n, text=aperture_text(settings.aperture_n)),
        shutter=Readout(
            value=timed.shutter_s, text=shutter_text(timed.shutter_s), explain=f"sequence.shutter:{number}"
        ),
        iso=Readout(value=settings.iso, text=iso_text(settings.iso)),
        filters=filters,
        aim="" if timed.panel is None else f"{timed.panel.azimuth_deg:.1f}°, {degrees_text(timed.panel.pitch_deg, 1)}",
        bulb=timed.by_hand,
        goes_on=not timed.starts_burst,
        hands_off=not (timed.turning or timed.first or action),
        timer_s=timed.timer_s,
        exposure_s=timed.shutter_s,
        dark_frame_s=timed.dark_frame_s,
        duration_s=timed.duration_s,
        duration=Readout(
            value=timed.duration_s, text=duration_text(timed.duration_s), explain=f"sequence.frame:{number}"
        ),
        starts_after_s=timed.starts_after_s,
    )


def _better(costs: tuple[OrderCost, ...]) -> tuple[OrderCost, str]:
    """The order that hurts least under drift, and what speaks for it."""
    quick, other = sorted(costs, key=lambda one: (one.seconds, one.refocused))
    if quick.within_stack <= max(_UNSEEN_STOPS, other.within_stack):
        why = f"{duration_text(other.seconds - quick.seconds)} sooner done"
        if quick.refocused < other.refocused:
            why += f", the focus turned {quick.refocused} times instead of {other.refocused}"
        unseen = quick.within_stack <= _UNSEEN_STOPS
        return quick, f"{why}; the light hardly moves within a stack." if unseen else f"{why}."
    why = (
        f"Within a stack the light moves {other.within_stack:.2f} stop instead of {quick.within_stack:.2f}: "
        "slices blend without a step in brightness."
    )
    return other, why


def _orders(state: State) -> tuple[Order, ...]:
    costs = order_costs(state)
    if not costs:
        return ()
    best, why = _better(costs)
    return tuple(
        Order(
            order=one.order,
            total=Readout(
                value=one.seconds, text=duration_text(one.seconds), explain=f"sequence.order_total:{one.order}"
            ),
            refocused=one.refocused,
            within_stack=Readout(
                value=one.within_stack, text=f"{one.within_stack:.2f} stop", explain=f"sequence.order_stack:{one.order}"
            ),
            within_bracket=Readout(
                value=one.within_bracket,
                text=f"{one.within_bracket:.2f} stop",
                explain=f"sequence.order_bracket:{one.order}",
            ),
            take=one is best,
            why=why if one is best else "",
        )
        for one in costs
    )


def build_sequence(state: State) -> Sequence:
    """The frames that carry out the technique of a state, with what is done for each; see `Sequence` for too many."""
    used = filters_in_use(state.scene)
    filters = " + ".join(owned.name for owned, _ in used) if used else "none"
    count = frame_count(state)
    timed = scheduled_frames(state) if count <= MOST_FRAMES else []
    total = timed[-1].ends_after_s if timed else sequence_s(state)
    by_body = bracketed_by_body(state)
    panel_count = turns_of(state.scene.composition, state.scene.kit)
    frames = [
        layer_frame(state, one, number)
        if one.layer is not None
        else _frame(state, one, number, panel_count, by_body, filters)
        for number, one in enumerate(timed, 1)
    ]
    drift = float(light_stops(state, total))
    return Sequence(
        frames=tuple(frames),
        count=Readout(value=count, text=f"{count:,}", explain="sequence.frames"),
        problem="" if frames else too_many_words(count),
        slice_count=len(state.depth.slices),
        bracket_count=len(state.offsets),
        panel_count=panel_count,
        layer_count=len(state.scene.composition.technique.layers),
        total=Readout(value=total, text=duration_text(total), explain="sequence.total"),
        drift=Readout(value=drift, text=drift_text(drift), explain="sequence.drift"),
        drift_is_stale=abs(drift) > STALE_DRIFT_STOPS,
        by_body=by_body,
        orders=_orders(state),
    )


def too_many_words(count: int) -> str:
    """Why so many frames are not laid out, and what would take fewer."""
    return f"{count:,} frames are more than the {MOST_FRAMES:,} that can be laid out. Take fewer slices, exposures or panels."


def whole_sequence(state: State) -> Sequence:
    """The sequence to carry out.

    Raises
    ------
    SceneError
        If it has more frames than are laid out.

    """
    built = build_sequence(state)
    if built.problem:
        raise SceneError([FieldProblem(pointer="/scene/composition/technique", message=built.problem)])
    return built
