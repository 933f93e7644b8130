"""Full channels, and how bright frames are against each other."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from lucid_ridge.core.review.tiles import Picture

FULL = 254
CLIPPED_SHARE = 0.001
_LEAST_LINEAR, _MOST_LINEAR = 0.02, 0.7
_LEAST_PIXELS = 2000


@dataclass(frozen=True)
class Clipping:
    """What is full in a picture: the share of each channel, and the box that holds most of it (left, top, wide, high; 0 to 1)."""

    shares: tuple[float, float, float]
    box: tuple[float, float, float, float] | None

    @property
    def clipped(self) -> bool:
        """Whether any channel is full in more than a speck."""
        return max(self.shares) > CLIPPED_SHARE


def clipping_of(picture: Picture) -> Clipping:
    """What is full in a picture (rows, columns, 3)."""
    full = picture >= FULL
    shares = full.mean(axis=(0, 1))
    red, green, blue = (float(one) for one in shares)
    anywhere = full.any(axis=2)
    if not anywhere.any():
        return Clipping((red, green, blue), None)
    rows, columns = np.nonzero(anywhere)
    left, right = np.quantile(columns, (0.02, 0.98))
    top, bottom = np.quantile(rows, (0.02, 0.98))
    wide, high = picture.shape[1], picture.shape[0]
    box = (left / wide, top / high, (right - left + 1) / wide, (bottom - top + 1) / high)
    return Clipping((red, green, blue), (float(box[0]), float(box[1]), float(box[2]), float(box[3])))


def _linear(channel: Picture) -> np.ndarray:
    """Shares of white as light (IEC 61966-2-1)."""
    v = channel.astype(np.float32) / 255
    return np.where(v <= 0.04045, v / 12.92, ((v + 0.055) / 1.055) ** 2.4)


def brighter_stops(one: Picture, other: Picture) -> float | None:
    """By how many stops the other picture of the same thing is brighter, in the middle; None where too little compares."""
    a, b = _linear(one[::4, ::4, 1]), _linear(other[::4, ::4, 1])
    both = (a > _LEAST_LINEAR) & (a < _MOST_LINEAR) & (b > _LEAST_LINEAR) & (b < _MOST_LINEAR)
    if both.sum() < _LEAST_PIXELS:
        return None
    return float(np.median(np.log2(b[both] / a[both])))
