"""Depth: sharpness of each element, the even ruler, and the focus schools side by side."""

from __future__ import annotations

import math

import numpy as np

from lucid_ridge.core.camera.critical import school_focus_m
from lucid_ridge.core.camera.geometry import focus_distance
from lucid_ridge.core.camera.mounted_lens import focus_span_m
from lucid_ridge.core.exposure.tolerances import is_soft
from lucid_ridge.core.optics.depth_of_field import best_aperture
from lucid_ridge.core.optics.focus_schools import FocusSchool
from lucid_ridge.core.optics.gaps import Gap, gaps
from lucid_ridge.core.optics.slices import Slice, least_blur, slice_at
from lucid_ridge.core.optics.thin_lens import image_distance_mm
from lucid_ridge.core.records import record
from lucid_ridge.core.state.depth import FARTHEST_FOCUSED_M
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.depth.words import SCHOOL_TEXT, STANDARD_TEXT, no_slices_words
from lucid_ridge.reports.figures import Readout, aperture_text, distance_text, micrometres_text, significant

_TICK_ROOM = 0.065


@record
class ElementDepth:
    """One element's span along the lens axis and the blur at both ends."""

    id: str
    name: str
    in_frame: bool
    must_be_sharp: bool
    near: Readout
    far: Readout
    blur_near: Readout
    blur_far: Readout
    soft: bool
    left: float
    right: float


@record
class RulerTick:
    """A labelled distance on the even ruler."""

    position: float
    text: str


@record
class RulerSlice:
    """What one frame keeps sharp on the ruler."""

    left: float
    right: float
    focus: float
    text: str
    near_text: str
    far_text: str


@record
class RulerGap:
    """A stretch no frame keeps sharp."""

    left: float
    right: float
    blur: Readout


@record
class SchoolRow:
    """Where a school focuses and the worst blur it leaves at what must be sharp."""

    school: FocusSchool
    text: str
    focus: Readout
    focus_m: float | None
    worst: Readout
    holds: bool


@record
class DepthReport:
    """Sharpness. Ruler positions run from 0 (far) to 1 (near) in even steps of 1/distance."""

    circle_of_confusion: Readout
    standard_text: str
    airy: Readout
    allowance: Readout
    hyperfocal: Readout
    near_limit: Readout
    far_limit: Readout
    magnification: Readout
    best_aperture: Readout
    focus: Readout
    nearest_focus: Readout
    elements: tuple[ElementDepth, ...]
    ticks: tuple[RulerTick, ...]
    slices: tuple[RulerSlice, ...]
    gaps: tuple[RulerGap, ...]
    slices_problem: str
    focus_position: float
    hyperfocal_position: float | None
    schools: tuple[SchoolRow, ...]


class _Ruler:
    """Maps distances to 0..1, even in dioptres, over the span that matters."""

    def __init__(self, state: State) -> None:
        seen = ~np.isnan(state.geometry.near_m)
        nearest = [float(x) for x in state.geometry.near_m[seen]] + [state.depth.near_m]
        farthest = [float(x) for x in state.geometry.far_m[seen]] + [state.depth.far_m]
        near = 1 / max(min(nearest), 1e-3)
        far = 1 / max(farthest)
        if far < 0.25 * near:
            far = 0.0
        room = (near - far) * 0.06 or near * 0.1
        self.low = max(far - room, 0.0)
        self.high = near + room

    def __call__(self, distance_m: float) -> float:
        inverse = 0.0 if math.isinf(distance_m) else 1 / max(distance_m, 1e-6)
        return min(max((inverse - self.low) / (self.high - self.low), 0.0), 1.0)

    def ticks(self, units: str) -> tuple[RulerTick, ...]:
        marks = [m * 10.0**p for p in range(-3, 4) for m in (1, 1.2, 1.5, 2, 2.5, 3, 4, 5, 6, 8)]
        chosen: list[RulerTick] = []
        if self.low == 0:
            chosen.append(RulerTick(position=0.0, text="∞"))
        for mark in sorted(marks, reverse=True):
            position = (1 / mark - self.low) / (self.high - self.low)
            if not 0 <= position <= 1:
                continue
            if not chosen or position - chosen[-1].position >= _TICK_ROOM:
                text = (
                    distance_text(mark, "feet")
                    if units == "feet"
                    else f"{mark:g} m"
                    if mark >= 0.1
                    else f"{mark * 1000:g} mm"
                )
                chosen.append(RulerTick(position=position, text=text))
        return tuple(chosen)


def _figure(distance_m: float, state: State, explain: str = "") -> Readout:
    finite = distance_m < FARTHEST_FOCUSED_M / 10
    text = distance_text(distance_m, state.scene.units) if finite else "∞"
    return Readout(value=distance_m if finite else None, text=text, explain=explain)


def _elements(state: State, ruler: _Ruler) -> tuple[ElementDepth, ...]:
    depth, made = state.depth, []
    for i, element in enumerate(state.scene.composition.elements):
        near, far = float(state.geometry.near_m[i]), float(state.geometry.far_m[i])
        if math.isnan(near):
            nothing = Readout(value=None, text="out of frame")
            made.append(
                ElementDepth(
                    id=element.id,
                    name=element.name,
                    in_frame=False,
                    must_be_sharp=element.sharp,
                    near=nothing,
                    far=nothing,
                    blur_near=nothing,
                    blur_far=nothing,
                    soft=False,
                    left=0.0,
                    right=0.0,
                )
            )
            continue
        blurs = [float(one.total_mm[i]) for one in (depth.blur_near, depth.blur_far)]
        made.append(
            ElementDepth(
                id=element.id,
                name=element.name,
                in_frame=True,
                must_be_sharp=element.sharp,
                near=_figure(near, state, f"depth.axial_near:{element.id}"),
                far=_figure(far, state, f"depth.axial_far:{element.id}"),
                blur_near=Readout(
                    value=blurs[0] * 1000, text=micrometres_text(blurs[0]), explain=f"depth.blur_near:{element.id}"
                ),
                blur_far=Readout(
                    value=blurs[1] * 1000, text=micrometres_text(blurs[1]), explain=f"depth.blur_far:{element.id}"
                ),
                soft=element.sharp and is_soft(max(blurs), depth.circle_of_confusion_mm),
                left=ruler(far),
                right=ruler(near),
            )
        )
    return tuple(made)


def _schools(state: State) -> tuple[SchoolRow, ...]:
    settings, depth, lens = state.scene.composition.settings, state.depth, state.scene.kit.lens
    nearest, _ = focus_span_m(lens, settings.focal_length_mm)
    ends = np.array([depth.near_m, min(depth.far_m, FARTHEST_FOCUSED_M)])
    rows = []
    for school, text in SCHOOL_TEXT.items():
        focus = max(school_focus_m(state.scene, state.geometry, school, depth.hyperfocal_m), nearest)
        finite = np.array([min(focus, FARTHEST_FOCUSED_M)])
        worst = float(least_blur(depth.optics, finite, ends).total_mm.max())
        rows.append(
            SchoolRow(
                school=school,
                text=text,
                focus=_figure(focus, state, f"depth.school:{school}"),
                focus_m=focus if focus < 1e5 else None,
                worst=Readout(value=worst * 1000, text=micrometres_text(worst), explain=f"depth.school_blur:{school}"),
                holds=not is_soft(worst, depth.circle_of_confusion_mm),
            )
        )
    return tuple(rows)


def _ruler_slice(one: Slice, ruler: _Ruler, state: State) -> RulerSlice:
    return RulerSlice(
        left=ruler(one.far_m),
        right=ruler(one.near_m),
        focus=ruler(one.focus_m),
        text=_figure(one.focus_m, state).text,
        near_text=_figure(one.near_m, state).text,
        far_text=_figure(one.far_m, state).text,
    )


def focus_spread_mm(state: State) -> float:
    """Image-side distance between the foci of the nearest and the farthest that must be sharp, mm."""
    f = state.depth.optics.focal_length_mm
    closest = f / 1000 * 1.05
    ends = (max(state.depth.near_m, closest), max(state.depth.far_m, closest))
    near, far = (float(image_distance_mm(f, end)) for end in ends)
    return near - far


def slice_gaps(state: State) -> tuple[Gap, ...]:
    """What the foci of a technique leave soft; nothing where the camera moves between them."""
    depth = state.depth
    if depth.allowance_mm <= 0 or depth.moved_m.any():
        return ()
    foci = [min(one.focus_m, FARTHEST_FOCUSED_M) for one in depth.slices]
    return gaps(depth.optics, depth.sharp, foci, depth.near_m, depth.far_m)


def depth_report(state: State) -> DepthReport:
    """Everything the Depth bench shows."""
    settings, depth, wants = state.scene.composition.settings, state.depth, state.scene.composition.wants
    lens = state.scene.kit.lens
    ruler, focus = _Ruler(state), focus_distance(state.scene)
    single = slice_at(depth.optics, depth.sharp, focus)
    best = float(best_aperture(max(focus_spread_mm(state), 1e-4)))
    found = slice_gaps(state)
    m = depth.magnification
    return DepthReport(
        circle_of_confusion=Readout(
            value=depth.circle_of_confusion_mm * 1000,
            text=micrometres_text(depth.circle_of_confusion_mm),
            explain="depth.circle_of_confusion",
        ),
        standard_text=STANDARD_TEXT[wants.sharpness_standard],
        airy=Readout(value=depth.airy_mm * 1000, text=micrometres_text(depth.airy_mm), explain="depth.airy"),
        allowance=Readout(
            value=depth.allowance_mm * 1000, text=micrometres_text(depth.allowance_mm), explain="depth.allowance"
        ),
        hyperfocal=_figure(depth.hyperfocal_m, state, "depth.hyperfocal"),
        near_limit=_figure(single.near_m, state, "depth.near_limit"),
        far_limit=_figure(single.far_m, state, "depth.far_limit"),
        magnification=Readout(
            value=m,
            text=f"{significant(m, 2)}×" if m >= 0.01 else f"1:{1 / m:.0f}" if m > 1e-6 else "0",
            explain="depth.magnification",
        ),
        best_aperture=Readout(value=best, text=aperture_text(best), explain="depth.best_aperture"),
        focus=_figure(focus, state, "depth.focus"),
        nearest_focus=_figure(focus_span_m(lens, settings.focal_length_mm)[0], state, "depth.minimum_focus"),
        elements=_elements(state, ruler),
        ticks=ruler.ticks(state.scene.units),
        slices=tuple(_ruler_slice(one, ruler, state) for one in depth.slices),
        gaps=tuple(
            RulerGap(
                left=ruler(gap.far_m),
                right=ruler(gap.near_m),
                blur=Readout(
                    value=gap.worst_blur_mm * 1000, text=micrometres_text(gap.worst_blur_mm), explain=f"depth.gap:{n}"
                ),
            )
            for n, gap in enumerate(found)
        ),
        slices_problem=no_slices_words(depth.slices_problem),
        focus_position=ruler(focus),
        hyperfocal_position=ruler(depth.hyperfocal_m),
        schools=_schools(state),
    )
