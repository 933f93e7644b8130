"""The usual kinds of motion, with their speeds at a wind."""

from __future__ import annotations

from typing import Literal

from lucid_ridge.core.motion.speeds import (
    beaufort_of,
    cloud_drift_m_s,
    fall_speed_m_s,
    grass_flutter_m_s,
    leaf_flutter_m_s,
    ripple_speed_m_s,
)
from lucid_ridge.core.records import record

MovingKind = Literal["ripples", "surf", "beck", "fall", "leaves", "grass", "cloud", "animal"]


@record
class MovingThing:
    """A kind of motion: its name, its usual speed in m/s, and where the number comes from."""

    kind: MovingKind
    name: str
    speed_m_s: float
    source: str


FALLS_M = (1.0, 3.0, 10.0)
CLOUD_BASES_M = (600.0, 2500.0)
"""Low cloud, and cloud of the middle layer."""


def moving_things(wind_m_s: float) -> tuple[MovingThing, ...]:
    """The usual kinds of motion at a wind, with their speeds; falls by their height, clouds by theirs."""
    practice = "common practice"
    wind = f"wind {wind_m_s:.0f} m/s (Beaufort {beaufort_of(wind_m_s)})"
    made: tuple[tuple[MovingKind, str, float, str], ...] = (
        ("ripples", "ripples on still water", ripple_speed_m_s(wind_m_s), f"{wind}, {practice}"),
        ("beck", "a beck among stones", 0.8, practice),
        ("surf", "surf running up", 3.0, practice),
        *(("fall", f"water falling {h:g} m", fall_speed_m_s(h), "Torricelli, √(2 g h)") for h in FALLS_M),
        ("leaves", "leaves", leaf_flutter_m_s(wind_m_s), f"{wind}, {practice}"),
        ("grass", "grass and sedge", grass_flutter_m_s(wind_m_s), f"{wind}, {practice}"),
        *(
            ("cloud", f"clouds {h:.0f} m up", cloud_drift_m_s(wind_m_s, h), f"{wind}, power law 1/7")
            for h in CLOUD_BASES_M
        ),
        ("animal", "a walking animal", 1.2, practice),
    )
    return tuple(MovingThing(kind=k, name=n, speed_m_s=v, source=s) for k, n, v, s in made)
