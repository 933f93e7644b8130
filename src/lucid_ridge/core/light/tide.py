"""The height of the tide from harmonic constituents.

    h(t) = z + sum f H cos(V + u - g)

with amplitude H and Greenwich phase lag g of each constituent, its astronomical argument V at the
moment, and f and u for the Moon's node.

References
----------
.. [1] D. Pugh and P. Woodworth, Sea-Level Science, 2014, chapter 4: tables 4.1 to 4.3.
.. [2] P. Schureman, Manual of Harmonic Analysis and Prediction of Tides, 1940.
.. [3] J. Meeus, Astronomical Algorithms, 2nd ed., 1998: mean longitudes.
.. [4] A. T. Doodson, Phil. Trans. R. Soc. A 227, 223 (1928): factors of the node, as in the Admiralty's
       harmonic method; values from memory, confirmed against UTide.

"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Kind:
    """What a constituent is: multiples of T, s, h, p, N', p1, a constant in degrees, and whose node it follows."""

    multiples: tuple[int, int, int, int, int, int]
    constant_deg: float
    node: tuple[tuple[str, int], ...]


# T is the hour angle of the mean sun, s, h, p, p1 mean longitudes of Moon, Sun and their perigees [1]_.
KINDS: dict[str, Kind] = {
    "SA": Kind((0, 0, 1, 0, 0, 0), 0, ()),
    "SSA": Kind((0, 0, 2, 0, 0, 0), 0, ()),
    "MM": Kind((0, 1, 0, -1, 0, 0), 0, (("MM", 1),)),
    "MF": Kind((0, 2, 0, 0, 0, 0), 0, (("MF", 1),)),
    "2Q1": Kind((1, -4, 1, 2, 0, 0), 270, (("O1", 1),)),
    "Q1": Kind((1, -3, 1, 1, 0, 0), 270, (("O1", 1),)),
    "O1": Kind((1, -2, 1, 0, 0, 0), 270, (("O1", 1),)),
    "P1": Kind((1, 0, -1, 0, 0, 0), 270, ()),
    "S1": Kind((1, 0, 0, 0, 0, 0), 180, ()),
    "K1": Kind((1, 0, 1, 0, 0, 0), 90, (("K1", 1),)),
    "MU2": Kind((2, -4, 4, 0, 0, 0), 0, (("M2", 1),)),
    "2N2": Kind((2, -4, 2, 2, 0, 0), 0, (("M2", 1),)),
    "N2": Kind((2, -3, 2, 1, 0, 0), 0, (("M2", 1),)),
    "NU2": Kind((2, -3, 4, -1, 0, 0), 0, (("M2", 1),)),
    "M2": Kind((2, -2, 2, 0, 0, 0), 0, (("M2", 1),)),
    "T2": Kind((2, 0, -1, 0, 0, 1), 0, ()),
    "S2": Kind((2, 0, 0, 0, 0, 0), 0, ()),
    "K2": Kind((2, 0, 2, 0, 0, 0), 0, (("K2", 1),)),
    "M3": Kind((3, -3, 3, 0, 0, 0), 180, (("M2", 1),)),
    "MN4": Kind((4, -5, 4, 1, 0, 0), 0, (("M2", 2),)),
    "M4": Kind((4, -4, 4, 0, 0, 0), 0, (("M2", 2),)),
    "MS4": Kind((4, -2, 2, 0, 0, 0), 0, (("M2", 1),)),
    "S4": Kind((4, 0, 0, 0, 0, 0), 0, ()),
    "M6": Kind((6, -6, 6, 0, 0, 0), 0, (("M2", 3),)),
}

# f = a0 + a1 cos N + a2 cos 2N + a3 cos 3N, u = b1 sin N + b2 sin 2N + b3 sin 3N in degrees [4]_.
_NODES = {
    "MM": ((1.0000, -0.1300, 0.0013, 0.0), (0.0, 0.0, 0.0)),
    "MF": ((1.0429, 0.4135, -0.0040, 0.0), (-23.74, 2.68, -0.38)),
    "O1": ((1.0089, 0.1871, -0.0147, 0.0014), (10.80, -1.34, 0.19)),
    "K1": ((1.0060, 0.1150, -0.0088, 0.0006), (-8.86, 0.68, -0.07)),
    "M2": ((1.0004, -0.0373, 0.0002, 0.0), (-2.14, 0.0, 0.0)),
    "K2": ((1.0241, 0.2863, 0.0083, -0.0015), (-17.74, 0.68, -0.04)),
}


def _mean_longitudes(unix_s: Array) -> tuple[Array, Array, Array, Array, Array, Array]:
    """T, s, h, p, N, p1 in degrees [3]_."""
    centuries = (unix_s / 86400.0 + 2440587.5 - 2451545.0) / 36525.0
    s = 218.3164477 + 481267.88123421 * centuries
    h = 280.46646 + 36000.76983 * centuries
    p = 83.3532465 + 4069.0137287 * centuries
    n = 125.0445479 - 1934.1362891 * centuries
    p1 = 282.93735 + 1.71946 * centuries
    return (unix_s % 86400.0) / 240.0, s, h, p, n, p1


def tide_height(unix_s: ArrayLike, mean_m: float, constituents: Sequence[tuple[str, float, float]]) -> Array:
    """Height of the tide in metres above the datum of *mean_m*.

    Parameters
    ----------
    unix_s
        Instants, any shape.
    mean_m
        Mean level above the datum.
    constituents
        Name (see `KINDS`), amplitude in metres and Greenwich phase lag in degrees of each.

    Raises
    ------
    KeyError
        For a constituent that is not known.

    """
    at = np.asarray(unix_s, dtype=float)
    # A day's hour angle counts from the mean sun's lower transit, so T is 0 at 0 h and grows by 15 an hour.
    hour, s, h, p, n, p1 = _mean_longitudes(at)
    height = np.full(at.shape, float(mean_m))
    node = np.radians(n)
    for name, amplitude, phase in constituents:
        kind = KINDS[name]
        angle = sum(k * v for k, v in zip(kind.multiples, (hour, s, h, p, -n, p1), strict=True)) + kind.constant_deg
        factor = np.ones(at.shape)
        for which, times in kind.node:
            f, u = _NODES[which]
            factor = factor * sum(a * np.cos(k * node) for k, a in enumerate(f)) ** times
            angle = angle + times * sum(b * np.sin(k * node) for k, b in enumerate(u, 1))
        height += factor * amplitude * np.cos(np.radians(angle - phase))
    return np.asarray(height)


def turns(unix_s: Array, heights_m: Array) -> list[tuple[float, float, bool]]:
    """High and low waters among even samples: instant, height, and whether it is high, by a parabola through three."""
    inside = heights_m[1:-1]
    high = (inside > heights_m[:-2]) & (inside >= heights_m[2:])
    low = (inside < heights_m[:-2]) & (inside <= heights_m[2:])
    step = float(unix_s[1] - unix_s[0])
    found = []
    for i in np.flatnonzero(high | low) + 1:
        before, here, after = (float(v) for v in heights_m[i - 1 : i + 2])
        bend = before - 2 * here + after
        shift = 0.5 * (before - after) / bend if bend else 0.0
        found.append((float(unix_s[i]) + shift * step, here - (before - after) * shift / 4, bool(high[i - 1])))
    return found
