"""How sharp is sharp: the schools of blur criterion.

Each gives the largest blur diameter on the sensor that still counts as sharp. The print
criterion is the format's diagonal over 1500 (common practice); the large-print one follows from
print width, viewing distance and an acuity of one arc-minute; the pixel one is two pixels.
"""

from __future__ import annotations

import math
from typing import Literal

Criterion = Literal["print", "large_print", "pixel"]

ACUITY_RAD = math.radians(1 / 60)
LARGE_PRINT_WIDTH_MM = 600.0
LARGE_PRINT_VIEWING_MM = 750.0

CRITERION_TEXT: dict[Criterion, str] = {
    "print": "print (diagonal/1500)",
    "large_print": "large print (60 cm wide seen from 75 cm)",
    "pixel": "pixel (2 pixels)",
}


def blur_criterion_mm(
    criterion: Criterion, picture_width_mm: float, picture_height_mm: float, pitch_mm: float
) -> float:
    """Largest blur diameter on the sensor, in mm, that the chosen school calls sharp.

    Parameters
    ----------
    criterion
        The school.
    picture_width_mm, picture_height_mm
        Sides on the sensor of the picture that is printed: the frame's, or the crop's.
    pitch_mm
        Distance between pixels; two of them are two pixels in a crop as well.

    """
    if criterion == "print":
        return math.hypot(picture_width_mm, picture_height_mm) / 1500.0
    if criterion == "large_print":
        enlargement = LARGE_PRINT_WIDTH_MM / max(picture_width_mm, picture_height_mm)
        return ACUITY_RAD * LARGE_PRINT_VIEWING_MM / enlargement
    return 2.0 * pitch_mm
