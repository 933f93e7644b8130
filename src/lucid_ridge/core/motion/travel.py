"""How far what moves travels in the picture, and how long one may hold the camera by hand.

References
----------
.. [1] Common practice: no slower by hand than 1/focal length (full-frame equivalent).

"""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from annotated_types import Ge, Gt, Le
from numpy.typing import ArrayLike, NDArray

from lucid_ridge.core.records import record

Array = NDArray[np.float64]

WaterLook = Literal["any", "freeze", "texture", "soft", "glass"]

# Shutter times in seconds for a look of moving water, by the seconds school (common practice).
LOOK_SECONDS: dict[WaterLook, tuple[float, float]] = {
    "any": (0.0, float("inf")),
    "freeze": (0.0, 1 / 1000),
    "texture": (1 / 4, 2.0),
    "soft": (5.0, 7.0),
    "glass": (30.0, 1800.0),
}
# Nominal marks are up to a sixth of a stop from their names (1/1000 is 1/1024, 30 s is 32 s).
LOOK_SLACK_STOPS = 1 / 6

MotionSchool = Literal["seconds", "travel"]

# Travel of water in frame heights for a look, by the travel school (common practice: set so that both schools
# agree for water at 0.8 m/s, eight metres before a 24 mm lens on full frame, a tenth of the height in a second).
LOOK_TRAVEL: dict[WaterLook, tuple[float, float]] = {
    "any": (0.0, float("inf")),
    "freeze": (0.0, 0.0),
    "texture": (0.025, 0.2),
    "soft": (0.5, 0.7),
    "glass": (3.0, float("inf")),
}

FULL_FRAME_DIAGONAL_MM = float(np.hypot(36.0, 24.0))


def travel_mm(speed_m_s: ArrayLike, shutter_s: ArrayLike, image_distance_mm: ArrayLike, distance_m: ArrayLike) -> Array:
    """Travel on the sensor in mm, ``speed x t x v/D``, of something moving across the view."""
    scale = np.asarray(image_distance_mm, dtype=float) / np.asarray(distance_m, dtype=float)
    return np.asarray(np.asarray(speed_m_s, dtype=float) * np.asarray(shutter_s) * scale)


def freezing_shutter_s(
    speed_m_s: ArrayLike, allowed_mm: ArrayLike, image_distance_mm: ArrayLike, distance_m: ArrayLike
) -> Array:
    """Longest shutter time in seconds that keeps the travel within *allowed_mm*; inf at rest."""
    per_second = travel_mm(speed_m_s, 1.0, image_distance_mm, distance_m)
    with np.errstate(divide="ignore"):
        return np.asarray(np.asarray(allowed_mm, dtype=float) / per_second)


@record
class OwnLook:
    """The shutter times at which somebody likes a look of moving water, seconds, and from how many rated takes that is known."""

    look: WaterLook
    shortest_s: Annotated[float, Gt(0), Le(1e6)]
    longest_s: Annotated[float, Gt(0), Le(1e6)]
    takes: Annotated[int, Ge(0)] = 0


def look_window_s(
    look: WaterLook,
    school: MotionSchool,
    heights_per_s: float,
    allowed_heights: float,
    own: OwnLook | None = None,
) -> tuple[float, float]:
    """Shutter times in seconds that give a look, by a school.

    Parameters
    ----------
    look, school
        What is wanted, and who says what it takes.
    heights_per_s
        How fast the water goes through the picture, frame heights a second; 0 where it is not known.
    allowed_heights
        Travel in frame heights that still counts as sharp, for the frozen look.
    own
        What the photographer likes best; it takes the place of common practice in the seconds school.

    """
    if school == "seconds" or heights_per_s <= 0:
        return LOOK_SECONDS[look] if own is None else (own.shortest_s, own.longest_s)
    low, high = LOOK_TRAVEL[look]
    return low / heights_per_s, (allowed_heights if look == "freeze" else high) / heights_per_s


def within_look(window_s: tuple[float, float], shutter_s: float) -> bool:
    """Whether a shutter time lies in a look's window, nominal marks counted as their names."""
    slack = 2**LOOK_SLACK_STOPS
    return window_s[0] / slack <= shutter_s <= window_s[1] * slack


def equivalent_focal_length_mm(focal_length_mm: ArrayLike, sensor_width_mm: float, sensor_height_mm: float) -> Array:
    """Focal length with the same diagonal angle of view on 36 x 24 mm."""
    diagonal = float(np.hypot(sensor_width_mm, sensor_height_mm))
    return np.asarray(np.asarray(focal_length_mm, dtype=float) * FULL_FRAME_DIAGONAL_MM / diagonal)


RULE_OF_THUMB_SHARE = 1 / 1500
"""Blur that the rule of thumb goes with, as a share of the frame's diagonal: a print's."""


def hand_held_limit_s(
    equivalent_mm: ArrayLike,
    stabiliser_stops: ArrayLike = 0.0,
    magnification: ArrayLike = 0.0,
    allowed_share: ArrayLike = RULE_OF_THUMB_SHARE,
    own_factor: ArrayLike = 1.0,
) -> Array:
    """Longest shutter time by hand in seconds, ``2^s k (c/d) 1500 / (f_eq (1 + m))`` [1]_.

    Parameters
    ----------
    equivalent_mm
        Full-frame equivalent focal length.
    stabiliser_stops
        What a stabiliser gives, s.
    magnification
        Of the subject.
    allowed_share
        Blur that counts as sharp over the frame's diagonal, c/d. The rule of 1/focal length is as old as prints of a
        1500th of the diagonal; shake grows with time, so half the blur allows half the time.
    own_factor
        How much longer than others the photographer holds still, k.

    """
    rule = np.asarray(equivalent_mm, dtype=float) * (1.0 + np.asarray(magnification, dtype=float))
    eased = 2.0 ** np.asarray(stabiliser_stops, dtype=float) * np.asarray(own_factor, dtype=float)
    return np.asarray(eased * np.asarray(allowed_share, dtype=float) / RULE_OF_THUMB_SHARE / rule)
