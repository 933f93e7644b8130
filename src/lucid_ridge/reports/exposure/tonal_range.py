"""The range of the scene against what the frames hold, and exposing to the right."""

from __future__ import annotations

import math

from lucid_ridge.core.changes.kinds import Change, SetCompensation
from lucid_ridge.core.exposure.tolerances import RANGE_STOPS
from lucid_ridge.core.model.scene import WARM_BACK_OFF_STOPS
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import Readout, stops_text


@record
class RangeMark:
    """An element on the stop scale, 0 at the mid-tone of the base frame."""

    id: str
    name: str
    stops: Readout
    position: float
    clipped: bool
    blocked: bool
    predicted: bool


@record
class RangeSpan:
    """What one frame holds on the stop scale."""

    left: float
    right: float
    text: str


@record
class RangeReport:
    """Scene range against frames. Positions 0 (dark) to 1 (bright)."""

    scene: Readout
    usable: Readout
    held: bool
    marks: tuple[RangeMark, ...]
    frames: tuple[RangeSpan, ...]
    ticks: tuple[tuple[float, str], ...]
    problem: str
    doubt_text: str
    right: Readout | None
    right_text: str
    right_changes: tuple[Change, ...]


def range_report(state: State) -> RangeReport:
    """The stop scale with elements and frames."""
    spread, body = state.range, state.scene.kit.body
    headroom = min(body.headroom_stops, spread.usable)
    offsets = state.offsets
    ends = [s for _, s in spread.element_stops] + [
        bound for o in offsets for bound in (headroom - o, headroom - o - spread.usable)
    ]
    low, high = math.floor(min(ends)) - 1, math.ceil(max(ends)) + 1

    def place(stops: float) -> float:
        return (stops - low) / (high - low)

    elements = {e.id: e for e in state.scene.composition.elements}
    right, right_text, right_changes = expose_right(state)
    scene = spread.brightest - spread.darkest
    step = 2 if high - low > 12 else 1
    return RangeReport(
        scene=Readout(value=scene, text=f"{scene:.1f} stops", explain="range.scene"),
        usable=Readout(value=spread.usable, text=f"{spread.usable:.1f} stops", explain="range.usable"),
        held=spread.held.lost <= RANGE_STOPS,
        marks=tuple(
            RangeMark(
                id=element_id,
                name=elements[element_id].name,
                stops=Readout(
                    value=stops, text=stops_text(round(stops * 3) / 3), explain=f"range.element:{element_id}"
                ),
                position=place(stops),
                clipped=spread.held.miss(stops) > RANGE_STOPS,
                blocked=spread.held.miss(stops) < -RANGE_STOPS,
                predicted=elements[element_id].reading_ev100 is None,
            )
            for element_id, stops in spread.element_stops
        ),
        frames=tuple(
            RangeSpan(left=place(headroom - o - spread.usable), right=place(headroom - o), text=stops_text(o))
            for o in offsets
        ),
        ticks=tuple((place(s), stops_text(s)) for s in range(low, high + 1) if s % step == 0),
        problem=spread.bracket_problem,
        doubt_text=f"Predicted tones may be off by {spread.doubt_stops:g} stops: read them."
        if spread.doubt_stops
        else "",
        right=right,
        right_text=right_text,
        right_changes=right_changes,
    )


def _back_off_text(stops: float) -> str:
    own = "" if stops == WARM_BACK_OFF_STOPS else "your own "
    return f"{own}{stops:.2g} stop{'s' * (abs(stops) >= 1.05)}"


def expose_right(state: State) -> tuple[Readout | None, str, tuple[Change, ...]]:
    """How far the exposure can go up before what must hold detail clips; thirds, never past it."""
    spread, body = state.range, state.scene.kit.body
    back_off = state.scene.composition.wants.warm_back_off_stops
    held = {e.id: e for e in state.scene.composition.elements if e.holds_detail}
    ends = [(stops + (back_off if held[i].warm else 0.0), held[i]) for i, stops in spread.element_stops if i in held]
    if not ends:
        return None, "", ()
    brightest, element = max(ends, key=lambda one: one[0])
    room = min(body.headroom_stops, spread.usable) - brightest
    thirds = math.floor(room * 3 + 1e-6) / 3
    offset = state.scene.composition.settings.compensation_stops + thirds
    back = f", {_back_off_text(back_off)} backed off for its saturated colour" if element.warm else ""
    text = f"The {element.name} is the brightest that must hold{back}."
    return (
        Readout(value=thirds, text=stops_text(thirds), explain="range.right"),
        text,
        (SetCompensation(stops=max(min(offset, 10.0), -10.0)),),
    )
