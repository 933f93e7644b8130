"""The light that is wanted: whether a wish makes sense, and in which minutes it holds."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Literal
from zoneinfo import ZoneInfo

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.daylight.day import subject_index
from lucid_ridge.core.light.direction import SIDES, SUN_UP_DEG, light_side
from lucid_ridge.core.light.ephemeris import FIRST_UNIX, LAST_UNIX
from lucid_ridge.core.light.horizon import Horizon
from lucid_ridge.core.light.refraction import pressure_hpa, refraction_deg
from lucid_ridge.core.light.windows import around, crossings, stretches
from lucid_ridge.core.light.year import LocalClock, Track, local_clock, make_clock, make_track, track
from lucid_ridge.core.model.wanted import LightWish
from lucid_ridge.core.records import FieldProblem, SceneError
from lucid_ridge.core.state.state import State

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]


@dataclass(frozen=True)
class Condition:
    """One condition of a wish for light; of several things to be lit, which."""

    kind: Literal["side", "height", "lit", "around", "moon", "moon_lit", "clock"]
    index: int = 0


@dataclass(frozen=True, eq=False)
class Months:
    """The minutes of the months searched, with the place's clock."""

    track: Track
    clock: LocalClock
    zone: ZoneInfo


def months_ahead(state: State) -> Months:
    """Twelve months from the first of the moment's month, by the place's clock; fewer where the ephemeris ends."""
    place = state.scene.place
    zone = ZoneInfo(place.time_zone)
    local = state.scene.composition.moment_utc.astimezone(zone)
    first = max(datetime(local.year, local.month, 1, tzinfo=zone).timestamp(), FIRST_UNIX)
    last = min(datetime(local.year + 1, local.month, 1, tzinfo=zone).timestamp(), LAST_UNIX)
    return Months(
        track(place.latitude_deg, place.longitude_deg, first, last), local_clock(place.time_zone, first, last), zone
    )


def minutes_between(state: State, first: float, last: float) -> Months:
    """The minutes between two instants, as far as the ephemeris goes, with the place's clock; not remembered."""
    place = state.scene.place
    first, last = max(first, FIRST_UNIX), min(last, LAST_UNIX)
    return Months(
        make_track(place.latitude_deg, place.longitude_deg, first, last),
        make_clock(place.time_zone, first, last),
        ZoneInfo(place.time_zone),
    )


def check_wish(state: State, wish: LightWish) -> None:
    """A wish that contradicts itself, or names an element that is not there.

    Raises
    ------
    SceneError
        Naming each field at fault.

    """
    found = []
    ids = {e.id for e in state.scene.composition.elements}
    for i, one in enumerate(wish.lit):
        if one.element_id is not None and one.element_id not in ids:
            message = f"No element has the id '{one.element_id}'; take this condition away or choose another element."
            found.append(FieldProblem(pointer=f"/wish/lit/{i}/element_id", message=message))
    if wish.lowest_deg is not None and wish.highest_deg is not None and wish.lowest_deg > wish.highest_deg:
        message = "The lowest altitude of the sun must not be above the highest."
        found.append(FieldProblem(pointer="/wish/lowest_deg", message=message))
    if wish.from_hour == wish.to_hour:
        message = "The clock span is empty; use 0 to 24 for the whole day."
        found.append(FieldProblem(pointer="/wish/to_hour", message=message))
    if found:
        raise SceneError(found)


def horizon_by_id(state: State, element_id: str | None) -> Horizon:
    """The skyline at an element of the scene, or where the camera stands (None)."""
    return state.horizon_of(next((i for i, e in enumerate(state.geometry.elements) if e.id == element_id), None))


def name_by_id(state: State, element_id: str | None) -> str:
    """The name of an element, or of the standpoint (None)."""
    return next((e.name for e in state.geometry.elements if e.id == element_id), "standpoint")


def seen_deg(state: State, altitude: Array) -> Array:
    """Altitudes lifted by refraction at the place's height."""
    return altitude + refraction_deg(altitude, pressure_hpa(state.scene.place.elevation_m))


def _sides_hold(state: State, wish: LightWish, t: Track) -> Mask:
    """The light comes from a wanted side.

    With the sun down its glow counts, where the wish asks for heights below the horizon or for minutes about
    its rising or setting.
    """
    below = any(height is not None and height < 0 for height in (wish.lowest_deg, wish.highest_deg))
    glow = below or wish.around in ("sunrise", "sunset")
    height = np.full_like(t.sun_altitude_deg, 10.0) if glow else t.sun_altitude_deg
    sides = light_side(t.sun_azimuth_deg, height, state.scene.composition.azimuth_deg)
    return np.asarray(np.isin(sides, [SIDES.index(s) for s in wish.sides]))


def _around_holds(state: State, wish: LightWish, t: Track) -> Mask:
    """Minutes beside the event that is asked for; the sun arrives at and leaves the subject, over the terrain."""
    rising = wish.around in ("sunrise", "arrives", "moonrise")
    if wish.around in ("moonrise", "moonset"):
        at = crossings(t.unix_s, t.moon_altitude_deg, SUN_UP_DEG, rising)
    elif wish.around in ("sunrise", "sunset"):
        at = crossings(t.unix_s, t.sun_altitude_deg, SUN_UP_DEG, rising)
    else:
        subject = subject_index(state.scene)
        identity = None if subject is None else state.scene.composition.elements[subject].id
        level = horizon_by_id(state, identity).threshold_deg(t.sun_azimuth_deg)
        at = crossings(t.unix_s, t.sun_altitude_deg, level, rising)
    return around(at, t.unix_s, wish.before_min * 60, wish.after_min * 60)


def conditions(state: State, wish: LightWish, months: Months) -> list[tuple[Condition, Mask]]:
    """Each condition of a wish, and the minutes in which it holds."""
    t = months.track
    made: list[tuple[Condition, Mask]] = []
    if wish.sides:
        made.append((Condition("side"), _sides_hold(state, wish, t)))
    if wish.lowest_deg is not None or wish.highest_deg is not None:
        seen = seen_deg(state, t.sun_altitude_deg)
        low = -90.0 if wish.lowest_deg is None else wish.lowest_deg
        high = 90.0 if wish.highest_deg is None else wish.highest_deg
        made.append((Condition("height"), (seen >= low) & (seen <= high)))
    for i, one in enumerate(wish.lit):
        lit = horizon_by_id(state, one.element_id).clears(t.sun_azimuth_deg, t.sun_altitude_deg)
        made.append((Condition("lit", i), lit if one.lit else ~lit))
    if wish.around is not None:
        made.append((Condition("around"), _around_holds(state, wish, t)))
    if wish.moon != "any":
        up = state.horizon.clears(t.moon_azimuth_deg, t.moon_altitude_deg)
        made.append((Condition("moon"), up if wish.moon == "up" else ~up))
    if wish.moon_lit_from > 0:
        made.append((Condition("moon_lit"), t.moon_lit >= wish.moon_lit_from))
    if wish.from_hour > 0 or wish.to_hour < 24:
        minute = months.clock.minute
        start, end = wish.from_hour * 60, wish.to_hour * 60
        inside = (minute >= start) & (minute < end) if start < end else (minute >= start) | (minute < end)
        made.append((Condition("clock"), inside))
    return made


def windows(masks: list[Mask], wish: LightWish, count: int) -> NDArray[np.intp]:
    """First and last minute of each window: all conditions hold, for as long as is wanted."""
    holds = np.logical_and.reduce(masks) if masks else np.ones(count, dtype=bool)
    found = stretches(holds)
    return found[found[:, 1] - found[:, 0] + 1 >= wish.shortest_min]
