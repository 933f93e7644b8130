"""The sweep of apertures: worst blur of what must be sharp against f-number."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.camera.critical import critical_spans
from lucid_ridge.core.changes.apply import aperture_marks_between
from lucid_ridge.core.exposure.tolerances import SHARP
from lucid_ridge.core.optics.slices import least_blur
from lucid_ridge.core.records import record
from lucid_ridge.core.state.depth import FARTHEST_FOCUSED_M
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import Readout, aperture_text, distance_text, micrometres_text

Array = NDArray[np.float64]


@record
class SweepPoint:
    """The worst blur among what must be sharp at one aperture, micrometres; ``height`` runs 0 to 1."""

    aperture_n: float
    text: str
    across: float
    worst_um: float
    height: float
    diffraction_height: float
    holds: bool
    in_use: bool
    best: bool


@record
class Sweep:
    """Worst blur against f-number. The circle of confusion's height is on the same scale as the points'."""

    points: tuple[SweepPoint, ...]
    allowed_height: float
    best: Readout
    takes_over: Readout
    sentence: str


def micrometres(size_mm: float, explain: str = "") -> Readout:
    """A size on the sensor."""
    return Readout(value=size_mm * 1000, text=micrometres_text(size_mm), explain=explain)


def metres(state: State, distance_m: float, explain: str = "") -> Readout:
    """A distance in the units chosen; infinite from the farthest that is ever focused."""
    finite = distance_m < FARTHEST_FOCUSED_M / 10
    return Readout(
        value=distance_m if finite else None,
        text=distance_text(distance_m, state.scene.units) if finite else "∞",
        explain=explain,
    )


def critical_ends(state: State) -> Array:
    """Distances of the ends of all that must be sharp, shape (2 x elements,), at least the span's ends."""
    spans = critical_spans(state.scene, state.geometry)
    ends = [end for span in spans for end in span] or [state.depth.near_m, state.depth.far_m]
    return np.asarray(np.minimum(np.array(ends), FARTHEST_FOCUSED_M))


def sweep(state: State) -> Sweep:
    """The worst blur of what must be sharp at every mark of the lens, the frames focused as they are."""
    depth, settings = state.depth, state.scene.composition.settings
    marks = np.array(aperture_marks_between(state.scene.kit, settings.focal_length_mm))
    foci, ends = np.minimum(depth.focused_m, FARTHEST_FOCUSED_M), critical_ends(state)
    found = [
        least_blur(depth.optics.at_aperture(depth.optics.f_number * n / settings.aperture_n), foci, ends, depth.moved_m)
        for n in marks.tolist()
    ]
    worst = np.array([float(one.total_mm.max()) for one in found])
    airy = np.array([float(one.airy_mm.max()) for one in found])
    best, over = int(worst.argmin()), airy > depth.circle_of_confusion_mm
    # Logarithmic, so that a stop more of blur is as high everywhere.
    low, high = (
        math.log(min(float(airy.min()), depth.circle_of_confusion_mm) * 0.8),
        math.log(max(float(worst.max()), depth.circle_of_confusion_mm) * 1.15),
    )

    def height(size: float) -> float:
        return (math.log(max(size, 1e-9)) - low) / (high - low)

    used = int(np.abs(np.log(marks / settings.aperture_n)).argmin())
    span = math.log(marks[-1] / marks[0]) or 1.0
    takes_over = float(marks[over][0]) if over.any() else None
    holding = marks[worst <= depth.circle_of_confusion_mm * SHARP]
    text = aperture_text(float(marks[best]))
    sentence = (
        f"Everything that must be sharp holds from {aperture_text(float(holding[0]))} to {aperture_text(float(holding[-1]))}."
        if len(holding) > 1
        else f"Only {aperture_text(float(holding[0]))} holds everything."
        if len(holding)
        else f"No aperture holds everything with this focus; {text} comes nearest."
    )
    return Sweep(
        points=tuple(
            SweepPoint(
                aperture_n=float(n),
                text=aperture_text(float(n)),
                across=math.log(n / marks[0]) / span,
                worst_um=float(w) * 1000,
                height=height(float(w)),
                diffraction_height=max(height(float(a)), 0.0),
                holds=bool(w <= depth.circle_of_confusion_mm * SHARP),
                in_use=i == used,
                best=i == best,
            )
            for i, (n, w, a) in enumerate(zip(marks, worst, airy, strict=True))
        ),
        allowed_height=height(depth.circle_of_confusion_mm),
        best=Readout(value=float(marks[best]), text=text, explain="depth.sweep:best"),
        takes_over=Readout(
            value=takes_over,
            text=aperture_text(takes_over) if takes_over else "no aperture of this lens",
            explain="depth.sweep:takes over",
        ),
        sentence=sentence,
    )
