"""The sequence: panels times slices times brackets in order, with every action between the frames."""

from __future__ import annotations

import itertools
import math

from lucid_ridge.core.figures import Figure, degrees_text, distance_text, duration_text, stops_text, stops_words
from lucid_ridge.core.light.drift import STALE_DRIFT_STOPS
from lucid_ridge.core.light.ephemeris import LAST_UNIX, sun_at
from lucid_ridge.core.light.falling import DARKEST_DEG, LONG_S, NOTICED_STOPS, seconds_in_changing_light
from lucid_ridge.core.light.illuminance import stops_between
from lucid_ridge.core.stops.filters import FilterInUse
from lucid_ridge.core.stops.scales import aperture_text, iso_text, nearest_third, shutter_text
from lucid_ridge.core.technique.exposure import filters_in_use
from lucid_ridge.core.technique.frames import (
    BETWEEN_FRAMES_S,
    DARK_FRAME_FROM_S,
    FILTER_S,
    SETTLE_S,
    TURN_S,
    Exposed,
    Move,
    Sequence,
    flash_wait_s,
    move_for,
)
from lucid_ridge.core.technique.layer_frames import focus_target, layer_frame
from lucid_ridge.core.technique.panorama import Panel, panels, turn_text
from lucid_ridge.core.technique.state import State


def _filters_text(state: State) -> str:
    used = filters_in_use(state.scene)
    return " + ".join(owned.name for owned, _ in used) if used else "none"


def drift_stops(state: State, seconds: float) -> float:
    """Stops by which the light changes over a stretch from the moment, clear sky."""
    end = min(state.unix_s + seconds, LAST_UNIX)
    place = state.scene.place
    later, _ = sun_at(end, place.latitude_deg, place.longitude_deg)
    return float(stops_between(state.sun_altitude_deg, later))


def light_corrected_s(state: State, shutter_s: float, starts_after_s: float) -> float | None:
    """What a frame held open by hand takes in the light that it gets; None where a twelfth of a stop covers it.

    A body times its own exposures; those stay on their marks. Nothing is promised where the light goes faster
    than it can be gathered, or after the last twilight.
    """
    if shutter_s < LONG_S or state.sun_altitude_deg <= DARKEST_DEG:
        return None
    place = state.scene.place
    opens = min(state.unix_s + starts_after_s, LAST_UNIX)
    taken = seconds_in_changing_light(shutter_s, opens, place.latitude_deg, place.longitude_deg, state.unix_s)
    if math.isinf(taken) or abs(math.log2(taken / shutter_s)) < NOTICED_STOPS:
        return None
    return taken


def _drift_text(drift: float) -> str:
    if abs(drift) < 1 / 12:
        return "under ⅙ stop"
    return ("+" if drift > 0 else "−") + stops_words(round(abs(drift) * 6) / 6)


def build_sequence(state: State) -> Sequence:
    """The frames that carry out the technique of a state: panel by panel, nearest slice first."""
    scene, settings = state.scene, state.scene.composition.settings
    body, units = scene.kit.body, scene.units
    offsets = state.offsets
    slices = state.depth.slices
    # A body brackets by itself only what it can time.
    longest = settings.shutter_s * 2 ** max(offsets)
    by_body = (
        state.range.bracket is not None
        and state.range.bracket.by_body
        and len(offsets) > 1
        and longest <= body.longest_timed_s * 2 ** (1 / 6)
    )
    pairs = [(s, b) for s in range(len(slices)) for b in range(len(offsets))]
    if scene.composition.technique.order == "slices_inside":
        pairs = [(s, b) for b in range(len(offsets)) for s in range(len(slices))]
        by_body = False
    turns = panels(scene.composition, body) or (None,)
    filters = _filters_text(state)
    wait = flash_wait_s(state)
    frames: list[Exposed] = []
    clock = 0.0
    before: tuple[int, float] | None = None
    last_panel: Panel | None = None
    on_already: tuple[FilterInUse, ...] = ()
    for layer in scene.composition.technique.layers:
        made = layer_frame(state, layer, len(frames) + 1, clock, first=not frames)
        frames.append(made)
        clock += made.duration_s
        # With one focus the base frames find it set.
        before = (0, layer.shutter_s) if len(slices) == 1 else None
        on_already = layer.filters
    started = len(frames)
    put_on = [owned.name for owned, use in filters_in_use(scene) if use not in on_already]
    for number, (panel, (s, b)) in enumerate(itertools.product(turns, pairs), start=started + 1):
        # On a rail the lens stays focused where it is.
        focus_m, offset = float(state.depth.focused_m[s]), offsets[b]
        shutter = settings.shutter_s * 2**offset
        timed = shutter <= body.longest_timed_s * 2 ** (1 / 6)
        shutter = max(nearest_third(shutter, "shutter"), body.shortest_shutter_s) if timed else shutter
        bulb = not timed
        refocus = before is None or before[0] != s
        move = move_for(state, s) if refocus else Move(action="", seconds=0.0)
        new_shutter = before is None or before[1] != shutter
        target = focus_target(state, slices[s])
        focus_words = distance_text(focus_m, units)
        actions: list[str] = []
        turning = panel is not None and panel is not last_panel
        if panel is not None and turning:
            aim = f"{panel.azimuth_deg:.1f}°, pitch {degrees_text(panel.pitch_deg, 1)}"
            turn = turn_text(last_panel, panel)
            actions.append(f"Turn {turn}, to {aim}" if last_panel else f"Level the base, turn to {aim}")
        if refocus and move.action:
            actions.append(move.action)
        elif refocus:
            actions.append(f"Focus at {focus_words}" + (f", on the {target}" if target else ""))
        if number == started + 1 and put_on:
            actions.append(f"Put on {' + '.join(put_on)}, after focusing")
        first_of_burst = not by_body or b == 0
        if by_body and b == 0:
            step = stops_words(state.range.bracket.step_stops) if state.range.bracket else ""
            actions.append(f"Bracketing {len(offsets)} frames, {step} apart")
        timer = settings.timer_s if first_of_burst else 0.0
        if timer:
            actions.append(f"Self-timer {timer:g} s")
        title = f"Focus on the {target}" if refocus and target else f"Shutter {shutter_text(shutter)}"
        if refocus and move.title:
            title = move.title
        if not refocus and by_body:
            title = f"The body goes on: {shutter_text(shutter)}"
        parts = []
        if panel is not None:
            parts.append(f"panel {panel.number} of {len(turns)}")
            if turning and not refocus:
                title = f"Turn to panel {panel.number}"
        if len(slices) > 1:
            parts.append(f"slice {s + 1} of {len(slices)}")
        if len(offsets) > 1:
            parts.append(f"bracket {stops_text(offset)}")
        if bulb:
            longer = light_corrected_s(state, shutter, clock)
            if longer is not None:
                why = f"{duration_text(longer)} instead of {duration_text(shutter)}: the light changes meanwhile"
                actions.append(why)
                shutter = longer
        dark_frame = shutter if body.dark_frame and shutter >= DARK_FRAME_FROM_S else 0.0
        duration = (
            move.seconds
            + (TURN_S if turning and last_panel else 0.0)
            + (FILTER_S * len(put_on) if number == started + 1 else 0.0)
            + (SETTLE_S if first_of_burst else 0.0)
            + timer
            + shutter
            + dark_frame
            + max(BETWEEN_FRAMES_S, wait - move.seconds)
        )
        changed = ["aim"] if turning else []
        changed += ["focus"] if refocus else []
        changed += ["shutter"] if new_shutter else []
        changed += ["filters", "aperture", "iso"] if number == started + 1 else []
        frames.append(
            Exposed(
                number=number,
                slice_number=s + 1,
                slice_count=len(slices),
                bracket_number=b + 1,
                bracket_count=len(offsets),
                panel_number=panel.number if panel else 1,
                panel_count=len(turns),
                offset_stops=offset,
                title=title,
                caption=", ".join(parts) or "single frame",
                actions=tuple(actions),
                changed=tuple(changed),
                focus=Figure(value=None if math.isinf(focus_m) else focus_m, text=focus_words, explain="depth.slices"),
                aperture=Figure(value=settings.aperture_n, text=aperture_text(settings.aperture_n)),
                shutter=Figure(value=shutter, text=shutter_text(shutter), explain="exposure.shutter"),
                iso=Figure(value=settings.iso, text=iso_text(settings.iso)),
                filters=filters,
                aim="" if panel is None else f"{panel.azimuth_deg:.1f}°, {degrees_text(panel.pitch_deg, 1)}",
                bulb=bulb,
                goes_on=not first_of_burst,
                timer_s=timer,
                exposure_s=shutter,
                dark_frame_s=dark_frame,
                duration_s=duration,
                duration=Figure(value=duration, text=duration_text(duration), explain=f"sequence.frame:{number}"),
                starts_after_s=clock,
            )
        )
        clock += duration
        before = (s, shutter)
        last_panel = panel
    drift = drift_stops(state, clock)
    return Sequence(
        frames=tuple(frames),
        slice_count=len(slices),
        bracket_count=len(offsets),
        panel_count=len(turns),
        layer_count=len(scene.composition.technique.layers),
        total=Figure(value=clock, text=duration_text(clock), explain="sequence.total"),
        drift=Figure(value=drift, text=_drift_text(drift), explain="sequence.drift"),
        drift_is_stale=abs(drift) > STALE_DRIFT_STOPS,
        by_body=by_body,
    )
