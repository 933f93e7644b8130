"""When the Sun or the Moon stands where it is wanted: beside an element, in a notch, at a bearing and height."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated
from zoneinfo import ZoneInfo

import numpy as np
from annotated_types import Ge, Gt, Le

from lucid_ridge.core.light.ephemeris import BodyName, sky_place
from lucid_ridge.core.light.polarisation import angle_between_deg
from lucid_ridge.core.light.refraction import pressure_hpa, refraction_deg
from lucid_ridge.core.light.windows import stretches
from lucid_ridge.core.light_windows.light_wish import months_ahead
from lucid_ridge.core.records import FieldProblem, Identifier, SceneError, record
from lucid_ridge.core.state.state import State


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


@dataclass(frozen=True)
class Pass:
    """One time a body comes nearest the wanted place: unix seconds, the miss, azimuth and altitude as seen in degrees."""

    unix_s: float
    miss_deg: float
    azimuth_deg: float
    altitude_deg: float
    rising: bool


@dataclass(frozen=True)
class Passes:
    """When a body comes near, where it is wanted, and how near it comes at all (inf where it is never lit so far)."""

    bearing_deg: float
    height_deg: float
    found: tuple[Pass, ...]
    nearest_deg: float
    zone: ZoneInfo


def target_of(state: State, wish: Alignment) -> tuple[float, float]:
    """Bearing and altitude as seen of the wanted place, degrees.

    Raises
    ------
    SceneError
        If the wish names an element that is not there.

    """
    if wish.element_id is None:
        height = float(state.horizon.at(wish.bearing_deg)) if wish.height_deg is None else wish.height_deg
        return wish.bearing_deg, height
    for i, element in enumerate(state.scene.composition.elements):
        if element.id == wish.element_id:
            bearing, height = state.geometry.top_of(i)
            return (bearing + wish.beside_deg) % 360, height + wish.above_deg
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


def passes(state: State, wish: Alignment) -> Passes:
    """When a body passes within a tolerance of a place in the sky, to the second; see `target_of` for errors."""
    bearing, height = target_of(state, wish)
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
    found = []
    for first, last in stretches(near).tolist():
        i = first + int(miss[first : last + 1].argmin())
        at, gap, az, alt = _nearest(state, wish.body, float(t.unix_s[i]), bearing, height)
        if gap <= wish.tolerance_deg:
            rising = bool(seen[min(i + 1, len(seen) - 1)] > seen[max(i - 1, 0)])
            found.append(Pass(at, gap, az, alt, rising))
    closest = float(miss[usable].min()) if usable.any() else math.inf
    return Passes(bearing, height, tuple(found), closest, months.zone)
