"""What is not clear of something else in the picture, in words and figures."""

from __future__ import annotations

import math

from lucid_ridge.core.records import record
from lucid_ridge.core.state import separation as found
from lucid_ridge.core.state.separation import MergerKind, mergers
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import Readout, degrees_text


@record
class Merger:
    """Two outlines that merge, or one that a line or the frame's edge meets.

    ``gap`` is in percent of the frame's height, negative for an overlap; for a cut the share of the
    subject's height from its foot.
    """

    kind: MergerKind
    element_id: str
    other_id: str | None
    sentence: str
    gap: Readout
    angle: Readout | None


def _angle(state: State, share: float) -> float:
    """Degrees that a share of the frame's height spans in the middle of the frame."""
    return math.degrees(math.atan(abs(share) * 2 * state.geometry.camera.half_tangents[1]))


def _percent(share: float) -> str:
    return f"{'−' if share < 0 else ''}{abs(share) * 100:.1f} %"


def merger_sentence(state: State, one: found.Merger) -> str:
    """What merges, and by how much."""
    names = {e.id: e.name for e in state.geometry.elements}
    first, share = names[one.element_id], one.share
    other = names[one.other_id] if one.other_id else "horizon"
    match one.kind:
        case "overlap":
            return f"The {first} and the {other} overlap by {_percent(abs(share))} of the frame's height."
        case "touch":
            return f"The {first} and the {other} nearly touch: {_percent(share)} of the frame's height between them."
        case "cut":
            return f"The {other} runs through the {first} at {share:.0%} of its height."
        case "horizon":
            return f"The horizon runs through the {first} at {share:.0%} of its height."
        case "edge":
            return f"The {first} touches the edge of the picture."
        case "leaves":
            return f"The {first} leaves the picture by {_percent(abs(share))} of the frame's height."


def _merger(state: State, one: found.Merger) -> Merger:
    angle = _angle(state, one.share)
    of = f"{one.kind} {one.element_id} {one.other_id}" if one.other_id else f"{one.kind} {one.element_id}"
    figure = Readout(value=angle, text=degrees_text(angle, 1), explain=f"framing.angle:{of}")
    return Merger(
        kind=one.kind,
        element_id=one.element_id,
        other_id=one.other_id,
        sentence=merger_sentence(state, one),
        gap=Readout(value=one.share * 100, text=_percent(one.share), explain=f"framing.gap:{of}"),
        angle=figure if one.kind in ("overlap", "touch") else None,
    )


def separation(state: State) -> tuple[Merger, ...]:
    """Everything in the picture that is not clear of something else."""
    return tuple(_merger(state, one) for one in mergers(state))
