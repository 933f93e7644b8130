"""When the Sun or the Moon stands where it is wanted: beside an element, in a notch, at a bearing and height."""

from __future__ import annotations

import math
from datetime import UTC, datetime
from typing import Annotated, Literal
from zoneinfo import ZoneInfo

import numpy as np
from annotated_types import Ge, Gt, Le
from numpy.typing import NDArray

from lucid_ridge.core.figures import degrees_text
from lucid_ridge.core.light.ephemeris import BodyName, moon_phase, sky_place
from lucid_ridge.core.light.polarisation import angle_between_deg
from lucid_ridge.core.light.refraction import pressure_hpa, refraction_deg
from lucid_ridge.core.light.windows import stretches
from lucid_ridge.core.light_windows.light_wish import months_ahead
from lucid_ridge.core.records import FieldProblem, Identifier, SceneError, record
from lucid_ridge.core.state.state import State

Array = NDArray[np.float64]
MOST_TOLD = 60


@record
class Alignment:
    """Where a body is wanted, and how near counts.

    ``element_id`` wants it at the top of an element, ``beside_deg`` to the right of it (or left, below zero) and
    ``above_deg`` above it; else ``bearing_deg`` and ``height_deg`` say where, with ``height_deg`` None on the
    skyline, as when it rises in a notch. The Moon must be lit at least ``moon_lit_from``.
    """

    body: BodyName = "sun"
    element_id: Identifier | None = None
    beside_deg: Annotated[float, Ge(-90), Le(90)] = 0.0
    above_deg: Annotated[float, Ge(-30), Le(60)] = 0.0
    bearing_deg: Annotated[float, Ge(0), Le(360)] = 90.0
    height_deg: Annotated[float, Ge(-2), Le(90)] | None = None
    tolerance_deg: Annotated[float, Gt(0.009), Le(20)] = 1.0
    moon_lit_from: Annotated[float, Ge(0), Le(1)] = 0.0


@record
class Passing:
    """One time a body passes nearest the wanted place. ``x`` and ``y`` are its place in the frame, None outside."""

    at_utc: datetime
    date_text: str
    time_text: str
    going: Literal["rising", "setting"]
    where_text: str
    miss_deg: float
    miss_text: str
    sun_text: str
    lit: float | None
    x: float | None
    y: float | None


@record
class Passings:
    """Times in the twelve months from the first of the moment's month, the moment's own on; at most sixty."""

    target_text: str
    bearing_deg: float
    height_deg: float
    passings: tuple[Passing, ...]
    count: int
    nearest_text: str


def _target(state: State, wish: Alignment) -> tuple[float, float, str]:
    """Bearing and altitude as seen of the wanted place, and its name."""
    if wish.element_id is None:
        bearing = wish.bearing_deg
        if wish.height_deg is None:
            height = float(state.horizon.at(bearing))
            return bearing, height, f"on the skyline at {degrees_text(bearing)}, {degrees_text(height, 1)} high"
        return bearing, wish.height_deg, f"at {degrees_text(bearing)}, {degrees_text(wish.height_deg, 1)} high"
    for i, element in enumerate(state.scene.composition.elements):
        if element.id != wish.element_id:
            continue
        bearing, height = state.geometry.top_of(i)
        bearing, height = (bearing + wish.beside_deg) % 360, height + wish.above_deg
        beside = (
            "" if wish.beside_deg == 0 else f", {abs(wish.beside_deg):g}° {'right' if wish.beside_deg > 0 else 'left'}"
        )
        above = "" if wish.above_deg == 0 else f", {wish.above_deg:g}° above"
        return bearing, height, f"the top of the {element.name}{beside}{above}"
    message = f"No element has the id '{wish.element_id}'; choose another, or give a bearing."
    raise SceneError([FieldProblem(pointer="/wish/element_id", message=message)])


def _nearest(
    state: State, body: BodyName, unix_s: float, bearing: float, height: float
) -> tuple[float, float, float, float]:
    """The second nearest the place, its miss, azimuth and altitude as seen, around a minute."""
    place = state.scene.place
    around = unix_s + np.arange(-75.0, 76.0)
    found = sky_place(body, around, place.latitude_deg, place.longitude_deg)
    seen = found.altitude_deg + refraction_deg(found.altitude_deg, pressure_hpa(place.elevation_m))
    miss = angle_between_deg(found.azimuth_deg, seen, bearing, height)
    i = int(miss.argmin())
    return float(around[i]), float(miss[i]), float(found.azimuth_deg[i]), float(seen[i])


def alignments(state: State, wish: Alignment) -> Passings:
    """When a body passes within a tolerance of a place in the sky, told to the second.

    Raises
    ------
    SceneError
        If the wish names an element that is not there.

    """
    bearing, height, words = _target(state, wish)
    months = months_ahead(state)
    t = months.track
    azimuth, airless = (
        (t.sun_azimuth_deg, t.sun_altitude_deg) if wish.body == "sun" else (t.moon_azimuth_deg, t.moon_altitude_deg)
    )
    seen = airless + refraction_deg(airless, pressure_hpa(state.scene.place.elevation_m))
    miss = angle_between_deg(azimuth, seen, bearing, height)
    # In a minute a body moves a quarter of a degree: what comes near between two minutes is kept too.
    usable = (t.unix_s >= state.unix_s - 60) & (t.moon_lit >= (wish.moon_lit_from if wish.body == "moon" else 0.0))
    near = (miss <= wish.tolerance_deg + 0.13) & usable
    told = []
    for first, last in stretches(near).tolist():
        i = first + int(miss[first : last + 1].argmin())
        at, gap, az, alt = _nearest(state, wish.body, float(t.unix_s[i]), bearing, height)
        if gap <= wish.tolerance_deg:
            told.append((at, gap, az, alt, bool(seen[min(i + 1, len(seen) - 1)] > seen[max(i - 1, 0)])))
    closest = float(miss[usable].min()) if usable.any() else math.inf
    nearest = ""
    if not told:
        nearest = (
            f"The {wish.body} comes no nearer than {degrees_text(closest, 1)} in these months."
            if math.isfinite(closest)
            else "The moon is never lit so far in these months."
        )
    return Passings(
        target_text=words,
        bearing_deg=bearing,
        height_deg=height,
        passings=tuple(_passing(state, wish.body, months.zone, *one) for one in told[:MOST_TOLD]),
        count=len(told),
        nearest_text=nearest,
    )


def _passing(
    state: State, body: BodyName, zone: ZoneInfo, at: float, miss: float, azimuth: float, altitude: float, rising: bool
) -> Passing:
    when = datetime.fromtimestamp(round(at), UTC)
    local = when.astimezone(zone)
    place = state.scene.place
    sun = sky_place("sun", at, place.latitude_deg, place.longitude_deg)
    x, y = (float(v) for v in state.geometry.camera.project_direction(azimuth, altitude))
    inside = not math.isnan(x) and 0 <= x <= 1 and 0 <= y <= 1
    return Passing(
        at_utc=when,
        date_text=local.strftime("%a %-d %B %Y"),
        time_text=local.strftime("%H:%M:%S"),
        going="rising" if rising else "setting",
        where_text=f"{degrees_text(azimuth, 1)}, {degrees_text(altitude, 1)} high",
        miss_deg=miss,
        miss_text=f"{miss:.2f}° off",
        sun_text="" if body == "sun" else f"sun at {degrees_text(float(sun.altitude_deg), 0)}",
        lit=float(moon_phase(at).lit) if body == "moon" else None,
        x=x if inside else None,
        y=y if inside else None,
    )
