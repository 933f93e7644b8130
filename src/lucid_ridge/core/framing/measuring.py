"""Measuring from a photograph: bearings and angular heights of its points, and the distance behind them.

A photograph is a pinhole picture with a known field of view. Its aim is told by compass and
clinometer, or found from points whose direction is known.

References
----------
.. [1] R. Hartley and A. Zisserman, Multiple View Geometry in Computer Vision, 2nd ed., 2004, on
   camera resectioning.

"""

from __future__ import annotations

import math
from typing import Annotated, Literal

import numpy as np
from annotated_types import Ge, Gt, Le
from numpy.typing import NDArray
from scipy.optimize import OptimizeResult, least_squares

from lucid_ridge.core.framing.camera import Camera
from lucid_ridge.core.records import FieldProblem, SceneError, record

Array = NDArray[np.float64]
Spot = Annotated[float, Ge(-0.5), Le(1.5)]

_FIT_DEG = 0.05


@record
class KnownPoint:
    """A point of the photograph whose bearing and altitude are known, for example from a map."""

    x: Spot
    y: Spot
    bearing_deg: Annotated[float, Ge(-360), Le(720)]
    altitude_deg: Annotated[float, Ge(-89), Le(89)]


@record
class Known:
    """What is known of the thing: its height, its width, its distance, or that it stands on level ground at a depth below the lens."""

    what: Literal["height", "width", "distance", "ground"]
    metres: Annotated[float, Gt(0), Le(100_000)]


@record
class Measured:
    """A thing measured: metres and degrees."""

    bearing_deg: float
    foot_deg: float
    top_deg: float
    distance_m: float
    height_m: float
    width_m: float


def photograph_camera(azimuth_deg: float, pitch_deg: float, roll_deg: float, view_deg: float, aspect: float) -> Camera:
    """The camera of a photograph, of unit width, at the origin."""
    image = 0.5 / math.tan(math.radians(view_deg) / 2)
    return Camera((0.0, 0.0, 0.0), azimuth_deg, pitch_deg, roll_deg, image, 1.0, 1.0 / aspect)


def direction(camera: Camera, x: float, y: float) -> tuple[float, float]:
    """Bearing (0..360) and altitude in degrees of a point of the picture."""
    bearing, altitude = camera.directions(x, y)
    return float(bearing), float(altitude)


def find_aim(
    points: tuple[KnownPoint, ...], aspect: float, view_deg: float | None
) -> tuple[float, float, float, float]:
    """Azimuth, pitch, roll and field of view of a photograph from points whose directions are known.

    One point finds azimuth and pitch (level, with its view known); two find roll, and the view too
    where it is not known.

    Raises
    ------
    SceneError
        If the points are too few, the same, or contradict each other.

    """
    if not points or (len(points) < 2 and view_deg is None):
        message = "Give two known points, or one and the photograph's field of view."
        raise SceneError([FieldProblem(pointer="/places", message=message)])
    free_roll, free_view = len(points) >= 2, view_deg is None
    first = points[0]

    def unpack(values: Array) -> tuple[float, float, float, float]:
        roll = float(values[2]) if free_roll else 0.0
        view = float(values[-1]) if free_view else float(view_deg or 0)
        return float(values[0]), float(values[1]), roll, view

    def misses(values: Array) -> Array:
        camera = photograph_camera(*unpack(values), aspect)
        found = []
        for point in points:
            x, y = camera.project_direction(point.bearing_deg, point.altitude_deg)
            found += [9.0, 9.0] if math.isnan(x) else [float(x) - point.x, float(y) - point.y]
        return np.array(found)

    start = [first.bearing_deg, min(max(first.altitude_deg, -80.0), 80.0)]
    low, high, scale = [first.bearing_deg - 120, -85.0], [first.bearing_deg + 120, 85.0], [5.0, 5.0]
    if free_roll:
        start, low, high, scale = [*start, 0.0], [*low, -45.0], [*high, 45.0], [*scale, 2.0]
    made: list[OptimizeResult] = []
    for view in (60.0, 25.0, 90.0, 8.0) if free_view else (0.0,):
        first_try = [*start, view] if free_view else start
        found = least_squares(
            misses,
            first_try,
            bounds=([*low, 0.2] if free_view else low, [*high, 160.0] if free_view else high),
            x_scale=[*scale, 10.0] if free_view else scale,
            xtol=1e-14, ftol=1e-14, gtol=1e-14,
        )  # fmt: skip
        made.append(found)
    best = min(made, key=lambda one: float(one.cost))
    azimuth, pitch, roll, view = unpack(best.x)
    off = float(np.abs(misses(best.x)).max()) * view
    if off > max(_FIT_DEG, 0.02 * view):
        message = f"These points do not fit one photograph: the best aim leaves {off:.1f}° between them. Check each."
        raise SceneError([FieldProblem(pointer="/places", message=message)])
    return azimuth % 360, pitch, roll, view


def measure(
    camera: Camera, foot: tuple[float, float], top: tuple[float, float], known: Known, half_width: float = 0.0
) -> Measured:
    """Bearing, distance and size of a thing from its foot, its top and one known length.

    ``half_width`` is half its width in the picture, as a share of the picture's width.

    Raises
    ------
    SceneError
        If the points cannot belong to such a thing.

    """
    bearing, foot_deg = direction(camera, *foot)
    _, top_deg = direction(camera, *top)
    rise = math.tan(math.radians(top_deg)) - math.tan(math.radians(foot_deg))
    left, _ = direction(camera, foot[0] - half_width, foot[1])
    right, _ = direction(camera, foot[0] + half_width, foot[1])
    across = 2 * math.tan(math.radians((right - left + 180) % 360 - 180) / 2)
    if known.what == "height" and rise <= 0:
        raise SceneError([FieldProblem(pointer="/marks/top_y", message="The top must lie above the foot.")])
    if known.what == "width" and across <= 0:
        raise SceneError([FieldProblem(pointer="/marks/half_width", message="Mark how wide it is in the picture.")])
    if known.what == "ground" and foot_deg >= 0:
        message = "The foot lies above the horizon: it cannot stand on ground below the lens. Give another length."
        raise SceneError([FieldProblem(pointer="/marks/foot_y", message=message)])
    distance = {
        "height": lambda: known.metres / rise,
        "width": lambda: known.metres / across,
        "distance": lambda: known.metres,
        "ground": lambda: known.metres / math.tan(math.radians(-foot_deg)),
    }[known.what]()
    return Measured(
        bearing_deg=bearing,
        foot_deg=foot_deg,
        top_deg=top_deg,
        distance_m=distance,
        height_m=max(rise, 0.0) * distance,
        width_m=max(across, 0.0) * distance,
    )
