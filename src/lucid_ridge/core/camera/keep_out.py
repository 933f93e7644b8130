"""Where one may stand: lines not to cross."""

from __future__ import annotations

import math

from lucid_ridge.core.model.scene import Composition, KeepOutLine

KEEP_FROM_LINE_M = 0.5
"""How far behind a line a mend puts the standpoint."""


def side_of(line: KeepOutLine, east_m: float, north_m: float) -> float:
    """Distance in metres from a line, positive on its left, where one may stand; negative beyond it."""
    along_east, along_north = line.to_east_m - line.from_east_m, line.to_north_m - line.from_north_m
    length = max(math.hypot(along_east, along_north), 1e-9)
    return (along_east * (north_m - line.from_north_m) - along_north * (east_m - line.from_east_m)) / length


def brought_back(line: KeepOutLine, east_m: float, north_m: float, keep_m: float) -> tuple[float, float]:
    """The nearest point that keeps a distance from a line on its allowed side, east and north."""
    along_east, along_north = line.to_east_m - line.from_east_m, line.to_north_m - line.from_north_m
    length = max(math.hypot(along_east, along_north), 1e-9)
    by = keep_m - side_of(line, east_m, north_m)
    return east_m - along_north / length * by, north_m + along_east / length * by


def crossed_line(composition: Composition, east_m: float, north_m: float) -> KeepOutLine | None:
    """The first line of a composition on whose wrong side a point lies."""
    return next((line for line in composition.keep_out_lines if side_of(line, east_m, north_m) < 0), None)
