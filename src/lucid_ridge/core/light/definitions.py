"""What people mean by golden and blue hour.

Usage varies; each definition is a span of the Sun's altitude over a level horizon, all common practice.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from lucid_ridge.core.light.direction import SUN_UP_DEG

GoldenHour = Literal["six_to_minus_four", "six_to_the_horizon", "ten_to_minus_two"]


@dataclass(frozen=True)
class HourSpans:
    """Bounds in degrees of airless altitude."""

    golden_high: float
    golden_low: float
    blue_high: float
    blue_low: float


DEFINITIONS: dict[GoldenHour, HourSpans] = {
    "six_to_minus_four": HourSpans(6.0, -4.0, -4.0, -6.0),
    "six_to_the_horizon": HourSpans(6.0, SUN_UP_DEG, -4.0, -8.0),
    "ten_to_minus_two": HourSpans(10.0, -2.0, -2.0, -6.0),
}
