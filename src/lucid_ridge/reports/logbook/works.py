"""Pictures of what works: ratings by light, water and way, and what went wrong over the years."""

from __future__ import annotations

import bisect
from collections.abc import Iterable, Sequence
from typing import Literal, NamedTuple, get_args

from lucid_ridge.core.records import record
from lucid_ridge.reports.figures import shutter_text
from lucid_ridge.reports.logbook.kinds import DIRECTIONS_DEG, HEIGHTS_DEG, LOOKS, SHUTTERS_S, WAYS, kind_from

Group = Literal["direction", "height", "water", "way"]
GROUPS: tuple[Group, ...] = get_args(Group)

KEPT_FROM = 4
"""A take is kept that is rated so well."""
FEW = 5
"""Fewer rated takes than that tell little."""

_DIRECTIONS = ("into the sun", "sun from the side", "sun from behind")
_FROM = ("ahead", "from the side", "from behind")
_HEIGHTS = ("night and twilight", "just below the horizon", "low, under 6°", "6° to 20°", "over 20°")
_WATER = dict(zip(LOOKS, ("frozen", "texture", "soft", "glass"), strict=True))
_WAYS = dict(zip(WAYS, ("one frame", "focus stack", "bracket", "panels", "layers"), strict=True))
_TITLES: dict[Group, str] = {
    "direction": "By where the sun stood",
    "height": "By how high the sun stood",
    "water": "Running water by shutter time",
    "way": "By how it was taken",
}
_ABOUT: dict[Group, str] = {
    "direction": "Against the way the camera looked, when the take began. Only takes with the sun up.",
    "height": "When the take began.",
    "water": "By the look of the water that was wanted.",
    "way": "One frame, or several put together.",
}


class Tally(NamedTuple):
    """How many takes of a kind, how many of them are rated, the sum of ratings, how many are rated as kept."""

    takes: int
    rated: int
    sum: int
    kept: int

    def with_more(self, more: Tally) -> Tally:
        """Both together."""
        return Tally(*(a + b for a, b in zip(self, more, strict=True)))


NONE = Tally(0, 0, 0, 0)


def tally_of(rating: int | None, takes: int) -> Tally:
    """So many takes of one rating."""
    rated = takes * (rating is not None)
    return Tally(takes, rated, rated * (rating or 0), rated * ((rating or 0) >= KEPT_FROM))


Counted = tuple[int | None, int | None, int]
"""A kind's number, a rating, and how many takes of both there are."""


@record
class WorksRow:
    """One line: what it is of, how many takes, the mean rating and the share that was kept, as text and from 0 to 1 to draw.

    ``few`` says that too few are rated to make much of it.
    """

    name: str
    takes: int
    mean_text: str
    mean: float
    kept_text: str
    kept: float
    few: bool


@record
class WorksGroup:
    """Lines that are told apart by one thing."""

    key: Group
    title: str
    about: str
    rows: tuple[WorksRow, ...]


@record
class FaultOfYear:
    """How many takes of a year had a fault, and which share of that year's that is."""

    fault: str
    takes: int
    share: float


@record
class YearOfFaults:
    """A year: its takes and its faults, the most frequent first."""

    year: int
    takes: int
    faults: tuple[FaultOfYear, ...]


@record
class WhatWorks:
    """What works, and what went wrong over the years."""

    takes: int
    rated: int
    groups: tuple[WorksGroup, ...]
    years: tuple[YearOfFaults, ...]


def sun_text(height_deg: float | None, off_deg: float | None) -> str:
    """Where the sun stood: its height, and from which side it shone while it was up."""
    if height_deg is None:
        return ""
    up = f"sun {abs(height_deg):.0f}° {'up' if height_deg >= 0 else 'below the horizon'}"
    if off_deg is None or height_deg <= HEIGHTS_DEG[1]:
        return up
    return f"{up}, {_FROM[bisect.bisect_right(DIRECTIONS_DEG, off_deg)]}"


def mean_text(tally: Tally) -> str:
    """The mean rating in words."""
    return f"{tally.sum / tally.rated:.1f} of 5" if tally.rated else "not rated"


def kept_text(tally: Tally) -> str:
    """How many of the rated ones were kept."""
    return f"{tally.kept} of {tally.rated} kept" if tally.rated else "none rated"


def _between(bucket: int) -> str:
    """The name of a span of shutter times; bucket 0 is shorter than all of them."""
    if bucket == 0:
        return f"under {shutter_text(SHUTTERS_S[0])}"
    if bucket == len(SHUTTERS_S):
        return f"over {shutter_text(SHUTTERS_S[-1])}"
    return f"{shutter_text(SHUTTERS_S[bucket - 1])} to {shutter_text(SHUTTERS_S[bucket])}"


def _name(group: Group, key: tuple[str | int, ...]) -> str:
    if group == "direction":
        return _DIRECTIONS[int(key[0])]
    if group == "height":
        return _HEIGHTS[int(key[0])]
    if group == "way":
        return _WAYS[str(key[0])]
    return f"{_WATER[str(key[0])]}, {_between(int(key[1]))}"


def _order(group: Group, key: tuple[str | int, ...]) -> tuple[int, int]:
    if group == "water":
        return list(_WATER).index(str(key[0])), int(key[1])
    return (list(_WAYS).index(str(key[0])), 0) if group == "way" else (int(key[0]), 0)


def _row(name: str, tally: Tally) -> WorksRow:
    return WorksRow(
        name=name,
        takes=tally.takes,
        mean_text=mean_text(tally),
        mean=tally.sum / tally.rated / 5 if tally.rated else 0.0,
        kept_text=kept_text(tally),
        kept=tally.kept / tally.rated if tally.rated else 0.0,
        few=tally.rated < FEW,
    )


def _summed(counts: Iterable[Counted]) -> tuple[Tally, dict[Group, dict[tuple[str | int, ...], Tally]], dict[int, int]]:
    """Of all takes; of each group by key; and how many there are of each year."""
    whole = NONE
    groups: dict[Group, dict[tuple[str | int, ...], Tally]] = {name: {} for name in GROUPS}
    years: dict[int, int] = {}
    for number, rating, takes in counts:
        more = tally_of(rating, takes)
        whole = whole.with_more(more)
        if number is None:
            continue
        kind = kind_from(number)
        years[kind.year] = years.get(kind.year, 0) + takes
        keys: dict[Group, tuple[str | int | None, ...]] = {
            "direction": (kind.direction,),
            "height": (kind.height,),
            "water": (kind.look, kind.shutter),
            "way": (kind.way,),
        }
        for group, key in keys.items():
            known = tuple(one for one in key if one is not None)
            if len(known) == len(key):
                groups[group][known] = groups[group].get(known, NONE).with_more(more)
    return whole, groups, years


def what_works(counts: Iterable[Counted], faults: Sequence[tuple[int, str, int]]) -> WhatWorks:
    """What a logbook adds up to.

    Parameters
    ----------
    counts
        How many takes there are of each kind (by the number of `number_of`, None where it is not worked out) and rating.
    faults
        Year, fault, and in how many takes.

    """
    whole, groups, years = _summed(counts)
    return WhatWorks(
        takes=whole.takes,
        rated=whole.rated,
        groups=tuple(
            WorksGroup(
                key=group,
                title=_TITLES[group],
                about=_ABOUT[group],
                rows=tuple(
                    _row(_name(group, key), tally)
                    for key, tally in sorted(groups[group].items(), key=lambda item: _order(group, item[0]))
                ),
            )
            for group in GROUPS
            if groups[group]
        ),
        years=tuple(
            YearOfFaults(
                year=year,
                takes=takes,
                faults=tuple(
                    FaultOfYear(fault=fault, takes=count, share=count / takes)
                    for of, fault, count in sorted(faults, key=lambda one: (-one[2], one[1]))
                    if of == year
                ),
            )
            for year, takes in sorted(years.items())
        ),
    )
