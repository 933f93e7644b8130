"""Tensions of exposure: the range, the ISO, times that the body does not count, an account that does not balance."""

from __future__ import annotations

import math
from collections.abc import Iterator

from lucid_ridge.core.changes.kinds import MOST_OFFSET, SetBulb, SetOffset, TakeBracket
from lucid_ridge.core.exposure.tolerances import EXPOSURE_STOPS, MARK, MARK_STOPS, RANGE_STOPS
from lucid_ridge.core.figures import Figure, stops_text, stops_words
from lucid_ridge.core.state.state import State
from lucid_ridge.core.stops.scales import iso_text, nudge, shutter_text
from lucid_ridge.core.tensions.levers import (
    after,
    apertures,
    filters_within,
    said,
    set_aperture,
    set_iso,
    shutter_within,
    thirds,
)
from lucid_ridge.core.tensions.rule import Candidate, Found, Rule


def _range(state: State) -> Iterator[Found]:
    spread = state.range
    if not state.scene.composition.wants.hold_range:
        return
    above, below = spread.held.lost_above, spread.held.lost_below
    lost = spread.held.lost
    if lost <= RANGE_STOPS:
        return
    names = {e.id: e.name for e in state.scene.composition.elements}
    parts = []
    worst, between_id = max(((abs(spread.held.miss(s)), i) for s, i in spread.bounded), default=(0.0, None))
    if spread.held.lost_between > RANGE_STOPS and worst == lost and between_id:
        parts.append(f"{names[between_id]} falls between the frames by {thirds(spread.held.lost_between)}")
    if above > RANGE_STOPS and spread.brightest_id:
        parts.append(f"{names[spread.brightest_id]} clips by {thirds(above)}")
    if below > RANGE_STOPS and spread.darkest_id:
        parts.append(f"{names[spread.darkest_id]} blocks up by {thirds(below)}")
    sentence = " and ".join(parts) + f"; one frame holds {spread.usable:.1f} stops at this ISO."
    frames = len(state.offsets)
    if frames > 1:
        sentence = " and ".join(parts) + f" with these {frames} frames."
    yield Found(
        "range",
        "Range not held",
        sentence[0].upper() + sentence[1:],
        Figure(value=lost, text=thirds(lost), explain="range.lost"),
        between_id,
    )


def _iso(state: State) -> Iterator[Found]:
    """A higher ISO than the photographer wants."""
    iso, most = state.exposure.settings.iso, state.scene.composition.wants.highest_iso
    over = math.log2(iso / most)
    if over > MARK_STOPS:
        yield Found(
            "iso",
            "A higher ISO than you want",
            f"ISO {iso_text(iso)} is {thirds(over)} above ISO {iso_text(most)}.",
            Figure(value=over, text=thirds(over), explain="exposure.iso_over"),
        )


def _bulb(state: State) -> Iterator[Found]:
    settings, body = state.exposure.settings, state.scene.kit.body
    if settings.shutter_s > body.longest_timed_s * MARK and not settings.bulb:
        yield Found(
            "bulb",
            "Longer than the body times",
            f"{shutter_text(settings.shutter_s)} needs bulb; the body times up to {shutter_text(body.longest_timed_s)}.",
            Figure(value=settings.shutter_s, text=shutter_text(settings.shutter_s), explain="exposure.shutter"),
        )


def _exposure(state: State) -> Iterator[Found]:
    """Locks on shutter and ISO that leave the picture far from what was metered and wanted."""
    off = state.exposure.brighter_stops - state.scene.composition.settings.offset_stops
    if abs(off) > EXPOSURE_STOPS:
        word = "brighter" if off > 0 else "darker"
        size = thirds(off)
        yield Found(
            "exposure",
            f"The picture comes out {size} {word}",
            "Shutter and ISO leave no room to balance the account.",
            Figure(value=off, text=size, explain="exposure.off"),
        )


def _hold_range(state: State) -> Iterator[Candidate]:
    plan = after(state, (TakeBracket(mode="range"),)).range.bracket
    if plan is None:
        return
    count = len(plan.offsets_stops)
    if count == 1:
        # One frame holds the scene once it is exposed for it: a choice in the account, no bracket.
        now = state.scene.composition.settings.offset_stops
        offset = min(max(now + plan.offsets_stops[0], -MOST_OFFSET), MOST_OFFSET)
        yield Candidate(
            label=lambda s: f"Expose {stops_text(s.scene.composition.settings.offset_stops - now)}",
            changes=(SetOffset(stops=offset),),
        )
    else:
        yield Candidate(
            label=said(f"Bracket {count} × {stops_words(plan.step_stops)}"),
            changes=(TakeBracket(mode="range"),),
        )


def _lower_iso(state: State) -> Iterator[Candidate]:
    most = state.scene.composition.wants.highest_iso
    if "iso" not in state.scene.composition.locks:
        yield set_iso(most)


def _bulb_mends(state: State) -> Iterator[Candidate]:
    if state.scene.kit.body.has_bulb:
        yield Candidate(label=said("Set bulb"), changes=(SetBulb(on=True),))
    yield from shutter_within(state, 0.0, state.scene.kit.body.longest_timed_s)


def _balance(state: State) -> Iterator[Candidate]:
    off = state.exposure.brighter_stops - state.scene.composition.settings.offset_stops
    settings, locks = state.scene.composition.settings, state.scene.composition.locks
    thirds = round(off * 3)
    if "aperture" not in locks:
        n = nudge(settings.aperture_n, thirds, "aperture")
        marks = apertures(state)
        if marks[0] * 0.99 <= n <= marks[-1] * 1.01:
            yield set_aperture(n, "Set")
    if off > 0 and "filters" not in locks:
        t = state.exposure.settings.shutter_s
        yield from filters_within(state, t * 2 ** (off - 0.4), t * 2 ** (off + 0.4))


RANGE = Rule(
    kind="range",
    find=_range,
    candidates=_hold_range,
    no_mend="No bracket holds this range.",
    searched=True,
)

ISO = Rule(
    kind="iso",
    find=_iso,
    candidates=_lower_iso,
    no_mend="Free the aperture or the shutter, or allow a higher ISO.",
    searched=True,
)

BULB = Rule(
    kind="bulb",
    find=_bulb,
    candidates=_bulb_mends,
    no_mend="The body has no bulb, and nothing free shortens the time enough.",
    severity="spoils",
    searched=True,
)

EXPOSURE = Rule(
    kind="exposure",
    find=_exposure,
    candidates=_balance,
    no_mend="Free the shutter or the ISO.",
    severity="spoils",
    searched=True,
)
