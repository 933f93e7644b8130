"""Projected silhouettes: what the view draws."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.framing.camera import NEAREST_DRAWN_M, Camera
from lucid_ridge.core.framing.silhouettes import LYING, Paint, SilhouetteKind, silhouette
from lucid_ridge.core.records import record

Array = NDArray[np.float64]

# Beyond this many frames outside the picture a point is drawn at the limit: keeps numbers small.
_FAR_OUTSIDE = 40.0


@record
class Outline:
    """A closed outline in normalised frame coordinates, x right and y down."""

    points: tuple[tuple[float, float], ...]
    paint: Paint


def clip_in_front(points: Array) -> Array:
    """The part of a polygon (K, 3) in camera axes that lies in front of the lens."""
    ahead = points[:, 2] - NEAREST_DRAWN_M
    if (ahead >= 0).all():
        return points
    if (ahead < 0).all():
        return points[:0]
    kept: list[Array] = []
    for i in range(len(points)):
        here, then = points[i], points[(i + 1) % len(points)]
        a, b = ahead[i], ahead[(i + 1) % len(points)]
        if a >= 0:
            kept.append(here)
        if (a >= 0) != (b >= 0):
            kept.append(here + (then - here) * (a / (a - b)))
    return np.array(kept)


def outlines(camera: Camera, kind: SilhouetteKind, seed: str, corners_m: Array) -> tuple[Outline, ...]:
    """Silhouette of one element, filled into its box (8, 3) and projected."""
    shapes = silhouette(kind, seed)
    origin, across = corners_m[0], corners_m[1] - corners_m[0]
    rise = corners_m[4] - corners_m[0] if kind in LYING else corners_m[3] - corners_m[0]
    flat = np.array([point for shape in shapes for point in shape.points])
    seen = camera.to_camera(origin + flat[:, :1] * across + flat[:, 1:] * rise)
    drawn: list[Outline] = []
    start = 0
    for shape in shapes:
        part = clip_in_front(seen[start : start + len(shape.points)])
        start += len(shape.points)
        if len(part) < 3:
            continue
        frame = np.clip(camera.to_frame(part), -_FAR_OUTSIDE, _FAR_OUTSIDE)
        drawn.append(Outline(points=tuple(map(tuple, frame.round(5).tolist())), paint=shape.paint))
    return tuple(drawn)
