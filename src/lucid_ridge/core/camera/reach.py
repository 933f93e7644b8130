"""How high the camera can stand: on the legs, with the column out, hung upside down, or in the hand."""

from __future__ import annotations

from lucid_ridge.core.model.scene import Scene

IN_HAND_M = (0.1, 1.75)
"""Heights at which a person can hold a camera (common practice: lying to standing)."""


def heights_in_reach(scene: Scene, steady: bool) -> tuple[float, float]:
    """Lowest and highest lens in metres above the ground, by every means the support has."""
    support = scene.kit.support
    if not steady:
        return IN_HAND_M
    low = support.lowest_m if support.inverted_lowest_m is None else min(support.lowest_m, support.inverted_lowest_m)
    return low, support.highest_m + support.column_m
