"""What a drill asks, what is right, and why, with the numbers."""

from __future__ import annotations

import math

from lucid_ridge.core.practice.drills import NOTHING, Drill
from lucid_ridge.core.records import record
from lucid_ridge.core.rehearsal.mishaps import MishapKind
from lucid_ridge.core.state.state import State
from lucid_ridge.core.state.subject_motion import element_travel_mm, moving_elements
from lucid_ridge.reports.figures import aperture_text, distance_text, shutter_text, stops_text
from lucid_ridge.reports.rehearsal.words import MISHAPS

TITLES: dict[str, str] = {
    "shutter": "Which shutter time?",
    "stops": "Count the stops",
    "focus": "Where to focus",
    "slices": "How many slices",
}
_SIGNS: dict[MishapKind, str] = {
    "camera_moved": "Everything lies elsewhere by the same way, sharp as before.",
    "sinking": "Everything has gone up, more in each frame than in the one before.",
    "shake": "Everything is drawn out along one direction, near and far alike.",
    "gust": "Only the leaves and stalks are smeared; what stands still is as it was.",
    "focus_off": "It is soft to all sides alike, and what is nearer or farther has become sharper.",
    "missed_slice": "Another distance is sharp than the one that was this frame's turn.",
    "stale_exposure": "All of it is darker by the same amount, shadows and lights.",
    "forgotten_polariser": "Sheen is back on what is wet and the sky is paler; dry things are as they were.",
    "clipped_red": "The warm parts have lost their drawing while grey ones keep it: one channel is full.",
}


@record
class DrillOption:
    """An answer to choose: what is sent, and how it is said."""

    value: str
    label: str


@record
class DrillQuestion:
    """A drill as it is asked. Without options a number is typed, in ``unit``. ``picture`` says what is looked at."""

    title: str
    question: str
    options: tuple[DrillOption, ...]
    unit: str
    picture: str


@record
class DrillAnswer:
    """Whether an answer was right, what is right, and why."""

    right: bool
    truth: str
    reasons: tuple[str, ...]


def title_of(key: str) -> str:
    """What a card is called."""
    kind, _, what = key.partition(":")
    return f"See it: {MISHAPS[what][0].lower()}" if kind == "mishap" else TITLES[kind]  # type: ignore[index]


def _said(value: str | float) -> str:
    if isinstance(value, str):
        return "Nothing went wrong" if value == NOTHING else MISHAPS[value][0]  # type: ignore[index]
    return shutter_text(value)


def question(state: State, drill: Drill) -> DrillQuestion:
    """A drill as it is asked."""
    units = state.scene.units
    options = tuple(DrillOption(value=str(one), label=_said(one)) for one in drill.options)
    match drill.kind:
        case "mishap":
            asks = "On the left the frame as planned, on the right as it came back. What went wrong?"
            return DrillQuestion(title="What went wrong?", question=asks, options=options, unit="", picture="pair")
        case "shutter":
            asks = "How long was the shutter open?"
            return DrillQuestion(title=TITLES["shutter"], question=asks, options=options, unit="", picture="frame")
        case "stops":
            asks = f"The meter says {shutter_text(drill.number_of('metered'))}."
            asks += f" You put on {_filters(drill)}"
            narrower = drill.number_of("narrower")
            asks += f" and close the aperture by {stops_text(narrower, signed=False)}." if narrower else "."
            asks += " Which shutter time gives the same exposure?"
            return DrillQuestion(title=TITLES["stops"], question=asks, options=(), unit="s", picture="")
        case "focus":
            near, far = (distance_text(drill.number_of(name), units) for name in ("near", "far"))
            asks = f"One frame. The nearest that should be sharp is at {near}, the farthest at {far}. Where do you focus, so that both are equally soft?"
            return DrillQuestion(title=TITLES["focus"], question=asks, options=(), unit="m", picture="")
        case "slices":
            near, far = (distance_text(drill.number_of(name), units) for name in ("near", "far"))
            lens = f"{state.exposure.settings.focal_length_mm:g} mm at {aperture_text(drill.number_of('aperture'))}"
            asks = f"From {near} to {far} without a gap, {lens}, each frame lapping over the next by {drill.number_of('overlap'):.0%}. How many frames?"
            return DrillQuestion(title=TITLES["slices"], question=asks, options=(), unit="frames", picture="")


def _filters(drill: Drill) -> str:
    if not drill.filters:
        return f"a filter of {drill.number_of('taken'):g} stops"
    return " and ".join(f"{one.name} ({one.stops:g} stops)" for one in drill.filters)


def answer(state: State, drill: Drill, given: str | float) -> DrillAnswer:
    """Whether an answer was right, and why, with the numbers."""
    units, right = state.scene.units, drill.right(given)
    match drill.kind:
        case "mishap":
            truth = _said(drill.truth)
            if drill.mishap is None:
                return DrillAnswer(right=right, truth=truth, reasons=("Both frames are the same but for their noise.",))
            name, _, unit = MISHAPS[drill.mishap.kind]
            size = f" Here: {drill.mishap.size:g} {unit}, or more where that could not be seen." if unit else ""
            return DrillAnswer(right=right, truth=name, reasons=(_SIGNS[drill.mishap.kind] + size,))
        case "shutter":
            return DrillAnswer(
                right=right, truth=shutter_text(float(drill.truth)), reasons=_travelled(state, float(drill.truth))
            )
        case "stops":
            taken, narrower = drill.number_of("taken"), drill.number_of("narrower")
            stops = taken + narrower
            return DrillAnswer(
                right=right,
                truth=shutter_text(float(drill.truth)),
                reasons=(
                    f"{stops_text(taken, signed=False)} of filters"
                    + (f" and {stops_text(narrower, signed=False)} of aperture" if narrower else "")
                    + f": {stops:.3g} stops, {2**stops:,.0f} times as long.",
                    f"{shutter_text(drill.number_of('metered'))} × {2**stops:,.0f} = {shutter_text(float(drill.truth))}.",
                ),
            )
        case "focus":
            near, far = drill.number_of("near"), drill.number_of("far")
            return DrillAnswer(
                right=right,
                truth=distance_text(float(drill.truth), units),
                reasons=(
                    f"2 × near × far / (near + far) = 2 × {near:g} × {far:g} / {near + far:g} = {float(drill.truth):.2f} m.",
                    "Blur goes with the difference of 1/distance, so the middle in 1/distance is wanted: about twice the "
                    "nearest where the farthest is far away.",
                ),
            )
        case "slices":
            return DrillAnswer(
                right=right,
                truth=f"{int(drill.truth)} frames",
                reasons=(
                    "Each frame holds an equal step of 1/distance; the ruler of the Depth bench shows them.",
                    f"At {aperture_text(drill.number_of('aperture'))} that takes {int(drill.truth)}.",
                ),
            )


def _travelled(state: State, shutter_s: float) -> tuple[str, ...]:
    moving = moving_elements(state, "water") or moving_elements(state, "foliage")
    fastest = max(moving, key=lambda i: element_travel_mm(state, i, 1.0))
    element = state.scene.composition.elements[fastest]
    share = element_travel_mm(state, fastest, shutter_s) / state.geometry.camera.frame_height_mm
    told = f"{share:.2g} frame heights" if share >= 0.1 else f"{share:.1%} of the frame's height"
    if not math.isfinite(share):
        told = "out of the frame"
    return (f"{element.name} at {element.speed_m_s:g} m/s goes {told} in {shutter_text(shutter_s)}.",)
