"""Separation in the frame: how far apart two things stand, and skylines that cut through a subject.

Areas are Shapely polygons in frame heights, see `areas`.
"""

from __future__ import annotations

import shapely
from shapely.geometry.base import BaseGeometry


def gap(a: BaseGeometry, b: BaseGeometry) -> float:
    """Gap between two areas in frame heights; negative where they overlap.

    Apart, it is the least distance between them. Overlapping, it is minus the least shift along the
    frame's sides that would part their extents.
    """
    if not a.intersects(b):
        return float(a.distance(b))
    left_a, top_a, right_a, foot_a = a.bounds
    left_b, top_b, right_b, foot_b = b.bounds
    return -float(min(right_a - left_b, right_b - left_a, foot_a - top_b, foot_b - top_a))


def skyline_y(area: BaseGeometry, x: float) -> float | None:
    """Height in the frame (down from the top) of an area's upper edge at *x*; None beside it."""
    low, top, high, foot = area.bounds
    if not low <= x <= high:
        return None
    crossing = area.intersection(shapely.LineString([(x, top - 1), (x, foot + 1)]))
    return None if crossing.is_empty else float(crossing.bounds[1])


def cut_share(subject: BaseGeometry, skyline: float) -> float | None:
    """Where a skyline cuts a subject: share of its height from the foot; None where it passes clear."""
    _, top, _, foot = subject.bounds
    if not top < skyline < foot:
        return None
    return float((foot - skyline) / (foot - top))
