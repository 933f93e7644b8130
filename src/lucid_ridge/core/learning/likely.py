"""Values tried on a grid by how likely they make what happened."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
DEVIATIONS = 2.33
"""Something is proposed where it lies so many standard deviations off common practice: by chance in 2 of 100."""


def mean_and_spread(grid: Array, log_likely: Array) -> tuple[float, float]:
    """The mean and the standard deviation of values (G,) whose likelihoods have these logarithms (G,), up to a constant."""
    weights = np.exp(log_likely - log_likely.max())
    weights /= weights.sum()
    mean = float(weights @ grid)
    return mean, math.sqrt(float(weights @ (grid - mean) ** 2))


def log_of_happened(log_odds: Array, happened: NDArray[np.bool_]) -> Array:
    """The logarithm (G,) of how likely it is that of events (N,) these *happened* and the others did not, by their odds (G, N)."""
    return np.asarray(np.where(happened, -np.logaddexp(0, -log_odds), -np.logaddexp(0, log_odds)).sum(axis=1))


def log_of_usual(grid: Array, usual: float, people_differ: float) -> Array:
    """The logarithm (G,) of how likely values are before anything happened: normal about what is usual."""
    return -(((grid - usual) / people_differ) ** 2) / 2
