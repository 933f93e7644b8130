"""A year of Sun and Moon at a place, by the minute, and its days by the place's own clock."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import lru_cache
from zoneinfo import ZoneInfo

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.light.ephemeris import FIRST_UNIX, LAST_UNIX, moon_phase, moon_place, sun_place

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Track:
    """Airless altitudes and azimuths (T,) of Sun and Moon a minute apart, and the Moon's lit share."""

    unix_s: Array
    sun_altitude_deg: Array
    sun_azimuth_deg: Array
    moon_altitude_deg: Array
    moon_azimuth_deg: Array
    moon_lit: Array


@dataclass(frozen=True, eq=False)
class LocalClock:
    """Which day (0 the first) and minute of the day each sample of a track falls on, by a place's own clock."""

    first_day: datetime
    day: NDArray[np.int32]
    minute: NDArray[np.int32]


def make_track(latitude_deg: float, longitude_deg: float, start_unix: float, end_unix: float) -> Track:
    """Sun and Moon from *start_unix* on, every minute to before *end_unix*.

    Outside the ephemeris (1900 to 2050) the places of its first or last second are given.
    """
    unix_s = np.arange(start_unix, end_unix, 60.0)
    known = np.clip(unix_s, FIRST_UNIX, LAST_UNIX)
    sun, moon = (place(known, latitude_deg, longitude_deg) for place in (sun_place, moon_place))
    return Track(unix_s, sun.altitude_deg, sun.azimuth_deg, moon.altitude_deg, moon.azimuth_deg, moon_phase(known).lit)


track = lru_cache(maxsize=6)(make_track)
"""The same, remembered by place and span: for years."""


def year_bounds(year: int, time_zone: str) -> tuple[float, float]:
    """First and last instant of a year by a zone's clock, unix seconds."""
    zone = ZoneInfo(time_zone)
    return datetime(year, 1, 1, tzinfo=zone).timestamp(), datetime(year + 1, 1, 1, tzinfo=zone).timestamp()


def clock_changes(time_zone: str, start_unix: float, end_unix: float) -> list[tuple[float, int]]:
    """The zone's offsets from UTC in seconds, each with the instant from which it holds (the first: the start)."""
    zone = ZoneInfo(time_zone)

    def offset(at: float) -> int:
        found = datetime.fromtimestamp(at, UTC).astimezone(zone).utcoffset()
        return int(found.total_seconds()) if found is not None else 0

    found = [(start_unix, offset(start_unix))]
    days = np.append(np.arange(start_unix + 86400, end_unix, 86400.0), end_unix)
    for day in days.tolist():
        if offset(day) != found[-1][1]:
            low, high = day - 86400, day
            while high - low > 1:
                middle = (low + high) // 2
                low, high = (middle, high) if offset(middle) == found[-1][1] else (low, middle)
            found.append((high, offset(high)))
    return found


def make_clock(time_zone: str, start_unix: float, end_unix: float) -> LocalClock:
    """Local day and minute of each sample of `track`; a doubled hour has its minutes twice, a missing one never."""
    unix_s = np.arange(start_unix, end_unix, 60.0)
    changes = clock_changes(time_zone, start_unix, end_unix)
    offsets = np.array([o for _, o in changes])[np.searchsorted([t for t, _ in changes], unix_s, side="right") - 1]
    local = unix_s + offsets
    first = np.floor(local[0] / 86400)
    return LocalClock(
        first_day=datetime(1970, 1, 1, tzinfo=UTC) + timedelta(days=float(first)),
        day=(np.floor(local / 86400) - first).astype(np.int32),
        minute=np.floor(local % 86400 / 60).astype(np.int32),
    )


local_clock = lru_cache(maxsize=6)(make_clock)
"""The same, remembered: for years."""
