"""Times of day by a place's clock as instants, and the days of an outing with the stretches in which one sees without a lamp."""

from __future__ import annotations

import math
from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.light.ephemeris import FIRST_UNIX, LAST_UNIX, sun_place
from lucid_ridge.core.light.windows import stretches
from lucid_ridge.core.model.outing import Outing, Spot
from lucid_ridge.core.outing.task import Day

LAMP_BELOW_DEG = -6.0
"""With the sun this far down it is too dark to walk without a lamp: the end of civil twilight."""


def minute_of(at: datetime) -> int:
    """Whole minutes since 1970 of an aware time, rounded down."""
    return math.floor(at.timestamp() / 60)


def when(minute: int) -> datetime:
    """The instant of a minute, in UTC."""
    return datetime.fromtimestamp(minute * 60, UTC)


def instant(day: date, at: time, time_zone: str) -> int:
    """The minute at which a clock shows a time on a day.

    A time that the clock jumps over is taken as far after the jump as it lies after the jump's beginning; of one that comes twice
    the first is meant.
    """
    local = datetime.combine(day, at.replace(tzinfo=None)).replace(tzinfo=ZoneInfo(time_zone), fold=0)
    return minute_of(local)


def ends_of(outing: Outing, index: int) -> tuple[Spot, Spot]:
    """Where a day starts and ends: a day with a start of its own comes back to it, unless it says otherwise."""
    day = outing.days[index]
    start = day.start or outing.start
    return start, day.end or (start if day.start else outing.end or start)


def bounds_of(outing: Outing, index: int) -> tuple[int, int]:
    """The minute before which nobody leaves on a day, and that by which one is back."""
    day, (start, end) = outing.days[index], ends_of(outing, index)
    zone = start.time_zone or "UTC"
    end_zone = end.time_zone or zone
    leave = instant(day.date, day.leave_from, zone)
    back = instant(day.date, day.back_by, end_zone)
    if back <= leave:
        back = instant(day.date + timedelta(days=1), day.back_by, end_zone)
    return leave, back


def seen_without_lamp(latitude_deg: float, longitude_deg: float, minutes: NDArray[np.int64]) -> NDArray[np.bool_]:
    """Whether one sees without a lamp at each of some minutes, (N,)."""
    sun = sun_place(np.clip(minutes * 60.0, FIRST_UNIX, LAST_UNIX), latitude_deg, longitude_deg)
    return np.asarray(sun.altitude_deg >= LAMP_BELOW_DEG)


def spans_of(minutes: NDArray[np.int64], holds: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """First and last minute of each unbroken stretch in which something holds."""
    return [(int(minutes[a]), int(minutes[b])) for a, b in stretches(holds).tolist()]


def days_of(outing: Outing) -> tuple[Day, ...]:
    """The days of an outing; their light is that of where each starts."""
    made = []
    for i in range(len(outing.days)):
        leave, back = bounds_of(outing, i)
        start, minutes = ends_of(outing, i)[0], np.arange(leave, back + 1)
        seen = seen_without_lamp(start.latitude_deg, start.longitude_deg, minutes)
        made.append(Day(leave, back, tuple(spans_of(minutes, seen))))
    return tuple(made)
