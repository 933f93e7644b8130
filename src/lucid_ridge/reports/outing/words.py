"""Words of outings."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from datetime import UTC, datetime
from zoneinfo import ZoneInfo

from lucid_ridge.core.light.terrain import apart_m
from lucid_ridge.core.model.outing import Pace
from lucid_ridge.core.model.scene import Units
from lucid_ridge.core.outing.chances import Chances
from lucid_ridge.core.outing.left_out import Change, Fall, LeftOut
from lucid_ridge.core.outing.legs import ON_FOOT, By, LegWay, Stretch
from lucid_ridge.core.outing.planning import Put
from lucid_ridge.core.outing.schedule import Plan
from lucid_ridge.core.outing.task import Value
from lucid_ridge.core.outing.weather import Judgement, NeedKind, Verdict
from lucid_ridge.reports.figures import distance_text

WANTED_TEXT = {"must": "must", "want": "want", "if_fits": "if it fits"}
_BY_TEXT: dict[By, str] = {
    "path": "on foot by the path",
    "terrain": "on foot over open ground",
    "straight": "on foot, as the crow flies and a bit more",
    "here": "here",
    "car": "by car",
    "boat": "by boat",
    "other": "ride",
}


@dataclass(frozen=True)
class Clock:
    """How instants are said: by a zone's clock, with the day where it is another than the one that is talked of."""

    zone: ZoneInfo
    units: Units = "metric"

    def at(self, minute: int, beside: int | None = None) -> str:
        """Hours and minutes; with the weekday where it lies on another date than *beside*."""
        local = self.local(minute)
        if beside is not None and self.local(beside).date() != local.date():
            return local.strftime("%a %H:%M")
        return local.strftime("%H:%M")

    def local(self, minute: int) -> datetime:
        """The instant as that clock shows it."""
        return datetime.fromtimestamp(minute * 60, UTC).astimezone(self.zone)

    def date(self, minute: int) -> str:
        """Weekday, day and month: Sat 17 Oct."""
        return f"{self.local(minute):%a} {self.local(minute).day} {self.local(minute):%b}"


def minutes_words(minutes: int) -> str:
    """Minutes as they are said: 9 min, 1 h 20 min, 2 h."""
    hours, rest = divmod(abs(minutes), 60)
    if not hours:
        return f"{rest} min"
    return f"{hours} h {rest} min" if rest else f"{hours} h"


def leg_words(way: LegWay, minutes: int, dark: bool, units: Units) -> str:
    """A way in words: 24 min on foot by the path, 1.3 km, 80 m up."""
    shown = [s for s in way.stretches if s.by != "here" and (s.length_m >= 1 or s.light_min >= 0.5)]
    if not shown:
        return "already there"
    parts = []
    for walked, group in itertools.groupby(shown, key=lambda s: s.by in ON_FOOT):
        together = list(group)
        parts += [_walked_words(together, units)] if walked else [_ridden_words(s) for s in together]
    lamp = ", by lamp" if dark and any(s.by in ON_FOOT for s in shown) else ""
    return f"{minutes_words(minutes)} {', then '.join(parts)}{lamp}"


def _ridden_words(one: Stretch) -> str:
    return f"{_BY_TEXT[one.by]} {minutes_words(round(one.light_min))}"


def _walked_words(together: list[Stretch], units: Units) -> str:
    longest = max(together, key=lambda s: s.length_m)
    ascent = sum(s.ascent_m for s in together)
    told = f"{_BY_TEXT[longest.by]}, {distance_text(sum(s.length_m for s in together), units)}"
    if ascent < 5:
        return told
    return f"{told}, {distance_text(round(ascent), units) if units == 'feet' else f'{ascent:.0f} m'} up"


_RULES = {
    "naismith": "Naismith 1892: an hour for 5 km and another for 600 m up",
    "langmuir": "Langmuir 1984: Naismith, with 10 min less for 300 m down at 5 to 12 degrees, 10 min more where steeper",
    "tobler": "Tobler 1993: 6 exp(-3.5 |slope + 0.05|) km an hour, six tenths of that off a path",
}


def leg_reasons(way: LegWay, pace: Pace, detour: float, units: Units) -> tuple[str, ...]:
    """How the time of a way comes about: each stretch with its figures, the factors, and by which rule."""
    made = []
    walked = False
    for s in way.stretches:
        if s.by not in ON_FOOT and s.by != "here":
            made.append(f"{s.name}: {minutes_words(round(s.light_min))}, as typed")
            continue
        walked = True
        name = (
            f"along {s.name}"
            if s.by == "path"
            else "over the terrain, the way of least time"
            if s.by == "terrain"
            else f"straight, times {detour:g}"
        )
        ups = f", {s.ascent_m:.0f} m up, {s.descent_m:.0f} m down"
        dark = f", {s.dark_min:.1f} min by lamp" if s.dark_min - s.light_min >= 0.05 else ""
        made.append(f"{name}: {distance_text(s.length_m, units)}{ups}: {s.light_min:.1f} min{dark}")
    if not walked:
        return tuple(made)
    factors = [(pace.own, "you"), (pace.load, "load"), (pace.ground, "ground"), (pace.darkness, "by lamp")]
    told = ", ".join(f"{name} times {factor:g}" for factor, name in factors if factor != 1)
    return (*made, *((f"factors: {told}",) if told else ()), _RULES[pace.rule])


def cause_words(chances: Chances, clock: Clock, frames_min: int) -> str:
    """Why a visit has no chance at all."""
    match chances.cause:
        case "light":
            return "The light it wants does not come on these days."
        case "short":
            return (
                f"Its light lasts {minutes_words(chances.lasts_min)}; the sequence takes {minutes_words(frames_min)}."
            )
        case "hours" if chances.nearest is not None:
            begins, ends = (clock.at(m, None) for m in chances.nearest)
            return f"Its light is there from {begins} to {ends} on {clock.date(chances.nearest[0])}, outside the hours you are out."
        case "tide":
            return "The tide closes its ground while the light is there."
        case "dark":
            return "Its ground asks for daylight, and its light comes in the dark."
        case "no_tide":
            return "It asks for a tide, and its place has no tide station. Add one at the place, or take the tide away here."
        case "wish_gone":
            return "Its wish for light names a thing that is no longer there. Open it and choose the light again."
    return "It has no time on these days."


def change_words(put: Put, change: Change, visit: int) -> str:
    """What would let a visit in, by its index."""
    least = "" if change.smallest else "at most "
    if change.kind == "margin" and change.index == visit:
        return f"It would fit with {least}{minutes_words(change.minutes)} less to spare there."
    match change.kind:
        case "margin":
            name = put.candidates[change.index].name
            return f"It would fit if you left {name} {least}{minutes_words(change.minutes)} earlier."
        case "earlier":
            return f"It would fit if you set out {least}{minutes_words(change.minutes)} earlier."
        case "later":
            return f"It would fit if you were back {least}{minutes_words(change.minutes)} later."


def names_words(names: list[str]) -> str:
    """Names in a row: A, B and C."""
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}" if names else ""


def left_out_words(put: Put, told: LeftOut, clock: Clock, several_days: bool) -> tuple[str, str]:
    """Why a visit is left out, and what would let it in ("" where nothing is known)."""
    candidate, chances = put.candidates[told.visit], put.chances[told.visit]
    if told.kind == "no_chance":
        return cause_words(chances, clock, candidate.frames_min), ""
    day = "" if told.day is None or not several_days else f" on {clock.date(put.task.days[told.day].leave_from)}"
    after = "" if told.after is None else f" after {put.candidates[told.after].name}"
    arrive = "" if told.arrive is None else clock.at(told.arrive)
    late = minutes_words(told.by_min)
    match told.kind:
        case "late" if told.would is not None:
            last = clock.at(told.would - told.by_min)
            words = f"Arriving {arrive}{after}{day}, first frame {clock.at(told.would)}; the last moment to begin is {last}: {late} too late."
        case "ground" if told.would is not None:
            words = f"Arriving {arrive}{after}{day}, you would leave at {clock.at(told.would)}, {late} after its ground closes."
        case "back" if told.would is not None:
            words = f"With it{after}{day} you would be back at {clock.at(told.would)}, {late} later than you said."
        case "pushes" if told.pushed is not None:
            words = f"With it{after}{day}, {put.candidates[told.pushed].name} would come {late} too late."
        case "no_way":
            words = _no_way_words(put, told.visit, clock.units)
        case _:
            words = "There is room for it; the search ended before it was found."
    if told.change is not None:
        remedy = change_words(put, told.change, told.visit)
        return words, f"In another order it{remedy.removeprefix('It')}" if told.reordered else remedy
    if told.instead is not None:
        fall = names_words([put.candidates[i].name for i in told.instead])
        return words, f"It would fit instead of {fall}." if fall else ""
    return words, ""


def _no_way_words(put: Put, visit: int, units: Units) -> str:
    task = put.task
    points = [i for i in range(len(task.legs)) if i != visit]
    if any(task.legs[i][visit] is not None for i in points):
        return "No way leads there and back in time."
    start = put.outing.start
    apart = apart_m(start.latitude_deg, start.longitude_deg, *put.candidates[visit].point.position)
    return f"It is {distance_text(apart, units)} from {start.name}, too far to walk. Add the drive or the boat there."


def fall_words(put: Put, fall: Fall | None, back: str) -> str:
    """What falls when more slips."""
    if fall is None:
        return "then something falls"
    if fall.visit is None:
        return f"then you are back after {back}"
    name = put.candidates[fall.visit].name
    return f"then the ground of {name} closes" if fall.kind == "ground" else f"then {name} falls"


def _counted(value: Value) -> str:
    words = [f"{n} {name}" for n, name in zip(value, ("must", "want", "if it fits"), strict=True) if n]
    return ", ".join(words) or "nothing"


def value_words(plan: Plan, visits: int) -> str:
    """How good a plan is, and whether it is known to be the best."""
    kept = sum(plan.value)
    told = f"{kept} of {visits} {'picture' if visits == 1 else 'pictures'}"
    if plan.proven:
        return f"{told}; no better plan exists"
    if plan.most == plan.value:
        return f"{told}; no plan holds more, one with less waiting may exist"
    return f"{told}: {_counted(plan.value)}; best found in the time, more than {_counted(plan.most)} is impossible"


NEED_TEXT: dict[NeedKind, str] = {
    "sun": "direct sun",
    "even": "an even sky",
    "break": "a break in the low cloud",
    "calm": "calm air",
    "clear_air": "clear air",
    "dry": "dry weather",
}
VERDICT_TEXT: dict[Verdict, str] = {
    "yes": "likely",
    "perhaps": "perhaps",
    "no": "unlikely",
    "unknown": "not forecast yet",
}


def judgement_words(one: Judgement, units: Units) -> str:
    """A need and what the forecast says of it, with the figure."""
    if one.verdict == "unknown":
        return f"{NEED_TEXT[one.need.kind]}: not forecast yet"
    match one.need.kind:
        case "sun":
            figure = f"sun comes through with a chance of {one.figure:.0%}"
        case "even":
            figure = f"{one.figure:.0%} of the sky covered"
        case "break":
            figure = f"{one.figure:.0%} low cloud"
        case "calm":
            figure = f"wind {one.figure:.1f} m/s, wanted up to {one.need.limit:.1f} m/s"
        case "clear_air":
            figure = f"one sees {distance_text(one.figure * 1000, units)} far"
        case "dry":
            figure = f"rain {one.figure:.1f} mm an hour" if one.figure >= 0.05 else "no rain"
    return f"{NEED_TEXT[one.need.kind]} {VERDICT_TEXT[one.verdict]}: {figure}"
