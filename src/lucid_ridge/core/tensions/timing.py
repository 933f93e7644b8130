"""Tensions of time: too many frames, light that is not there or goes too soon."""

from __future__ import annotations

import math
from collections.abc import Iterator
from datetime import UTC, datetime

from lucid_ridge.core.changes.kinds import GoTo
from lucid_ridge.core.light_windows.now import light_today
from lucid_ridge.core.sequence.timing import frame_count, sequence_s
from lucid_ridge.core.state.state import State
from lucid_ridge.core.tensions.levers import fewer_frames
from lucid_ridge.core.tensions.rule import Candidate, Found, Rule


def _frames(state: State) -> Iterator[Found]:
    """More frames than the photographer wants to take."""
    count = frame_count(state)
    most = state.scene.composition.wants.most_frames
    if count > most:
        yield Found("frames", count)


def _light(state: State) -> Iterator[Found]:
    """Light that is not there at the moment, or goes before the sequence is done; clear sky."""
    today = light_today(state)
    if today is None:
        return
    window = today.window_at(state.unix_s)
    if window is None:
        nearest = today.nearest_to(state.unix_s)
        off = None
        if nearest is not None:
            off = nearest[0] - state.unix_s if nearest[0] > state.unix_s else nearest[1] - state.unix_s
        yield Found("light", off)
        return
    left, takes = window[1] - state.unix_s, sequence_s(state)
    if takes > left:
        yield Found("light_ends", takes - left, at=window[1])


def _go_to(unix_s: float) -> Candidate:
    return (GoTo(moment_utc=datetime.fromtimestamp(unix_s, UTC)),)


def _into_the_light(state: State) -> Iterator[Candidate]:
    """To the beginning of the window nearest by: all of it is left then."""
    today = light_today(state)
    nearest = today.nearest_to(state.unix_s) if today else None
    if nearest is not None:
        yield _go_to(nearest[0])


def _before_it_goes(state: State) -> Iterator[Candidate]:
    """Begin earlier in the window, or take less time."""
    today = light_today(state)
    window = today.window_at(state.unix_s) if today else None
    if window is not None:
        begin = math.floor((window[1] - sequence_s(state) - 30) / 60) * 60.0
        if begin >= window[0]:
            yield _go_to(begin)
    yield from fewer_frames(state)


FRAMES = Rule(
    kind="frames",
    find=_frames,
    candidates=fewer_frames,
    searched=True,
)

LIGHT = Rule(
    kind="light",
    find=_light,
    candidates=_into_the_light,
)

LIGHT_ENDS = Rule(
    kind="light_ends",
    find=_light,
    candidates=_before_it_goes,
    searched=True,
)
