"""Explanations of depth."""

from __future__ import annotations

from lucid_ridge.core.state.background import background_m, background_share
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.depth.focus_check import check_card
from lucid_ridge.reports.depth.report import depth_report, slice_gaps
from lucid_ridge.reports.depth.sweep import sweep
from lucid_ridge.reports.depth.words import SCHOOL_TEXT, STANDARD_TEXT, no_slices_words
from lucid_ridge.reports.explanation import (
    BORN_WOLF,
    PINHOLE,
    PRACTICE,
    RAY,
    Explanation,
    Inputs,
    distance_of,
    index_of,
    lens_inputs,
    made,
)
from lucid_ridge.reports.figures import degrees_text, micrometres_text

_OF_ELEMENT = (
    "blur", "blur_near", "blur_far", "near_soft", "gap_soft", "far_soft", "axial_near", "axial_far", "defocus", "diffraction",
)  # fmt: skip


# Long: one row for each number that is explained.
def depth(state: State, what: str, of: str) -> Explanation | None:
    """The explanation of one depth figure, None for an unknown key."""
    depth, report = state.depth, depth_report(state)
    allowance = {"c′, left for defocus": micrometres_text(depth.allowance_mm)}
    focus = {"s, focus": report.focus.text}
    if what in _OF_ELEMENT:
        i, element = index_of(state, of)
        row = report.elements[i]
        if what.startswith("axial"):
            return made(
                f"Distance of the {element.name} along the lens axis",
                "nearest and farthest part inside the frame, measured along the axis",
                {
                    "lens axis": f"{degrees_text(state.scene.composition.azimuth_deg)}, pitch {degrees_text(state.scene.composition.pitch_deg)}"
                },
                f"{row.near.text} to {row.far.text}",
                PINHOLE,
                "A lens focuses on a plane, so what is off to the side counts as nearer than a tape says.",
            )
        foci = ", ".join(distance_of(state, one.focus_m) for one in depth.slices)
        return made(
            f"Blur of the {element.name}",
            "c = m (f/N) |d′ − s′| / d′ from the entrance pupil, with the Airy disk 2.44 λ N (1 + m/p) added in squares",
            {
                **lens_inputs(state),
                "s, focus": foci,
                "D, along the axis": f"{row.near.text} to {row.far.text}",
                "defocus, near and far": f"{micrometres_text(float(depth.blur_near.defocus_mm[i]))} and {micrometres_text(float(depth.blur_far.defocus_mm[i]))}",
                "Airy disk": report.airy.text,
            },
            f"{row.blur_near.text} near, {row.blur_far.text} far; {report.circle_of_confusion.text} allowed",
            f"{RAY}; {BORN_WOLF}",
        )
    if what == "way":
        return made(
            "Worst blur of what must be sharp", "the largest, over all that must be sharp, of the least blur in any of the frames",
            {**lens_inputs(state), "how it is focused": of.replace("_", " ")}, "", f"{RAY}; {BORN_WOLF}",
        )  # fmt: skip
    if what in ("school", "school_blur"):
        for school in report.schools:
            if school.school == of:
                return made(
                    f"Focus {SCHOOL_TEXT[school.school]}",
                    {
                        "hyperfocal": "H = f² / (N c′) + f",
                        "third_in": "level ground seen a third of the way up the picture",
                        "subject": "nearest part of the subject",
                        "balanced": "2 n f / (n + f)",
                    }[school.school],
                    {
                        "nearest that must be sharp": distance_of(state, depth.near_m),
                        "farthest": distance_of(state, depth.far_m),
                        **allowance,
                    },
                    f"{school.focus.text}, worst blur {school.worst.text}",
                    RAY if school.school in ("hyperfocal", "balanced") else PRACTICE,
                )
        return None
    own = _own_inputs(state, what, of)
    if own is None:
        return None
    table = {
        "circle_of_confusion": (
            "How much blur counts as sharp", {"print": "diagonal of the picture / 1500", "large_print": "acuity × viewing distance / enlargement", "pixel": "2 × pixel pitch"}[state.scene.composition.wants.sharpness_standard],
            {"school": STANDARD_TEXT[state.scene.composition.wants.sharpness_standard]}, report.circle_of_confusion.text, PRACTICE, "",
        ),
        "airy": (
            "Diffraction", "2.44 λ N (1 + m/p)", {**lens_inputs(state), "m, magnification": report.magnification.text,
            "p, pupil magnification": f"{state.scene.kit.lens.pupil_magnification:g}", "λ": "550 nm"}, report.airy.text, BORN_WOLF, "",
        ),
        "allowance": (
            "What diffraction leaves for defocus", "√(c² − airy²)",
            {"c, circle of confusion": report.circle_of_confusion.text, "Airy disk": report.airy.text}, report.allowance.text, BORN_WOLF, "",
        ),
        "hyperfocal": (
            "Hyperfocal distance", "H = f² / (N c′) + f", {**lens_inputs(state), **allowance}, report.hyperfocal.text, RAY,
            "From the lens, not from the sensor.",
        ),
        "limits": (
            "Depth of field of one frame", "where c = m (f/N) |d′ − s′| / d′ is what is left for defocus",
            {**lens_inputs(state), **focus, "H": report.hyperfocal.text}, f"{report.near_limit.text} to {report.far_limit.text}", RAY, "",
        ),
        "magnification": ("Magnification", "m = f / (s − f)", {**lens_inputs(state), **focus}, report.magnification.text, RAY, ""),
        "best_aperture": (
            "Best aperture for this depth in one frame", "N = √(375 Δv)",
            {"Δv": "image-side distance between the foci of nearest and farthest"}, report.best_aperture.text,
            "P. K. Hansma, Photo Techniques, March/April 1996",
            "Where (Δv / 2N)² + (N / 750 mm)² is least: blur by focus, and the Airy disk at 546 nm.",
        ),
        "measures": (
            "Blur in other measures", "pixels = blur / (sensor width / pixels across); on the print = blur × print width / width of the picture on the sensor",
            {**own, "sensor": f"{state.scene.kit.body.sensor_width_mm:g} mm, {state.scene.kit.body.pixels_across} pixels across",
             "print": f"{state.scene.composition.wants.print_width_mm:g} mm wide", "circle of confusion": report.circle_of_confusion.text},
            "defocus and the Airy disk, added in squares", f"{RAY}; {BORN_WOLF}", "",
        ),
        "sweep": (
            "Worst blur against aperture", "√((d N₀/N)² + (2.44 λ N (1 + m/p))²), the largest over all that must be sharp",
            {**own, **lens_inputs(state), **focus, "circle of confusion": report.circle_of_confusion.text}, sweep(state).sentence, f"{RAY}; {BORN_WOLF}",
            "Defocus falls with the f-number, diffraction grows with it: between them lies a best aperture.",
        ),
        "blur_there": (
            "Blur there", "c = m (f/N) |d′ − s′| / d′ from the entrance pupil; of several frames the sharpest, in a gap the worst place",
            {**own, **lens_inputs(state), "focused at": ", ".join(distance_of(state, one.focus_m) for one in depth.slices)}, "", RAY, "",
        ),
        "breathing": (
            "Focus breathing", "v of the nearest focus / v of the farthest − 1",
            {**lens_inputs(state), "slices": str(len(depth.slices))}, "the picture grows so much from the farthest slice to the nearest",
            f"{RAY}: v = f s / (s − f)", "Frame that much wider: aligning the slices cuts it off. Real lenses may breathe more or less.",
        ),
        "background": (
            "Blur disk of the background", "(f/N) m b / (s′ + b), as a share of the picture's width; of slices the least",
            {**lens_inputs(state), **focus, "background at": distance_of(state, background_m(state))},
            f"{background_share(state):.2%}", RAY, "",
        ),
        "focus": ("Focus", "set by you, or by a mend", focus, report.focus.text, "setting", ""),
        "minimum_focus": (
            "Nearest focus from the lens", "s + f s/(s − f) = d, far root",
            {**lens_inputs(state), "d, from the sensor": distance_of(state, state.scene.kit.lens.minimum_focus_m)},
            report.nearest_focus.text, RAY, "",
        ),
        "slices": (
            "Slices", "each from v/(1 + k) to v/(1 − k) behind the lens, k = c′N/(f p), c′ what its own Airy disk leaves; the fewest that lap over",
            {**own, **lens_inputs(state), **allowance, "from": distance_of(state, depth.near_m), "to": distance_of(state, depth.far_m),
             "overlap": f"{state.scene.composition.technique.overlap:.0%}"},
            f"{len(depth.slices)} frames", f"{RAY}; derived in docs/decisions/0012", no_slices_words(depth.slices_problem),
        ),
    }  # fmt: skip
    same = {
        "gap": "blur_there", "check": "blur_there", "near_limit": "limits", "far_limit": "limits", "slice": "slices", "pixels": "measures", "print": "measures", "airy_most": "airy",
        "closest_wanted": "minimum_focus", "farthest_wanted": "minimum_focus",
    }  # fmt: skip
    found = table.get(same.get(what, what))
    return None if found is None else made(*found)


def _own_inputs(state: State, what: str, of: str) -> Inputs | None:
    """What one row of a list has that the others have not; None where there is no such row."""
    if what in ("pixels", "print"):
        i, element = index_of(state, of)
        blur = float(state.depth.worse.total_mm[i])
        return {f"blur of the {element.name}": micrometres_text(blur)}
    if what == "check":
        row = next((one for one in check_card(state) if one.what == of), None)
        return None if row is None else {row.name: row.distance.text}
    if what == "slice":
        number = int(of) if of.isdigit() else 0
        if not 1 <= number <= len(state.depth.slices):
            return None
        one = state.depth.slices[number - 1]
        return {f"slice {number} holds": f"{distance_of(state, one.near_m)} to {distance_of(state, one.far_m)}"}
    if what == "sweep":
        return {"which": of} if of else {}
    if what == "gap":
        found = slice_gaps(state)
        if not of.isdigit() or int(of) >= len(found):
            return None
        gap = found[int(of)]
        return {"soft": f"{distance_of(state, gap.near_m)} to {distance_of(state, gap.far_m)}"}
    return {}
