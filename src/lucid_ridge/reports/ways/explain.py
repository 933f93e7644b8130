"""Explanations of what a way costs."""

from __future__ import annotations

from lucid_ridge.core.state.state import State
from lucid_ridge.reports.explanation import (
    BORN_WOLF,
    PRACTICE,
    RAY,
    Explanation,
    made,
)
from lucid_ridge.reports.figures import iso_text, micrometres_text, shutter_text, significant
from lucid_ridge.reports.ways.way import leaves_travel_text, worst_blur_mm


def ways(state: State, what: str, of: str) -> Explanation | None:
    """The explanation of what a way costs, None for an unknown key."""
    layers = state.scene.composition.technique.layers
    pieces = {
        "base": f"ISO {iso_text(state.exposure.settings.iso)}",
        **{f"layer, {one.purpose}": f"ISO {iso_text(one.iso)}" for one in layers},
    }
    if what == "iso":
        highest = max([state.exposure.settings.iso, *(one.iso for one in layers)])
        return made(
            "Highest ISO", "the highest of the base frames and the layers", pieces, f"ISO {iso_text(highest)}", PRACTICE,
            "Noise grows with it.",
        )  # fmt: skip
    if what == "blur":
        body = state.scene.kit.body
        pitch = body.sensor_width_mm / body.pixels_across
        worst = worst_blur_mm(state)
        return made(
            "Worst blur of what must be sharp", "defocus and the Airy disk in squares, over the pixel pitch",
            {"blur": micrometres_text(worst), "pixel pitch": micrometres_text(pitch)}, f"{significant(worst / pitch, 2)} px",
            f"{RAY}; {BORN_WOLF}",
        )  # fmt: skip
    if what == "travel":
        times = {
            "base": shutter_text(state.exposure.settings.shutter_s),
            **{f"layer, {one.purpose}": shutter_text(one.shutter_s) for one in layers},
        }
        return made(
            "Travel of the leaves", "speed × t × v / D, in the frame that the leaves are taken from, over the pixel pitch",
            times, leaves_travel_text(state), PRACTICE,
        )  # fmt: skip
    return None
