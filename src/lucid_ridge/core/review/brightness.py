"""Full channels, and how bright frames are against each other."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.review.tiles import Picture

FULL = 254
_BLACK = 2
BLOCKED_SHARE = 0.01
CLIPPED_SHARE = 0.001
_LEAST_LINEAR, _MOST_LINEAR = 0.02, 0.7
_LEAST_PIXELS = 2000


Box = tuple[float, float, float, float]
"""Left, top, wide, high; 0 to 1."""


@dataclass(frozen=True)
class Clipping:
    """What is full in a picture: the share of each channel, and the box that holds most of it (left, top, wide, high; 0 to 1)."""

    shares: tuple[float, float, float]
    box: Box | None

    @property
    def clipped(self) -> bool:
        """Whether any channel is full in more than a speck."""
        return max(self.shares) > CLIPPED_SHARE


def clipping_of(picture: Picture) -> Clipping:
    """What is full in a picture (rows, columns, 3)."""
    full = picture >= FULL
    shares = full.mean(axis=(0, 1))
    red, green, blue = (float(one) for one in shares)
    return Clipping((red, green, blue), box_of(np.asarray(full.any(axis=2))))


def blocked_of(picture: Picture) -> tuple[float, Box | None]:
    """The share of a picture (rows, columns, 3) that is black in all channels, and the box that holds most of it."""
    black = (picture <= _BLACK).all(axis=2)
    return float(black.mean()), box_of(np.asarray(black))


def box_of(these: NDArray[np.bool_]) -> Box | None:
    """The box that holds most of some pixels (rows, columns)."""
    if not these.any():
        return None
    rows, columns = np.nonzero(these)
    left, right = (float(one) for one in np.quantile(columns, (0.02, 0.98)))
    top, bottom = (float(one) for one in np.quantile(rows, (0.02, 0.98)))
    high, wide = these.shape
    return left / wide, top / high, (right - left + 1) / wide, (bottom - top + 1) / high


def _linear(channel: Picture) -> np.ndarray:
    """Shares of white as light (IEC 61966-2-1)."""
    v = channel.astype(np.float32) / 255
    return np.where(v <= 0.04045, v / 12.92, ((v + 0.055) / 1.055) ** 2.4)


def brighter_stops(one: Picture, other: Picture) -> float | None:
    """By how many stops the other picture of the same thing is brighter, in the middle; None where too little compares."""
    found = _brighter(one, other, (1,))
    return None if found is None else found[0]


def full_share(picture: Picture) -> float:
    """The share of a picture (rows, columns, 3) that is too bright to tell anything of."""
    return float(np.mean(_linear(picture[::4, ::4, 1]) > _MOST_LINEAR))


def dark_share(picture: Picture) -> float:
    """The share of a picture (rows, columns, 3) that is too dark to tell anything of."""
    return float(np.mean(_linear(picture[::4, ::4, 1]) < _LEAST_LINEAR))


def bluer_stops(one: Picture, other: Picture) -> float | None:
    """By how many stops the other picture of the same thing has more blue against red; None where too little compares."""
    found = _brighter(one, other, (0, 2))
    return None if found is None else found[1] - found[0]


def _brighter(one: Picture, other: Picture, channels: tuple[int, ...]) -> tuple[float, ...] | None:
    """By how many stops each of some channels is brighter in the middle, where all of them can be compared."""
    pairs = [(_linear(one[::4, ::4, k]), _linear(other[::4, ::4, k])) for k in channels]
    both = np.logical_and.reduce([(v > _LEAST_LINEAR) & (v < _MOST_LINEAR) for pair in pairs for v in pair])
    if both.sum() < _LEAST_PIXELS:
        return None
    return tuple(float(np.median(np.log2(b[both] / a[both]))) for a, b in pairs)
