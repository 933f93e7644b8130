"""Explanations of the sequence."""

from __future__ import annotations

from lucid_ridge.core.sequence.acts import FILTER_S, REFOCUS_S, TURN_S
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.explanation import (
    APEX,
    JANICZEK,
    PRACTICE,
    RAY,
    Explanation,
    made,
)
from lucid_ridge.reports.figures import duration_text, stops_text
from lucid_ridge.reports.sequence.build import build_sequence


# Long: one row for each number that is explained.
def sequence(state: State, what: str, of: str) -> Explanation | None:
    """The explanation of one sequence figure, None for an unknown key."""
    built = build_sequence(state)
    if what == "total":
        return made(
            "Time the sequence takes",
            "turn + refocus + filters + settle + timer + exposure + dark frame, summed",
            {
                "frames": f"{built.panel_count} panels × {built.slice_count} slices × {built.bracket_count} exposures",
                "turn to the next panel": duration_text(TURN_S),
                "refocus": duration_text(REFOCUS_S),
                "putting a filter on": duration_text(FILTER_S),
                "timer": duration_text(state.scene.composition.settings.timer_s),
                "dark frame": "as long as the exposure" if state.scene.kit.body.dark_frame else "off",
            },
            built.total.text,
            PRACTICE,
        )
    if what in ("frames", "over"):
        return made(
            "Frames in all" if what == "frames" else "Longer than the light stays",
            "panels × slices × exposures + layers" if what == "frames" else "time of the sequence − time until the light is gone",
            {
                "frames": f"{built.panel_count} × {built.slice_count} × {built.bracket_count} + {built.layer_count}",
                "the sequence takes": built.total.text,
            },
            built.count.text if what == "frames" else "", PRACTICE,
        )  # fmt: skip
    if what in ("focus", "shutter") and of.isdigit() and 1 <= int(of) <= len(built.frames):
        frame = built.frames[int(of) - 1]
        return made(
            f"Focus of frame {of}" if what == "focus" else f"Shutter time of frame {of}",
            "from the slices of the technique" if what == "focus" else "base time × 2^offset, then the film's own correction, on a mark where the body times it",
            {"frame": frame.caption, "offset": f"{stops_text(frame.offset_stops)} stops"}, "", RAY if what == "focus" else APEX,
        )  # fmt: skip
    if what == "frame" and of.isdigit() and 1 <= int(of) <= len(built.frames):
        frame = built.frames[int(of) - 1]
        return made(
            f"Time frame {of} takes",
            "turn + refocus + filters + settle + timer + exposure + dark frame + a second",
            {
                "exposure": frame.shutter.text,
                "timer": duration_text(frame.timer_s),
                "refocus": duration_text(REFOCUS_S if "focus" in frame.changed else 0),
                "does": "; ".join(frame.actions) or "nothing else",
            },
            frame.duration.text,
            PRACTICE,
        )
    chosen = next((one for one in built.orders if what.startswith("order_") and one.order == of), None)
    if chosen is not None:
        return made(
            "Light's drift within frames that are blended",
            "|log₂(E at the end of the last / E at the start of the first)|, the largest",
            {
                "within a stack of one exposure": chosen.within_stack.text,
                "within a bracket of one slice": chosen.within_bracket.text,
                "the focus is turned": f"{chosen.refocused} times",
            },
            "",
            JANICZEK,
            "Slices want the same brightness; the exposures of a bracket differ by what is known.",
        )
    if what == "drift":
        return made(
            "Light's drift over the sequence",
            "log₂(E at its end / E at its start)",
            {"from": f"{state.scene.composition.moment_utc:%H:%M:%S} UTC", "for": built.total.text},
            built.drift.text,
            JANICZEK,
            "Past a third of a stop, the first and last frame no longer match.",
        )
    return None
