"""When the Sun or the Moon stands where it is wanted, as told on the Light bench."""

from __future__ import annotations

import math
from datetime import UTC, datetime
from typing import Literal
from zoneinfo import ZoneInfo

from lucid_ridge.core.light.ephemeris import BodyName, moon_phase, sky_place
from lucid_ridge.core.light_windows.alignments import Alignment, Pass, passes
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import degrees_text

MOST_TOLD = 60


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


def _target_text(state: State, wish: Alignment, bearing: float, height: float) -> str:
    if wish.element_id is None:
        on = "on the skyline " if wish.height_deg is None else ""
        return f"{on}at {degrees_text(bearing)}, {degrees_text(height, 1)} high"
    name = next(one.name for one in state.scene.composition.elements if one.id == wish.element_id)
    side = "right" if wish.beside_deg > 0 else "left"
    beside = "" if wish.beside_deg == 0 else f", {abs(wish.beside_deg):g}° {side}"
    above = "" if wish.above_deg == 0 else f", {wish.above_deg:g}° above"
    return f"the top of the {name}{beside}{above}"


def alignments(state: State, wish: Alignment) -> Passings:
    """When a body passes within a tolerance of a place in the sky, told to the second.

    Raises
    ------
    SceneError
        If the wish names an element that is not there.

    """
    made = passes(state, wish)
    nearest = ""
    if not made.found:
        nearest = (
            f"The {wish.body} comes no nearer than {degrees_text(made.nearest_deg, 1)} in these months."
            if math.isfinite(made.nearest_deg)
            else "The moon is never lit so far in these months."
        )
    return Passings(
        target_text=_target_text(state, wish, made.bearing_deg, made.height_deg),
        bearing_deg=made.bearing_deg,
        height_deg=made.height_deg,
        passings=tuple(_passing(state, wish.body, made.zone, one) for one in made.found[:MOST_TOLD]),
        count=len(made.found),
        nearest_text=nearest,
    )


def _passing(state: State, body: BodyName, zone: ZoneInfo, one: Pass) -> Passing:
    when = datetime.fromtimestamp(round(one.unix_s), UTC)
    local = when.astimezone(zone)
    place = state.scene.place
    sun = sky_place("sun", one.unix_s, place.latitude_deg, place.longitude_deg)
    x, y = (float(v) for v in state.geometry.camera.project_direction(one.azimuth_deg, one.altitude_deg))
    inside = not math.isnan(x) and 0 <= x <= 1 and 0 <= y <= 1
    return Passing(
        at_utc=when,
        date_text=local.strftime("%a %-d %B %Y"),
        time_text=local.strftime("%H:%M:%S"),
        going="rising" if one.rising else "setting",
        where_text=f"{degrees_text(one.azimuth_deg, 1)}, {degrees_text(one.altitude_deg, 1)} high",
        miss_deg=one.miss_deg,
        miss_text=f"{one.miss_deg:.2f}° off",
        sun_text="" if body == "sun" else f"sun at {degrees_text(float(sun.altitude_deg), 0)}",
        lit=float(moon_phase(one.unix_s).lit) if body == "moon" else None,
        x=x if inside else None,
        y=y if inside else None,
    )
