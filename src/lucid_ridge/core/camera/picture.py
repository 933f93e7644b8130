"""Shares of the picture: sky, foreground, what is hidden, how much of a reflection is seen.

Each is remembered by its geometry: a change of aperture or filters asks for the same again.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from lucid_ridge.core.camera.geometry import Geometry
from lucid_ridge.core.framing.areas import NOTHING, above_horizon, area_covered, picture_area
from lucid_ridge.core.framing.silhouettes import LYING

_NOTICED = 1e-6
# More frame heights than any outline reaches up or down.
_TALL = 100.0


@dataclass(frozen=True)
class Reflected:
    """An element's mirror image in one water: what of it is seen, and its share of the whole image."""

    index: int
    seen: BaseGeometry
    share: float


def picture(geometry: Geometry) -> BaseGeometry:
    """The picture after the crop, in frame heights."""
    return picture_area(geometry.crop, geometry.aspect)


@lru_cache(maxsize=32)
def sky_share(geometry: Geometry) -> float:
    """Share of the picture above the horizon that nothing but sky fills."""
    whole = picture(geometry)
    others = [geometry.area(i) for i, e in enumerate(geometry.elements) if e.role != "sky" and geometry.seen(i)]
    camera = geometry.camera
    sky = above_horizon(camera.horizon_y(), geometry.aspect, camera.pitch_deg).intersection(whole)
    if others and sky.area > _NOTICED:
        # Clipped first: outlines reach far beyond the frame.
        sky = sky.difference(shapely.union_all(shapely.clip_by_rect(np.array(others), *sky.bounds)))
    return float(sky.area / whole.area) if sky.area > _NOTICED else 0.0


@lru_cache(maxsize=32)
def foreground_share(geometry: Geometry) -> float:
    """Share of the picture that foreground elements cover."""
    whole = picture(geometry)
    areas = [geometry.area(i) for i, e in enumerate(geometry.elements) if e.role == "foreground" and geometry.seen(i)]
    if not areas:
        return 0.0
    return float(shapely.union_all(shapely.clip_by_rect(np.array(areas), *whole.bounds)).area / whole.area)


@lru_cache(maxsize=32)
def hidden_shares(geometry: Geometry) -> Mapping[int, float]:
    """For each standing element in the frame, the share of it there that nearer ones hide."""
    painted = [i for i in geometry.far_to_near if geometry.seen(i) and geometry.elements[i].role != "sky"]
    if not painted:
        return {}
    # What lies out of the frame hides nothing in it, and would be carried along for each.
    in_frame = shapely.clip_by_rect(np.array([geometry.area(i) for i in painted]), 0, 0, geometry.aspect, 1)
    found: dict[int, float] = {}
    # From near to far: what was met so far is in the way of what comes, however many things that is.
    nearer: BaseGeometry = NOTHING
    for i, own in zip(reversed(painted), reversed(in_frame), strict=True):
        if geometry.elements[i].silhouette not in LYING and own.area > _NOTICED and own.intersects(nearer):
            found[i] = float(own.intersection(nearer).area / own.area)
        nearer = nearer.union(own)
    return found


def mirrors(geometry: Geometry) -> list[int]:
    """The still waters in the frame."""
    return [
        i
        for i, e in enumerate(geometry.elements)
        if e.silhouette == "water" and e.motion == "still" and geometry.seen(i)
    ]


@lru_cache(maxsize=32)
def reflections(geometry: Geometry, water: int) -> tuple[Reflected, ...]:
    """Mirror images in a still water, far ones first, each less what hides it.

    The share is of the image as far as the picture is wide: what the water's edge, nearer things,
    nearer images and the picture's lower edge take away counts, not what lies beside the picture.
    """
    level = geometry.elements[water].base_m
    order = geometry.far_to_near
    in_front = [geometry.area(i) for i in order[order.index(water) + 1 :] if geometry.seen(i)]
    surface = geometry.area(water).intersection(picture(geometry)).difference(shapely.union_all(in_front))
    left, _, right, _ = picture(geometry).bounds
    columns = shapely.box(left, -_TALL, right, _TALL)
    images: list[tuple[int, BaseGeometry]] = []
    for i in order:
        element = geometry.elements[i]
        if element.silhouette in LYING or i == water:
            continue
        image = area_covered(geometry.mirror(i, level), geometry.aspect)
        image = image.intersection(columns)
        if image.area > _NOTICED:
            images.append((i, image))
    found = []
    nearer: BaseGeometry = NOTHING
    for i, image in reversed(images):
        seen = image.intersection(surface)
        if not seen.is_empty:
            seen = seen.difference(nearer)
            found.append(Reflected(i, seen, float(seen.area / image.area)))
        nearer = nearer.union(image)
    return tuple(found[::-1])


def reflection_share(geometry: Geometry, index: int) -> float:
    """The largest share of an element's mirror image that any still water in the frame shows."""
    shares = [r.share for water in mirrors(geometry) for r in reflections(geometry, water) if r.index == index]
    return max(shares, default=0.0)
