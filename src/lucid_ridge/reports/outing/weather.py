"""Go or stay, what else to do instead, and the same outing on other days."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Literal

from lucid_ridge.core.light.day import LightDay, light_day
from lucid_ridge.core.model.place import Forecast, Place
from lucid_ridge.core.model.scene import Units
from lucid_ridge.core.outing.chances import chances_of
from lucid_ridge.core.outing.day_times import ends_of
from lucid_ridge.core.outing.planning import Candidate, OnDate, Put
from lucid_ridge.core.outing.promise import Outlook, outlook_of, outlooks, promise
from lucid_ridge.core.outing.schedule import Plan
from lucid_ridge.core.outing.task import value_of
from lucid_ridge.core.outing.weather import Verdict
from lucid_ridge.core.records import record
from lucid_ridge.reports.light.words import moon_words
from lucid_ridge.reports.outing.plan import clock_of
from lucid_ridge.reports.outing.words import VERDICT_TEXT, judgement_words, names_words

Advice = Literal["go", "doubtful", "stay", "unknown"]


@record
class VisitWeather:
    """What the forecast says of one visit."""

    visit_id: str
    name: str
    verdict: Verdict
    lines: tuple[str, ...]


@record
class GoOrStay:
    """Whether the forecast speaks for going. ``source_text`` says whose forecast it is, and that it is simulated where it is."""

    advice: Advice
    text: str
    source_text: str
    visits: tuple[VisitWeather, ...]


@record
class InsteadShown:
    """A composition near by that wants the light that is likely."""

    composition_id: str
    name: str
    place_name: str
    when_text: str
    lines: tuple[str, ...]


@record
class DateShown:
    """The outing begun on a date: light, moon, forecast, and what fits."""

    first: date
    date_text: str
    sun_text: str
    moon_text: str
    forecast_text: str
    fits_text: str
    missing_text: str
    leave_text: str
    kept: int
    all_fit: bool
    best: bool
    chosen: bool


@record
class DatesShown:
    """The outing on several dates, by date; the one that promises most is marked. ``text`` says why."""

    dates: tuple[DateShown, ...]
    text: str
    source_text: str


def source_words(forecasts: Mapping[Place, Forecast]) -> str:
    """Whose forecast it is."""
    if not forecasts:
        return "no forecast at hand"
    one = next(iter(forecasts.values()))
    told = f"{one.source}, made {one.made_at_utc:%a %H:%M} UTC"
    return f"{told}; simulated: nobody forecast anything" if one.simulated else told


def _advice(put: Put, found: tuple[Outlook, ...]) -> tuple[Advice, str]:
    if not found:
        return "unknown", "Nothing fits, so there is nothing to go for."
    known = [o for o in found if o.verdict != "unknown"]
    if not known:
        return "unknown", "The forecast does not reach that day yet."
    good, bad = ([o for o in known if o.verdict == v] for v in ("yes", "no"))
    musts_bad = [o for o in bad if put.candidates[o.visit].visit.wanted == "must"]
    names = names_words([put.candidates[o.visit].name for o in bad])
    if musts_bad or len(bad) * 2 > len(known):
        return "stay", f"Stay, or take another picture: the light is unlikely for {names}."
    if bad or len(good) * 2 < len(known):
        told = f"unlikely for {names}" if bad else "no more than perhaps"
        return "doubtful", f"In doubt: the light is {told}."
    return "go", f"Go: {len(good)} of {len(known)} have the light they need, none is unlikely."


def go_or_stay(put: Put, plan: Plan, forecasts: Mapping[Place, Forecast], units: Units) -> GoOrStay:
    """Whether the forecast speaks for going, visit by visit."""
    found = outlooks(put, plan, forecasts)
    advice, text = _advice(put, found)
    visits = tuple(
        VisitWeather(
            visit_id=put.candidates[o.visit].visit.id,
            name=put.candidates[o.visit].name,
            verdict=o.verdict,
            lines=tuple(judgement_words(j, units) for j in o.judgements),
        )
        for o in found
    )
    return GoOrStay(advice=advice, text=text, source_text=source_words(forecasts), visits=visits)


def instead(
    put: Put, others: list[Candidate], forecasts: Mapping[Place, Forecast], units: Units
) -> tuple[InsteadShown, ...]:
    """Compositions at hand whose light comes within the days of an outing and is likely, the surest first."""
    made = []
    for other in others:
        chances = chances_of(other.state, other.visit, put.task.days, other.frames_min).chances
        if not chances:
            continue
        chance = chances[0]
        forecast = forecasts.get(other.state.scene.place)
        found = outlook_of(other, 0, chance.first_from, chance.first_to + other.frames_min, forecast)
        if found.verdict not in ("yes", "perhaps"):
            continue
        clock = clock_of(put.outing, chance.day, units)
        shown = InsteadShown(
            composition_id=other.visit.composition_id,
            name=other.name,
            place_name=other.state.scene.place.name,
            when_text=f"{clock.date(chance.first_from)} {clock.at(chance.first_from)} to {clock.at(chance.first_to + other.frames_min)}",
            lines=tuple(judgement_words(j, units) for j in found.judgements),
        )
        made.append((found.verdict != "yes", chance.first_from, shown))
    return tuple(shown for _, _, shown in sorted(made, key=lambda m: m[:2]))


@dataclass(frozen=True)
class _Weighed:
    date: OnDate
    outlooks: tuple[Outlook, ...]
    promise: float


def dates_shown(found: list[OnDate], forecasts: Mapping[Place, Forecast], chosen: date, units: Units) -> DatesShown:
    """The same outing on several dates, side by side."""
    weighed = []
    for one in found:
        said = outlooks(one.put, one.plan, forecasts)
        weighed.append(_Weighed(one, said, promise(one.put, said)))
    # The earlier of two that promise as much.
    best = max(weighed, key=lambda w: (round(w.promise, 3), -w.date.first.toordinal()), default=None)
    dates = tuple(_date_shown(w, w is best, chosen, units) for w in weighed)
    told = "Nothing fits on any of these days."
    if best is not None and best.promise > 0:
        clock = clock_of(best.date.put.outing, 0, units)
        told = f"{clock.date(best.date.put.task.days[0].leave_from)} promises most: {_forecast_words(best.outlooks)}, {_fits_words(best.date)}."
    return DatesShown(dates=dates, text=told, source_text=source_words(forecasts))


def _fits_words(one: OnDate) -> str:
    kept, count = len(one.plan.kept), len(one.put.candidates)
    return f"all {count} fit" if kept == count else f"{kept} of {count} fit"


def _forecast_words(told: tuple[Outlook, ...]) -> str:
    if not told:
        return "nothing to take"
    counts = {v: sum(o.verdict == v for o in told) for v in ("yes", "perhaps", "no", "unknown")}
    if counts["unknown"] == len(told):
        return VERDICT_TEXT["unknown"]
    return ", ".join(f"{n} {VERDICT_TEXT[v]}" for v, n in counts.items() if n)  # type: ignore[index]


def _day_of(one: OnDate) -> LightDay | None:
    start, _ = ends_of(one.put.outing, 0)
    clock = clock_of(one.put.outing, 0, "metric")
    local = clock.local(one.put.task.days[0].leave_from)
    begin = local.replace(hour=0, minute=0, second=0, microsecond=0)
    try:
        return light_day(start.latitude_deg, start.longitude_deg, begin.timestamp(), begin.timestamp() + 86400)
    except ValueError:
        return None


def _sun_words(one: OnDate, day: LightDay | None, units: Units) -> str:
    if day is None:
        return ""
    if day.sun_state == "up_all_day":
        return "sun up all day"
    if day.sun_state == "down_all_day":
        return "no sunrise"
    clock = clock_of(one.put.outing, 0, units)
    at = {name: clock.at(round(t / 60)) for t, name in day.events if name in ("sunrise", "sunset")}
    return f"{at.get('sunrise', '')} to {at.get('sunset', '')}"


def _date_shown(w: _Weighed, best: bool, chosen: date, units: Units) -> DateShown:
    one = w.date
    clock, day = clock_of(one.put.outing, 0, units), _day_of(one)
    missing = names_words([one.put.candidates[i].name for i in one.plan.left_out])
    leaves = [d.leave for d in one.plan.days]
    value = value_of(one.put.task, one.plan.kept)
    return DateShown(
        first=one.first,
        date_text=clock.date(one.put.task.days[0].leave_from),
        sun_text=_sun_words(one, day, units),
        moon_text="" if day is None else moon_words(day),
        forecast_text=_forecast_words(w.outlooks),
        fits_text=_fits_words(one),
        missing_text=f"without {missing}" if missing else "",
        leave_text=f"leave {clock.at(leaves[0], one.put.task.days[0].leave_from)}" if leaves else "",
        kept=sum(value),
        all_fit=not one.plan.left_out,
        best=best and w.promise > 0,
        chosen=one.first == chosen,
    )
