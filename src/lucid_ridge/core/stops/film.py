"""Film and long exposures: how long it is held open for what a meter calls a time.

Film gathers less than in proportion at long times. The usual rule holds a time t above one second open for t^p, with
p given by the film's maker (reciprocity failure; common practice, the value is the user's own).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]


def held_open_s(metered_s: ArrayLike, power: float | None) -> Array:
    """Seconds that film is held open for a metered time, ``t^p`` beyond one second; the time itself for a sensor (None)."""
    t = np.asarray(metered_s, dtype=float)
    return t if power is None else np.where(t > 1, np.maximum(t, 1.0) ** power, t)


def gathered_s(held_s: ArrayLike, power: float | None) -> Array:
    """The metered time that a time held open is worth, ``t^(1/p)`` beyond one second: the inverse of `held_open_s`."""
    t = np.asarray(held_s, dtype=float)
    return t if power is None else np.where(t > 1, np.maximum(t, 1.0) ** (1 / power), t)
