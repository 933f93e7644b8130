"""How much longer than the usual limit somebody holds a camera still, from takes by hand that were shaken and that were not."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from lucid_ridge.core.learning.likely import DEVIATIONS, log_of_happened, log_of_usual, mean_and_spread

LEAST_TAKES = 5
_STEEP = 2.5
"""How fast shake sets in with time, logits a stop (common practice: from hardly any to nearly all within two stops)."""
_YIELD = 0.8
"""The limit is where so many takes of a hundred are sharp (common practice)."""
_PEOPLE_DIFFER_STOPS = 1.0
_GRID = np.linspace(-5, 5, 401)


@dataclass(frozen=True)
class LearnedHold:
    """How much longer than the rule says, as a factor, its spread in stops (one standard deviation), and from how many takes."""

    factor: float
    spread_stops: float
    takes: int
    shaken: int


def learned_hold(over_stops: Sequence[float], shaken: Sequence[bool]) -> LearnedHold | None:
    """The factor on the rule's limit at which four of five takes are sharp; None where it cannot be told from the rule.

    Parameters
    ----------
    over_stops
        Of each take by hand, how much longer than the rule's limit its shutter was open, stops.
    shaken
        Whether it was shaken.

    """
    x, bad = np.asarray(over_stops, dtype=float), np.asarray(shaken, dtype=bool)
    if len(x) < LEAST_TAKES or bad.all() or not bad.any():
        return None
    # Logistic in stops; a prior about the rule, and every value of it tried.
    away = _STEEP * (x[None, :] - _GRID[:, None]) - math.log(_YIELD / (1 - _YIELD))
    usual = log_of_usual(_GRID, 0.0, _PEOPLE_DIFFER_STOPS)
    mean, spread = mean_and_spread(_GRID, log_of_happened(away, bad) + usual)
    if abs(mean) < DEVIATIONS * spread:
        return None
    return LearnedHold(factor=2.0**mean, spread_stops=spread, takes=len(x), shaken=int(bad.sum()))
