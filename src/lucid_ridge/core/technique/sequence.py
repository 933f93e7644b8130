"""The sequence: panels times slices times brackets in order, with every action between the frames."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

from lucid_ridge.core.figures import Figure, degrees_text, distance_text, duration_text, stops_text, stops_words
from lucid_ridge.core.light.drift import STALE_DRIFT_STOPS
from lucid_ridge.core.light.ephemeris import LAST_UNIX, sun_at
from lucid_ridge.core.light.falling import DARKEST_DEG, LONG_S, NOTICED_STOPS, seconds_in_changing_light
from lucid_ridge.core.light.illuminance import stops_between
from lucid_ridge.core.light.lamps import recycle_s
from lucid_ridge.core.optics.slices import Slice
from lucid_ridge.core.records import record
from lucid_ridge.core.stops.scales import aperture_text, iso_text, nearest_third, shutter_text
from lucid_ridge.core.technique.exposure import filters_in_use
from lucid_ridge.core.technique.moved import rail_of
from lucid_ridge.core.technique.panorama import Panel, panels, turn_text
from lucid_ridge.core.technique.scene import Layer, LayerPurpose
from lucid_ridge.core.technique.state import State

# Seconds that acts take (common practice; hands in gloves take longer).
REFOCUS_S = 8.0
TURN_S = 6.0
FILTER_S = 20.0
SETTLE_S = 2.0
BETWEEN_FRAMES_S = 1.0
DARK_FRAME_FROM_S = 1.0


@record
class Exposed:
    """One frame: what to set, what changed since the frame before, and how long it all takes.

    ``changed`` names the rows (aim, focus, filters, aperture, shutter, iso) to set anew. ``goes_on`` says
    that the body takes this frame by itself after the one before.
    """

    number: int
    slice_number: int
    slice_count: int
    bracket_number: int
    bracket_count: int
    offset_stops: float
    title: str
    caption: str
    actions: tuple[str, ...]
    changed: tuple[str, ...]
    focus: Figure
    aperture: Figure
    shutter: Figure
    iso: Figure
    filters: str
    aim: str = ""
    bulb: bool
    goes_on: bool = False
    layer: LayerPurpose | None = None
    panel_number: int = 1
    panel_count: int = 1
    timer_s: float
    exposure_s: float
    dark_frame_s: float = 0.0
    duration_s: float
    duration: Figure = Figure(value=None, text="")
    starts_after_s: float


@record
class Sequence:
    """Frames in order, and what they amount to together."""

    frames: tuple[Exposed, ...]
    slice_count: int
    bracket_count: int
    panel_count: int = 1
    layer_count: int = 0
    total: Figure
    drift: Figure
    drift_is_stale: bool
    by_body: bool


def focus_target(state: State, one: Slice) -> str:
    """Name of the element to focus on for a slice: solid, within it, nearest to its focus in dioptres.

    Empty where nothing solid lies in the slice; water and sky give a focus aid nothing to hold.
    """
    best, best_rank = "", math.inf
    inverse = 1 / one.focus_m
    for i, element in enumerate(state.scene.composition.elements):
        near, far = float(state.geometry.near_m[i]), float(state.geometry.far_m[i])
        if math.isnan(near) or element.role in ("sky", "water") or near > one.far_m or far < one.near_m:
            continue
        miss = max(0.0, inverse - 1 / max(near, 1e-3), 1 / max(far, 1e-3) - inverse)
        # Of elements that all hold the distance the shallowest is the clearest target.
        rank = miss * 1e6 + (far - near)
        if rank < best_rank:
            best, best_rank = element.name, rank
    return best


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


@dataclass(frozen=True)
class Move:
    """What is done before a slice, and how long it takes; no action where the lens is focused anew."""

    action: str
    seconds: float
    title: str = ""


def move_for(state: State, index: int) -> Move:
    """How the camera comes to a slice: by its rail, by swaying on, or by the focus ring."""
    means, depth = state.scene.composition.technique.slices, state.depth
    if means == "sway":
        if index == 0:
            return Move(
                "Focus by leaning back, then sway forward through the subject in one burst", REFOCUS_S, "Sway forward"
            )
        return Move("", max(1 / state.scene.kit.body.burst_per_s - BETWEEN_FRAMES_S, 0.0), "The burst goes on")
    if means != "rail" or not depth.moved_m.any():
        return Move("", REFOCUS_S)
    rail = rail_of(state.scene)
    if index == 0:
        return Move(
            "Set the focus and leave it; bring the front of the subject just into focus with the rail",
            REFOCUS_S,
            "Front of the subject",
        )
    step_mm = float(depth.moved_m[index] - depth.moved_m[index - 1]) * 1000
    gone_mm = float(depth.moved_m[index] - depth.moved_m[0]) * 1000
    seconds = rail.step_s if rail else REFOCUS_S
    step = distance_text(step_mm / 1000, state.scene.units)
    return Move(
        f"Rail {step} forward, to {distance_text(gone_mm / 1000, state.scene.units)}", seconds, f"Rail forward {step}"
    )


def flash_wait_s(state: State) -> float:
    """Longest wait for a flash in use to recycle, seconds; none without."""
    owned = {one.id: one for one in state.scene.kit.lights}
    return max(
        (
            float(recycle_s(owned[use.light_id].full_recycle_s, use.power))
            for use in state.scene.composition.close_up.lights
            if owned[use.light_id].kind == "flash"
        ),
        default=0.0,
    )


LAYER_TEXT: dict[LayerPurpose, str] = {"foliage": "sharp leaves", "wave": "frozen wave"}
_MOVING: dict[LayerPurpose, str] = {"foliage": "foliage", "wave": "water"}


def _layer_slice(state: State, purpose: LayerPurpose) -> int:
    """Position of the slice in which the first of what a layer is for stands."""
    elements = state.scene.composition.elements
    for i, element in enumerate(elements):
        near = float(state.geometry.near_m[i])
        if element.motion == _MOVING[purpose] and not math.isnan(near):
            return min(range(len(state.depth.slices)), key=lambda k: abs(1 / state.depth.slices[k].focus_m - 1 / near))
    return 0


def _layer_frame(state: State, layer: Layer, number: int, clock: float, slice_count: int) -> Exposed:
    """The frame of a layer: focus where its subject stands, filters off or on, settings of its own."""
    settings, body, units = state.scene.composition.settings, state.scene.kit.body, state.scene.units
    owned = {f.id: f.name for f in state.scene.kit.filters}
    k = _layer_slice(state, layer.purpose)
    one = state.depth.slices[k]
    actions = []
    refocus = slice_count > 1
    if refocus:
        actions.append(f"Focus at {distance_text(one.focus_m, units)}")
    now, then = [u.filter_id for u in settings.filters], [u.filter_id for u in layer.filters]
    off, on = [owned[i] for i in now if i not in then], [owned[i] for i in then if i not in now and i in owned]
    if off:
        actions.append(f"Take off {' + '.join(off)}, without touching the focus")
    if on:
        actions.append(f"Put on {' + '.join(on)}")
    actions.append("Same white balance and framing; touch nothing else")
    if layer.purpose == "wave":
        actions.append("Wait for the wave")
    elif layer.purpose == "foliage":
        actions.append("Wait for a lull")
    if settings.timer_s:
        actions.append(f"Self-timer {settings.timer_s:g} s, or the remote at the moment")
    bulb = layer.shutter_s > body.longest_timed_s * 2 ** (1 / 6)
    dark = layer.shutter_s if body.dark_frame and layer.shutter_s >= DARK_FRAME_FROM_S else 0.0
    duration = (
        (REFOCUS_S if refocus else 0.0)
        + FILTER_S * (len(off) + len(on))
        + SETTLE_S
        + settings.timer_s
        + layer.shutter_s
        + dark
        + BETWEEN_FRAMES_S
    )
    return Exposed(
        number=number,
        slice_number=k + 1,
        slice_count=slice_count,
        bracket_number=1,
        bracket_count=1,
        offset_stops=0.0,
        title=f"Layer: {LAYER_TEXT[layer.purpose]}",
        caption=f"layer for the {LAYER_TEXT[layer.purpose]}",
        actions=tuple(actions),
        changed=("shutter", "iso", *(("filters",) if off or on else ()), *(("focus",) if refocus else ())),
        focus=Figure(
            value=None if math.isinf(one.focus_m) else one.focus_m,
            text=distance_text(one.focus_m, units),
            explain="depth.slices",
        ),
        aperture=Figure(value=settings.aperture_n, text=aperture_text(settings.aperture_n)),
        shutter=Figure(value=layer.shutter_s, text=shutter_text(layer.shutter_s), explain="motion.layer"),
        iso=Figure(value=layer.iso, text=iso_text(layer.iso)),
        filters=" + ".join(owned[i] for i in then if i in owned) or "none",
        bulb=bulb,
        layer=layer.purpose,
        timer_s=settings.timer_s,
        exposure_s=layer.shutter_s,
        dark_frame_s=dark,
        duration_s=duration,
        duration=Figure(value=duration, text=duration_text(duration), explain=f"sequence.frame:{number}"),
        starts_after_s=clock,
    )


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
    for number, (panel, (s, b)) in enumerate(itertools.product(turns, pairs), start=1):
        focus_m, offset = slices[s].focus_m, offsets[b]
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
        if number == 1 and filters != "none":
            actions.append(f"Put on {filters}, after focusing")
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
            + (FILTER_S * len(settings.filters) if number == 1 else 0.0)
            + (SETTLE_S if first_of_burst else 0.0)
            + timer
            + shutter
            + dark_frame
            + max(BETWEEN_FRAMES_S, wait - move.seconds)
        )
        changed = ["aim"] if turning else []
        changed += ["focus"] if refocus else []
        changed += ["shutter"] if new_shutter else []
        changed += ["filters", "aperture", "iso"] if number == 1 else []
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
    for layer in scene.composition.technique.layers:
        made = _layer_frame(state, layer, len(frames) + 1, clock, len(slices))
        frames.append(made)
        clock += made.duration_s
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
