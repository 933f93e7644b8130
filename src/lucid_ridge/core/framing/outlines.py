"""Projected silhouettes: what the view draws."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.framing.camera import NEAREST_DRAWN_M, Camera
from lucid_ridge.core.framing.silhouettes import LYING, Paint, ShadedSide, SilhouetteKind, silhouette
from lucid_ridge.core.records import record

Array = NDArray[np.float64]

FAR_OUTSIDE = 40.0
"""Outlines are cut, as polygons, this many frames beyond the picture on each side: it keeps the numbers small."""


@record
class Outline:
    """A closed outline in normalised frame coordinates, x right and y down."""

    points: tuple[tuple[float, float], ...]
    paint: Paint


def clip_in_front(points: Array) -> Array:
    """The part of a polygon (K, 3) in camera axes that lies in front of the lens."""
    return clip_at_plane(points, points[:, 2] - NEAREST_DRAWN_M)


def clip_at_plane(points: Array, inside: Array) -> Array:
    """The part of a polygon (K, D) where a value (K,), linear over it, is not below zero (Sutherland and Hodgman, 1974)."""
    keep = inside >= 0
    if keep.all():
        return points
    if not keep.any():
        return points[:0]
    following, after = np.roll(points, -1, axis=0), np.roll(inside, -1)
    crossed = keep != (after >= 0)
    with np.errstate(divide="ignore", invalid="ignore"):
        cut = points + (following - points) * (inside / (inside - after))[:, None]
    # Each corner that is kept, and after it where the side leaves or enters.
    both = np.stack([points, cut], axis=1).reshape(-1, points.shape[1])
    kept: Array = both[np.stack([keep, crossed], axis=1).ravel()]
    return kept


def clip_to_view(camera: Camera, points: Array, beyond: float = FAR_OUTSIDE) -> Array:
    """The part of a polygon (K, 3) in camera axes in front of the lens and within so many frames beside the picture.

    Cut in space, by planes through the lens, so that no side of it is bent.
    """
    half_x, half_y = (half * (1 + 2 * beyond) for half in camera.half_tangents)
    part = clip_in_front(points)
    for axis, half in ((0, half_x), (1, half_y)):
        for side in (1.0, -1.0):
            if len(part) > 2:
                part = clip_at_plane(part, half * part[:, 2] - side * part[:, axis])
    return part


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
    """Rings (K, 3) in the landscape as rings (M, 2) in the frame; what lies behind the lens, or far outside, is cut off.

    A ring of which nothing is left comes back with fewer than three points. All are projected in one go.
    """
    if not rings:
        return []
    seen = camera.to_camera(np.concatenate(rings))
    ahead = seen[:, 2] >= NEAREST_DRAWN_M
    safe = np.where(ahead[:, None], seen, np.array([0.0, 0.0, 1.0]))
    frame = camera.to_frame(safe)
    whole = ahead & (np.abs(frame - 0.5) <= 0.5 + FAR_OUTSIDE).all(axis=1)
    frame = frame.round(6)
    ends = np.cumsum([len(ring) for ring in rings]).tolist()
    found: list[Array] = []
    for start, end in zip((0, *ends), ends, strict=False):
        if whole[start:end].all():
            found.append(frame[start:end])
            continue
        part = clip_to_view(camera, seen[start:end])
        found.append(camera.to_frame(part).round(6) if len(part) > 2 else part[:0, :2])
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
