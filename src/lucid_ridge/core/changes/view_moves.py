"""Changes made by pointing into the view: an element put where a press lies, and its foot, top or side dragged."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Annotated, Literal

from annotated_types import Ge, Gt, Le

from lucid_ridge.core.camera.geometry import camera_of
from lucid_ridge.core.framing.camera import Camera, earth_drop_m
from lucid_ridge.core.framing.silhouettes import LYING
from lucid_ridge.core.model.kit import Kit
from lucid_ridge.core.model.scene import Composition, Element
from lucid_ridge.core.records import Identifier, record

Share = Annotated[float, Ge(-1), Le(2)]
"""A place in the frame: 0 to 1 inside it, from the left or the top."""
Handle = Literal["foot", "top", "side"]

_FARTHEST_M, _SMALLEST_M = 1e5, 1e-3
_BELOW_DEG = -0.02
"""A sight that falls less than this meets level ground too far off to count."""
_OF_THE_VIEW = 0.16
"""A new element is this share of the view's width, so that it is seen and can be taken hold of."""
_UNKNOWN_M = 100.0


@record
class PointElement:
    """Put an element where a press in the view points; ``distance_m`` None takes level ground.

    Below the horizon the press is its foot; above it the press is its top, over a foot on the ground. One that is ``fresh``
    is drawn as large as can well be taken hold of.
    """

    kind: Literal["point_element"] = "point_element"
    element_id: Identifier
    x: Share
    y: Share
    distance_m: Annotated[float, Gt(0), Le(_FARTHEST_M)] | None = None
    fresh: bool = False


@record
class ShapeElement:
    """Drag an element in the view: its foot over the ground, its top (the far end of what lies), or one side."""

    kind: Literal["shape_element"] = "shape_element"
    element_id: Identifier
    part: Handle
    x: Share
    y: Share


def level_distance_m(camera: Camera, altitude_deg: float, level_m: float) -> float | None:
    """How far off a sight meets a level below the lens, metres; None where it does not."""
    drop = camera.position_m[2] - level_m
    if altitude_deg > _BELOW_DEG or drop <= 0:
        return None
    return min(drop / math.tan(math.radians(-altitude_deg)), _FARTHEST_M)


def _sight(camera: Camera, x: float, y: float) -> tuple[float, float]:
    bearing, altitude = camera.directions(x, y)
    return float(bearing), float(altitude)


def _at(camera: Camera, bearing_deg: float, distance_m: float) -> tuple[float, float]:
    b = math.radians(bearing_deg)
    return camera.position_m[0] + distance_m * math.sin(b), camera.position_m[1] + distance_m * math.cos(b)


def _digits(distance_m: float) -> int:
    """As fine as a hand puts it: a ten-thousandth of the distance or so."""
    return max(0, min(4, 4 - math.floor(math.log10(max(distance_m, 1e-3)) + 0.5)))


def _height_on(camera: Camera, altitude_deg: float, distance_m: float) -> float:
    """Height of the point of a sight at a level distance, as measured before the Earth's curvature lowers it."""
    drop = float(earth_drop_m(distance_m))
    return camera.position_m[2] + distance_m * math.tan(math.radians(altitude_deg)) + drop


def _away(camera: Camera, element: Element) -> float:
    return max(math.dist(camera.position_m[:2], (element.east_m, element.north_m)), 0.01)


def _pointed(composition: Composition, camera: Camera, element: Element, move: PointElement) -> Element:
    bearing, altitude = _sight(camera, move.x, move.y)
    level = level_distance_m(camera, altitude, composition.ground_m)
    distance = move.distance_m or level or max(_away(camera, element), _UNKNOWN_M)
    digits = _digits(distance)
    east, north = (round(v, digits) for v in _at(camera, bearing, distance))
    if move.fresh:
        width = max(2 * camera.half_tangents[0] * distance * _OF_THE_VIEW, _SMALLEST_M)
        element = replace(
            element,
            width_m=round(width, digits + 1),
            depth_m=round(width / 2, digits + 1),
            height_m=0.0 if element.silhouette in LYING else round(width * 0.6, digits + 1),
        )
    here = _height_on(camera, altitude, distance)
    base, height = composition.ground_m, element.height_m
    if altitude <= _BELOW_DEG or element.role == "sky" or element.silhouette in LYING:
        base = here
    else:
        height = max(here - base, _SMALLEST_M)
    return replace(
        element,
        east_m=_held(east),
        north_m=_held(north),
        base_m=round(_held(base), max(digits, 2)),
        height_m=round(min(height, _FARTHEST_M), max(digits, 2)),
        turned_deg=round(bearing, 2),
        ridgeline=(),
    )


def _held(value: float) -> float:
    return min(max(value, -_FARTHEST_M), _FARTHEST_M)


def _shaped(camera: Camera, element: Element, move: ShapeElement) -> Element:
    bearing, altitude = _sight(camera, move.x, move.y)
    distance = _away(camera, element)
    digits = _digits(distance) + 1
    before = math.degrees(math.atan2(element.east_m - camera.position_m[0], element.north_m - camera.position_m[1]))
    if move.part == "foot":
        distance = level_distance_m(camera, altitude, element.base_m) or distance
        east, north = (round(_held(v), digits) for v in _at(camera, bearing, distance))
        return replace(
            element, east_m=east, north_m=north, turned_deg=round((element.turned_deg + bearing - before) % 360, 2)
        )
    if move.part == "side":
        off = math.radians((bearing - before + 180) % 360 - 180)
        width = min(2 * distance * abs(math.tan(off)), _FARTHEST_M)
        return replace(element, width_m=round(max(width, _SMALLEST_M), digits))
    if element.silhouette in LYING:
        far = level_distance_m(camera, altitude, element.base_m) or distance + element.depth_m
        return replace(element, depth_m=round(max(far - distance, _SMALLEST_M), digits))
    height = _height_on(camera, altitude, distance) - element.base_m
    return replace(element, height_m=round(min(max(height, _SMALLEST_M), _FARTHEST_M), digits))


def apply_view_move(composition: Composition, kit: Kit, move: PointElement | ShapeElement) -> Composition:
    """The composition after a press or a drag in its view. What has a ridgeline keeps its shape."""
    camera = camera_of(composition, kit)

    def changed(element: Element) -> Element:
        if element.id != move.element_id:
            return element
        if isinstance(move, PointElement):
            return _pointed(composition, camera, element, move)
        return element if len(element.ridgeline) > 1 else _shaped(camera, element, move)

    return replace(composition, elements=tuple(changed(e) for e in composition.elements))
