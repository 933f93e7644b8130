"""The skyline all round with the paths of Sun and Moon, and when the sun reaches each element."""

from __future__ import annotations

import math
from zoneinfo import ZoneInfo

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.daylight.day import day_of, lit_stretches
from lucid_ridge.core.daylight.skyline import ground_m, told_elements
from lucid_ridge.core.light.day import LightDay
from lucid_ridge.core.light.direction import SUN_UP_DEG, relative_azimuth_deg
from lucid_ridge.core.light.refraction import pressure_hpa, refraction_deg
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import Readout, clock_text, distance_text
from lucid_ridge.reports.light.words import spans_text, why_not_terrain

Array = NDArray[np.float64]
Point = tuple[float, float]
_ROOM_DEG = 4.0


@record
class HourMark:
    """A whole hour on a body's path: bearing from the axis and altitude in degrees."""

    at: Point
    text: str


@record
class SkyPath:
    """A body's path over the day, broken where it leaves the strip; points are degrees from the axis and altitude."""

    stretches: tuple[tuple[Point, ...], ...]
    hours: tuple[HourMark, ...]
    now: Point | None


@record
class SkylineMark:
    """An element on the strip: its bearing from the axis, and the altitude of its top."""

    id: str
    name: str
    at: Point


@record
class Arrival:
    """When the sun is on something, and how it falls on its face at the moment."""

    id: str | None
    name: str
    lit_now: bool
    first: Readout
    text: str
    face_text: str


@record
class SkylineReport:
    """The strip: bearings -180..180 from the lens axis, altitudes from ``bottom_deg`` to ``top_deg``.

    ``frame`` holds bounds of the frame's bearings from the axis. ``ground`` is the terrain's height above
    the sea at the standpoint, None where no terrain reaches it.
    """

    skyline: tuple[Point, ...]
    bottom_deg: float
    top_deg: float
    frame: Point
    north: tuple[tuple[float, str], ...]
    sun: SkyPath
    moon: SkyPath
    marks: tuple[SkylineMark, ...]
    arrivals: tuple[Arrival, ...]
    ground: Readout | None
    note: str


def _path(bearings: Array, altitudes: Array, day: LightDay, zone: ZoneInfo, bottom: float, unix_s: float) -> SkyPath:
    """Every fifth minute above the strip's foot, cut where the bearing jumps from one end to the other."""
    picks = np.arange(0, len(bearings), 5)
    b, a = bearings[picks], altitudes[picks]
    seen = a >= bottom
    jumps = np.abs(np.diff(b)) > 180
    parts: list[list[Point]] = [[]]
    for i in range(len(picks)):
        if (i and jumps[i - 1]) or not seen[i]:
            parts.append([])
        if seen[i]:
            parts[-1].append((round(float(b[i]), 2), round(float(a[i]), 2)))
    hours = []
    for at in np.arange(math.ceil(day.unix_s[0] / 3600) * 3600, day.unix_s[-1], 3600.0).tolist():
        i = int(np.clip(np.searchsorted(day.unix_s, at), 0, len(bearings) - 1))
        if altitudes[i] >= max(bottom, 0.0):
            hours.append(HourMark(at=(float(bearings[i]), float(altitudes[i])), text=clock_text(at, zone)))
    now = int(np.clip(np.searchsorted(day.unix_s, unix_s), 0, len(bearings) - 1))
    here = (float(bearings[now]), float(altitudes[now])) if altitudes[now] >= bottom else None
    return SkyPath(stretches=tuple(tuple(p) for p in parts if len(p) > 1), hours=tuple(hours), now=here)


def _face_text(state: State, index: int) -> str:
    """How the sun falls on the side of an element that looks at nothing behind it: its near face."""
    element = state.scene.composition.elements[index]
    if state.sun_altitude_deg < SUN_UP_DEG:
        return ""
    facing = element.turned_deg + 180.0
    off = float(relative_azimuth_deg(state.sun_azimuth_deg, facing))
    if abs(off) < 45:
        return "full on its face"
    if abs(off) <= 90:
        return f"raking its face from the {'right' if off < 0 else 'left'}"
    return "its face in its own shade" if abs(off) <= 135 else "from behind it"


def _arrival(state: State, day: LightDay, zone: ZoneInfo, index: int | None) -> Arrival:
    horizon = state.horizon_of(index)
    element = None if index is None else state.scene.composition.elements[index]
    identity, name = (None, "standpoint") if element is None else (element.id, element.name)
    lit = lit_stretches(day, horizon)
    first = lit[0][0] if lit else None
    return Arrival(
        id=identity,
        name=name,
        lit_now=bool(horizon.clears(state.sun_azimuth_deg, state.sun_altitude_deg)),
        first=Readout(
            value=first,
            text="never" if first is None else clock_text(first, zone),
            explain=f"light.arrival:{identity or ''}",
        ),
        text=spans_text(lit, day, zone, "no direct sun today"),
        face_text="" if index is None else _face_text(state, index),
    )


def arrivals(state: State) -> tuple[Arrival, ...]:
    """When the sun is on the standpoint and on each element that is told of."""
    day, _, _ = day_of(state.scene)
    zone = ZoneInfo(state.scene.place.time_zone)
    return tuple(_arrival(state, day, zone, i) for i in (None, *told_elements(state.scene)))


def skyline_report(state: State) -> SkylineReport:
    """The skyline strip and the arrivals of the sun."""
    scene, axis = state.scene, state.scene.composition.azimuth_deg
    day, _, _ = day_of(scene)
    zone = ZoneInfo(scene.place.time_zone)
    bearings = np.arange(-180.0, 180.5, 1.0)
    heights = state.horizon.at(bearings + axis)
    air = pressure_hpa(scene.place.elevation_m)
    seen = {
        "sun": day.altitude_deg + refraction_deg(day.altitude_deg, air),
        "moon": day.moon_altitude_deg + refraction_deg(day.moon_altitude_deg, air),
    }
    top = max(float(heights.max()), float(seen["sun"].max()), float(seen["moon"].max()), 10.0) + _ROOM_DEG
    bottom = min(float(heights.min()), 0.0) - 1.0
    camera = state.geometry.camera
    half = math.degrees(math.atan(camera.half_tangents[0]))
    marks = []
    for i in told_elements(scene):
        bearing, rise = state.geometry.top_of(i)
        bearing = float(relative_azimuth_deg(bearing, axis))
        if bottom <= rise <= top:
            element = scene.composition.elements[i]
            marks.append(SkylineMark(id=element.id, name=element.name, at=(bearing, rise)))
    ground = ground_m(scene.place, state.terrain, scene.composition.east_m, scene.composition.north_m)
    return SkylineReport(
        skyline=tuple((float(b), round(float(h), 3)) for b, h in zip(bearings, heights, strict=True)),
        bottom_deg=bottom,
        top_deg=top,
        frame=(-half, half),
        north=tuple(
            (float(relative_azimuth_deg(a, axis)), name)
            for a, name in (
                (0, "N"),
                (45, "NE"),
                (90, "E"),
                (135, "SE"),
                (180, "S"),
                (225, "SW"),
                (270, "W"),
                (315, "NW"),
            )
        ),
        sun=_path(relative_azimuth_deg(day.azimuth_deg, axis), seen["sun"], day, zone, bottom, state.unix_s),
        moon=_path(relative_azimuth_deg(day.moon_azimuth_deg, axis), seen["moon"], day, zone, bottom, state.unix_s),
        marks=tuple(marks),
        arrivals=arrivals(state),
        ground=None
        if ground is None
        else Readout(value=ground, text=distance_text(ground, scene.units), explain="light.ground"),
        note=why_not_terrain(scene, state.terrain),
    )
