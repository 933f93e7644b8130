"""A whole day of Sun and Moon at a place: samples by the minute, and its events."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.light.definitions import DEFINITIONS, GoldenHour, HourSpans
from lucid_ridge.core.light.direction import SUN_UP_DEG
from lucid_ridge.core.light.ephemeris import FIRST_UNIX, LAST_UNIX, moon_phase, moon_place, sun_place
from lucid_ridge.core.light.illuminance import natural_lux
from lucid_ridge.core.light.moonlight import moonlit_level_lux
from lucid_ridge.core.light.windows import crossings

Array = NDArray[np.float64]

EventName = Literal[
    "astronomical_dawn", "nautical_dawn", "civil_dawn", "blue_morning", "blue_morning_end", "golden_morning",
    "sunrise", "golden_morning_end", "noon", "golden_evening", "sunset", "golden_evening_end", "blue_evening",
    "blue_evening_end", "civil_dusk", "nautical_dusk", "astronomical_dusk", "moonrise", "moonset",
]  # fmt: skip

SunState = Literal["rises_and_sets", "up_all_day", "down_all_day"]


def _rising(spans: HourSpans) -> tuple[tuple[float, EventName], ...]:
    return (
        (-18.0, "astronomical_dawn"), (-12.0, "nautical_dawn"), (-6.0, "civil_dawn"), (spans.blue_low, "blue_morning"),
        (spans.blue_high, "blue_morning_end"), (spans.golden_low, "golden_morning"), (SUN_UP_DEG, "sunrise"),
        (spans.golden_high, "golden_morning_end"),
    )  # fmt: skip


def _setting(spans: HourSpans) -> tuple[tuple[float, EventName], ...]:
    return (
        (spans.golden_high, "golden_evening"), (SUN_UP_DEG, "sunset"), (spans.golden_low, "golden_evening_end"),
        (spans.blue_high, "blue_evening"), (spans.blue_low, "blue_evening_end"), (-6.0, "civil_dusk"),
        (-12.0, "nautical_dusk"), (-18.0, "astronomical_dusk"),
    )  # fmt: skip


@dataclass(frozen=True, eq=False)
class LightDay:
    """Samples (T,) a minute apart from midnight to midnight in the place's zone, both included.

    Altitudes are airless. Events stand over a level horizon. The light is that of level ground under a clear sky, by sun,
    Moon and the dark sky itself.
    """

    unix_s: Array
    altitude_deg: Array
    azimuth_deg: Array
    log10_lux: Array
    moon_altitude_deg: Array
    moon_azimuth_deg: Array
    moon_lit: float
    moon_elongation_deg: float
    events: tuple[tuple[float, EventName], ...]
    sun_state: SunState


@lru_cache(maxsize=256)
def light_day(
    latitude_deg: float,
    longitude_deg: float,
    start_unix: float,
    end_unix: float,
    golden_hour: GoldenHour = "six_to_minus_four",
) -> LightDay:
    """The day from *start_unix* to *end_unix* (23 to 25 hours where clocks change).

    Raises
    ------
    ValueError
        If the day lies outside the ephemeris.

    """
    count = max(2, math.ceil((end_unix - start_unix) / 60) + 1)
    unix_s = np.linspace(start_unix, end_unix, count)
    # The first and the last day of the ephemeris may reach past its edge in other time zones.
    known = np.clip(unix_s, FIRST_UNIX, LAST_UNIX)
    place, moon = (body(known, latitude_deg, longitude_deg) for body in (sun_place, moon_place))
    altitude = place.altitude_deg
    spans = DEFINITIONS[golden_hour]
    events = [(at, name) for level, name in _rising(spans) for at in crossings(unix_s, altitude, level, True)]
    events += [(at, name) for level, name in _setting(spans) for at in crossings(unix_s, altitude, level, False)]
    events += [(at, "moonrise") for at in crossings(unix_s, moon.altitude_deg, SUN_UP_DEG, True)]
    events += [(at, "moonset") for at in crossings(unix_s, moon.altitude_deg, SUN_UP_DEG, False)]
    highest = int(np.argmax(altitude))
    if 0 < highest < count - 1:
        events.append((float(unix_s[highest]), "noon"))
    up = altitude >= SUN_UP_DEG
    state: SunState = "up_all_day" if up.all() else "rises_and_sets" if up.any() else "down_all_day"
    phase = moon_phase(known[count // 2])
    moonlight = moonlit_level_lux(moon.altitude_deg, moon_phase(known).lit, moon.distance_au)
    return LightDay(
        unix_s=unix_s,
        altitude_deg=altitude,
        azimuth_deg=place.azimuth_deg,
        log10_lux=np.log10(natural_lux(altitude) + moonlight),
        moon_altitude_deg=moon.altitude_deg,
        moon_azimuth_deg=moon.azimuth_deg,
        moon_lit=float(phase.lit),
        moon_elongation_deg=float(phase.elongation_deg),
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
