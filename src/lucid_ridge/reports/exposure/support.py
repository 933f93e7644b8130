"""Standing on something that moves: how slow the shutter may be, and how long a framing holds."""

from __future__ import annotations

import math

from lucid_ridge.core.camera.moving_support import DRIFT_SHARE
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import Readout, duration_text, shutter_text, significant


@record
class SupportStudy:
    """A support that moves: what it lets the shutter do, and what a stabiliser can and cannot take."""

    limit: Readout
    holds: Readout
    stabiliser_text: str
    text: str


def support_study(state: State) -> SupportStudy | None:
    """What the support's own movement asks for; None where it stands still."""
    support, sway = state.scene.kit.support, state.sway
    if support.rocking_deg_s <= 0 and support.drift_deg_s <= 0:
        return None
    stops = state.stabiliser_stops
    parts = []
    if support.rocking_deg_s > 0:
        parts.append(f"rocks {significant(support.rocking_deg_s, 2)}° a second")
    if support.drift_deg_s > 0:
        parts.append(f"drifts {significant(support.drift_deg_s, 2)}° a second")
    stabiliser = (
        f"The stabiliser takes {significant((1 - 2**-stops) * 100, 2)}% of the rocking, and nothing of the drift."
        if stops > 0
        else "A stabiliser would ease the rocking, but not the drift."
    )
    holds = sway.holds_s
    return SupportStudy(
        limit=Readout(value=sway.limit_s, text=shutter_text(sway.limit_s), explain="motion.support"),
        holds=Readout(
            value=holds if math.isfinite(holds) else None,
            text=duration_text(holds) if math.isfinite(holds) else "as long as you like",
            explain="motion.drift",
        ),
        stabiliser_text=stabiliser,
        text=f"The {support.name} {' and '.join(parts)}. A framing counts as lost once it is {DRIFT_SHARE:.0%} of its width off.",
    )
