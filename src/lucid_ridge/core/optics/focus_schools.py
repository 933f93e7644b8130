"""Where to focus: the schools, as distances from the principal plane in metres."""

from __future__ import annotations

import math
from typing import Literal

FocusSchool = Literal["hyperfocal", "third_in", "subject", "balanced"]


def balanced_focus_m(near_m: float, far_m: float) -> float:
    """Focus that blurs near and far equally: the harmonic mean ``2 n f/(n + f)``; 2 n to infinity."""
    return 2.0 * near_m if math.isinf(far_m) else 2.0 * near_m * far_m / (near_m + far_m)


def third_in_m(
    camera_height_m: float,
    pitch_deg: float,
    vertical_fov_deg: float,
    near_m: float,
    far_m: float,
) -> float:
    """Distance along the lens axis to the level ground a third of the way up the picture.

    The practice is "focus a third of the way up the picture". Where that line of sight does not
    meet the ground in front of the camera, a third of the way from near to far is taken, and twice
    the near distance where far is infinite.
    """
    # A third up is a sixth of the picture's height below its middle.
    offset = math.atan(math.tan(math.radians(vertical_fov_deg / 2)) / 3.0)
    below = offset - math.radians(pitch_deg)
    if camera_height_m > 0 and below > math.radians(0.05) and below < math.pi / 2:
        distance = camera_height_m / math.sin(below) * math.cos(offset)
        if near_m <= distance <= far_m:
            return distance
    return 2.0 * near_m if math.isinf(far_m) else near_m + (far_m - near_m) / 3.0
