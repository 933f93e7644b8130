"""Every rule, in the order in which tensions are told, and what they find in a state."""

from __future__ import annotations

from lucid_ridge.core.state.state import State
from lucid_ridge.core.tensions import exposure, motion, sharpness, standpoint, steadiness, timing
from lucid_ridge.core.tensions.rule import Found, Rule, TensionKind

RULES: tuple[Rule, ...] = (
    sharpness.NEAR_SOFT,
    sharpness.GAP_SOFT,
    sharpness.FAR_SOFT,
    sharpness.DIFFRACTION,
    sharpness.FARTHEST_FOCUS,
    sharpness.MINIMUM_FOCUS,
    steadiness.HAND_HELD,
    steadiness.SUPPORT,
    steadiness.DRIFTS_OFF,
    motion.WATER_LOOK,
    motion.FROZEN_WAVE,
    motion.FOLIAGE,
    exposure.RANGE,
    exposure.ISO,
    timing.FRAMES,
    exposure.BULB,
    standpoint.REACH,
    standpoint.STANDING,
    standpoint.HORIZON,
    exposure.EXPOSURE,
    sharpness.SMOOTH_BACKGROUND,
    timing.LIGHT,
    timing.LIGHT_ENDS,
)
RULE: dict[TensionKind, Rule] = {one.kind: one for one in RULES}
_FINDERS = tuple(dict.fromkeys(one.find for one in RULES))


def find(state: State) -> list[Found]:
    """Every tension of a state, without mends."""
    return [found for finder in _FINDERS for found in finder(state)]
