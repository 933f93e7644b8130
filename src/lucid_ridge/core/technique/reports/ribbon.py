"""The day ribbon: a day at the place, relative to the view."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from functools import lru_cache
from typing import Literal
from zoneinfo import ZoneInfo

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.light.day import EVENT_TEXT, EventName, LightDay, light_day
from lucid_ridge.core.light.definitions import DEFINITIONS, GoldenHour
from lucid_ridge.core.light.direction import SIDE_TEXT, SIDES, SUN_UP_DEG, LightSide, light_side
from lucid_ridge.core.light.horizon import Horizon
from lucid_ridge.core.light.windows import stretches
from lucid_ridge.core.records import record
from lucid_ridge.core.technique.reports.conditions import ForecastRow, TideRow, forecast_row, likely_spans, tide_row
from lucid_ridge.core.technique.scene import Forecast, Place, Scene
from lucid_ridge.core.technique.skyline import element_horizon
from lucid_ridge.core.technique.state import State

_HILL_STEP_MIN = 6
_HILL_DEPTH_STOPS = 20.0
_MOST_STOPS = 4
Span = tuple[float, float]

PhaseName = Literal["night", "twilight", "blue", "golden", "day"]
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


def day_bounds(place: Place, moment: datetime) -> tuple[datetime, datetime]:
    """Local midnight before the moment and the one after, in UTC (23 to 25 hours apart)."""
    zone = ZoneInfo(place.time_zone)
    local = moment.astimezone(zone)
    start = datetime(local.year, local.month, local.day, tzinfo=zone)
    following = (start.replace(tzinfo=None) + timedelta(days=1)).replace(tzinfo=zone)
    return start.astimezone(UTC), following.astimezone(UTC)


def day_of(scene: Scene) -> tuple[LightDay, datetime, datetime]:
    """The day of a scene's moment, with its bounds."""
    return _day(scene.place, scene.composition.moment_utc, scene.composition.golden_hour)


def _day(place: Place, moment: datetime, golden_hour: GoldenHour) -> tuple[LightDay, datetime, datetime]:
    start, end = day_bounds(place, moment)
    day = light_day(place.latitude_deg, place.longitude_deg, start.timestamp(), end.timestamp(), golden_hour)
    return day, start, end


def clock(unix_s: float, zone: ZoneInfo) -> str:
    """Hours and minutes at an instant, by a zone's clock."""
    return datetime.fromtimestamp(round(unix_s / 60) * 60, UTC).astimezone(zone).strftime("%H:%M")


@lru_cache(maxsize=2048)
def lit_minutes(day: LightDay, horizon: Horizon) -> NDArray[np.bool_]:
    """Which samples of a day have the sun above a skyline. Remembered: neither changes while a hand drags."""
    return horizon.clears(day.azimuth_deg, day.altitude_deg)


def lit_stretches(day: LightDay, horizon: Horizon) -> tuple[tuple[float, float], ...]:
    """First and last instant of each stretch of the day with the sun above a skyline, to the second.

    A stretch that runs into midnight ends there.
    """
    over = day.altitude_deg - horizon.threshold_deg(day.azimuth_deg)
    found = []
    for first, last in stretches(lit_minutes(day, horizon)).tolist():
        found.append((_edge(day, over, first - 1, first), _edge(day, over, last, last + 1)))
    return tuple(found)


def _edge(day: LightDay, over: NDArray[np.float64], i: int, j: int) -> float:
    if i < 0:
        return float(day.unix_s[0])
    if j >= len(over):
        return float(day.unix_s[-1])
    share = float(over[i] / (over[i] - over[j]))
    return float(day.unix_s[i] + share * (day.unix_s[j] - day.unix_s[i]))


def spans_text(spans: tuple[tuple[float, float], ...], day: LightDay, zone: ZoneInfo, never: str) -> str:
    """Stretches in words: "08:14 to 15:52", "all day"."""
    if not spans:
        return never
    if len(spans) == 1 and spans[0][0] <= day.unix_s[0] and spans[0][1] >= day.unix_s[-1]:
        return "all day"
    return ", ".join(f"{clock(a, zone)} to {clock(b, zone)}" for a, b in spans)


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
_PHASE_NAMES: tuple[PhaseName, ...] = ("night", "twilight", "blue", "golden", "day")


def phase_codes(altitude_deg: NDArray[np.float64], golden_hour: GoldenHour) -> NDArray[np.int8]:
    """Index into night, twilight, blue, golden, day by the sun's airless altitude; golden goes before blue."""
    spans = DEFINITIONS[golden_hour]
    codes = np.zeros(altitude_deg.shape, dtype=np.int8)
    codes[altitude_deg >= -18.0] = 1
    codes[altitude_deg >= SUN_UP_DEG] = 4
    codes[(altitude_deg >= spans.blue_low) & (altitude_deg < spans.blue_high)] = 2
    codes[(altitude_deg >= spans.golden_low) & (altitude_deg < spans.golden_high)] = 3
    return codes


@record
class _Shared:
    """What no setting or aim changes in a day."""

    hill: tuple[Span, ...]
    phases: tuple[RibbonPhase, ...]
    events: tuple[RibbonEvent, ...]
    ticks: tuple[RibbonTick, ...]
    moon: RibbonRow
    moon_text: str


def moon_words(day: LightDay) -> str:
    """The moon's phase and lit share in words."""
    e, lit = day.moon_elongation_deg, day.moon_lit
    if lit < 0.02:
        return "new moon"
    if lit > 0.98:
        return "full moon"
    return f"{'waxing' if e < 180 else 'waning'} moon, {lit:.0%} lit"


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
            RibbonPhase(start=float(a / last), end=float(b / last), phase=_PHASE_NAMES[codes[a]])
            for a, b in zip(starts, ends, strict=True)
        ),
        events=tuple(
            RibbonEvent(
                position=(at - first) / span,
                name=name,
                text=EVENT_TEXT[name],
                time_text=clock(at, zone),
                at_utc=datetime.fromtimestamp(round(at), UTC),
            )
            for at, name in day.events
        ),
        ticks=_ticks(start, end, zone),
        moon=RibbonRow(kind="moon", name="moon", spans=moon, text=words if moon else f"{words}, below the horizon"),
        moon_text=words,
    )


def subject_index(scene: Scene) -> int | None:
    """The element whose light counts: the first subject, else the first thing in front."""
    for role in ("subject", "foreground", "middle"):
        for i, element in enumerate(scene.composition.elements):
            if element.role == role:
                return i
    return None


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
        element = scene.composition.elements[subject]
        middle = state.geometry.middle_m[subject]
        lit.append(("subject", element.name, element_horizon(scene, element, middle, state.terrain)))
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
    day, start, end = _day(place, moment, golden_hour)
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
        moment_text=f"{clock(unix_s, zone)} {rate_text}",
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
