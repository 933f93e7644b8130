"""The day ribbon: a day at the place, relative to the view."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from functools import lru_cache
from typing import Literal
from zoneinfo import ZoneInfo

import numpy as np

from lucid_ridge.core.daylight.day import PHASES, PhaseName, day_at, lit_stretches, phase_codes, subject_index
from lucid_ridge.core.daylight.sun_chance import likely_spans
from lucid_ridge.core.light.day import EventName, LightDay
from lucid_ridge.core.light.definitions import GoldenHour
from lucid_ridge.core.light.direction import SIDES, SUN_UP_DEG, LightSide, light_side
from lucid_ridge.core.light.horizon import Horizon
from lucid_ridge.core.light.windows import stretches
from lucid_ridge.core.model.place import Forecast, Place
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import clock_text
from lucid_ridge.reports.light.tide_and_weather import ForecastRow, TideRow, forecast_row, tide_row
from lucid_ridge.reports.light.words import EVENT_TEXT, SIDE_TEXT, moon_words, spans_text

_HILL_STEP_MIN = 6
_HILL_DEPTH_STOPS = 20.0
_MOST_STOPS = 4
Span = tuple[float, float]

RowKind = Literal["standpoint", "subject", "forecast", "moon"]
Lit = tuple[tuple[RowKind, str, Horizon], ...]
"""What is told of: kind, name and skyline of each."""


@record
class RibbonSegment:
    """A stretch of the day with one direction of direct light; positions 0..1."""

    start: float
    end: float
    side: LightSide
    text: str


@record
class RibbonPhase:
    """A stretch of night, twilight, blue hour, golden hour or day, by the sun's height."""

    start: float
    end: float
    phase: PhaseName


@record
class RibbonRow:
    """Stretches in which something has the sun, or the moon is up; ``text`` says it in words."""

    kind: RowKind
    name: str
    spans: tuple[Span, ...]
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
    """A mark on the day: an hour in the place's zone, or a whole stop from now."""

    position: float
    text: str


@record
class Ribbon:
    """A day from midnight to midnight in the place's zone; heights 0 (20 stops down) to 1 (noon).

    ``stop_marks`` stand where the light differs by whole stops from the moment's.
    """

    start_utc: datetime
    end_utc: datetime
    date_text: str
    date_iso: str
    moment: float
    moment_text: str
    hill: tuple[Span, ...]
    phases: tuple[RibbonPhase, ...]
    segments: tuple[RibbonSegment, ...]
    rows: tuple[RibbonRow, ...]
    events: tuple[RibbonEvent, ...]
    ticks: tuple[RibbonTick, ...]
    stop_marks: tuple[RibbonTick, ...]
    sun_text: str
    moon_text: str
    tide: TideRow | None
    forecast: ForecastRow | None


def _segments(day: LightDay, axis_deg: float) -> tuple[RibbonSegment, ...]:
    sides = light_side(day.azimuth_deg, day.altitude_deg, axis_deg)
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


@record
class _Shared:
    """What no setting or aim changes in a day."""

    hill: tuple[Span, ...]
    phases: tuple[RibbonPhase, ...]
    events: tuple[RibbonEvent, ...]
    ticks: tuple[RibbonTick, ...]
    moon: RibbonRow
    moon_text: str


@lru_cache(maxsize=64)
def _same_all_day(time_zone: str, day: LightDay, start: datetime, end: datetime, golden_hour: GoldenHour) -> _Shared:
    zone = ZoneInfo(time_zone)
    first, span = start.timestamp(), (end - start).total_seconds()
    heights = 1 + (day.log10_lux - day.log10_lux.max()) / math.log10(2) / _HILL_DEPTH_STOPS
    last = len(heights) - 1
    picks = np.array([*range(0, last, _HILL_STEP_MIN), last])
    points = np.stack([(picks / last).round(5), np.maximum(heights[picks], 0.0).round(4)], axis=1)
    codes = phase_codes(day.altitude_deg, golden_hour)
    starts = np.concatenate([[0], np.flatnonzero(np.diff(codes)) + 1])
    ends = np.concatenate([starts[1:], [last]])
    up = stretches(day.moon_altitude_deg >= SUN_UP_DEG)
    moon = tuple((a / last, b / last) for a, b in up.tolist())
    words = moon_words(day)
    return _Shared(
        hill=tuple((x, y) for x, y in points.tolist()),
        phases=tuple(
            RibbonPhase(start=float(a / last), end=float(b / last), phase=PHASES[codes[a]])
            for a, b in zip(starts, ends, strict=True)
        ),
        events=tuple(
            RibbonEvent(
                position=(at - first) / span,
                name=name,
                text=EVENT_TEXT[name],
                time_text=clock_text(at, zone),
                at_utc=datetime.fromtimestamp(round(at), UTC),
            )
            for at, name in day.events
        ),
        ticks=_ticks(start, end, zone),
        moon=RibbonRow(kind="moon", name="moon", spans=moon, text=words if moon else f"{words}, below the horizon"),
        moon_text=words,
    )


def _rows(day: LightDay, zone: ZoneInfo, lit: Lit) -> tuple[RibbonRow, ...]:
    """Direct sun on the standpoint and on the subject."""
    first, span = float(day.unix_s[0]), float(day.unix_s[-1] - day.unix_s[0])
    rows = []
    for kind, name, horizon in lit:
        found = lit_stretches(day, horizon)
        where = tuple(((a - first) / span, (b - first) / span) for a, b in found)
        text = spans_text(found, day, zone, "no direct sun today")
        rows.append(RibbonRow(kind=kind, name=name, spans=where, text=text))
    return tuple(rows)


def _stop_marks(day: LightDay, unix_s: float) -> tuple[RibbonTick, ...]:
    """Where the light is whole stops from the moment's, going out from it until it turns back or four are told."""
    stops = day.log10_lux / math.log10(2)
    now = float(np.interp(unix_s, day.unix_s, stops))
    at = int(np.clip(np.searchsorted(day.unix_s, unix_s), 1, len(stops) - 1))
    last = len(stops) - 1
    marks = []
    for path in (np.arange(at, last + 1), np.arange(at - 1, -1, -1)):
        change = stops[path] - now
        told = 0
        for i in range(1, len(path)):
            step = math.trunc(change[i])
            if step not in (told, 0) and abs(step) <= _MOST_STOPS and abs(step) > abs(told):
                marks.append(RibbonTick(position=float(path[i] / last), text=f"{'+' if step > 0 else '−'}{abs(step)}"))
                told = step
            if told and (abs(told) == _MOST_STOPS or math.copysign(1, change[i]) != math.copysign(1, told)):
                break
    return tuple(marks)


def day_ribbon(state: State, rate_text: str) -> Ribbon:
    """The ribbon of the moment's day; *rate_text* says how fast the light changes."""
    scene = state.scene
    lit: list[tuple[RowKind, str, Horizon]] = [("standpoint", "standpoint", state.horizon)]
    subject = subject_index(scene)
    if subject is not None:
        lit.append(("subject", scene.composition.elements[subject].name, state.horizon_of(subject)))
    composition = scene.composition
    return _ribbon(
        scene.place, scene.forecast, composition.moment_utc, composition.azimuth_deg, composition.golden_hour,
        state.unix_s, rate_text, tuple(lit),
    )  # fmt: skip


@lru_cache(maxsize=64)
def _ribbon(
    place: Place,
    forecast: Forecast | None,
    moment: datetime,
    axis_deg: float,
    golden_hour: GoldenHour,
    unix_s: float,
    rate_text: str,
    lit: Lit,
) -> Ribbon:
    """Remembered: no setting of the camera changes it."""
    day, start, end = day_at(place, moment, golden_hour)
    zone = ZoneInfo(place.time_zone)
    first, span = start.timestamp(), (end - start).total_seconds()
    shared = _same_all_day(place.time_zone, day, start, end, golden_hour)
    local = start.astimezone(zone)
    rows = _rows(day, zone, lit)
    weather = forecast_row(forecast, start, end, unix_s, zone) if forecast else None
    if weather is not None and forecast is not None:
        likely = likely_spans(forecast, first, first + span, rows[-1].spans)
        words = "sun likely" if likely else "sun not likely"
        rows = (*rows, replace(rows[-1], kind="forecast", spans=likely, text=words))
    return Ribbon(
        start_utc=start,
        end_utc=end,
        date_text=local.strftime("%a %-d %B %Y"),
        date_iso=local.strftime("%Y-%m-%d"),
        moment=min(max((unix_s - first) / span, 0.0), 1.0),
        moment_text=f"{clock_text(unix_s, zone)} {rate_text}",
        hill=shared.hill,
        phases=shared.phases,
        segments=_segments(day, axis_deg),
        rows=(*rows, shared.moon),
        events=shared.events,
        ticks=shared.ticks,
        stop_marks=_stop_marks(day, unix_s),
        sun_text=_SUN_TEXT[day.sun_state],
        moon_text=shared.moon_text,
        tide=tide_row(place.tide, start, end, unix_s, zone) if place.tide else None,
        forecast=weather,
    )
