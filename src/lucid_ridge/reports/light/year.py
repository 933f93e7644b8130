"""When the light that is wanted comes: the months ahead as one picture, the windows of the day and the next ones."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.daylight.day import PHASES, PhaseName
from lucid_ridge.core.daylight.sun_chance import chance_of_sun
from lucid_ridge.core.light.direction import SIDES, LightSide, light_side, relative_azimuth_deg
from lucid_ridge.core.light.ephemeris import LAST_UNIX
from lucid_ridge.core.light.weather import LIKELY
from lucid_ridge.core.light.year import LocalClock, Track
from lucid_ridge.core.light_windows.light_wish import Months, name_by_id, seen_deg
from lucid_ridge.core.light_windows.year_ahead import SHADE, YearAhead, year_ahead
from lucid_ridge.core.model.wanted import LightWish
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import degrees_text, minutes_text
from lucid_ridge.reports.light.words import SIDE_TEXT, condition_words, why_not_terrain

Array = NDArray[np.float64]

MONTHS = 12
NEXT = 10
BEST = 10


@record
class LightWindow:
    """A window of the light that is wanted. ``ready_utc`` is when to stand there.

    ``forecast`` is what the forecast says of the sun then, empty where it says nothing; the window itself
    always counts a clear sky.
    """

    start_utc: datetime
    end_utc: datetime
    ready_utc: datetime
    date_text: str
    time_text: str
    minutes: float
    length_text: str
    side: LightSide
    light_text: str
    moon_text: str
    forecast: str


@record
class Lacking:
    """A condition of the wish, and how many windows there would be without it."""

    text: str
    windows_without: int


@record
class YearSpans:
    """Stretches of one kind: day of the picture, and from and to as shares 0..1 of the day by the place's clock."""

    kind: PhaseName | str
    spans: tuple[tuple[int, float, float], ...]


@record
class MonthTick:
    """Where a month begins, in days of the picture."""

    day: int
    text: str


@record
class YearPicture:
    """Twelve months as date by time of day, from the first of the moment's month.

    ``midnights_unix`` say when each day begins by the place's clock. ``spans`` come by kind: night, twilight, blue,
    golden, day (sun on the ``lit_name``) and shade (sun up, but not on it); ``windows`` are the windows of the light that is wanted. ``asked``
    is the wish in words; ``lacking`` says, where there are none, what stands in the way.
    """

    first_date: str
    days: int
    midnights_unix: tuple[int, ...]
    months: tuple[MonthTick, ...]
    lit_name: str
    spans: tuple[YearSpans, ...]
    windows: tuple[tuple[int, float, float], ...]
    count: int
    moment: tuple[int, float]
    today: tuple[LightWindow, ...]
    next: tuple[LightWindow, ...]
    best: tuple[LightWindow, ...]
    asked: tuple[str, ...]
    lacking: tuple[Lacking, ...]
    note: str


def _forecast_text(state: State, start: float, end: float, sunny: bool) -> str:
    forecast = state.scene.forecast
    if forecast is None or not forecast.hours:
        return ""
    chance = chance_of_sun(forecast, np.linspace(start, end, 5))
    if np.isnan(chance).any():
        return ""
    mean = float(chance.mean())
    kind = "simulated forecast" if forecast.simulated else "forecast"
    if not sunny:
        return f"{kind}: {1 - mean:.0%} cloud in the sun's way"
    return f"{kind}: sun {'likely' if mean >= LIKELY else 'not likely'}, {mean:.0%}"


def _window(state: State, wish: LightWish, months: Months, first: int, last: int) -> LightWindow:
    t = months.track
    start, end = float(t.unix_s[first]), float(t.unix_s[last]) + 60.0
    middle = (first + last) // 2
    axis = state.scene.composition.azimuth_deg
    side = SIDES[int(light_side(t.sun_azimuth_deg[middle], t.sun_altitude_deg[middle], axis))]
    low, high = (float(seen_deg(state, t.sun_altitude_deg[[i]])[0]) for i in (first, last))
    off = float(relative_azimuth_deg(t.sun_azimuth_deg[middle], axis))
    begins, ends = (datetime.fromtimestamp(at, UTC) for at in (start, end))
    local, local_end = begins.astimezone(months.zone), ends.astimezone(months.zone)
    same = " (next day)" if local_end.date() > local.date() and (local_end.hour or local_end.minute) else ""
    up = bool(state.horizon.clears(t.moon_azimuth_deg[middle], t.moon_altitude_deg[middle]))
    minutes = (end - start) / 60
    return LightWindow(
        start_utc=begins,
        end_utc=ends,
        ready_utc=begins - timedelta(minutes=wish.ready_min),
        date_text=local.strftime("%a %-d %B %Y"),
        time_text=f"{local:%H:%M} to {local_end:%H:%M}{same}",
        minutes=minutes,
        length_text=minutes_text(end - start),
        side=side,
        light_text=(
            f"{SIDE_TEXT[side]}, sun {degrees_text(low, 1)} to {degrees_text(high, 1)}, "
            f"{abs(off):.0f}° {'left' if off < 0 else 'right'} of the axis"
        ),
        moon_text=f"moon {'up' if up else 'down'}, {t.moon_lit[middle]:.0%} lit",
        forecast=_forecast_text(state, start, end, side != "none"),
    )


def _runs(codes: NDArray[np.int8], clock: LocalClock) -> list[tuple[int, int, int]]:
    """Code, first and last sample of each run within a day; a clock put back breaks a run too."""
    jump = (np.diff(clock.day) != 0) | (np.diff(clock.minute) != 1)
    cuts = np.flatnonzero((np.diff(codes) != 0) | jump) + 1
    starts = np.concatenate([[0], cuts])
    ends = np.concatenate([cuts - 1, [len(codes) - 1]])
    return [(int(codes[a]), int(a), int(b)) for a, b in zip(starts, ends, strict=True)]


def _place_in_year(clock: LocalClock, first: int, last: int) -> tuple[int, float, float]:
    return (
        int(clock.day[first]),
        round(float(clock.minute[first]) / 1440, 5),
        round((float(clock.minute[last]) + 1) / 1440, 5),
    )


def light_windows(state: State, wish: LightWish | None = None) -> YearPicture:
    """The months ahead for a wish, the composition's own unless another is given.

    Raises
    ------
    SceneError
        If the wish contradicts itself, see `check_wish`.

    """
    wish = state.scene.composition.light_wish if wish is None else wish
    year = year_ahead(state, wish)
    months, found = year.months, year.windows
    t, clock = months.track, months.clock
    kinds: dict[int, list[tuple[int, float, float]]] = {code: [] for code in range(SHADE + 1)}
    for code, first, last in _runs(year.codes, clock):
        kinds[code].append(_place_in_year(clock, first, last))
    inside = np.zeros(len(t.unix_s), dtype=np.int8)
    for first, last in found.tolist():
        inside[first : last + 1] = 1
    drawn = tuple(_place_in_year(clock, a, b) for code, a, b in _runs(inside, clock) if code)
    now = int(np.clip(np.searchsorted(t.unix_s, state.unix_s), 0, len(t.unix_s) - 1))
    ahead = found[t.unix_s[found[:, 1]] >= state.unix_s]
    longest = ahead[np.argsort(-(ahead[:, 1] - ahead[:, 0]), kind="stable")][:BEST]
    today = found[(clock.day[found[:, 0]] == clock.day[now]) | (clock.day[found[:, 1]] == clock.day[now])]

    def told(rows: NDArray[np.intp]) -> tuple[LightWindow, ...]:
        return tuple(_window(state, wish, months, a, b) for a, b in rows.tolist())

    return YearPicture(
        first_date=clock.first_day.strftime("%Y-%m-%d"),
        days=int(clock.day[-1]) + 1,
        midnights_unix=_midnights(months),
        months=_months(clock),
        lit_name=name_by_id(state, year.lit_id),
        spans=tuple(
            YearSpans(kind="shade" if code == SHADE else PHASES[code], spans=tuple(spans))
            for code, spans in kinds.items()
        ),
        windows=drawn,
        count=len(ahead),
        moment=(int(clock.day[now]), float(clock.minute[now]) / 1440),
        today=told(today),
        next=told(ahead[:NEXT]),
        best=told(longest),
        asked=tuple(condition_words(state, one, wish) for one, _ in year.conditions),
        lacking=_lacking(state, year) if year.conditions and not len(found) else (),
        note=" ".join(filter(None, (why_not_terrain(state.scene, state.terrain), _end_note(t)))),
    )


def _end_note(months: Track) -> str:
    """That the ephemeris ends before twelve months are over."""
    ends = float(months.unix_s[-1]) + 60 >= LAST_UNIX
    return "The sun is known to the end of 2050; later months are left out." if ends else ""


def _lacking(state: State, year: YearAhead) -> tuple[Lacking, ...]:
    """What each condition costs: the windows there would be without it, and without the wanted length."""
    found = []
    for i, (condition, mask) in enumerate(year.conditions):
        words = condition_words(state, condition, year.wish)
        text = words if mask.any() else f"{words} (never in these months)"
        found.append(Lacking(text=text, windows_without=year.windows_without(i)))
    found.append(Lacking(text=f"{year.wish.shortest_min:g} min at least", windows_without=year.windows_of_any_length()))
    return tuple(sorted(found, key=lambda one: -one.windows_without))


def _midnights(months: Months) -> tuple[int, ...]:
    """When each day of the picture begins by the place's clock, unix seconds."""
    first = np.searchsorted(months.clock.day, np.arange(int(months.clock.day[-1]) + 1))
    return tuple(int(at) for at in months.track.unix_s[first])


def _months(clock: LocalClock) -> tuple[MonthTick, ...]:
    first = clock.first_day
    ticks: list[MonthTick] = []
    for k in range(MONTHS):
        month = (first.month - 1 + k) % 12 + 1
        year = first.year + (first.month - 1 + k) // 12
        at = datetime(year, month, 1, tzinfo=UTC)
        if (at - first).days > int(clock.day[-1]):
            break
        ticks.append(
            MonthTick(day=(at - first).days, text=at.strftime("%b") if k and month != 1 else at.strftime("%b %Y"))
        )
    return tuple(ticks)
