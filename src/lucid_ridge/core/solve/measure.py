"""Elements measured from a reference photograph taken at the standpoint."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated

from annotated_types import Ge, Gt, Le, MaxLen

from lucid_ridge.core.framing.measuring import Known, KnownPoint, Spot, direction, find_aim, measure, photograph_camera
from lucid_ridge.core.records import FieldProblem, Identifier, SceneError, record
from lucid_ridge.core.solve.common import anchor_point
from lucid_ridge.core.solve.wishes import AnchorPart
from lucid_ridge.core.state.state import State


@record
class KnownElement:
    """A point of the photograph at which an element, placed already, is seen."""

    x: Spot
    y: Spot
    element_id: Identifier
    part: AnchorPart = "foot"


@record
class PhotographAim:
    """Where a photograph looks and what it takes in."""

    azimuth_deg: Annotated[float, Ge(-360), Le(720)]
    pitch_deg: Annotated[float, Ge(-89), Le(89)]
    roll_deg: Annotated[float, Ge(-180), Le(180)] = 0.0
    view_deg: Annotated[float, Ge(0.1), Le(170)]
    aspect: Annotated[float, Ge(0.05), Le(20)]


@record
class Marks:
    """A thing marked in the photograph: foot, top, and half its width as a share of the picture's."""

    foot_x: Spot
    foot_y: Spot
    top_x: Spot
    top_y: Spot
    half_width: Annotated[float, Ge(0), Le(1)] = 0.0
    known: Known


KnownPlaces = Annotated[tuple[KnownPoint | KnownElement, ...], MaxLen(20)]
ViewDeg = Annotated[float, Gt(0.1), Le(170)]


@dataclass(frozen=True)
class MeasuredElement:
    """What a marked thing measures, in degrees and metres, ready to be placed."""

    bearing_deg: float
    angular_height_deg: float
    distance_m: float
    height_m: float
    width_m: float
    east_m: float
    north_m: float
    base_m: float


def _known(state: State, place: KnownPoint | KnownElement, pointer: str) -> KnownPoint:
    if isinstance(place, KnownPoint):
        return place
    for i, element in enumerate(state.geometry.elements):
        if element.id == place.element_id:
            east, north, up = anchor_point(state.geometry, i, place.part) - state.geometry.camera.position_m
            altitude = math.degrees(math.atan2(up, math.hypot(east, north)))
            bearing = math.degrees(math.atan2(east, north)) % 360
            return KnownPoint(x=place.x, y=place.y, bearing_deg=bearing, altitude_deg=altitude)
    raise SceneError([FieldProblem(pointer=pointer, message="Choose an element of the composition.")])


def aim_photograph(
    state: State, places: tuple[KnownPoint | KnownElement, ...], aspect: float, view_deg: float | None
) -> PhotographAim:
    """Where a photograph taken at the standpoint looks, from points whose direction is known.

    Raises
    ------
    SceneError
        If the points are too few or do not fit one photograph.

    """
    known = tuple(_known(state, one, f"/places/{i}/element_id") for i, one in enumerate(places))
    azimuth, pitch, roll, view = find_aim(known, aspect, view_deg)
    # A thousandth of a degree is far below what a compass, a map or a press on a picture give.
    return PhotographAim(
        azimuth_deg=round(azimuth, 3),
        pitch_deg=round(pitch, 3),
        roll_deg=round(roll, 3),
        view_deg=round(view, 3),
        aspect=aspect,
    )


def measure_element(state: State, aim: PhotographAim, marks: Marks) -> MeasuredElement:
    """Bearing, distance and size of a thing marked in a photograph taken at the standpoint.

    Raises
    ------
    SceneError
        If the marks cannot belong to such a thing.

    """
    camera = photograph_camera(aim.azimuth_deg, aim.pitch_deg, aim.roll_deg, aim.view_deg, aim.aspect)
    foot, top = (marks.foot_x, marks.foot_y), (marks.top_x, marks.top_y)
    found = measure(camera, foot, top, marks.known, marks.half_width)
    composition = state.scene.composition
    bearing = math.radians(found.bearing_deg)
    _, foot_deg = direction(camera, *foot)
    lens = composition.ground_m + composition.camera_height_m
    return MeasuredElement(
        bearing_deg=found.bearing_deg,
        angular_height_deg=found.top_deg - found.foot_deg,
        distance_m=found.distance_m,
        height_m=found.height_m,
        width_m=found.width_m,
        east_m=composition.east_m + found.distance_m * math.sin(bearing),
        north_m=composition.north_m + found.distance_m * math.cos(bearing),
        base_m=lens + found.distance_m * math.tan(math.radians(foot_deg)),
    )
