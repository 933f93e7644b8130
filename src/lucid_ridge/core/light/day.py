"""A whole day of sunlight at a place: samples by the minute, and its events."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.light.direction import SUN_UP_DEG
from lucid_ridge.core.light.ephemeris import FIRST_UNIX, LAST_UNIX, sun_place
from lucid_ridge.core.light.illuminance import log10_illuminance

Array = NDArray[np.float64]

EventName = Literal[
    "astronomical_dawn", "nautical_dawn", "civil_dawn", "golden_morning", "sunrise", "golden_morning_end",
    "noon", "golden_evening", "sunset", "golden_evening_end", "civil_dusk", "nautical_dusk",
    "astronomical_dusk",
]  # fmt: skip

# Golden hour: sun between 6 degrees above and 4 below the level horizon (common practice).
_RISING: tuple[tuple[float, EventName], ...] = (
    (-18.0, "astronomical_dawn"), (-12.0, "nautical_dawn"), (-6.0, "civil_dawn"), (-4.0, "golden_morning"),
    (SUN_UP_DEG, "sunrise"), (6.0, "golden_morning_end"),
)  # fmt: skip
_SETTING: tuple[tuple[float, EventName], ...] = (
    (6.0, "golden_evening"), (SUN_UP_DEG, "sunset"), (-4.0, "golden_evening_end"), (-6.0, "civil_dusk"),
    (-12.0, "nautical_dusk"), (-18.0, "astronomical_dusk"),
)  # fmt: skip

EVENT_TEXT: dict[EventName, str] = {
    "astronomical_dawn": "first light in the sky",
    "nautical_dawn": "nautical dawn",
    "civil_dawn": "civil dawn",
    "golden_morning": "golden hour begins",
    "sunrise": "sunrise",
    "golden_morning_end": "golden hour ends",
    "noon": "sun highest",
    "golden_evening": "golden hour begins",
    "sunset": "sunset",
    "golden_evening_end": "golden hour ends",
    "civil_dusk": "civil dusk",
    "nautical_dusk": "nautical dusk",
    "astronomical_dusk": "last light in the sky",
}

SunState = Literal["rises_and_sets", "up_all_day", "down_all_day"]


@dataclass(frozen=True)
class LightDay:
    """Samples (T,) a minute apart from midnight to midnight in the place's zone, both included."""

    unix_s: Array
    altitude_deg: Array
    azimuth_deg: Array
    log10_lux: Array
    events: tuple[tuple[float, EventName], ...]
    sun_state: SunState


def _crossings(unix_s: Array, altitude: Array, level: float, rising: bool) -> list[float]:
    """Instants at which the altitude passes a level; a line within a minute errs by under 0.1 s."""
    below = altitude < level
    change = below[:-1] & ~below[1:] if rising else ~below[:-1] & below[1:]
    found = []
    for i in np.flatnonzero(change):
        share = (level - altitude[i]) / (altitude[i + 1] - altitude[i])
        found.append(float(unix_s[i] + share * (unix_s[i + 1] - unix_s[i])))
    return found


@lru_cache(maxsize=256)
def light_day(latitude_deg: float, longitude_deg: float, start_unix: float, end_unix: float) -> LightDay:
    """The day from *start_unix* to *end_unix* (23 to 25 hours where clocks change).

    Raises
    ------
    ValueError
        If the day lies outside the ephemeris.

    """
    count = max(2, math.ceil((end_unix - start_unix) / 60) + 1)
    unix_s = np.linspace(start_unix, end_unix, count)
    # The first and the last day of the ephemeris may reach past its edge in other time zones.
    place = sun_place(np.clip(unix_s, FIRST_UNIX, LAST_UNIX), latitude_deg, longitude_deg)
    altitude = place.altitude_deg
    events = [(at, name) for level, name in _RISING for at in _crossings(unix_s, altitude, level, rising=True)]
    events += [(at, name) for level, name in _SETTING for at in _crossings(unix_s, altitude, level, rising=False)]
    highest = int(np.argmax(altitude))
    if 0 < highest < count - 1:
        events.append((float(unix_s[highest]), "noon"))
    up = altitude >= SUN_UP_DEG
    state: SunState = "up_all_day" if up.all() else "rises_and_sets" if up.any() else "down_all_day"
    return LightDay(
        unix_s=unix_s,
        altitude_deg=altitude,
        azimuth_deg=place.azimuth_deg,
        log10_lux=log10_illuminance(altitude),
        events=tuple(sorted(events)),
        sun_state=state,
    )


def minutes_per_stop(day: LightDay, unix_s: float) -> float:
    """Minutes in which the light changes by one stop at an instant; + rising, - falling, inf steady."""
    around = np.interp([unix_s - 60, unix_s + 60], day.unix_s, day.log10_lux, left=np.nan, right=np.nan)
    if np.isnan(around).any():
        edge = np.clip([unix_s - 60, unix_s + 60], day.unix_s[0], day.unix_s[-1])
        around = np.interp(edge, day.unix_s, day.log10_lux)
        span = float(edge[1] - edge[0])
    else:
        span = 120.0
    stops = float(around[1] - around[0]) / math.log10(2.0)
    return math.inf if abs(stops) < 1e-6 else span / 60.0 / stops
