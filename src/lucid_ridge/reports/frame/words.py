"""Words of the standpoint and the aim that several reports share."""

from __future__ import annotations

from lucid_ridge.core.camera.panorama import Panel
from lucid_ridge.core.model.scene import Scene

KEEP_BACK = "Edges crumble and wet ground slides: keep well back from the line, and go by what you see on the spot."
_SLACK_M = 1e-9


def turn_text(before: Panel | None, panel: Panel) -> str:
    """How to turn from one panel to the next; empty for the first."""
    if before is None:
        return ""
    turn = (panel.azimuth_deg - before.azimuth_deg + 180) % 360 - 180
    parts = []
    if abs(turn) > 0.01:
        parts.append(f"{abs(turn):.1f}° to the {'right' if turn > 0 else 'left'}")
    tilt = panel.pitch_deg - before.pitch_deg
    if abs(tilt) > 0.01:
        parts.append(f"{abs(tilt):.1f}° {'up' if tilt > 0 else 'down'}")
    return ", ".join(parts)


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
