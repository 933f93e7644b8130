"""How fast a reading goes stale."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.light.ephemeris import LAST_UNIX

Array = NDArray[np.float64]

STALE_DRIFT_STOPS = 1 / 3
"""A reading is stale once the light has moved by more than this (common practice)."""
_LOOK_AHEAD_S = 4 * 3600.0


@lru_cache(maxsize=256)
def stale_at(light: Callable[[Array], Array], read_unix_s: float) -> float | None:
    """When the light has moved a third of a stop since a reading, to the second; None within four hours.

    *light* gives lux at instants (T,) in unix seconds; it is remembered by itself.
    """
    at = np.arange(read_unix_s, min(read_unix_s + _LOOK_AHEAD_S, LAST_UNIX), 15.0)
    if len(at) < 2:
        return None
    stops = np.log2(light(at))
    moved = np.abs(stops - stops[0])
    late = np.flatnonzero(moved > STALE_DRIFT_STOPS)
    if not len(late):
        return None
    i = int(late[0])
    share = (STALE_DRIFT_STOPS - moved[i - 1]) / (moved[i] - moved[i - 1])
    return float(at[i - 1] + share * 15.0)
