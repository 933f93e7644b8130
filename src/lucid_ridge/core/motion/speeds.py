"""How fast things move that are photographed: water, leaves, grass, clouds, animals.

References
----------
.. [1] WMO Manual on Codes, Beaufort scale: wind speed at 10 m is ``0.836 B^1.5`` m/s.
.. [2] Torricelli: water falls from a height h at ``sqrt(2 g h)``.
.. [3] Common practice for what the wind does to leaves and grass, and for water that is not falling.

"""

from __future__ import annotations

import math

GRAVITY = 9.80665
# Shares of the wind's speed at which a leaf or a stem flutters, near its tip [3].
_LEAF_SHARE, _GRASS_SHARE = 0.03, 0.06
# Wind near the ground, where leaves are, against the wind ten metres up [3].
_NEAR_GROUND = 0.6


def beaufort_wind_m_s(beaufort: float) -> float:
    """Wind ten metres up at a Beaufort number, ``0.836 B^1.5`` [1]_."""
    return float(0.836 * max(beaufort, 0.0) ** 1.5)


def beaufort_of(wind_m_s: float) -> int:
    """Beaufort number of a wind, 0 to 12 [1]_."""
    return min(12, int((max(wind_m_s, 0.0) / 0.836) ** (2 / 3) + 0.5))


def fall_speed_m_s(height_m: float) -> float:
    """Speed of water after falling freely from a height [2]_."""
    return math.sqrt(2 * GRAVITY * max(height_m, 0.0))


def cloud_drift_m_s(wind_m_s: float, base_m: float) -> float:
    """Drift of a cloud at a height above ground: wind grows with height as a power of one seventh [3]_."""
    return float(wind_m_s * (max(base_m, 10.0) / 10.0) ** (1 / 7))


def leaf_flutter_m_s(wind_m_s: float) -> float:
    """Speed of a leaf near its tip, at a wind ten metres up [3]_."""
    return wind_m_s * _NEAR_GROUND * _LEAF_SHARE


def grass_flutter_m_s(wind_m_s: float) -> float:
    """Speed of a grass stem near its tip, at a wind ten metres up [3]_."""
    return wind_m_s * _NEAR_GROUND * _GRASS_SHARE


def ripple_speed_m_s(wind_m_s: float) -> float:
    """Speed of ripples on still water at a wind ten metres up [3]_."""
    return 0.1 + 0.03 * wind_m_s
