"""Long exposures while the light changes.

An exposure metered for constant light takes T0. In changing light it takes T with

    integral over T of E(t) / E(0) dt = T0.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.light.ephemeris import LAST_UNIX

Array = NDArray[np.float64]

MOST_STRETCH = 8.0
"""An exposure that would take more than this many times as long never ends: the light goes faster."""
LONG_S = 10.0
"""Shorter exposures see no change of light worth telling."""
NOTICED_STOPS = 1 / 12
"""A difference below this is within what a marked shutter misses by itself."""
_STEPS = 400
_STRETCHES = (2.0, MOST_STRETCH)
"""Most exposures end within the first; the light of the night ahead is asked for only where they do not."""


def seconds_in_changing_light(
    constant_s: float, unix_s: float, light: Callable[[Array], Array], metered_unix_s: float | None = None
) -> float:
    """Seconds that give the exposure of *constant_s* in the light it was worked out for.

    Parameters
    ----------
    constant_s
        Time that constant light would take.
    unix_s
        When the shutter opens.
    light
        Illuminance in lux at instants (T,) in unix seconds.
    metered_unix_s
        The moment whose light the time was worked out for; when the shutter opens, unless given.

    Returns
    -------
    float
        Infinity where the light goes faster than it can be gathered within `MOST_STRETCH` times the time.

    Notes
    -----
    The light is summed by the trapezoidal rule in 400 steps of each time tried; over a stretch of minutes
    it changes by a stop or so, and the sum errs by under 1e-4.

    """
    if constant_s <= 0 or unix_s >= LAST_UNIX:
        return constant_s
    before = None if metered_unix_s is None else light(np.array([min(metered_unix_s, LAST_UNIX)]))[0]
    for stretch in _STRETCHES:
        t = np.linspace(0.0, min(constant_s * stretch, LAST_UNIX - unix_s), int(_STEPS * stretch) + 1)
        seen = light(unix_s + t)
        relative = seen / (seen[0] if before is None else before)
        gathered = np.concatenate([[0.0], np.cumsum((relative[1:] + relative[:-1]) / 2 * np.diff(t))])
        if gathered[-1] >= constant_s:
            return float(np.interp(constant_s, gathered, t))
    return math.inf
