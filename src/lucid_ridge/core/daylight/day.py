"""A day at the place of a scene: its bounds, its phases, and who has the sun when."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Literal
from zoneinfo import ZoneInfo

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.light.day import LightDay, light_day
from lucid_ridge.core.light.definitions import DEFINITIONS, GoldenHour
from lucid_ridge.core.light.direction import SUN_UP_DEG
from lucid_ridge.core.light.horizon import Horizon
from lucid_ridge.core.light.windows import stretches
from lucid_ridge.core.model.place import Place
from lucid_ridge.core.model.scene import Scene

PhaseName = Literal["night", "twilight", "blue", "golden", "day"]
PHASES: tuple[PhaseName, ...] = ("night", "twilight", "blue", "golden", "day")


def phase_codes(altitude_deg: NDArray[np.float64], golden_hour: GoldenHour) -> NDArray[np.int8]:
    """Index into night, twilight, blue, golden, day by the sun's airless altitude; golden goes before blue."""
    spans = DEFINITIONS[golden_hour]
    codes = np.zeros(altitude_deg.shape, dtype=np.int8)
    codes[altitude_deg >= -18.0] = 1
    codes[altitude_deg >= SUN_UP_DEG] = 4
    codes[(altitude_deg >= spans.blue_low) & (altitude_deg < spans.blue_high)] = 2
    codes[(altitude_deg >= spans.golden_low) & (altitude_deg < spans.golden_high)] = 3
    return codes


def day_bounds(place: Place, moment: datetime) -> tuple[datetime, datetime]:
    """Local midnight before the moment and the one after, in UTC (23 to 25 hours apart)."""
    zone = ZoneInfo(place.time_zone)
    local = moment.astimezone(zone)
    start = datetime(local.year, local.month, local.day, tzinfo=zone)
    following = (start.replace(tzinfo=None) + timedelta(days=1)).replace(tzinfo=zone)
    return start.astimezone(UTC), following.astimezone(UTC)


def day_of(scene: Scene) -> tuple[LightDay, datetime, datetime]:
    """The day of a scene's moment, with its bounds."""
    return day_at(scene.place, scene.composition.moment_utc, scene.composition.golden_hour)


def day_at(place: Place, moment: datetime, golden_hour: GoldenHour) -> tuple[LightDay, datetime, datetime]:
    """The day of a moment at a place, with its bounds."""
    start, end = day_bounds(place, moment)
    day = light_day(place.latitude_deg, place.longitude_deg, start.timestamp(), end.timestamp(), golden_hour)
    return day, start, end


def lit_stretches(day: LightDay, horizon: Horizon) -> tuple[tuple[float, float], ...]:
    """First and last instant of each stretch of the day with the sun above a skyline, to the second.

    A stretch that runs into midnight ends there.
    """
    over = day.altitude_deg - horizon.threshold_deg(day.azimuth_deg)
    found = []
    for first, last in stretches(over >= 0).tolist():
        found.append((_edge(day, over, first - 1, first), _edge(day, over, last, last + 1)))
    return tuple(found)


def _edge(day: LightDay, over: NDArray[np.float64], i: int, j: int) -> float:
    if i < 0:
        return float(day.unix_s[0])
    if j >= len(over):
        return float(day.unix_s[-1])
    share = float(over[i] / (over[i] - over[j]))
    return float(day.unix_s[i] + share * (day.unix_s[j] - day.unix_s[i]))


def subject_index(scene: Scene) -> int | None:
    """The element whose light counts: the first subject, else the first thing in front."""
    for role in ("subject", "foreground", "middle"):
        for i, element in enumerate(scene.composition.elements):
            if element.role == role:
                return i
    return None
