"""Tensions of exposure: the range, the ISO, times that the body does not count, an account that does not balance."""

from __future__ import annotations

import math
from collections.abc import Iterator

from lucid_ridge.core.changes.kinds import MOST_COMPENSATION, SetBulb, SetCompensation, SetTo, TakeBracket
from lucid_ridge.core.exposure.tolerances import EXPOSURE_STOPS, MARK, MARK_STOPS, RANGE_STOPS
from lucid_ridge.core.state.state import State
from lucid_ridge.core.stops.scales import nudge
from lucid_ridge.core.tensions.levers import (
    after,
    apertures,
    filters_within,
    shutter_within,
)
from lucid_ridge.core.tensions.rule import Candidate, Found, Rule


def _range(state: State) -> Iterator[Found]:
    held = state.range.held
    if not state.scene.composition.wants.hold_range:
        return
    if held.lost <= RANGE_STOPS:
        return
    _, between_id = max(((abs(held.miss(s)), i) for s, i in state.range.bounded), default=(0.0, None))
    yield Found("range", held.lost, between_id)


def _iso(state: State) -> Iterator[Found]:
    """A higher ISO than the photographer wants."""
    iso, most = state.exposure.settings.iso, state.scene.composition.wants.highest_iso
    over = math.log2(iso / most)
    if over > MARK_STOPS:
        yield Found("iso", over)


def _bulb(state: State) -> Iterator[Found]:
    settings, body = state.exposure.settings, state.scene.kit.body
    if settings.shutter_s > body.longest_timed_s * MARK and not settings.bulb:
        yield Found("bulb", settings.shutter_s)


def _exposure(state: State) -> Iterator[Found]:
    """Locks on shutter and ISO that leave the picture far from what was metered and wanted."""
    off = state.exposure.brighter_stops - state.scene.composition.settings.compensation_stops
    if abs(off) > EXPOSURE_STOPS:
        yield Found("exposure", off)


def _hold_range(state: State) -> Iterator[Candidate]:
    plan = after(state, (TakeBracket(mode="range"),)).range.bracket
    if plan is None:
        return
    count = len(plan.offsets_stops)
    if count == 1:
        # One frame holds the scene once it is exposed for it: a choice in the account, no bracket.
        now = state.scene.composition.settings.compensation_stops
        offset = min(max(now + plan.offsets_stops[0], -MOST_COMPENSATION), MOST_COMPENSATION)
        yield (SetCompensation(stops=offset),)
    else:
        yield (TakeBracket(mode="range"),)


def _lower_iso(state: State) -> Iterator[Candidate]:
    most = state.scene.composition.wants.highest_iso
    if "iso" not in state.scene.composition.locks:
        yield (SetTo(setting="iso", value=most),)


def _bulb_mends(state: State) -> Iterator[Candidate]:
    if state.scene.kit.body.has_bulb:
        yield (SetBulb(on=True),)
    yield from shutter_within(state, 0.0, state.scene.kit.body.longest_timed_s)


def _balance(state: State) -> Iterator[Candidate]:
    off = state.exposure.brighter_stops - state.scene.composition.settings.compensation_stops
    settings, locks = state.scene.composition.settings, state.scene.composition.locks
    thirds = round(off * 3)
    if "aperture" not in locks:
        n = nudge(settings.aperture_n, thirds, "aperture")
        marks = apertures(state)
        if marks[0] * 0.99 <= n <= marks[-1] * 1.01:
            yield (SetTo(setting="aperture", value=n),)
    if off > 0 and "filters" not in locks:
        t = state.exposure.settings.shutter_s
        yield from filters_within(state, t * 2 ** (off - 0.4), t * 2 ** (off + 0.4))


RANGE = Rule(
    kind="range",
    find=_range,
    candidates=_hold_range,
    searched=True,
)

ISO = Rule(
    kind="iso",
    find=_iso,
    candidates=_lower_iso,
    searched=True,
)

BULB = Rule(
    kind="bulb",
    find=_bulb,
    candidates=_bulb_mends,
    severity="spoils",
    searched=True,
)

EXPOSURE = Rule(
    kind="exposure",
    find=_exposure,
    candidates=_balance,
    severity="spoils",
    searched=True,
)
