"""How fast things move that are photographed: water, leaves, grass, clouds, animals.

References
----------
.. [1] WMO Manual on Codes, Beaufort scale: wind speed at 10 m is ``0.836 B^1.5`` m/s.
.. [2] Torricelli: water falls from a height h at ``sqrt(2 g h)``.
.. [3] Common practice for what the wind does to leaves and grass, and for water that is not falling.

"""

from __future__ import annotations

import math
from typing import Literal

from lucid_ridge.core.records import record

MovingKind = Literal["ripples", "surf", "beck", "fall", "leaves", "grass", "cloud", "animal"]

GRAVITY = 9.80665
# Shares of the wind's speed at which a leaf or a stem flutters, near its tip [3].
_LEAF_SHARE, _GRASS_SHARE = 0.03, 0.06
# Wind near the ground, where leaves are, against the wind ten metres up [3].
_NEAR_GROUND = 0.6


@record
class MovingThing:
    """A kind of motion: its name, its usual speed in m/s, and where the number comes from."""

    kind: MovingKind
    name: str
    speed_m_s: float
    source: str


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


FALLS_M = (1.0, 3.0, 10.0)
CLOUD_BASES_M = (600.0, 2500.0)
"""Low cloud, and cloud of the middle layer."""


def moving_things(wind_m_s: float) -> tuple[MovingThing, ...]:
    """The usual kinds of motion at a wind, with their speeds; falls by their height, clouds by theirs."""
    air = wind_m_s * _NEAR_GROUND
    practice = "common practice"
    wind = f"wind {wind_m_s:.0f} m/s (Beaufort {beaufort_of(wind_m_s)})"
    made: tuple[tuple[MovingKind, str, float, str], ...] = (
        ("ripples", "ripples on still water", 0.1 + 0.03 * wind_m_s, f"{wind}, {practice}"),
        ("beck", "a beck among stones", 0.8, practice),
        ("surf", "surf running up", 3.0, practice),
        *(("fall", f"water falling {h:g} m", fall_speed_m_s(h), "Torricelli, √(2 g h)") for h in FALLS_M),
        ("leaves", "leaves", air * _LEAF_SHARE, f"{wind}, {practice}"),
        ("grass", "grass and sedge", air * _GRASS_SHARE, f"{wind}, {practice}"),
        *(
            ("cloud", f"clouds {h:.0f} m up", cloud_drift_m_s(wind_m_s, h), f"{wind}, power law 1/7")
            for h in CLOUD_BASES_M
        ),
        ("animal", "a walking animal", 1.2, practice),
    )
    return tuple(MovingThing(kind=k, name=n, speed_m_s=v, source=s) for k, n, v, s in made)
