"""The plan from above."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.camera.keep_out import side_of
from lucid_ridge.core.framing.camera import Camera
from lucid_ridge.core.framing.panels import span_deg
from lucid_ridge.core.framing.silhouettes import LYING
from lucid_ridge.core.model.scene import Units
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import degrees_text, distance_text
from lucid_ridge.reports.frame.view import SUN_UP_DEG, element_tones, ground_shadows

Array = NDArray[np.float64]
Point = tuple[float, float]

_NEAR_M = 400.0
_RINGS = 4


@record
class PlanElement:
    """An element from above. ``at`` is the point that a hand takes hold of; a ridgeline's foot is a line."""

    id: str
    name: str
    tone: int
    lying: bool
    line: bool
    in_frame: bool
    at: Point
    foot: tuple[Point, ...]
    shadow: tuple[Point, ...]
    away: str


@record
class PlanLine:
    """A line not to cross; ``crossed`` tells that the standpoint is on its wrong side."""

    name: str
    start: Point
    end: Point
    crossed: bool


@record
class PlanRing:
    """A circle of equal distance from the standpoint."""

    radius_m: float
    text: str


@record
class PlanReport:
    """From above, metres east and north of the place's origin.

    ``sweep`` is what a panorama takes in. ``half_m`` is half the side of the square to draw around ``centre``. ``focus`` is the line in which
    the plane of focus meets the ground, ``sharp`` the ground between the limits of depth of field;
    empty where they do not meet it in the frame.
    """

    centre: Point
    half_m: float
    standpoint: Point
    aim: Point
    wedge: tuple[Point, ...]
    sweep: tuple[Point, ...]
    focus: tuple[Point, ...]
    focus_text: str
    sharp: tuple[Point, ...]
    sun: Point | None
    elements: tuple[PlanElement, ...]
    lines: tuple[PlanLine, ...]
    rings: tuple[PlanRing, ...]
    scale_bar_m: float
    scale_bar_text: str


def _round_length(length_m: float) -> float:
    """The largest of 1, 2, 5 x 10^k not above a length."""
    power = 10.0 ** math.floor(math.log10(length_m))
    return max(step * power for step in (1, 2, 5) if step * power <= length_m * 1.0001)


def _bar_text(length_m: float, units: Units) -> str:
    if units == "feet":
        return distance_text(length_m, units)
    return f"{length_m:g} m" if length_m >= 0.1 else f"{length_m * 1000:g} mm"


def _pairs(points: Array) -> tuple[Point, ...]:
    return tuple((float(x), float(y)) for x, y in points)


def _on_ground(camera: Camera, height_m: float, depth_m: float) -> Array | None:
    """Where a plane at a depth along the lens axis meets level ground in the frame: (2, 2), or None.

    A ground point at level distance d ahead lies at the depth d cos(pitch) - height sin(pitch).
    """
    pitch, azimuth = math.radians(camera.pitch_deg), math.radians(camera.azimuth_deg)
    ahead = (depth_m + height_m * math.sin(pitch)) / math.cos(pitch)
    if ahead <= 0:
        return None
    along, across = np.array([math.sin(azimuth), math.cos(azimuth)]), np.array([math.cos(azimuth), -math.sin(azimuth)])
    half = depth_m * camera.half_tangents[0]
    middle = np.asarray(camera.position_m[:2]) + ahead * along
    return np.array([middle - half * across, middle + half * across])


def _sharp_zone(state: State, farthest_m: float) -> tuple[Point, ...]:
    near = min(one.near_m for one in state.depth.slices)
    far = min(max(one.far_m for one in state.depth.slices), farthest_m)
    height = state.scene.composition.camera_height_m
    if not math.isfinite(near):
        return ()
    first = _on_ground(state.geometry.camera, height, near)
    last = _on_ground(state.geometry.camera, height, far)
    if last is None or not near < far:
        return ()
    if first is None:
        first = np.repeat(np.asarray(state.geometry.camera.position_m[:2])[None], 2, axis=0)
    return _pairs(np.concatenate([first, last[::-1]]))


def _sweep(state: State, radius_m: float) -> tuple[Point, ...]:
    """The sector that a panorama takes in; empty without one."""
    composition = state.scene.composition
    panorama = composition.panorama
    if not panorama.on:
        return ()
    span = span_deg(panorama.from_deg, panorama.to_deg)
    azimuth = np.radians(panorama.from_deg + np.linspace(0, span, 37))
    stand = np.array([composition.east_m, composition.north_m])
    arc = stand + radius_m * np.column_stack([np.sin(azimuth), np.cos(azimuth)])
    return _pairs(np.concatenate([stand[None], arc]))


# Long: one record, field by field.
def plan_report(state: State) -> PlanReport:
    """The plan from above, wide enough for the subject."""
    composition, geometry, units = state.scene.composition, state.geometry, state.scene.units
    camera = geometry.camera
    distances = [geometry.away(i)[0] for i in range(len(geometry.elements))]
    subject = [d for d, e in zip(distances, geometry.elements, strict=True) if e.role == "subject"]
    near = [d for d in distances if d < _NEAR_M]
    # The subject and what stands nearer decide; without one, everything near.
    reach = max([*(subject[:1] or near or distances[:1]), 0.05])
    half = 0.72 * reach
    stand = np.array([composition.east_m, composition.north_m])
    azimuth = math.radians(composition.azimuth_deg)
    forward = np.array([math.sin(azimuth), math.cos(azimuth)])
    spread, edge = math.atan(camera.half_tangents[0]), 6 * half
    ends = [stand + edge * np.array([math.sin(azimuth + s * spread), math.cos(azimuth + s * spread)]) for s in (-1, 1)]
    focus_m = state.depth.slices[0].focus_m if len(state.depth.slices) == 1 else math.inf
    focus = _on_ground(camera, composition.camera_height_m, focus_m) if focus_m < edge else None
    sun = math.radians(state.sun_azimuth_deg)
    tone = element_tones(geometry)
    elements = []
    shadows = ground_shadows(state)
    for i, e in enumerate(geometry.elements):
        crest, shadow = geometry.crests[i], shadows.get(i)
        away, bearing = geometry.away(i)
        elements.append(
            PlanElement(
                id=e.id,
                name=e.name,
                tone=tone[i],
                lying=e.silhouette in LYING,
                line=crest is not None,
                in_frame=geometry.seen(i),
                at=(float(geometry.middle_m[i][0]), float(geometry.middle_m[i][1])),
                foot=_pairs(crest[:, :2] if crest is not None else geometry.corners_m[i][[0, 1, 5, 4], :2]),
                shadow=() if shadow is None else _pairs(shadow[:, :2]),
                away=f"{distance_text(away, units)} at {degrees_text(bearing)}",
            )
        )
    bar = _round_length(half * 0.6)
    step = _round_length(1.5 * half / _RINGS)
    middle = stand + 0.5 * half * forward
    return PlanReport(
        centre=(float(middle[0]), float(middle[1])),
        half_m=half,
        standpoint=(float(stand[0]), float(stand[1])),
        aim=(float(stand[0] + 0.8 * half * forward[0]), float(stand[1] + 0.8 * half * forward[1])),
        wedge=_pairs(np.array([stand, *ends])),
        sweep=_sweep(state, edge),
        focus=() if focus is None else _pairs(focus),
        focus_text=distance_text(focus_m, units),
        sharp=_sharp_zone(state, edge),
        sun=(math.sin(sun), math.cos(sun)) if state.sun_altitude_deg > SUN_UP_DEG else None,
        elements=tuple(elements),
        lines=tuple(
            PlanLine(
                name=line.name,
                start=(line.from_east_m, line.from_north_m),
                end=(line.to_east_m, line.to_north_m),
                crossed=side_of(line, composition.east_m, composition.north_m) < 0,
            )
            for line in composition.keep_out_lines
        ),
        rings=tuple(PlanRing(radius_m=step * n, text=_bar_text(step * n, units)) for n in range(1, _RINGS + 2)),
        scale_bar_m=bar,
        scale_bar_text=_bar_text(bar, units),
    )
