"""A support that itself moves: a boat, a floating hide, a vehicle, long grass underfoot.

Rocking turns the camera to and fro, drift turns it away for good. Both move the picture on the sensor by the image
distance times the rate. A stabiliser eases the rocking by its stops; drift it cannot tell from a pan.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from lucid_ridge.core.camera.geometry import Geometry
from lucid_ridge.core.framing.camera import field_of_view_deg
from lucid_ridge.core.model.kit import Support
from lucid_ridge.core.records import record

DRIFT_SHARE = 0.05
"""Share of the frame by which a framing may drift off before it is another one (common practice)."""


@record
class MovingGround:
    """What one may stand on that moves, with usual rates in degrees a second (common practice, no source)."""

    name: str
    rocking_deg_s: float
    drift_deg_s: float


MOVING_GROUND: tuple[MovingGround, ...] = (
    MovingGround(name="small boat in still water", rocking_deg_s=2.0, drift_deg_s=0.5),
    MovingGround(name="larger boat", rocking_deg_s=0.5, drift_deg_s=0.3),
    MovingGround(name="floating hide", rocking_deg_s=1.0, drift_deg_s=0.3),
    MovingGround(name="vehicle, engine off", rocking_deg_s=0.3, drift_deg_s=0.0),
    MovingGround(name="long grass underfoot", rocking_deg_s=0.2, drift_deg_s=0.02),
)


@dataclass(frozen=True)
class Sway:
    """Longest shutter time in seconds that the support's movement lets stay sharp, and how long a framing holds; inf still."""

    limit_s: float
    holds_s: float


def sway_of(support: Support, geometry: Geometry, allowed_mm: float, stabiliser_stops: float) -> Sway:
    """What a support's own movement leaves.

    The picture moves ``v x rate`` on the sensor in a second, v the image distance and the rate in radians; rocking
    counts ``2^-s`` behind a stabiliser of s stops. A framing holds for the allowed share of its width over the drift.
    """
    v = geometry.camera.image_distance_mm
    moving = math.radians(support.rocking_deg_s * 2.0**-stabiliser_stops + support.drift_deg_s) * v
    wide = float(field_of_view_deg(geometry.camera.frame_width_mm, v))
    return Sway(
        limit_s=allowed_mm / moving if moving > 0 else math.inf,
        holds_s=DRIFT_SHARE * wide / support.drift_deg_s if support.drift_deg_s > 0 else math.inf,
    )


def together_s(one_s: float, other_s: float) -> float:
    """Longest time where two movements, each with a limit of its own, blur together: they add in squares."""
    return 1 / math.hypot(1 / one_s, 1 / other_s) if math.isfinite(one_s) or math.isfinite(other_s) else math.inf
