"""How sharp is sharp: the schools of blur criterion.

Each gives the largest blur diameter on the sensor that still counts as sharp. The print
criterion is the format's diagonal over 1500 (common practice); the large-print one follows from
print width, viewing distance and an acuity of one arc-minute; the pixel one is two pixels.
"""

from __future__ import annotations

import math
from typing import Literal

SharpnessStandard = Literal["print", "large_print", "pixel"]

ACUITY_RAD = math.radians(1 / 60)
LARGE_PRINT_WIDTH_MM = 600.0
LARGE_PRINT_VIEWING_MM = 750.0


def circle_of_confusion_mm(
    standard: SharpnessStandard, picture_width_mm: float, picture_height_mm: float, pitch_mm: float
) -> float:
    """Largest blur diameter on the sensor, in mm, that the chosen school calls sharp.

    Parameters
    ----------
    standard
        What counts as sharp.
    picture_width_mm, picture_height_mm
        Sides on the sensor of the picture that is printed: the frame's, or the crop's.
    pitch_mm
        Distance between pixels; two of them are two pixels in a crop as well.

    """
    if standard == "print":
        return math.hypot(picture_width_mm, picture_height_mm) / 1500.0
    if standard == "large_print":
        enlargement = LARGE_PRINT_WIDTH_MM / max(picture_width_mm, picture_height_mm)
        return ACUITY_RAD * LARGE_PRINT_VIEWING_MM / enlargement
    return 2.0 * pitch_mm
