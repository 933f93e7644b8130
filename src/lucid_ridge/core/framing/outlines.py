"""Projected silhouettes: what the view draws."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.framing.camera import NEAREST_DRAWN_M, Camera
from lucid_ridge.core.framing.silhouettes import LYING, Paint, ShadedSide, SilhouetteKind, silhouette
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


def shapes_in_space(
    kind: SilhouetteKind, seed: str, corners_m: Array, shaded: ShadedSide = ""
) -> tuple[tuple[Paint, Array], ...]:
    """Silhouette of one element filled into its box (8, 3): paint and points (K, 3) of each outline."""
    origin, across = corners_m[0], corners_m[1] - corners_m[0]
    away, up = corners_m[4] - corners_m[0], corners_m[3] - corners_m[0]
    lying = kind in LYING
    found: list[tuple[Paint, Array]] = []
    for shape in silhouette(kind, seed, shaded):
        flat = np.array(shape.points)
        foot = origin + shape.away * away
        found.append((shape.paint, foot + flat[:, :1] * across + flat[:, 1:] * (away if lying else up)))
    return tuple(found)


def curtain(crest_m: Array, foot_m: float) -> tuple[tuple[Paint, Array], ...]:
    """A ridgeline as the outline between its crest (K, 3) and a level foot."""
    below = crest_m[::-1].copy()
    below[:, 2] = np.minimum(foot_m, below[:, 2])
    return (("body", np.concatenate([crest_m, below])),)


def project_rings(camera: Camera, rings: list[Array]) -> list[Array]:
    """Rings (K, 3) in the landscape as rings (M, 2) in the frame; what lies behind the lens is cut off.

    A ring wholly behind it comes back with fewer than three points. All are projected in one go.
    """
    if not rings:
        return []
    seen = camera.to_camera(np.concatenate(rings))
    ahead = seen[:, 2] >= NEAREST_DRAWN_M
    safe = np.where(ahead[:, None], seen, np.array([0.0, 0.0, 1.0]))
    frame = np.clip(camera.to_frame(safe), -_FAR_OUTSIDE, _FAR_OUTSIDE).round(6)
    ends = np.cumsum([len(ring) for ring in rings]).tolist()
    found: list[Array] = []
    for start, end in zip((0, *ends), ends, strict=False):
        if ahead[start:end].all():
            found.append(frame[start:end])
            continue
        part = clip_in_front(seen[start:end])
        found.append(
            np.clip(camera.to_frame(part), -_FAR_OUTSIDE, _FAR_OUTSIDE).round(6) if len(part) > 2 else part[:0, :2]
        )
    return found


def project_shapes(camera: Camera, shapes: tuple[tuple[Paint, Array], ...]) -> tuple[Outline, ...]:
    """Outlines (K, 3) in the landscape as the camera sees them; what lies behind it is cut off."""
    rings = project_rings(camera, [points for _, points in shapes])
    return tuple(
        Outline(points=as_points(ring), paint=paint)
        for (paint, _), ring in zip(shapes, rings, strict=True)
        if len(ring) > 2
    )


def as_points(ring: Array) -> tuple[tuple[float, float], ...]:
    """A ring (K, 2) as plain numbers."""
    return tuple(map(tuple, ring.tolist()))
