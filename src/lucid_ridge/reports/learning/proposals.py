"""Values of one's own beside those of common practice, with what they rest on."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

from lucid_ridge.core.learning.back_off import LearnedBackOff
from lucid_ridge.core.learning.charge import LearnedCharge
from lucid_ridge.core.learning.holding import LearnedHold
from lucid_ridge.core.learning.looks import LearnedLook
from lucid_ridge.core.learning.pace import LearnedPace
from lucid_ridge.core.model.outing import SET_UP_MIN
from lucid_ridge.core.motion.travel import LOOK_SECONDS, OwnLook, WaterLook
from lucid_ridge.core.records import record
from lucid_ridge.core.stops.scales import nearest_third
from lucid_ridge.reports.figures import shutter_text, significant
from lucid_ridge.reports.rehearsal.words import share_text
from lucid_ridge.reports.tensions.words import window_text

LOOK_NAMES: dict[WaterLook, str] = {"texture": "Water with texture", "soft": "Soft water", "glass": "Water like glass"}
_TOP_STARS = 5.0
_SAME_STOPS = {"hold": 1 / 6, "pace": math.log2(1.05), "set-up": math.log2(1.1), "charge": math.log2(1.1)}
_NOTHING_CLEAR = "The takes that there are now say nothing clear of it."


@record
class TakeDot:
    """One take in the picture: from 0 to 1 to the right and up."""

    x: float
    y: float


@record
class TimeMark:
    """A shutter time below the picture: where from 0 to 1, and what it is called."""

    at: float
    text: str


@record
class Proposal:
    """Something learned. ``dots`` are the takes it rests on, ``own`` and ``common`` spans in their picture; both may be empty.

    ``state`` says whether it is proposed, taken on as it is, or taken on as it was when there were fewer takes.
    """

    key: str
    title: str
    own_text: str
    common_text: str
    evidence: str
    state: str
    taken_text: str
    dots: tuple[TakeDot, ...] = ()
    marks: tuple[TimeMark, ...] = ()
    own: tuple[float, float] | None = None
    common: tuple[float, float] | None = None


def _spread_text(stops: float) -> str:
    return f"give or take {significant(stops, 1)} stop{'s' * (stops >= 1.5)}"


def look_proposal(
    look: WaterLook, learned: LearnedLook, shutters_s: Sequence[float], ratings: Sequence[float], taken: OwnLook | None
) -> Proposal:
    """A look of the water: the times at which it is rated best, each take as a dot over its shutter time."""
    common = LOOK_SECONDS[look]
    times = [*shutters_s, learned.shortest_s, learned.longest_s]
    first, last = math.floor(math.log2(min(times))), math.ceil(math.log2(max(times)))

    def at(seconds: float) -> float:
        return min(max((math.log2(seconds) - first) / max(last - first, 1), 0.0), 1.0)

    same = taken is not None and abs(math.log2(taken.shortest_s / learned.shortest_s)) < 1 / 6 and abs(
        math.log2(taken.longest_s / learned.longest_s)
    ) < 1 / 6  # fmt: skip
    return Proposal(
        key=f"look-{look}",
        title=LOOK_NAMES[look],
        own_text=window_text((learned.shortest_s, learned.longest_s)),
        common_text=window_text(common),
        evidence=(
            f"Of {learned.takes} rated takes those about {shutter_text(nearest_third(learned.best_s, 'shutter'))} are rated best, "
            f"{_spread_text(learned.spread_stops)}."
        ),
        state="taken" if same else "changed" if taken else "proposed",
        taken_text=""
        if taken is None
        else f"{window_text((taken.shortest_s, taken.longest_s))} from {taken.takes} takes",
        dots=tuple(TakeDot(x=at(t), y=stars / _TOP_STARS) for t, stars in zip(shutters_s, ratings, strict=True)),
        marks=tuple(
            TimeMark(at=at(2.0**k), text=shutter_text(nearest_third(2.0**k, "shutter"))) for k in range(first, last + 1)
        ),
        own=(at(learned.shortest_s), at(learned.longest_s)),
        common=(at(common[0]), at(common[1])),
    )


def kept_look(own: OwnLook) -> Proposal:
    """A look that was taken on, of which the takes that there are now say nothing."""
    return Proposal(
        key=f"look-{own.look}",
        title=LOOK_NAMES[own.look],
        own_text=window_text((own.shortest_s, own.longest_s)),
        common_text=window_text(LOOK_SECONDS[own.look]),
        evidence=_NOTHING_CLEAR,
        state="taken",
        taken_text=f"{window_text((own.shortest_s, own.longest_s))} from {own.takes} takes",
    )


def hold_proposal(learned: LearnedHold | None, taken: float | None) -> Proposal | None:
    """How much longer than the rule one holds still; None where it is neither learned nor taken on."""
    told = None
    if learned is not None:
        spread = _spread_text(learned.spread_stops)
        told = (learned.factor, f"{learned.shaken} of {learned.takes} takes by hand were shaken, {spread}.")
    return _of_factor("hold", "By hand", "the rule's time: 1 over the focal length", "the rule's time", told, taken)


def back_off_proposal(learned: LearnedBackOff | None, taken: float | None) -> Proposal | None:
    """How far to back off for saturated colours; None where it is neither learned nor taken on."""
    told = None
    if learned is not None:
        told = (
            learned.stops,
            f"In {learned.clipped} of {learned.takes} takes with a saturated colour one channel was full, "
            f"{_spread_text(learned.spread_stops)}.",
        )

    def text(stops: float) -> str:
        return f"{significant(stops, 2)} stop{'s' * (abs(stops) >= 1.5)}"

    return _of_number(
        "back-off",
        "Back-off for saturated colours",
        "1/3 to 2/3 stop",
        text,
        told,
        taken,
        lambda a, b: abs(a - b) < 1 / 6,
    )


def pace_proposal(learned: LearnedPace | None, taken: float | None) -> Proposal | None:
    """How many times as long as planned one's sequences take; None where it is neither learned nor taken on."""
    told = None
    if learned is not None:
        told = (
            learned.factor,
            f"Half of {learned.takes} takes that were carried out to the end took longer than that, half less, "
            f"give or take {share_text(2**learned.spread_stops - 1)}. Outings count on it.",
        )
    return _of_factor("pace", "Pace", "as long as planned", "as long as planned", told, taken)


def set_up_proposal(learned: LearnedPace | None, taken_min: float | None) -> Proposal | None:
    """How many minutes one sets up; None where it is neither learned nor taken on."""
    told = None
    if learned is not None:
        told = (
            learned.factor * SET_UP_MIN,
            f"Half of {learned.takes} times it took longer from arriving to the first frame, half less, "
            f"give or take {significant(learned.factor * SET_UP_MIN * (2**learned.spread_stops - 1), 1)} min.",
        )
    return _of_number(
        "set-up",
        "Setting up",
        f"{SET_UP_MIN} min",
        lambda value: f"{value:.0f} min",
        told,
        taken_min,
        _within(_SAME_STOPS["set-up"]),
    )


def charge_proposal(learned: LearnedCharge | None, taken: float | None) -> Proposal | None:
    """How many times as long as usual a charge lasts; None where it is neither learned nor taken on."""
    told = None
    if learned is not None:
        lasted = f", {learned.lasted} lasted the day" if learned.lasted else ""
        told = (
            learned.factor,
            f"{learned.flat} batteries ran flat{lasted}, {_spread_text(learned.spread_stops)}. Packing lists count on it.",
        )
    usual = "as many frames as the body's own figure says"
    return _of_factor("charge", "Batteries", usual, usual, told, taken)


def _of_factor(
    key: str, title: str, common_text: str, against: str, told: tuple[float, str] | None, taken: float | None
) -> Proposal | None:
    """A factor on what common practice says."""
    return _of_number(
        key,
        title,
        common_text,
        lambda value: f"{significant(value, 2)} times {against}",
        told,
        taken,
        _within(_SAME_STOPS[key]),
    )


def _within(stops: float) -> Callable[[float, float], bool]:
    return lambda a, b: abs(math.log2(a / b)) < stops


def _of_number(
    key: str,
    title: str,
    common_text: str,
    text: Callable[[float], str],
    told: tuple[float, str] | None,
    taken: float | None,
    same: Callable[[float, float], bool],
) -> Proposal | None:
    """One number: what takes tell of it with its evidence, and what was taken on. *same* says where two are hardly apart."""
    own = taken if told is None else told[0]
    if own is None:
        return None
    return Proposal(
        key=key,
        title=title,
        own_text=text(own),
        common_text=common_text,
        evidence=_NOTHING_CLEAR if told is None else told[1],
        state="proposed" if taken is None else "taken" if same(taken, own) else "changed",
        taken_text="" if taken is None else text(taken),
    )
