"""Clicks of a camera's dials: how far to turn, as the body in use counts."""

from __future__ import annotations

import math

from lucid_ridge.core.model.kit import Body
from lucid_ridge.core.model.scene import Settings

_NEAR_A_CLICK = 0.2
"""Clicks by which a change may miss a whole number: nominal marks lie so far from their exact values."""


def clicks_words(stops: float, per_stop: int) -> str:
    """So many stops as clicks of a dial that has *per_stop* to each; empty where that is none."""
    count = abs(stops) * per_stop
    whole = round(count)
    if abs(count - whole) <= _NEAR_A_CLICK:
        return "" if whole == 0 else "1 click" if whole == 1 else f"{whole} clicks"
    return f"between {math.floor(count)} and {math.ceil(count)} clicks"


def turned_words(before: Settings, after: Settings, body: Body) -> str:
    """What is turned from one group of settings to another, and by how many clicks: "aperture 3 clicks closed"."""
    timed = max(before.shutter_s, after.shutter_s) <= body.longest_timed_s
    turns = (
        (2 * math.log2(after.aperture_n / before.aperture_n), "aperture", "closed", "open"),
        (math.log2(after.shutter_s / before.shutter_s) if timed else 0.0, "shutter", "longer", "shorter"),
        (math.log2(after.iso / before.iso), "ISO", "up", "down"),
    )
    said = []
    for stops, name, more, less in turns:
        words = clicks_words(stops, body.clicks_per_stop)
        if words:
            said.append(f"{name} {words} {more if stops > 0 else less}")
    return ", ".join(said)
