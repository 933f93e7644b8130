"""Words of sharpness that several reports share."""

from __future__ import annotations

import math

from lucid_ridge.core.camera.camera_stack import NoSlices
from lucid_ridge.core.optics.circle_of_confusion import SharpnessStandard
from lucid_ridge.core.optics.focus_schools import FocusSchool
from lucid_ridge.core.stops.scales import on_third, third_index
from lucid_ridge.reports.figures import aperture_text

STANDARD_TEXT: dict[SharpnessStandard, str] = {
    "print": "print (diagonal/1500)",
    "large_print": "large print (60 cm wide seen from 75 cm)",
    "pixel": "pixel (2 pixels)",
}


SCHOOL_TEXT: dict[FocusSchool, str] = {
    "hyperfocal": "hyperfocal",
    "third_in": "a third in",
    "subject": "at the subject",
    "balanced": "balanced",
}


def diffraction_words(widest_f_number: float) -> str:
    """Why there is no stack, and the aperture that has one: a mark at or wider than the limit."""
    mark = on_third(math.floor(third_index(widest_f_number, "aperture") - 1e-6), "aperture")
    return (
        f"So close, diffraction alone is more blur than counts as sharp: no stack mends that. Open to {aperture_text(mark)} "
        "or wider."
    )


def no_slices_words(why: NoSlices | None) -> str:
    """Why slices that were asked for could not be planned; empty where they could."""
    if why is None:
        return ""
    if why.widest_f_number is not None:
        return diffraction_words(why.widest_f_number)
    return why.reason
