"""Tensions of what holds the camera: the hand, and ground that moves."""

from __future__ import annotations

import math
from collections.abc import Iterator

from lucid_ridge.core.changes.kinds import SetHandHeld
from lucid_ridge.core.exposure.tolerances import MARK
from lucid_ridge.core.sequence.timing import sequence_s
from lucid_ridge.core.state.state import State
from lucid_ridge.core.tensions.levers import fewer_frames, shutter_within
from lucid_ridge.core.tensions.rule import Candidate, Found, Rule


def _hand_held(state: State) -> Iterator[Found]:
    shutter, limit = state.exposure.settings.shutter_s, state.hand_held_limit_s
    if not state.steady and shutter > limit * MARK:
        over = math.log2(shutter / limit)
        yield Found("hand_held", over)


def _support(state: State) -> Iterator[Found]:
    """A shutter too slow for what one stands on, and a sequence longer than its framing holds."""
    shutter = state.exposure.settings.shutter_s
    limit = state.steadiness_s
    if math.isfinite(state.sway.limit_s) and shutter > limit * MARK:
        over = math.log2(shutter / limit)
        yield Found("support", over)
    if math.isinf(state.sway.holds_s):
        return
    takes = sequence_s(state)
    if takes > state.sway.holds_s:
        yield Found("drifts_off", takes)


def _steadier(state: State) -> Iterator[Candidate]:
    if state.scene.kit.support.kind != "hand":
        yield (SetHandHeld(on=False),)
    yield from shutter_within(state, 0.0, state.steadiness_s)


HAND_HELD = Rule(
    kind="hand_held",
    find=_hand_held,
    candidates=_steadier,
    severity="spoils",
    searched=True,
)

SUPPORT = Rule(
    kind="support",
    find=_support,
    candidates=lambda s: shutter_within(s, 0.0, s.steadiness_s),
    severity="spoils",
    searched=True,
)

DRIFTS_OFF = Rule(
    kind="drifts_off",
    find=_support,
    candidates=fewer_frames,
    searched=True,
)
