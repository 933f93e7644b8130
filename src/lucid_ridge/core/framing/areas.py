"""Areas in the frame: what an element covers, what hides it, what is left of sky.

Areas are polygons in frame heights (x scaled by the frame's aspect), so that they measure alike in
both directions. The polygon arithmetic is Shapely's.
"""

from __future__ import annotations

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from lucid_ridge.core.framing.outlines import Outline

NOTHING: BaseGeometry = shapely.Polygon()


def areas_covered(drawn: list[tuple[Outline, ...]], aspect: float) -> list[BaseGeometry]:
    """What each element's outlines cover together; empty where nothing of it is in front of the lens."""
    rings = [(n, np.array(o.points)) for n, outlines in enumerate(drawn) for o in outlines if o.paint != "shade"]
    if not rings:
        return [NOTHING] * len(drawn)
    which = np.repeat(np.arange(len(rings)), [len(ring) for _, ring in rings])
    points = np.concatenate([ring for _, ring in rings]) * (aspect, 1.0)
    parts = shapely.polygons(shapely.linearrings(points, indices=which))
    unsound = ~shapely.is_valid(parts)
    if unsound.any():
        parts[unsound] = shapely.buffer(parts[unsound], 0)
    owners = np.array([n for n, _ in rings])
    found: list[BaseGeometry] = []
    for n in range(len(drawn)):
        own = parts[owners == n]
        found.append(NOTHING if len(own) == 0 else own[0] if len(own) == 1 else shapely.union_all(own))
    return found


def area_covered(drawn: tuple[Outline, ...], aspect: float) -> BaseGeometry:
    """What one element's outlines cover together."""
    return areas_covered([drawn], aspect)[0]


def picture_area(crop: tuple[float, float, float, float], aspect: float) -> BaseGeometry:
    """The picture after the crop."""
    left, top, width, height = crop
    return shapely.box(left * aspect, top, (left + width) * aspect, top + height)


def above_horizon(horizon: tuple[float, float] | None, aspect: float, pitch_deg: float) -> BaseGeometry:
    """The half of the frame above the level horizon; all or none of it where the horizon is out of frame."""
    if horizon is None:
        return shapely.box(0, 0, aspect, 1) if pitch_deg > 0 else NOTHING
    left, right = horizon
    return shapely.Polygon([(0, -9), (aspect, -9), (aspect, right), (0, left)])


def polygons(area: BaseGeometry, aspect: float) -> tuple[tuple[tuple[float, float], ...], ...]:
    """The outer rings of an area, back in normalised frame coordinates."""
    parts = getattr(area, "geoms", (area,))
    return tuple(
        tuple((round(x / aspect, 6), round(y, 6)) for x, y in part.exterior.coords[:-1])
        for part in parts
        if part.geom_type == "Polygon" and not part.is_empty
    )
