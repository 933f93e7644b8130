"""Where each frame of a stack was really focused, told by how large it is: focusing nearer makes the picture larger.

A lens that is focused nearer stands farther from the sensor, and the picture grows as that distance does (common practice calls it
focus breathing). By how much a lens of one's own grows is found from the stack itself; one that is built not to grow gives no answer.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

import numpy as np

from lucid_ridge.core.review.tiles import Floats

LEAST_FRAMES = 4
_LEAST_SIGNAL = 5.0
_MOST_CHOICES = 3000
_SAME_PLACE = 0.3
_OFF_ALLOWANCES = 1.3
_OFF_ERRORS = 5.0
_BESIDE = 3


@dataclass(frozen=True)
class Focused:
    """Where the frames of a stack were focused.

    ``slices`` is which planned slice each frame was taken at, counted from 0 in the order of the frames; ``off`` how far each is
    from it in allowances, farther than planned being positive; ``missing`` the planned slices at which no frame was taken.
    ``end_missing`` says how many are missing at an end, nobody can tell which.
    """

    slices: tuple[int, ...]
    off: tuple[float, ...]
    missing: tuple[int, ...]
    end_missing: int


def where_focused(planned: Floats, allowance: Floats, steps: Floats, errors: Floats) -> Focused | None:
    """Where frames were focused, from how much larger each is than the one before.

    Parameters
    ----------
    planned
        Logarithm of the image distance of each planned slice, (slices,), in the order in which they are taken.
    allowance
        By how much that may be off at each and still be sharp, (slices,).
    steps
        Logarithm of how much larger each frame is than the one before, (frames - 1,).
    errors
        Standard errors of the steps, (frames - 1,).

    Returns
    -------
    Focused or None
        None where it cannot be told: too few frames, or the picture does not grow by more than its error.

    """
    count, whole = len(steps) + 1, len(planned)
    if count < LEAST_FRAMES or count > whole or not np.isfinite(errors).all():
        return None
    seen = np.concatenate([[0.0], np.cumsum(steps)])
    error = float(np.sqrt(np.mean(errors**2)))
    if np.ptp(seen) / max(count - 1, 1) < _LEAST_SIGNAL * error:
        return None
    chosen, slope, start = _best(planned, seen)
    if abs(slope) * float(np.median(np.abs(np.diff(planned)))) < _LEAST_SIGNAL * error:
        return None
    found = (seen - start) / slope
    return _judged(planned, allowance, found, chosen, error / abs(slope))


def _line(x: Floats, y: Floats) -> tuple[float, float, float]:
    """Slope and start of the line that most points lie on (Theil 1950, Sen 1968), and how far the points lie off in the middle."""
    apart, high = x[:, None] - x[None, :], y[:, None] - y[None, :]
    upper = np.triu(np.abs(apart) > 1e-12, 1)
    slope = float(np.median(high[upper] / apart[upper])) if upper.any() else 0.0
    start = float(np.median(y - slope * x))
    return slope, start, float(np.abs(y - slope * x - start).sum())


def _best(planned: Floats, seen: Floats) -> tuple[tuple[int, ...], float, float]:
    """Which slices the frames are of, in order, with the line from planned to seen."""
    whole, count = len(planned), len(seen)
    if math.comb(whole, count) > _MOST_CHOICES:
        choices = [tuple(range(k, k + count)) for k in range(whole - count + 1)]
    else:
        choices = list(itertools.combinations(range(whole), count))
    fits = [(*_line(planned[list(one)], seen), one) for one in choices]
    slope, start, _, one = min(fits, key=lambda fit: fit[2])
    return one, slope, start


def _judged(planned: Floats, allowance: Floats, found: Floats, chosen: tuple[int, ...], error: float) -> Focused:
    apart = np.abs(np.diff(planned))
    room = np.array([min(apart[max(k - 1, 0)], apart[min(k, len(apart) - 1)]) for k in range(len(planned))])
    slices, off = [], []
    left = found - planned[list(chosen)]
    for k, at in enumerate(chosen):
        # Errors of the steps add up along a stack: a frame is judged against those beside it.
        beside = np.concatenate([left[max(k - _BESIDE, 0) : k], left[k + 1 : k + 1 + _BESIDE]])
        place = float(planned[at] + left[k] - np.median(beside))
        here = (place - planned[at]) / allowance[at]
        nearest = int(np.abs(planned - place).argmin())
        elsewhere = nearest != at and abs(place - planned[nearest]) < _SAME_PLACE * room[nearest]
        slices.append(nearest if elsewhere else at)
        # The image lies nearer for what is farther away.
        beyond = abs(here) > _OFF_ALLOWANCES and abs(place - planned[at]) > _OFF_ERRORS * error
        off.append(-float(here) if beyond and not elsewhere else 0.0)
    lacking = [k for k in range(len(planned)) if k not in slices]
    ends = [k for k in lacking if k in (0, len(planned) - 1)] if len(found) < len(planned) else []
    inner = tuple(k for k in lacking if k not in ends)
    return Focused(tuple(slices), tuple(off), inner, len(ends))
