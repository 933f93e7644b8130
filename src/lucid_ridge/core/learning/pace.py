"""How much longer than planned somebody's sequences take, from takes that were carried out to the end."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.stats import binomtest

LEAST_TAKES = 8
_PEOPLE_DIFFER_STOPS = 0.5
"""From two thirds of the planned time to half as long again (common practice)."""
_BY_CHANCE = 0.02
"""In how many of all cases at most a pace is proposed to somebody who takes as long as planned."""
_NOTICED_STOPS = math.log2(1.05)
_MEDIAN_OF_NORMAL = 1.2533
"""How much wider the median of a sample is spread than its mean, for normal errors."""
_MAD_OF_NORMAL = 1.4826
_LEAST_SPREAD = 0.02


@dataclass(frozen=True)
class LearnedPace:
    """How many times as long as planned, its spread in stops (one standard deviation), and from how many takes."""

    factor: float
    spread_stops: float
    takes: int


def learned_pace(planned_s: Sequence[float], taken_s: Sequence[float]) -> LearnedPace | None:
    """How many times as long as planned sequences take; None where it cannot be told from the plan.

    Parameters
    ----------
    planned_s, taken_s
        Of each take, how long its sequence was to be and was, seconds above nought.

    Returns
    -------
    LearnedPace | None
        The median of the ratios, drawn towards the plan by as much as it is spread beside how far people differ. None for fewer
        than `LEAST_TAKES`, where it is within five in a hundred of what was planned, and where chance alone would bring so many
        takes that last longer (or shorter) than planned in more than 2 of 100: the sign test, which holds exactly whatever the
        ratios' distribution is (W. J. Conover, Practical Nonparametric Statistics, the sign test).

    """
    if len(planned_s) < LEAST_TAKES:
        return None
    ratio = np.log2(np.asarray(taken_s, dtype=float) / np.asarray(planned_s, dtype=float))
    middle = float(np.median(ratio))
    wide = _MAD_OF_NORMAL * float(np.median(np.abs(ratio - middle)))
    spread = max(_MEDIAN_OF_NORMAL * wide / math.sqrt(len(ratio)), _LEAST_SPREAD)
    trust = _PEOPLE_DIFFER_STOPS**2 / (_PEOPLE_DIFFER_STOPS**2 + spread**2)
    longer, shorter = int(np.sum(ratio > 0)), int(np.sum(ratio < 0))
    by_chance = binomtest(longer, longer + shorter).pvalue if longer + shorter else 1.0
    if by_chance > _BY_CHANCE or abs(trust * middle) < _NOTICED_STOPS:
        return None
    return LearnedPace(factor=2.0 ** (trust * middle), spread_stops=spread * math.sqrt(trust), takes=len(ratio))
