"""The frames of a sequence, and what is done and waited for between them."""

from __future__ import annotations

from dataclasses import dataclass

from lucid_ridge.core.figures import Figure, distance_text
from lucid_ridge.core.light.lamps import recycle_s
from lucid_ridge.core.records import record
from lucid_ridge.core.technique.moved import rail_of
from lucid_ridge.core.technique.scene import LayerPurpose
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
