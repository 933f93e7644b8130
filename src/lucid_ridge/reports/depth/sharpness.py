"""The study of depth: blur in every measure, the sweep of apertures, schools side by side, the focus check."""

from __future__ import annotations

import math
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.camera.critical import critical_spans, school_focus_m
from lucid_ridge.core.camera.mounted_lens import focus_span_m
from lucid_ridge.core.changes.kinds import Change, SetTo, TakeSlices
from lucid_ridge.core.exposure.tolerances import is_soft
from lucid_ridge.core.optics.depth_of_field import total_blur_mm
from lucid_ridge.core.optics.gaps import gaps
from lucid_ridge.core.optics.slices import gapless_slices, least_blur
from lucid_ridge.core.records import record
from lucid_ridge.core.state.depth import FARTHEST_FOCUSED_M
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.depth.focus_check import CheckRow, StackRow, check_card, stack_rows
from lucid_ridge.reports.depth.sweep import Sweep, metres, micrometres, sweep
from lucid_ridge.reports.depth.words import SCHOOL_TEXT
from lucid_ridge.reports.figures import Readout, micrometres_text, significant

Array = NDArray[np.float64]
SchoolName = Literal["hyperfocal", "third_in", "subject", "balanced", "two_points", "three_points", "even"]


@record
class BlurRow:
    """The blur of one element at its worse end: defocus, diffraction and both, in every measure."""

    id: str
    name: str
    must_be_sharp: bool
    soft: bool
    defocus: Readout
    diffraction: Readout
    total: Readout
    pixels: Readout
    on_print: Readout


@record
class FocusWay:
    """Where a school focuses, the frames it takes, the worst blur and the gaps that it leaves."""

    school: SchoolName
    text: str
    frames: int
    focuses: str
    worst: Readout
    gap_count: int
    gap_text: str
    holds: bool
    changes: tuple[Change, ...]


@record
class SharpnessStudy:
    """The study of depth at one focus and aperture."""

    blurs: tuple[BlurRow, ...]
    print_text: str
    sweep: Sweep
    ways: tuple[FocusWay, ...]
    check: tuple[CheckRow, ...]
    stack: tuple[StackRow, ...]
    snapped: tuple[Change, ...]
    snapped_text: str
    breathing: Readout


def print_enlargement(state: State) -> float:
    """How many times larger than on the sensor the picture, after the crop, is printed."""
    return state.scene.composition.wants.print_width_mm / max(state.geometry.picture_mm)


def _blurs(state: State) -> tuple[BlurRow, ...]:
    depth, body = state.depth, state.scene.kit.body
    enlargement = print_enlargement(state)
    pitch = body.sensor_width_mm / body.pixels_across
    made = []
    for i, element in enumerate(state.scene.composition.elements):
        if math.isnan(state.geometry.near_m[i]):
            continue
        defocus, airy, total = (float(one[i]) for one in depth.worse)
        key = f"depth.blur:{element.id}"
        made.append(
            BlurRow(
                id=element.id,
                name=element.name,
                must_be_sharp=element.sharp,
                soft=element.sharp and is_soft(total, depth.circle_of_confusion_mm),
                defocus=micrometres(defocus, f"depth.defocus:{element.id}"),
                diffraction=micrometres(airy, f"depth.diffraction:{element.id}"),
                total=micrometres(total, key),
                pixels=Readout(
                    value=total / pitch,
                    text=f"{significant(total / pitch, 2)} px",
                    explain=f"depth.pixels:{element.id}",
                ),
                on_print=Readout(
                    value=total * enlargement,
                    text=f"{significant(total * enlargement, 2)} mm",
                    explain=f"depth.print:{element.id}",
                ),
            )
        )
    return tuple(made)


def focus_ways(state: State) -> tuple[FocusWay, ...]:
    """Every school on the same scene at the same aperture."""
    scene, depth, lens = state.scene, state.depth, state.scene.kit.lens
    settings = scene.composition.settings
    nearest, farthest = focus_span_m(lens, settings.focal_length_mm)
    spans = critical_spans(scene, state.geometry)

    def reached(focus: float) -> float:
        return min(max(focus, nearest), farthest)

    one = {s: reached(school_focus_m(scene, state.geometry, s, depth.hyperfocal_m)) for s in SCHOOL_TEXT}
    subject, near = one["subject"], reached(depth.near_m)
    sets: list[tuple[SchoolName, str, tuple[float, ...]]] = [(s, SCHOOL_TEXT[s], (at,)) for s, at in one.items()]
    sets.append(("two_points", "two points: near, subject", tuple(dict.fromkeys((near, subject)))))
    far = reached(depth.far_m)
    sets.append(
        ("three_points", "three points: near, a third in, far", tuple(dict.fromkeys((near, one["third_in"], far))))
    )
    try:
        even = gapless_slices(depth.optics, depth.sharp, depth.near_m, depth.far_m, scene.composition.technique.overlap)
        sets.append(("even", "even slices with overlap", tuple(s.focus_m for s in even)))
    except ValueError:
        pass
    made = []
    ends = np.minimum(
        np.array([end for span in spans for end in span] or [depth.near_m, depth.far_m]), FARTHEST_FOCUSED_M
    )
    for school, text, foci in sets:
        finite = [min(s, FARTHEST_FOCUSED_M) for s in foci]
        # Between two focused points what must be sharp may lie at any depth of an element that has some.
        inside = np.concatenate([ends, *[np.geomspace(a, min(b, FARTHEST_FOCUSED_M), 9) for a, b in spans]])
        worst = float(least_blur(depth.optics, np.array(finite), inside).total_mm.max())
        found = gaps(depth.optics, depth.sharp, finite, depth.near_m, depth.far_m) if depth.allowance_mm > 0 else ()
        softest = max(found, key=lambda gap: gap.worst_blur_mm, default=None)
        slices = (
            TakeSlices(mode="gapless") if school == "even" else TakeSlices(mode="manual", foci_m=tuple(sorted(finite)))
        )
        single: tuple[Change, ...] = (
            TakeSlices(mode="one"),
            SetTo(setting="focus", value=foci[0] if foci[0] < 1e5 else None),
        )
        made.append(
            FocusWay(
                school=school,
                text=text,
                frames=len(foci),
                focuses=", ".join(metres(state, s).text for s in (foci if len(foci) <= 4 else (*foci[:2], foci[-1]))),
                worst=micrometres(worst, f"depth.way:{school}"),
                gap_count=len(found),
                gap_text=""
                if softest is None
                else f"{metres(state, softest.near_m).text} to {metres(state, softest.far_m).text}",
                holds=not is_soft(worst, depth.circle_of_confusion_mm),
                changes=single if len(foci) == 1 and school != "even" else (slices,),
            )
        )
    return tuple(made)


def sharpness_study(state: State) -> SharpnessStudy:
    """Everything the Depth bench shows beyond the evaluation."""
    depth = state.depth
    optics = depth.optics
    rows, snapped = stack_rows(state)
    text = ""
    changes: tuple[Change, ...] = ()
    if len(rows) > 1 and not depth.moved_m.any() and depth.allowance_mm > 0:
        foci = sorted({min(s, 1e5) for s in snapped})
        left = gaps(optics, depth.sharp, foci, depth.near_m, depth.far_m)
        changes = (TakeSlices(mode="manual", foci_m=tuple(foci)),)
        text = (
            f"Focused on edges that can be seen, {len(foci)} frames leave no gap."
            if not left
            else f"Focused on edges, {len(left)} {'gap is' if len(left) == 1 else 'gaps are'} left, up to "
            f"{micrometres_text(float(total_blur_mm(max(g.worst_blur_mm for g in left), depth.airy_mm)))}; "
            f"{micrometres_text(depth.circle_of_confusion_mm)} allowed."
        )
    nearest = optics.focal_length_mm / 1000 * 1.001
    drawn = [
        optics.perspective_mm(optics.magnification(min(max(one, nearest), FARTHEST_FOCUSED_M)))
        for one in depth.focused_m.tolist()
    ]
    breathing = max(drawn) / min(drawn) - 1
    return SharpnessStudy(
        blurs=_blurs(state),
        print_text=f"in a print {state.scene.composition.wants.print_width_mm / 10:g} cm wide",
        sweep=sweep(state),
        ways=focus_ways(state),
        check=check_card(state),
        stack=rows,
        snapped=changes,
        snapped_text=text,
        breathing=Readout(value=breathing * 100, text=f"{breathing:.1%}", explain="depth.breathing"),
    )
