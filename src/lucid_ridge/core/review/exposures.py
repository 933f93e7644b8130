"""What frames show of their exposure: clipped, blocked, and light or white balance that changed from one to the next."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

from lucid_ridge.core.review.brightness import (
    BLOCKED_SHARE,
    Clipping,
    blocked_of,
    bluer_stops,
    brighter_stops,
    clipping_of,
    dark_share,
    full_share,
)
from lucid_ridge.core.review.findings import CHANNELS, Channel, Finding, Looked

_LIGHT_STOPS = 0.3
_WHITE_STOPS = 0.15
_LEAST_FILTER_STOPS = 1.0
_FILTER_OFF_STOPS = 0.4
_LOST_FROM_STOPS = 3.0
"""So many stops too many leave next to nothing of a picture that is well exposed."""
_LOST_SHARE = 0.6


def _by_exposure(looked: list[Looked]) -> list[list[Looked]]:
    """The exposures of each slice, the darkest first."""
    slices: dict[tuple[int, int, bool], list[Looked]] = {}
    for one in looked:
        slices.setdefault((one.planned.panel, one.planned.slice_at, one.planned.blended), []).append(one)
    return [sorted(same, key=lambda one: one.planned.offset_stops) for same in slices.values()]


def blocked(looked: list[Looked]) -> Iterator[Finding]:
    """What is black even in the brightest exposure of a bracket; in a single frame that may be as it is meant."""
    told = []
    for exposures in _by_exposure(looked):
        brightest = exposures[-1]
        if brightest.planned.offset_stops > exposures[0].planned.offset_stops:
            share, box = blocked_of(brightest.small)
            if share > BLOCKED_SHARE:
                told.append((share, box, brightest.came.number))
    if told:
        share, box, _ = max(told, key=lambda one: one[0])
        yield Finding(kind="blocked", frames=tuple(n for *_, n in told), sure="sure", size=share, box=box)


def white_changed(group: list[Looked]) -> Iterator[Finding]:
    """Frames that are bluer or warmer than the one before."""
    for a, b in pairwise(group):
        seen = bluer_stops(a.small, b.small)
        if seen is not None and abs(seen) > _WHITE_STOPS:
            yield Finding(kind="white_changed", frames=(a.came.number, b.came.number), sure="likely", size=seen)


def clipped(looked: list[Looked]) -> Iterator[Finding]:
    """What is full even in the darkest exposure of its slice: a bracket is there so that the brighter ones may be."""
    told: dict[Channel | None, tuple[Clipping, tuple[int, ...]]] = {}
    for one in (exposures[0] for exposures in _by_exposure(looked)):
        seen = clipping_of(one.small)
        if not seen.clipped:
            continue
        full = [name for name, share in zip(CHANNELS, seen.shares, strict=True) if share > max(seen.shares) / 4]
        channel = full[0] if len(full) == 1 else None
        worst, numbers = told.get(channel, (seen, ()))
        told[channel] = (max(worst, seen, key=lambda c: max(c.shares)), (*numbers, one.came.number))
    for channel, (worst, numbers) in told.items():
        yield Finding(
            kind="clipped", frames=numbers, sure="sure", size=max(worst.shares), box=worst.box, channel=channel
        )


def filter_forgotten(looked: list[Looked]) -> Iterator[Finding]:
    """Frames of other filters than the one before that are as bright as if those had not been changed.

    What their exposures say otherwise than planned is taken off. Which of the two it is shows where one is all full or all dark;
    then that is the only one named, and the size says by how many stops it is too bright (or below nought too dark).
    """
    for a, b in pairwise(looked):
        changed = b.planned.filter_stops - a.planned.filter_stops
        if abs(changed) < _LEAST_FILTER_STOPS or a.planned.panel != b.planned.panel or a.small.shape != b.small.shape:
            continue
        if a.came.gathered_stops is None or b.came.gathered_stops is None:
            continue
        wanted = b.planned.brighter_stops - a.planned.brighter_stops
        wanted += (b.came.gathered_stops - b.planned.exposure_stops) - (
            a.came.gathered_stops - a.planned.exposure_stops
        )
        seen = brighter_stops(a.small, b.small)
        bright, dark = (b, a) if changed > 0 else (a, b)
        full, black = full_share(bright.small), dark_share(dark.small)
        lost = max(full, black) > _LOST_SHARE
        if seen is None and not (lost and abs(changed) >= _LOST_FROM_STOPS and abs(wanted) < _LEAST_FILTER_STOPS):
            continue
        if seen is not None and abs(seen - wanted - changed) > max(_FILTER_OFF_STOPS, abs(changed) / 5):
            continue
        # The brighter one has its filter lacking, or the darker one has it left on: whichever is lost.
        one, off = (bright, abs(changed)) if full > black else (dark, -abs(changed))
        yield Finding(
            kind="filter_forgotten",
            frames=(one.came.number,) if lost else (a.came.number, b.came.number),
            sure="likely",
            size=off if lost else changed,
        )


def light_changed(group: list[Looked]) -> Iterator[Finding]:
    """Frames that are brighter or darker than the one before, beyond what they were set to."""
    for a, b in pairwise(group):
        if a.came.gathered_stops is None or b.came.gathered_stops is None:
            continue
        seen = brighter_stops(a.small, b.small)
        asked = b.came.gathered_stops - a.came.gathered_stops
        if seen is None or abs(asked) > 1.5:
            continue
        if abs(seen - asked) > _LIGHT_STOPS:
            yield Finding(kind="light_changed", frames=(a.came.number, b.came.number), sure="likely", size=seen - asked)
