"""Pictures that nobody planned, put together as they were taken: by time, and by what they were set to."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from lucid_ridge.core.review.matching import Setting

APART_S = 180.0
"""Whoever waits for longer has begun something else."""
_SAME_STOPS = 0.25
_SAME_FOCUS = 0.03
_LEAST_UNEVEN = 1
"""A bracket has each of its exposures as often as the others, or once less where it was cut off."""


@dataclass(frozen=True)
class Group:
    """Pictures that belong together, by their places in the list that was given, in the order in which they were taken.

    ``slices`` is at how many distances they are focused, ``exposures`` with how many shutter times of a bracket; 1 where all are
    alike, or nobody knows.
    """

    pictures: tuple[int, ...]
    slices: int
    exposures: int


def _apart(one: Setting, other: Setting) -> bool:
    if other.at_s - one.at_s - (one.shutter_s or 0.0) > APART_S:
        return True
    for a, b, factor in ((one.aperture_n, other.aperture_n, 2.0), (one.iso, other.iso, 1.0)):
        if a and b and abs(math.log2(b / a)) * factor > _SAME_STOPS:
            return True
    return False


def _distances(pictures: Sequence[Setting]) -> int:
    """At how many distances pictures are focused; 1 where one of them does not tell."""
    known = sorted(one.focus_m for one in pictures if one.focus_m)
    if len(known) < len(pictures):
        return 1
    return 1 + sum(b / a > 1 + _SAME_FOCUS for a, b in pairwise(known))


def _exposures(pictures: Sequence[Setting]) -> int:
    """How many exposures a bracket has; 1 where there is none, or one of them does not tell."""
    known = [round(3 * math.log2(one.shutter_s)) for one in pictures if one.shutter_s]
    times = Counter(known)
    if len(known) < len(pictures) or max(times.values()) - min(times.values()) > _LEAST_UNEVEN:
        return 1
    return len(times)


def grouped(pictures: Sequence[Setting]) -> list[Group]:
    """Pictures put together as they were taken.

    Parameters
    ----------
    pictures
        When each was taken, by whatever clock, and with what.

    Returns
    -------
    list
        Groups by when they begin; each picture is in one of them.

    """
    order = sorted(range(len(pictures)), key=lambda k: pictures[k].at_s)
    runs: list[list[int]] = []
    for k in order:
        if runs and not _apart(pictures[runs[-1][-1]], pictures[k]):
            runs[-1].append(k)
        else:
            runs.append([k])
    return [
        Group(tuple(run), _distances([pictures[k] for k in run]), _exposures([pictures[k] for k in run]))
        for run in runs
    ]
