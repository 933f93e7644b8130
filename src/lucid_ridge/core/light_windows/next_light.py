"""The next good light at a place: when a new composition is best begun, never in the middle of the night by accident."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.daylight.day import day_bounds
from lucid_ridge.core.light.ephemeris import LAST_UNIX
from lucid_ridge.core.light.horizon import Horizon
from lucid_ridge.core.light.refraction import pressure_hpa, refraction_deg
from lucid_ridge.core.light.windows import stretches
from lucid_ridge.core.light.year import Track, make_track
from lucid_ridge.core.light_windows.light_wish import conditions, minutes_between, windows
from lucid_ridge.core.model.place import Place
from lucid_ridge.core.model.wanted import LightWish
from lucid_ridge.core.state.state import State

LOWEST_DEG, HIGHEST_DEG = 1.0, 8.0
"""The low sun that is looked for, as seen."""
_DAYS_AHEAD, _YEAR = 4, 366
_LONG_ENOUGH_MIN = 10
_OPEN_FOR_S = 6 * 3600.0
_SEARCHED_DAYS = (4, 60)
_BESIDE_S = 12 * 3600.0


@dataclass(frozen=True, eq=False)
class _Low:
    """The minutes (M,) looked through: the sun's height as seen, which lie ahead, in which it reaches the place."""

    track: Track
    seen_deg: NDArray[np.float64]
    ahead: NDArray[np.bool_]
    reached: NDArray[np.bool_]
    stretches: list[tuple[int, int]]


@lru_cache(maxsize=32)
def _days(place: Place, first: float, days: int) -> Track:
    last = min(first + days * 86400.0, LAST_UNIX)
    return make_track(place.latitude_deg, place.longitude_deg, first, last)


def _low(place: Place, horizon: Horizon, after: datetime, highest_deg: float, days: int = _DAYS_AHEAD) -> _Low:
    start, _ = day_bounds(place, after)
    return _low_in(place, horizon, _days(place, start.timestamp(), days), after.timestamp(), highest_deg)


def _low_in(place: Place, horizon: Horizon, track: Track, after: float, highest_deg: float = HIGHEST_DEG) -> _Low:
    seen = track.sun_altitude_deg + refraction_deg(track.sun_altitude_deg, pressure_hpa(place.elevation_m))
    ahead = track.unix_s >= after
    reached = horizon.clears(track.sun_azimuth_deg, track.sun_altitude_deg) & (seen > 0) & ahead
    found = stretches(reached & (seen >= LOWEST_DEG) & (seen <= highest_deg)).tolist()
    return _Low(track, seen, ahead, reached, [(a, b) for a, b in found if b - a + 1 >= _LONG_ENOUGH_MIN])


def next_low_sun(place: Place, horizon: Horizon, after: datetime, highest_deg: float = HIGHEST_DEG) -> datetime:
    """The middle of the next stretch of ten minutes or more with a low sun that reaches over the skyline.

    Where none comes within four days (deep valleys, polar summer) the moment in them is taken at which the sun stands on
    the place and lowest; where it does not reach the place in those days (polar night), the next time in a year that it
    does, else when it stands highest.
    """
    low = _low(place, horizon, after, highest_deg)
    if not low.reached.any():
        low = _low(place, horizon, after, highest_deg, _YEAR)
    if low.stretches:
        first, last = low.stretches[0]
        at = (first + last) // 2
    elif low.reached.any():
        at = int(np.argmin(np.where(low.reached, low.seen_deg, np.inf)))
    else:
        at = int(np.argmax(np.where(low.ahead, low.seen_deg, -np.inf)))
    return _instant(float(low.track.unix_s[at]))


def next_window(state: State, after: datetime) -> tuple[datetime, datetime] | None:
    """The window of wanted light that is open at a time or comes next, within about two months; clear sky.

    Where no light is wished for, the next low sun on the standpoint. None where nothing comes, or where the wish names a
    thing that is gone.
    """
    wish = state.scene.composition.light_wish
    if wish == LightWish(shortest_min=wish.shortest_min, ready_min=wish.ready_min):
        low = _low(state.scene.place, state.horizon, after, HIGHEST_DEG)
        return _span(low.track, *low.stretches[0]) if low.stretches else None
    known = {None, *(e.id for e in state.scene.composition.elements)}
    if any(one.element_id not in known for one in wish.lit):
        return None
    first = after.timestamp()
    # What is open now may have begun some hours ago.
    begin = first - _OPEN_FOR_S
    for days in _SEARCHED_DAYS:
        months = minutes_between(state, begin, first + days * 86400.0)
        masks = conditions(state, wish, months)
        for a, b in windows([mask for _, mask in masks], wish, len(months.track.unix_s)).tolist():
            if months.track.unix_s[b] >= first:
                return _span(months.track, a, b)
    return None


def windows_between(state: State, first: float, last: float) -> list[tuple[float, float]] | None:
    """The windows of wanted light that touch a span, unix seconds; clear sky, and cut off at half a day beyond it.

    Where no light is wished for, those of the low sun on the standpoint. None where the wish names a thing that is gone.
    """
    begin, end = first - _BESIDE_S, last + _BESIDE_S
    wish = state.scene.composition.light_wish
    if wish == LightWish(shortest_min=wish.shortest_min, ready_min=wish.ready_min):
        place = state.scene.place
        low = _low_in(
            place, state.horizon, make_track(place.latitude_deg, place.longitude_deg, begin, min(end, LAST_UNIX)), begin
        )
        found, minutes = low.stretches, low.track.unix_s
    else:
        known = {None, *(e.id for e in state.scene.composition.elements)}
        if any(one.element_id not in known for one in wish.lit):
            return None
        months = minutes_between(state, begin, end)
        masks = [mask for _, mask in conditions(state, wish, months)]
        minutes = months.track.unix_s
        found = [(a, b) for a, b in windows(masks, wish, len(minutes)).tolist()]
    spans = [(float(minutes[a]), float(minutes[b]) + 60.0) for a, b in found]
    return [(a, b) for a, b in spans if b > first and a < last]


def _span(track: Track, a: int, b: int) -> tuple[datetime, datetime]:
    return _instant(float(track.unix_s[a])), _instant(float(track.unix_s[b]) + 60.0)


def _instant(unix_s: float) -> datetime:
    return datetime.fromtimestamp(unix_s, UTC).replace(second=0, microsecond=0)


def soon(now: datetime) -> datetime:
    """From when a new composition's light is looked for: an hour to get there."""
    return now + timedelta(hours=1)
