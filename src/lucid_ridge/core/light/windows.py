"""Stretches of time in which something holds."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


def stretches(holds: NDArray[np.bool_]) -> NDArray[np.intp]:
    """First and last index (K, 2) of each unbroken stretch of True."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], holds, [False]]).astype(np.int8)))
    return np.asarray(np.stack([edges[::2], edges[1::2] - 1], axis=1).reshape(-1, 2))


def crossings(unix_s: Array, values: Array, level: Array | float, rising: bool) -> list[float]:
    """Instants at which values pass a level, upwards if *rising*, by a line between neighbours."""
    over = values - level
    below = over < 0
    change = below[:-1] & ~below[1:] if rising else ~below[:-1] & below[1:]
    at = np.flatnonzero(change)
    share = over[at] / (over[at] - over[at + 1])
    return [float(t) for t in unix_s[at] + share * (unix_s[at + 1] - unix_s[at])]


def around(holds_at: list[float], unix_s: Array, before_s: float, after_s: float) -> NDArray[np.bool_]:
    """Samples that lie from so long before to so long after any of some instants."""
    made = np.zeros(len(unix_s), dtype=bool)
    for at in holds_at:
        made[np.searchsorted(unix_s, at - before_s) : np.searchsorted(unix_s, at + after_s, side="right")] = True
    return made
