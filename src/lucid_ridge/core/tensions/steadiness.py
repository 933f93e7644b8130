"""Tensions of what holds the camera: the hand, and ground that moves."""

from __future__ import annotations

import math
from collections.abc import Iterator

from lucid_ridge.core.changes.kinds import SetHandHeld
from lucid_ridge.core.exposure.tolerances import MARK
from lucid_ridge.core.figures import Figure, duration_text
from lucid_ridge.core.sequence.timing import sequence_s
from lucid_ridge.core.state.state import State
from lucid_ridge.core.stops.scales import shutter_text
from lucid_ridge.core.tensions.levers import fewer_frames, said, shutter_within, thirds
from lucid_ridge.core.tensions.rule import Candidate, Found, Rule


def _hand_held(state: State) -> Iterator[Found]:
    shutter, limit = state.exposure.settings.shutter_s, state.hand_held_limit_s
    if not state.steady and shutter > limit * MARK:
        over = math.log2(shutter / limit)
        yield Found(
            "hand_held",
            "Too slow by hand",
            f"{shutter_text(shutter)} is {thirds(over)} slower than the hand-held limit of {shutter_text(limit)}.",
            Figure(value=over, text=thirds(over), explain="motion.hand_over"),
        )


def _support(state: State) -> Iterator[Found]:
    """A shutter too slow for what one stands on, and a sequence longer than its framing holds."""
    shutter, name = state.exposure.settings.shutter_s, state.scene.kit.support.name
    limit = state.steadiness_s
    if math.isfinite(state.sway.limit_s) and shutter > limit * MARK:
        over = math.log2(shutter / limit)
        yield Found(
            "support",
            f"Too slow on the {name}",
            f"It moves: {shutter_text(shutter)} is {thirds(over)} slower than the {shutter_text(limit)} that stay sharp.",
            Figure(value=over, text=thirds(over), explain="motion.support_over"),
        )
    if math.isinf(state.sway.holds_s):
        return
    takes = sequence_s(state)
    if takes > state.sway.holds_s:
        yield Found(
            "drifts_off",
            "The framing drifts off meanwhile",
            f"On the {name} a framing holds for {duration_text(state.sway.holds_s)}; the sequence takes {duration_text(takes)}.",
            Figure(value=takes, text=duration_text(takes), explain="sequence.total"),
        )


def _steadier(state: State) -> Iterator[Candidate]:
    if state.scene.kit.support.kind != "hand":
        yield Candidate(label=said(f"Use the {state.scene.kit.support.name}"), changes=(SetHandHeld(on=False),))
    yield from shutter_within(state, 0.0, state.steadiness_s)


HAND_HELD = Rule(
    kind="hand_held",
    find=_hand_held,
    candidates=_steadier,
    no_mend="Nothing free reaches that shutter time within the ISO you allow.",
    severity="spoils",
    searched=True,
)

SUPPORT = Rule(
    kind="support",
    find=_support,
    candidates=lambda s: shutter_within(s, 0.0, s.steadiness_s),
    no_mend="Nothing free reaches that shutter time within the ISO you allow; go ashore, or use a shorter lens.",
    severity="spoils",
    searched=True,
)

DRIFTS_OFF = Rule(
    kind="drifts_off",
    find=_support,
    candidates=fewer_frames,
    no_mend="Take fewer frames, or stand on firm ground.",
    searched=True,
)
