"""How long a charge lasts somebody, from days on which a battery ran flat and days on which none did."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import logsumexp
from scipy.stats import norm

from lucid_ridge.core.learning.likely import DEVIATIONS, log_of_usual, mean_and_spread

LEAST_FLAT = 3
"""So many batteries must have run flat: of those that did not it is only known that they lasted longer."""
_PEOPLE_DIFFER_STOPS = 0.7
"""Cells age, and screens are looked at more or less: from three fifths of the usual to half as long again (common practice)."""
_CHARGES_DIFFER_STOPS = np.array([0.15, 0.25, 0.4, 0.6, 0.9])
"""How much one charge may differ from the next; each is tried."""
_NOTICED_STOPS = math.log2(1.1)
_GRID = np.linspace(-4, 4, 321)


@dataclass(frozen=True)
class LearnedCharge:
    """How many times as long as usual a charge lasts, its spread in stops (one standard deviation), and what it rests on."""

    factor: float
    spread_stops: float
    flat: int
    lasted: int


def learned_charge(used: Sequence[float], flat: Sequence[bool]) -> LearnedCharge | None:
    """How many times as long as usual a charge lasts; None where it cannot be told from the usual.

    Parameters
    ----------
    used
        Of each charge, how much of it was used by the usual figures, 1 for all of it; above nought.
    flat
        Whether it was flat then. One that was not would have lasted longer.

    Returns
    -------
    LearnedCharge | None
        The mean of what is likely, each charge's life being log-normal about one's own, censored where it was not used up
        (W. Q. Meeker and L. A. Escobar, Statistical Methods for Reliability Data). None for fewer than `LEAST_FLAT` that ran flat,
        and where it is within a tenth, or 2.33 standard deviations, of the usual.

    """
    x, gone = np.log2(np.asarray(used, dtype=float)), np.asarray(flat, dtype=bool)
    if gone.sum() < LEAST_FLAT:
        return None
    spread = _CHARGES_DIFFER_STOPS[:, None, None]
    off = (x - _GRID[None, :, None]) / spread
    likely = np.where(gone, norm.logpdf(off) - np.log(spread), norm.logsf(off)).sum(axis=-1)
    usual = log_of_usual(_GRID, 0.0, _PEOPLE_DIFFER_STOPS)
    mean, wide = mean_and_spread(_GRID, np.asarray(logsumexp(likely, axis=0)) + usual)
    if abs(mean) < max(DEVIATIONS * wide, _NOTICED_STOPS):
        return None
    return LearnedCharge(factor=2.0**mean, spread_stops=wide, flat=int(gone.sum()), lasted=int((~gone).sum()))
