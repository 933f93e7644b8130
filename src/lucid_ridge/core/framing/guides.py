"""Guides laid over the picture: lines in crop coordinates, 0..1 with y down."""

from __future__ import annotations

import math
from typing import Literal

GuideName = Literal["none", "thirds", "centre", "diagonals", "golden"]
Line = tuple[float, float, float, float]

GOLDEN_SECTION = (math.sqrt(5) - 1) / 2
"""The longer part of a whole divided in golden section (Euclid, Elements II.11)."""


def _grid(*shares: float) -> tuple[Line, ...]:
    upright: tuple[Line, ...] = tuple((x, 0.0, x, 1.0) for x in shares)
    level: tuple[Line, ...] = tuple((0.0, y, 1.0, y) for y in shares)
    return upright + level


GUIDE_LINES: dict[GuideName, tuple[Line, ...]] = {
    "none": (),
    "thirds": _grid(1 / 3, 2 / 3),
    "centre": _grid(1 / 2),
    "diagonals": ((0.0, 0.0, 1.0, 1.0), (0.0, 1.0, 1.0, 0.0)),
    "golden": _grid(1 - GOLDEN_SECTION, GOLDEN_SECTION),
}
"""The lines of each guide as x0, y0, x1, y1."""
