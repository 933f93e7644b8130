"""How long what is done between frames takes."""

from __future__ import annotations

from lucid_ridge.core.camera.camera_stack import rail_of
from lucid_ridge.core.light.lamps import recycle_s
from lucid_ridge.core.state.state import State

# Seconds that acts take (common practice; hands in gloves take longer).
REFOCUS_S = 8.0
TURN_S = 6.0
FILTER_S = 20.0
SETTLE_S = 2.0
BETWEEN_FRAMES_S = 1.0
DARK_FRAME_FROM_S = 1.0


def move_s(state: State, index: int) -> float:
    """How long it takes to come to a slice: by its rail, by swaying on, or by the focus ring."""
    means = state.scene.composition.technique.slices
    if index > 0 and means == "sway":
        return max(1 / state.scene.kit.body.burst_per_s - BETWEEN_FRAMES_S, 0.0)
    if index > 0 and means == "rail" and state.depth.moved_m.any():
        rail = rail_of(state.scene)
        return rail.step_s if rail else REFOCUS_S
    return REFOCUS_S


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
