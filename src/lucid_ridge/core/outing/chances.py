"""When a composition can be taken on the days of an outing: its light or its moment, cut by daylight, by tide and by the day."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import timedelta
from typing import Literal
from zoneinfo import ZoneInfo

import numpy as np

from lucid_ridge.core.light.tide import tide_height
from lucid_ridge.core.light_windows.next_light import windows_between
from lucid_ridge.core.model.outing import OutingVisit
from lucid_ridge.core.model.place import Place
from lucid_ridge.core.outing.day_times import instant, minute_of, seen_without_lamp, spans_of, when
from lucid_ridge.core.outing.task import Chance, Day
from lucid_ridge.core.state.state import State

Span = tuple[int, int]
CauseKind = Literal["none", "wish_gone", "light", "short", "hours", "tide", "dark", "no_tide"]
_BESIDE_MIN = 720
"""So long before and after the days light is looked for, to say when it would be there."""


@dataclass(frozen=True)
class Chances:
    """The chances of a visit, or why there are none.

    ``cause``: ``light`` none of it comes; ``short`` the longest of its windows lasts ``lasts_min`` only; ``hours`` it comes outside
    the hours of the day, next from ``nearest`` on; ``tide`` and ``dark`` the ground cannot be reached meanwhile; ``wish_gone`` the
    wish names a thing that is gone, ``no_tide`` nothing is known of the tide. ``light`` are the windows of its light near the days, ``open_ground`` the spans in which its
    ground is open, None where always.
    """

    chances: tuple[Chance, ...]
    cause: CauseKind
    light: tuple[Span, ...]
    open_ground: tuple[Span, ...] | None
    lasts_min: int = 0
    nearest: Span | None = None


def _open_ground(place: Place, visit: OutingVisit, first: int, last: int) -> list[Span] | None:
    """Spans in which the ground is open, None where always."""
    tidal = visit.tide_below_m is not None or visit.tide_above_m is not None
    if not (visit.daylight_only or tidal):
        return None
    minutes = np.arange(first, last + 1)
    open_ = np.ones(len(minutes), dtype=bool)
    if visit.daylight_only:
        open_ &= seen_without_lamp(place.latitude_deg, place.longitude_deg, minutes)
    if tidal and place.tide is not None:
        height = tide_height(minutes * 60.0, place.tide.mean_m, place.tide.harmonics)
        if visit.tide_below_m is not None:
            open_ &= height <= visit.tide_below_m
        if visit.tide_above_m is not None:
            open_ &= height >= visit.tide_above_m
    return spans_of(minutes, open_)


def _moments(place: Place, visit: OutingVisit, days: tuple[Day, ...]) -> list[Span]:
    """The moment of the clock with its tolerance, on each day that an outing touches."""
    assert visit.moment is not None
    zone = ZoneInfo(place.time_zone)
    dates = set()
    for day in days:
        date, last = when(day.leave_from).astimezone(zone).date(), when(day.back_by).astimezone(zone).date()
        while date <= last:
            dates.add(date)
            date += timedelta(days=1)
    at = [instant(date, visit.moment, place.time_zone) for date in sorted(dates)]
    return [(m - visit.tolerance_min, m + visit.tolerance_min) for m in at]


def light_spans(state: State, first: int, last: int) -> list[Span] | None:
    """Windows of the composition's light that touch a span of minutes, in whole minutes within them."""
    found = windows_between(state, first * 60.0, last * 60.0)
    return None if found is None else [(math.ceil(a / 60), math.floor(b / 60)) for a, b in found]


@dataclass(frozen=True)
class _Wanted:
    """Spans for the first frame, each with when what is waited for begins; or why there is none."""

    spans: tuple[tuple[int, int, int], ...] = ()
    cause: CauseKind = "none"
    lasts_min: int = 0


def _wanted(
    state: State, visit: OutingVisit, days: tuple[Day, ...], light: list[Span] | None, frames_min: int
) -> _Wanted:
    """When the first frame is wanted, before the ground and the hours of the days are asked."""
    first, last = min(d.leave_from for d in days), max(d.back_by for d in days)
    if visit.first_at is not None:
        at = minute_of(visit.first_at)
        return _Wanted(((at, at, next((a for a, b in light or () if a <= at <= b), at)),))
    if visit.goal == "any":
        return _Wanted(((first, last, first),))
    if visit.goal == "moment" and visit.moment is not None:
        return _Wanted(tuple((a, b, a) for a, b in _moments(state.scene.place, visit, days)))
    if light is None:
        return _Wanted(cause="wish_gone")
    spans = tuple((a, b - frames_min, a) for a, b in light if b - a >= frames_min)
    if light and not spans:
        return _Wanted(cause="short", lasts_min=max(b - a for a, b in light))
    return _Wanted(spans, "none" if spans else "light")


def chances_of(state: State, visit: OutingVisit, days: tuple[Day, ...], frames_min: int) -> Chances:
    """The chances of a visit on the days of an outing.

    Parameters
    ----------
    state
        The composition's scene.
    visit
        What is wanted of it.
    days
        The days of the outing; only those that the visit may fall on count.
    frames_min
        How long its sequence takes.

    """
    place = state.scene.place
    first, last = min(d.leave_from for d in days), max(d.back_by for d in days)
    light = light_spans(state, first - _BESIDE_MIN, last + _BESIDE_MIN)
    grounds = _open_ground(place, visit, first - 1440, last + 1440)
    shown, told = tuple(light or ()), None if grounds is None else tuple(grounds)
    tidal = visit.tide_below_m is not None or visit.tide_above_m is not None
    wanted = (
        _Wanted(cause="no_tide") if tidal and place.tide is None else _wanted(state, visit, days, light, frames_min)
    )
    if not wanted.spans:
        return Chances((), wanted.cause, shown, told, wanted.lasts_min)
    inside, closed = [], False
    for a, b, opens in wanted.spans:
        for d, day in enumerate(days):
            if b < day.leave_from or a > day.back_by or visit.day not in (None, d):
                continue
            closed = closed or grounds == []
            for low, high in grounds if grounds is not None else [(day.leave_from - 1440, day.back_by + 1440)]:
                earliest, latest = max(a, low + visit.set_up_min), min(b, high - frames_min - visit.margin_min)
                if earliest <= latest:
                    inside.append(Chance(d, earliest, latest, low, high, max(opens, low)))
                else:
                    closed = True
    if inside:
        return Chances(tuple(inside), "none", shown, told)
    if closed:
        return Chances((), "tide" if tidal else "dark", shown, told)
    middle = (first + last) // 2
    near = min(wanted.spans, key=lambda s: max(s[0] - middle, middle - s[1]))
    return Chances((), "hours", shown, told, nearest=(near[0], near[1] + frames_min))
