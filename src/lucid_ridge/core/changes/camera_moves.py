"""Changes that move the camera, its aim, its crop, or an element."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Annotated, Literal

from annotated_types import Ge, Le

from lucid_ridge.core.framing.camera import view_of_equivalent_deg
from lucid_ridge.core.framing.crop import Crop
from lucid_ridge.core.model.scene import Composition, Element, Metres, Orientation
from lucid_ridge.core.records import Identifier, record

_FARTHEST_M = 1e5
_STEEPEST_DEG = 89.0


@record
class SetHeight:
    """Raise or lower the camera."""

    kind: Literal["height"] = "height"
    camera_height_m: Annotated[float, Ge(0), Le(100)]


@record
class StandAt:
    """Carry the camera to a point, in metres from the place's origin; aim and height stay."""

    kind: Literal["stand"] = "stand"
    east_m: Metres
    north_m: Metres


@record
class Step:
    """Step sideways and ahead as the camera looks, in metres; negative to the left and back."""

    kind: Literal["step"] = "step"
    right_m: Annotated[float, Ge(-1000), Le(1000)] = 0.0
    ahead_m: Annotated[float, Ge(-1000), Le(1000)] = 0.0


@record
class AimToward:
    """Turn the camera level towards a point; its pitch stays."""

    kind: Literal["aim_toward"] = "aim_toward"
    east_m: Metres
    north_m: Metres


@record
class Aim:
    """Turn the camera to an azimuth and pitch."""

    kind: Literal["aim"] = "aim"
    azimuth_deg: Annotated[float, Ge(-360), Le(720)]
    pitch_deg: Annotated[float, Ge(-_STEEPEST_DEG), Le(_STEEPEST_DEG)]


@record
class Level:
    """Take the roll out, so that the horizon is level."""

    kind: Literal["level"] = "level"


@record
class TurnAim:
    """Turn the camera by some degrees to the right and up."""

    kind: Literal["turn_aim"] = "turn_aim"
    right_deg: Annotated[float, Ge(-180), Le(180)] = 0.0
    up_deg: Annotated[float, Ge(-180), Le(180)] = 0.0


@record
class Hold:
    """Hold the camera level or upright."""

    kind: Literal["hold"] = "hold"
    orientation: Orientation


@record
class SetCrop:
    """Crop the picture."""

    kind: Literal["crop"] = "crop"
    crop: Crop


@record
class MoveElement:
    """Place an element by bearing and distance from the standpoint, facing it."""

    kind: Literal["move_element"] = "move_element"
    element_id: Identifier
    bearing_deg: Annotated[float, Ge(-360), Le(360)]
    distance_m: Annotated[float, Ge(0), Le(100_000)]


@record
class PutElement:
    """Place an element at a point, in metres from the place's origin; it keeps its turn."""

    kind: Literal["put_element"] = "put_element"
    element_id: Identifier
    east_m: Metres
    north_m: Metres


@record
class SetPhotographLens:
    """Tell what lens the photograph under the view was taken with, as a 35 mm equivalent."""

    kind: Literal["photograph_lens"] = "photograph_lens"
    equivalent_mm: Annotated[float, Ge(4), Le(3000)]


Move = (
    SetPhotographLens
    | SetHeight
    | StandAt
    | Step
    | AimToward
    | Aim
    | TurnAim
    | Level
    | Hold
    | SetCrop
    | MoveElement
    | PutElement
)


def _within(value: float, low: float, high: float) -> float:
    return min(max(value, low), high)


def _metres(value: float) -> float:
    return _within(value, -_FARTHEST_M, _FARTHEST_M)


def stepped(composition: Composition, right_m: float, ahead_m: float) -> tuple[float, float]:
    """East and north of the standpoint after a step as the camera looks."""
    azimuth = math.radians(composition.azimuth_deg)
    east = composition.east_m + right_m * math.cos(azimuth) + ahead_m * math.sin(azimuth)
    north = composition.north_m - right_m * math.sin(azimuth) + ahead_m * math.cos(azimuth)
    return _metres(east), _metres(north)


def _put(element: Element, east_m: float, north_m: float, turned_deg: float) -> Element:
    if len(element.ridgeline) < 2:
        return replace(element, east_m=_metres(east_m), north_m=_metres(north_m), turned_deg=turned_deg)
    # The line moves whole, so that its middle point comes to lie there.
    middle = element.ridgeline[len(element.ridgeline) // 2]
    bearing = math.radians(middle.bearing_deg)
    return replace(
        element,
        east_m=_metres(east_m - middle.distance_m * math.sin(bearing)),
        north_m=_metres(north_m - middle.distance_m * math.cos(bearing)),
    )


def _with_element(
    composition: Composition, element_id: str, east_m: float, north_m: float, turned_deg: float | None
) -> Composition:
    return replace(
        composition,
        elements=tuple(
            _put(e, east_m, north_m, e.turned_deg if turned_deg is None else turned_deg) if e.id == element_id else e
            for e in composition.elements
        ),
    )


def apply_move(composition: Composition, move: Move) -> Composition:  # noqa: C901, PLR0912 -- a case for each kind of move
    """The composition after one move."""
    match move:
        case SetPhotographLens():
            under = composition.underlay
            if under is None:
                return composition
            view = round(view_of_equivalent_deg(move.equivalent_mm, under.aspect), 3)
            return replace(composition, underlay=replace(under, view_deg=view))
        case SetHeight():
            return replace(composition, camera_height_m=move.camera_height_m)
        case StandAt():
            return replace(composition, east_m=round(move.east_m, 4), north_m=round(move.north_m, 4))
        case Step():
            east, north = stepped(composition, move.right_m, move.ahead_m)
            return replace(composition, east_m=east, north_m=north)
        case AimToward():
            bearing = math.degrees(math.atan2(move.east_m - composition.east_m, move.north_m - composition.north_m))
            return replace(composition, azimuth_deg=round(bearing, 4) % 360)
        case Aim():
            return replace(composition, azimuth_deg=move.azimuth_deg % 360, pitch_deg=move.pitch_deg)
        case TurnAim():
            pitch = _within(composition.pitch_deg + move.up_deg, -_STEEPEST_DEG, _STEEPEST_DEG)
            turned = round(composition.azimuth_deg + move.right_deg, 6) % 360
            return replace(composition, azimuth_deg=turned, pitch_deg=round(pitch, 6))
        case Level():
            return replace(composition, roll_deg=0.0)
        case Hold():
            return replace(composition, orientation=move.orientation)
        case SetCrop():
            return replace(composition, crop=move.crop)
        case MoveElement():
            bearing = math.radians(move.bearing_deg)
            east = composition.east_m + move.distance_m * math.sin(bearing)
            north = composition.north_m + move.distance_m * math.cos(bearing)
            return _with_element(composition, move.element_id, east, north, move.bearing_deg)
        case PutElement():
            # As fine as a hand puts it: a hundredth of a per cent of its distance, or so.
            away = math.hypot(move.east_m - composition.east_m, move.north_m - composition.north_m)
            digits = 4 if away < 1 else 3 if away < 10 else 2
            return _with_element(
                composition, move.element_id, round(move.east_m, digits), round(move.north_m, digits), None
            )
