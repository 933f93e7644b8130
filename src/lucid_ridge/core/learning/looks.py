"""The shutter time at which somebody likes moving water best, from ratings."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

LEAST_TAKES = 8
"""Fewer rated takes than that make no peak that can be told from chance."""
_LEAST_RANGE_STOPS = 1.0
_LEAST_TIMES = 3
_PEOPLE_DIFFER_STOPS = 1.5
"""How far what people like lies from common practice, one standard deviation (common practice: a stop or two)."""
_HUBER_STARS = 1.0
_LEAST_CURVE = 0.04
_RIDGE = 1e-9
"""Keeps samples solvable that hold one shutter time alone."""
_CHANCE = 0.02
_SHUFFLES, _RESAMPLES = 199, 200
_WORSE_STARS = 0.75
"""A look's span ends where a take is rated so much lower than at its best."""
_HALF_SPAN_STOPS = (0.5, 2.0)
_NEAR_STOPS = 2.5
_TIGHTEST_STOPS = 0.2
"""A parabola is not quite what people like: no spread is narrower."""


@dataclass(frozen=True)
class LearnedLook:
    """Where ratings are best: the shutter time, its spread in stops (one standard deviation), the span that is still good.

    ``takes`` is how many rated takes it rests on.
    """

    best_s: float
    spread_stops: float
    shortest_s: float
    longest_s: float
    takes: int


def _fitted(x: Array, y: Array) -> tuple[Array, Array]:
    """Parabolas through ratings, odd ones weighing less [1]_.

    Parameters
    ----------
    x, y
        Stops and stars of samples of takes, (S, N).

    Returns
    -------
    tuple
        Coefficients (S, 3), and what the residuals of each sample add up to (S,).

    References
    ----------
    .. [1] Huber, Robust estimation of a location parameter, Annals of Mathematical Statistics 35, 1964.

    """
    design = np.stack([np.ones_like(x), x, x * x], axis=-1)
    weights: Array = np.ones_like(x)
    for _ in range(6):
        squares = np.einsum("snj,sn,snk->sjk", design, weights, design) + _RIDGE * np.eye(3)
        found: Array = np.linalg.solve(squares, np.einsum("snj,sn,sn->sj", design, weights, y)[..., None])[..., 0]
        off: Array = np.abs(y - np.einsum("snj,sj->sn", design, found))
        weights = _HUBER_STARS / np.maximum(off, _HUBER_STARS)
    small = np.minimum(off, _HUBER_STARS)
    return found, np.asarray((small * (off - small / 2)).sum(axis=-1))


def _of_one(x: Array, y: Array) -> tuple[Array, float]:
    found, misfit = _fitted(x[None], y[None])
    return found[0], float(misfit[0])


def _peak(found: Array) -> float:
    return float(-found[1] / (2 * found[2])) if found[2] < 0 else math.nan


def _near_the_peak(x: Array, y: Array, found: Array) -> tuple[Array, Array, Array]:
    """What lies about the peak, fitted anew: far off everything is rated as badly, which bends the parabola."""
    peak = _peak(found)
    near = np.abs(x - peak) <= _NEAR_STOPS
    if near.sum() < LEAST_TAKES:
        return x, y, found
    closer, _ = _of_one(x[near], y[near])
    if closer[2] > -_LEAST_CURVE or abs(_peak(closer) - peak) > _NEAR_STOPS:
        return x, y, found
    return x[near], y[near], closer


def _spread(x: Array, y: Array, rng: np.random.Generator) -> float:
    """How far the peak of such takes lies off by chance, one standard deviation in stops, by resampling them."""
    some = rng.integers(0, len(x), (_RESAMPLES, len(x)))
    found, _ = _fitted(x[some], y[some])
    # Where there is no peak it lies anywhere that was tried.
    anywhere = rng.uniform(x.min(), x.max(), _RESAMPLES)
    peaks = np.where(found[:, 2] < 0, -found[:, 1] / (2 * np.minimum(found[:, 2], -1e-9)), anywhere)
    low, high = np.percentile(np.clip(peaks, x.min() - 1, x.max() + 1), [16, 84])
    return max(float(high - low) / 2, _TIGHTEST_STOPS)


def learned_look(
    shutters_s: Sequence[float], ratings: Sequence[float], common_s: tuple[float, float], seed: int = 1
) -> LearnedLook | None:
    """The shutter time that is rated best; None where nothing can be told from chance.

    Parameters
    ----------
    shutters_s, ratings
        Of each rated take, seconds and stars.
    common_s
        The span of common practice for that look, seconds, both above nought.
    seed
        Of shuffling and resampling.

    Returns
    -------
    LearnedLook | None
        The peak of a parabola over stops, its spread by resampling, drawn towards the middle of common practice by as much as the
        spread is wide beside how far people differ. None for fewer than `LEAST_TAKES`, where hardly anything was varied, where
        there is no peak within what was tried, and where shuffled ratings fit as well in more than 2 of 100 times.

    """
    x, y = np.log2(np.asarray(shutters_s, dtype=float)), np.asarray(ratings, dtype=float)
    if len(x) < LEAST_TAKES or np.ptp(x) < _LEAST_RANGE_STOPS or len(np.unique(np.round(x * 3))) < _LEAST_TIMES:
        return None
    middle = float(np.median(x))
    x = x - middle
    found, misfit = _of_one(x, y)
    peak = _peak(found)
    if not (found[2] <= -_LEAST_CURVE and x.min() - 0.5 <= peak <= x.max() + 0.5):
        return None
    rng = np.random.default_rng(seed)
    shuffled = rng.permuted(np.tile(y, (_SHUFFLES, 1)), axis=1)
    as_good = int((_fitted(np.tile(x, (_SHUFFLES, 1)), shuffled)[1] <= misfit).sum())
    if (as_good + 1) / (_SHUFFLES + 1) > _CHANCE:
        return None
    x, y, found = _near_the_peak(x, y, found)
    spread = _spread(x, y, rng)
    common = sum(math.log2(one) for one in common_s) / 2 - middle
    trust = _PEOPLE_DIFFER_STOPS**2 / (_PEOPLE_DIFFER_STOPS**2 + spread**2)
    best = middle + trust * _peak(found) + (1 - trust) * common
    half = float(np.clip(math.sqrt(_WORSE_STARS / -found[2]), *_HALF_SPAN_STOPS))
    return LearnedLook(
        best_s=2.0**best,
        spread_stops=spread * math.sqrt(trust),
        shortest_s=2.0 ** (best - half),
        longest_s=2.0 ** (best + half),
        takes=len(ratings),
    )
