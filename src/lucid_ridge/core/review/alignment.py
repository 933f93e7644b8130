"""How a frame lies to another: shifted, turned, and larger, and what in it does not lie as the rest."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.review.tiles import Floats, Grey, Offsets, offsets_between

LEAST_TILES = 15
LEAST_SHARE = 0.6
_WITHIN_PX = 0.8
_LEAST_PX, _ERRORS = 0.5, 10.0
"""Errors of tiles beside each other are no strangers to each other: so many of their common error are asked for."""
_TRIES = 200
_SEED = 7


@dataclass(frozen=True, eq=False)
class Alignment:
    """How a frame lies to another one, at the size at which it was looked at.

    ``shift`` of the middle in pixels right and down with ``shift_error``, one standard deviation; ``turn_deg``; ``log_scale``, the
    logarithm of how much larger it is, with its error. ``outliers`` (n, 4) are tiles that lie elsewhere: middle and offset off the
    rest. ``known`` is False where too few tiles agree for anything to be told.
    """

    shift: tuple[float, float]
    shift_error: float
    turn_deg: float
    log_scale: float
    scale_error: float
    outliers: Floats
    tiles: int
    known: bool

    @property
    def far_px(self) -> float:
        """How far the middle lies off."""
        return math.hypot(*self.shift)

    @property
    def moved(self) -> bool:
        """Whether the camera has moved between the two."""
        return self.known and self.far_px > self.least_px

    @property
    def least_px(self) -> float:
        """What has to lie off before the camera is said to have moved."""
        return max(_LEAST_PX, _ERRORS * self.shift_error)


_UNKNOWN = Alignment((0.0, 0.0), math.inf, 0.0, 0.0, math.inf, np.zeros((0, 4)), 0, False)


def aligned(one: Grey, other: Grey) -> Alignment:
    """How *other* lies to *one*, both (rows, columns) of the same size."""
    return fit(offsets_between(one, other), one.shape)


def fit(found: Offsets, shape: tuple[int, ...]) -> Alignment:
    """The similarity that most tiles agree on."""
    count = len(found.offsets)
    if count < LEAST_TILES:
        return _UNKNOWN
    middle = np.array([(shape[1] - 1) / 2, (shape[0] - 1) / 2])
    place = found.middles - middle
    good = _agreeing(place, found.offsets)
    for _ in range(3):
        if good.sum() < LEAST_TILES:
            return _UNKNOWN
        answer = _least_squares(place[good], found.offsets[good])
        left = np.hypot(*(found.offsets - _moved(place, answer)).T)
        spread = 1.4826 * float(np.median(left[good])) / 1.1774
        good = left < max(_WITHIN_PX / 2, 3.5 * spread)
    inliers = int(good.sum())
    if inliers < LEAST_TILES or inliers < LEAST_SHARE * count:
        return _UNKNOWN
    answer = _least_squares(place[good], found.offsets[good])
    rest = found.offsets - _moved(place, answer)
    sigma = float(np.sqrt((rest[good] ** 2).sum() / max(2 * inliers - 4, 1)))
    errors = sigma * np.sqrt(np.diag(np.linalg.pinv(_rows(place[good]).T @ _rows(place[good]))))
    out = ~good
    return Alignment(
        shift=(float(answer[0]), float(answer[1])),
        shift_error=float(errors[:2].max()),
        turn_deg=math.degrees(answer[3]),
        log_scale=math.log1p(answer[2]),
        scale_error=float(errors[2]),
        outliers=np.concatenate([found.middles[out], rest[out]], axis=1),
        tiles=inliers,
        known=True,
    )


def agreeing(whole: Alignment, some: Offsets, shape: tuple[int, ...]) -> float:
    """The share of some tiles that lie as an alignment says."""
    middle = np.array([(shape[1] - 1) / 2, (shape[0] - 1) / 2])
    answer = np.array([*whole.shift, math.expm1(whole.log_scale), math.radians(whole.turn_deg)])
    left = np.hypot(*(some.offsets - _moved(some.middles - middle, answer)).T)
    return float((left < 2 * _WITHIN_PX).mean())


def _moved(place: Floats, answer: Floats) -> Floats:
    """Where a similarity (right, down, larger, turned) moves places (n, 2), from where they are."""
    x, y = place.T
    return np.stack([answer[0] + answer[2] * x - answer[3] * y, answer[1] + answer[2] * y + answer[3] * x], axis=1)


def _rows(place: Floats) -> Floats:
    """What each of right, down, larger and turned does at places (n, 2): all offsets to the right, then all down, (2 n, 4)."""
    x, y = place.T
    one, none = np.ones_like(x), np.zeros_like(x)
    return np.concatenate([np.stack([one, none, x, -y], axis=1), np.stack([none, one, y, x], axis=1)])


def _least_squares(place: Floats, offsets: Floats) -> Floats:
    answer, *_ = np.linalg.lstsq(_rows(place), np.concatenate([offsets[:, 0], offsets[:, 1]]), rcond=None)
    return np.asarray(answer)


def _agreeing(place: Floats, offsets: Floats) -> NDArray[np.bool_]:
    """The tiles that agree with the pair which most agree with.

    References
    ----------
    .. [1] Fischler and Bolles, Random sample consensus, 1981.

    """
    rng = np.random.default_rng(_SEED)
    best = np.zeros(len(place), dtype=bool)
    for _ in range(_TRIES):
        a, b = rng.choice(len(place), 2, replace=False)
        if np.hypot(*(place[a] - place[b])) < 1:
            continue
        answer = _least_squares(place[[a, b]], offsets[[a, b]])
        good = np.hypot(*(offsets - _moved(place, answer)).T) < _WITHIN_PX
        if good.sum() > best.sum():
            best = good
    return best
