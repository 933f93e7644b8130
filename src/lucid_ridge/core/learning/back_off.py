"""How far somebody has to back off for saturated colours, from takes in which one channel was full and in which none was."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from lucid_ridge.core.learning.likely import DEVIATIONS, log_of_happened, log_of_usual, mean_and_spread
from lucid_ridge.core.model.scene import WARM_BACK_OFF_STOPS

LEAST_TAKES = 6
_PEOPLE_DIFFER_STOPS = 0.4
_STEEP = 5.0
"""How fast a channel fills up, logits a stop: a stop decides between hardly ever and nearly always (common practice)."""
_KEPT = 0.8
"""It is enough where so many of a hundred takes have no full channel (common practice)."""
_NOTICED_STOPS = 1 / 6
_GRID = np.linspace(-1.5, 3.5, 401)


@dataclass(frozen=True)
class LearnedBackOff:
    """Stops to back off, their spread (one standard deviation), and from how many takes, so many of them with a full channel."""

    stops: float
    spread_stops: float
    takes: int
    clipped: int


def learned_back_off(room_stops: Sequence[float], clipped: Sequence[bool]) -> LearnedBackOff | None:
    """How much room four of five saturated colours need; None where it cannot be told from common practice.

    Parameters
    ----------
    room_stops
        Of each take, how far below clipping its brightest saturated colour was to lie in the darkest frame, by its luminance.
    clipped
        Whether one channel was full there.

    """
    x, full = np.asarray(room_stops, dtype=float), np.asarray(clipped, dtype=bool)
    if len(x) < LEAST_TAKES or full.all() or not full.any():
        return None
    # Logistic in stops, with a prior about common practice, and every value of it tried.
    over = _STEEP * (_GRID[:, None] - x[None, :]) - math.log(_KEPT / (1 - _KEPT))
    usual = log_of_usual(_GRID, WARM_BACK_OFF_STOPS, _PEOPLE_DIFFER_STOPS)
    mean, spread = mean_and_spread(_GRID, log_of_happened(over, full) + usual)
    if abs(mean - WARM_BACK_OFF_STOPS) < max(DEVIATIONS * spread, _NOTICED_STOPS):
        return None
    return LearnedBackOff(stops=mean, spread_stops=spread, takes=len(x), clipped=int(full.sum()))
