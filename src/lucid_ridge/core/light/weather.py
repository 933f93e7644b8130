"""What a forecast of cloud does to the light.

References
----------
.. [1] F. Kasten and G. Czeplak, Solar Energy 24, 177 (1980): G / G0 = 1 - 0.75 C^3.4, from memory.

"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]

# High cloud is thin: half of it lets the sun through (common practice).
_HIGH_HIDES = 0.5
LIKELY = 0.5
"""From this chance on the sun counts as likely to come through."""


def sun_chance(low: ArrayLike, middle: ArrayLike, high: ArrayLike) -> Array:
    """Chance 0..1 that the sun comes through layers that cover these shares of the sky, each by itself."""
    return np.asarray(
        (1 - np.asarray(low, dtype=float))
        * (1 - np.asarray(middle, dtype=float))
        * (1 - _HIGH_HIDES * np.asarray(high, dtype=float))
    )


def covered(low: ArrayLike, middle: ArrayLike, high: ArrayLike) -> Array:
    """Share of the sky that layers cover together where they overlap by chance; high cloud counts half."""
    return np.asarray(1 - sun_chance(low, middle, high))


def cloud_stops(share: ArrayLike) -> Array:
    """Stops that a share of covered sky takes from the light, ``-log2(1 - 0.75 C^3.4)`` [1]_: two under overcast."""
    return np.asarray(-np.log2(1 - 0.75 * np.asarray(share, dtype=float) ** 3.4))
