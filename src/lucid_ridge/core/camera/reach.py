"""How high the camera can stand: on the legs, with the column out, hung upside down, or in the hand."""

from __future__ import annotations

from lucid_ridge.core.model.scene import Scene

IN_HAND_M = (0.1, 1.75)
"""Heights at which a person can hold a camera (common practice: lying to standing)."""
_SLACK_M = 1e-9


def heights_in_reach(scene: Scene, steady: bool) -> tuple[float, float]:
    """Lowest and highest lens in metres above the ground, by every means the support has."""
    support = scene.kit.support
    if not steady:
        return IN_HAND_M
    low = support.lowest_m if support.inverted_lowest_m is None else min(support.lowest_m, support.inverted_lowest_m)
    return low, support.highest_m + support.column_m


def how_reached(scene: Scene, steady: bool, height_m: float) -> str:
    """What a height asks of the support beyond its legs: a caution, or nothing."""
    support = scene.kit.support
    if not steady:
        return ""
    if height_m > support.highest_m + _SLACK_M:
        return "The column is out: it shakes in wind. Hang no heavy bag from it, and wait longer after touching it."
    if height_m < support.lowest_m - _SLACK_M:
        return "The camera hangs upside down: check that the head is tight before you let go."
    return ""
