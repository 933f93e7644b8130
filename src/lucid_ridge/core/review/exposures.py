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
)
from lucid_ridge.core.review.findings import CHANNELS, Channel, Finding, Looked

_LIGHT_STOPS = 0.3
_WHITE_STOPS = 0.15


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
