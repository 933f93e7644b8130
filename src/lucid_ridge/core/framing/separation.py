"""Separation in the frame: how far apart two outlines stand, and skylines that cut through a subject.

Outlines are polygons in frame heights (x scaled by the frame's aspect, so that a gap means the same
in both directions).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


def in_frame_heights(points: Array, aspect: float) -> Array:
    """Normalised frame coordinates (K, 2) in frame heights."""
    return np.asarray(points * np.array([aspect, 1.0]))


def _inside(points: Array, polygon: Array) -> NDArray[np.bool_]:
    """Which points (P, 2) lie inside a polygon (K, 2), by crossings of a ray to the right."""
    start, end = polygon, np.roll(polygon, -1, axis=0)
    y = points[:, 1][:, None]
    spans = (start[:, 1] > y) != (end[:, 1] > y)
    rise = np.where(end[:, 1] == start[:, 1], 1.0, end[:, 1] - start[:, 1])
    crossing = start[:, 0] + (y - start[:, 1]) / rise * (end[:, 0] - start[:, 0])
    return np.asarray((spans & (points[:, 0][:, None] < crossing)).sum(axis=1) % 2 == 1)


def _cross(a: Array, b: Array) -> Array:
    return np.asarray(a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0])


def _edges_cross(a: Array, b: Array) -> bool:
    """Whether any edge of one polygon crosses an edge of the other."""
    p, r = a[:, None], (np.roll(a, -1, axis=0) - a)[:, None]
    q, s = b[None], (np.roll(b, -1, axis=0) - b)[None]
    turn = _cross(r, s)
    with np.errstate(divide="ignore", invalid="ignore"):
        t = _cross(q - p, s) / turn
        u = _cross(q - p, r) / turn
    return bool(((np.abs(turn) > 1e-15) & (t >= 0) & (t <= 1) & (u >= 0) & (u <= 1)).any())


def _distance_to_edges(points: Array, polygon: Array) -> float:
    start = polygon[None]
    along = np.roll(polygon, -1, axis=0)[None] - start
    length = np.maximum((along**2).sum(axis=-1), 1e-18)
    share = np.clip(((points[:, None] - start) * along).sum(axis=-1) / length, 0, 1)
    nearest = start + share[..., None] * along
    return float(np.sqrt(((points[:, None] - nearest) ** 2).sum(axis=-1)).min())


def gap(a: Array, b: Array) -> float:
    """Gap between two outlines in frame heights; negative where they overlap.

    Apart, it is the least distance between them. Overlapping, it is minus the least shift along the
    frame's sides that would part their extents.
    """
    if _edges_cross(a, b) or _inside(a[:1], b)[0] or _inside(b[:1], a)[0]:
        return -float(np.minimum(a.max(axis=0) - b.min(axis=0), b.max(axis=0) - a.min(axis=0)).min())
    return min(_distance_to_edges(a, b), _distance_to_edges(b, a))


def skyline_y(outline: Array, x: float) -> float | None:
    """Height in the frame (down from the top) of an outline's upper edge at *x*; None beside it."""
    start, end = outline, np.roll(outline, -1, axis=0)
    spans = (start[:, 0] <= x) != (end[:, 0] <= x)
    if not spans.any():
        return None
    run = end[spans, 0] - start[spans, 0]
    y = start[spans, 1] + (x - start[spans, 0]) / run * (end[spans, 1] - start[spans, 1])
    return float(y.min())


def cut_share(subject: Array, skyline: float) -> float | None:
    """Where a skyline cuts a subject: share of its height from the foot; None where it passes clear."""
    top, foot = float(subject[:, 1].min()), float(subject[:, 1].max())
    if not top < skyline < foot:
        return None
    return (foot - skyline) / (foot - top)
