"""Which frames of which sequences pictures are of, whatever the camera's clock showed.

Each sequence is laid along the pictures in their order; frames that were skipped, taken again or belong to nothing cost a little.
What the settings say alone decides at first, with one shift of exposure free for all frames of a sequence: people set the whole
of it brighter or darker. Then the clock's error is what most pictures agree on, and whatever lies elsewhere falls.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from lucid_ridge.core.review.tiles import Floats

GAIN, SKIP, REPEAT, STRAY = 3.0, 2.2, 0.8, 2.5
SHUTTER_STOPS, APERTURE_STOPS, ISO_STOPS, FOCUS_SHARE = 0.3, 0.2, 0.25, 0.25
"""How far frames lie off their plan, one standard deviation."""
MOST_SHIFT_STOPS = 3.0
_SHIFTS = np.arange(-MOST_SHIFT_STOPS, MOST_SHIFT_STOPS + 0.01, 1 / 3)
MOST_OFF_S = 50 * 3600.0
"""A day wrong and the farthest zones apart: pictures whose clock would be off by more are of something else."""
_WITHIN_S = 900.0
_VOTE_S = 300.0
_LEAST_SHARE = 0.6
_NEVER = -1e9
_UNLIKELY = 40.0


@dataclass(frozen=True)
class Setting:
    """What a frame is or was taken with; None for what nobody knows. ``at_s`` is in seconds since 1970, by whatever clock."""

    at_s: float
    shutter_s: float | None = None
    aperture_n: float | None = None
    iso: float | None = None
    focus_m: float | None = None


@dataclass(frozen=True)
class Match:
    """Pictures that are a sequence: its place in the list that was given, and the frame of each picture by its place.

    ``frames`` has pairs of picture and frame, both counted from 0; ``shift_stops`` is by how much all of it was exposed longer than
    planned, ``clock_off_s`` by how much the camera's clock was fast. ``sure`` is False where another sequence fits as well.
    """

    sequence: int
    frames: tuple[tuple[int, int], ...]
    score: float
    shift_stops: float
    clock_off_s: float
    sure: bool


def costs(pictures: Sequence[Setting], frames: Sequence[Setting], shift_stops: float) -> Floats:
    """How unlikely each picture is as each frame, (pictures, frames): half the sum of squares of what it is off by."""
    made = np.zeros((len(pictures), len(frames)))
    for name, spread, shift in (
        ("shutter_s", SHUTTER_STOPS, shift_stops),
        ("aperture_n", APERTURE_STOPS / 2, 0.0),
        ("iso", ISO_STOPS, 0.0),
        ("focus_m", math.log2(1 + FOCUS_SHARE), 0.0),
    ):
        a = np.log2([getattr(p, name) or math.nan for p in pictures])[:, None]
        b = np.log2([getattr(f, name) or math.nan for f in frames])[None, :]
        off = (a - b - shift) / spread
        made += np.where(np.isnan(off), 0.0, np.minimum(off**2 / 2, _UNLIKELY))
    return made


def _aligned(cost: Floats) -> tuple[float, tuple[tuple[int, int], ...]]:
    """The best run of pictures for a sequence, by dynamic programming: its score, and its pairs."""
    count, whole = cost.shape
    best = np.full((count + 1, whole + 1), _NEVER)
    came = np.zeros((count + 1, whole + 1), dtype=np.int8)
    # It may begin at any picture.
    best[:, 0] = 0.0
    for j in range(1, whole + 1):
        best[0, j] = -SKIP * j
        came[0, j] = 2
    for i in range(1, count + 1):
        for j in range(1, whole + 1):
            options = (
                best[i - 1, j - 1] + GAIN - cost[i - 1, j - 1],
                best[i - 1, j] - cost[i - 1, j - 1] - REPEAT,
                best[i, j - 1] - SKIP,
                best[i - 1, j] - STRAY,
            )
            at = int(np.argmax(options))
            best[i, j], came[i, j] = options[at], at
    end = int(best[:, whole].argmax())
    pairs, i, j = [], end, whole
    while j > 0:
        step = came[i, j]
        if step == 2:
            j -= 1
            continue
        if step == 0:
            pairs.append((i - 1, j - 1))
            j -= 1
        elif step == 1:
            pairs.append((i - 1, j - 1))
        i -= 1
    return float(best[end, whole]), tuple(reversed(pairs))


def _laid(pictures: Sequence[Setting], frames: Sequence[Setting]) -> tuple[float, float, tuple[tuple[int, int], ...]]:
    """The shift of exposure at which a sequence fits best: score, shift, pairs."""
    tried = []
    for shift in _SHIFTS:
        score, pairs = _aligned(costs(pictures, frames, float(shift)))
        tried.append((score - abs(float(shift)) * 0.3, float(shift), pairs))
    return max(tried, key=lambda one: one[0])


def _clock(pictures: Sequence[Setting], frames: Sequence[Setting], pairs: tuple[tuple[int, int], ...]) -> float:
    return float(np.median([pictures[i].at_s - frames[j].at_s for i, j in pairs]))


def runs_of(pictures: Sequence[Setting], apart_s: float = _WITHIN_S) -> list[tuple[int, int]]:
    """Where pictures in order of time fall into runs with a pause between them: first, and one past the last."""
    cuts = [
        0,
        *(k for k in range(1, len(pictures)) if pictures[k].at_s - pictures[k - 1].at_s > apart_s),
        len(pictures),
    ]
    return [(a, b) for a, b in itertools.pairwise(cuts) if b > a]


def match(
    pictures: Sequence[Setting], sequences: Sequence[Sequence[Setting]], clock_off_s: float | None = None
) -> tuple[Match, ...]:
    """Which pictures, in order of time, are which frames of which sequences.

    Parameters
    ----------
    pictures
        With the times of the camera's clock.
    sequences
        Each with its frames in order, at the times for which they were planned or at which they were taken.
    clock_off_s
        By how much the camera's clock is fast where somebody knows; found from the pattern otherwise.

    """
    found: list[Match] = []
    for first, past in runs_of(pictures):
        run = pictures[first:past]
        for k, frames in enumerate(sequences):
            score, shift, pairs = _laid(run, frames)
            if len(pairs) < max(1, _LEAST_SHARE * len(frames)) or score <= 0:
                continue
            off = _clock(run, frames, pairs)
            if abs(off) > MOST_OFF_S:
                continue
            found.append(Match(k, tuple((first + i, j) for i, j in pairs), score / len(frames), shift, off, sure=True))
    if not found:
        return ()
    voted = clock_off_s if clock_off_s is not None else _voted(found)
    return _chosen(found, voted)


def _voted(found: Sequence[Match]) -> float:
    """The clock's error that most pictures agree on; of equals the least."""

    def votes(off: float) -> tuple[float, float]:
        near = sum(len(one.frames) * max(one.score, 0.1) for one in found if abs(one.clock_off_s - off) < _VOTE_S)
        return near, -abs(off)

    best = max((one.clock_off_s for one in found), key=votes)
    return float(np.median([one.clock_off_s for one in found if abs(one.clock_off_s - best) < _VOTE_S]))


def _chosen(found: Sequence[Match], clock_off_s: float) -> tuple[Match, ...]:
    """Matches of which no picture is in two and no sequence twice, best first; those at the voted clock before all others."""

    def worth(one: Match) -> tuple[bool, float]:
        return abs(one.clock_off_s - clock_off_s) < _VOTE_S, one.score

    kept: list[Match] = []
    for one in sorted(found, key=worth, reverse=True):
        mine = {i for i, _ in one.frames}
        if any(mine & {i for i, _ in other.frames} or other.sequence == one.sequence for other in kept):
            continue
        rivals = [
            other
            for other in found
            if other is not one and mine & {i for i, _ in other.frames} and worth(other)[0] == worth(one)[0]
        ]
        sure = worth(one)[0] and all(other.score < one.score - 0.15 for other in rivals)
        kept.append(Match(one.sequence, one.frames, one.score, one.shift_stops, one.clock_off_s, sure))
    return tuple(sorted(kept, key=lambda one: one.frames[0]))
