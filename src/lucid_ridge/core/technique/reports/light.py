"""Light at the moment, and the day ribbon relative to the view."""

from __future__ import annotations

import math
from datetime import UTC, datetime, timedelta
from functools import lru_cache
from typing import Literal
from zoneinfo import ZoneInfo

import numpy as np

from lucid_ridge.core.figures import Figure, degrees_text, significant
from lucid_ridge.core.light.day import EVENT_TEXT, EventName, LightDay, light_day, minutes_per_stop
from lucid_ridge.core.light.direction import SIDE_TEXT, SIDES, LightSide, light_side, relative_azimuth_deg
from lucid_ridge.core.light.illuminance import illuminance_lux
from lucid_ridge.core.light.refraction import pressure_hpa, refraction_deg
from lucid_ridge.core.records import record
from lucid_ridge.core.technique.scene import Place
from lucid_ridge.core.technique.state import State

_HILL_STEP_MIN = 6
_HILL_DEPTH_STOPS = 20.0
_STEADY_MINUTES = 240.0


@record
class RibbonSegment:
    """A stretch of the day with one direction of direct light; positions 0..1."""

    start: float
    end: float
    side: LightSide
    text: str


@record
class RibbonEvent:
    """Something that happens at an instant of the day."""

    position: float
    name: EventName
    text: str
    time_text: str
    at_utc: datetime


@record
class RibbonTick:
    """A whole hour in the place's zone."""

    position: float
    text: str


@record
class Ribbon:
    """A day from midnight to midnight in the place's zone; heights 0 (20 stops down) to 1 (noon)."""

    start_utc: datetime
    end_utc: datetime
    date_text: str
    date_iso: str
    moment: float
    moment_text: str
    hill: tuple[tuple[float, float], ...]
    segments: tuple[RibbonSegment, ...]
    events: tuple[RibbonEvent, ...]
    ticks: tuple[RibbonTick, ...]
    sun_text: str


@record
class LightReport:
    """The light on the view at the moment."""

    altitude: Figure
    azimuth: Figure
    relative: Figure
    side: LightSide
    side_text: str
    illuminance: Figure
    below_noon: Figure
    minutes_per_stop: Figure
    rising: bool
    shadow: Figure
    ribbon: Ribbon


def _bounds(place: Place, moment: datetime) -> tuple[datetime, datetime]:
    """Local midnight before the moment and the one after, in UTC (23 to 25 hours apart)."""
    zone = ZoneInfo(place.time_zone)
    local = moment.astimezone(zone)
    start = datetime(local.year, local.month, local.day, tzinfo=zone)
    following = (start.replace(tzinfo=None) + timedelta(days=1)).replace(tzinfo=zone)
    return start.astimezone(UTC), following.astimezone(UTC)


def _day(state: State) -> tuple[LightDay, datetime, datetime]:
    place = state.scene.place
    start, end = _bounds(place, state.scene.composition.moment_utc)
    return light_day(place.latitude_deg, place.longitude_deg, start.timestamp(), end.timestamp()), start, end


def _clock(unix_s: float, zone: ZoneInfo) -> str:
    return datetime.fromtimestamp(round(unix_s / 60) * 60, UTC).astimezone(zone).strftime("%H:%M")


def _segments(state: State, day: LightDay) -> tuple[RibbonSegment, ...]:
    sides = light_side(day.azimuth_deg, day.altitude_deg, state.scene.composition.azimuth_deg)
    starts = np.concatenate([[0], np.flatnonzero(np.diff(sides)) + 1])
    ends = np.concatenate([starts[1:], [len(sides) - 1]])
    last = len(sides) - 1
    return tuple(
        RibbonSegment(start=float(a / last), end=float(b / last), side=SIDES[sides[a]], text=SIDE_TEXT[SIDES[sides[a]]])
        for a, b in zip(starts, ends, strict=True)
    )


def _ticks(start: datetime, end: datetime, zone: ZoneInfo) -> tuple[RibbonTick, ...]:
    """Every third hour by the place's own clock, also on days when the clock changes."""
    span = (end - start).total_seconds()
    hours = [start + timedelta(hours=h) for h in range(int(span // 3600) + 1)]
    return tuple(
        RibbonTick(position=(at - start).total_seconds() / span, text=at.astimezone(zone).strftime("%H:%M"))
        for at in hours
        if at.astimezone(zone).hour % 3 == 0
    )


_SUN_TEXT = {
    "up_all_day": "the sun does not set today",
    "down_all_day": "the sun does not rise today",
    "rises_and_sets": "",
}


def _rate_text(rate: float) -> tuple[str, str]:
    if abs(rate) > _STEADY_MINUTES:
        return "steady light", "steady"
    minutes = significant(abs(rate), 2)
    return f"one stop in {minutes} min", f"{minutes} min"


@lru_cache(maxsize=64)
def _same_all_day(
    place: Place, start: datetime, end: datetime
) -> tuple[tuple[tuple[float, float], ...], tuple[RibbonEvent, ...], tuple[RibbonTick, ...]]:
    """Hill, events and hours of a day: what no setting or aim changes."""
    zone = ZoneInfo(place.time_zone)
    first, span = start.timestamp(), (end - start).total_seconds()
    day = light_day(place.latitude_deg, place.longitude_deg, first, end.timestamp())
    heights = 1 + (day.log10_lux - day.log10_lux.max()) / math.log10(2) / _HILL_DEPTH_STOPS
    last = len(heights) - 1
    picks = np.array([*range(0, last, _HILL_STEP_MIN), last])
    points = np.stack([(picks / last).round(5), np.maximum(heights[picks], 0.0).round(4)], axis=1)
    events = tuple(
        RibbonEvent(
            position=(at - first) / span,
            name=name,
            text=EVENT_TEXT[name],
            time_text=_clock(at, zone),
            at_utc=datetime.fromtimestamp(round(at), UTC),
        )
        for at, name in day.events
    )
    return tuple((x, y) for x, y in points.tolist()), events, _ticks(start, end, zone)


def _ribbon(state: State, day: LightDay, start: datetime, end: datetime, rate: float) -> Ribbon:
    place = state.scene.place
    zone = ZoneInfo(place.time_zone)
    first, span = start.timestamp(), (end - start).total_seconds()
    hill, events, ticks = _same_all_day(place, start, end)
    local = start.astimezone(zone)
    return Ribbon(
        start_utc=start,
        end_utc=end,
        date_text=local.strftime("%a %-d %B %Y"),
        date_iso=local.strftime("%Y-%m-%d"),
        moment=min(max((state.unix_s - first) / span, 0.0), 1.0),
        moment_text=f"{_clock(state.unix_s, zone)} {_rate_text(rate)[0]}",
        hill=hill,
        segments=_segments(state, day),
        events=events,
        ticks=ticks,
        sun_text=_SUN_TEXT[day.sun_state],
    )


def light_report(state: State) -> LightReport:
    """Light on the view at the moment, and the ribbon of its day."""
    day, start, end = _day(state)
    altitude, azimuth = state.sun_altitude_deg, state.sun_azimuth_deg
    axis = state.scene.composition.azimuth_deg
    relative = float(relative_azimuth_deg(azimuth, axis))
    side = SIDES[int(light_side(azimuth, altitude, axis))]
    lux = float(illuminance_lux(altitude))
    below = (math.log10(lux) - float(day.log10_lux.max())) / math.log10(2)
    rate = minutes_per_stop(day, state.unix_s)
    apparent = altitude + float(refraction_deg(altitude, pressure_hpa(state.scene.place.elevation_m)))
    shadow = 1 / math.tan(math.radians(apparent)) if apparent > 0.1 else math.inf
    hand: Literal["left", "right"] = "left" if relative < 0 else "right"
    return LightReport(
        altitude=Figure(value=apparent, text=degrees_text(apparent, 1), explain="light.altitude"),
        azimuth=Figure(value=azimuth, text=degrees_text(azimuth), explain="light.azimuth"),
        relative=Figure(value=relative, text=f"{abs(relative):.0f}° {hand} of the axis", explain="light.direction"),
        side=side,
        side_text=SIDE_TEXT[side],
        illuminance=Figure(value=lux, text=_lux_text(lux), explain="light.illuminance"),
        below_noon=Figure(value=below, text=f"{abs(below):.1f} stops", explain="light.below_noon"),
        minutes_per_stop=Figure(
            value=abs(rate) if math.isfinite(rate) else None, text=_rate_text(rate)[1], explain="light.rate"
        ),
        rising=rate > 0,
        shadow=Figure(
            value=shadow if math.isfinite(shadow) else None,
            text=f"{significant(shadow, 2)} × height" if math.isfinite(shadow) else "none",
            explain="light.shadow",
        ),
        ribbon=_ribbon(state, day, start, end, rate),
    )


def _lux_text(lux: float) -> str:
    if lux >= 1000:
        return f"{significant(lux / 1000, 2)} klx"
    return f"{significant(lux, 2)} lx" if lux >= 0.1 else f"{significant(lux * 1000, 2)} mlx"
