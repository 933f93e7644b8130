"""Tensions of time: too many frames, light that is not there or goes too soon."""

from __future__ import annotations

import math
from collections.abc import Iterator
from datetime import UTC, datetime

from lucid_ridge.core.changes.kinds import GoTo
from lucid_ridge.core.figures import Figure, duration_text, minutes_text
from lucid_ridge.core.light_windows.now import light_today, when_text
from lucid_ridge.core.sequence.timing import frame_count, sequence_s
from lucid_ridge.core.state.state import State
from lucid_ridge.core.tensions.levers import fewer_frames, said
from lucid_ridge.core.tensions.rule import Candidate, Found, Rule


def _frames(state: State) -> Iterator[Found]:
    """More frames than the photographer wants to take."""
    count = frame_count(state)
    most = state.scene.composition.wants.most_frames
    if count > most:
        yield Found(
            "frames",
            "More frames than you want",
            f"{count:,} frames; you want {most:,} at most.",
            Figure(value=count, text=f"{count:,}", explain="sequence.frames"),
        )


def _light(state: State) -> Iterator[Found]:
    """Light that is not there at the moment, or goes before the sequence is done; clear sky."""
    today = light_today(state)
    if today is None:
        return
    window = today.window_at(state.unix_s)
    if window is None:
        nearest = today.nearest_to(state.unix_s)
        lacking = ", ".join(today.lacking) or "long enough"
        when, text = "It does not come on this day.", "not today"
        off = None
        if nearest is not None:
            when = f"It is there {when_text(state, nearest[0])} to {when_text(state, nearest[1])}."
            off = nearest[0] - state.unix_s if nearest[0] > state.unix_s else nearest[1] - state.unix_s
            text = f"in {minutes_text(off)}" if off > 0 else f"{minutes_text(-off)} ago"
        yield Found(
            "light",
            "Not the light you want",
            f"Lacking at {when_text(state, state.unix_s)}: {lacking}. {when}",
            Figure(value=off, text=text, explain="light.wish"),
        )
        return
    left, takes = window[1] - state.unix_s, sequence_s(state)
    if takes > left:
        yield Found(
            "light_ends",
            "The light is gone before the sequence is done",
            f"It stays until {when_text(state, window[1])}; the sequence takes {duration_text(takes)}, "
            f"{duration_text(takes - left)} too long.",
            Figure(value=takes - left, text=duration_text(takes - left), explain="sequence.over"),
        )


def _go_to(state: State, unix_s: float, verb: str) -> Candidate:
    return Candidate(
        label=said(f"{verb} {when_text(state, unix_s)}"),
        changes=(GoTo(moment_utc=datetime.fromtimestamp(unix_s, UTC)),),
    )


def _into_the_light(state: State) -> Iterator[Candidate]:
    """To the beginning of the window nearest by: all of it is left then."""
    today = light_today(state)
    nearest = today.nearest_to(state.unix_s) if today else None
    if nearest is not None:
        yield _go_to(state, nearest[0], "Go to")


def _before_it_goes(state: State) -> Iterator[Candidate]:
    """Begin earlier in the window, or take less time."""
    today = light_today(state)
    window = today.window_at(state.unix_s) if today else None
    if window is not None:
        begin = math.floor((window[1] - sequence_s(state) - 30) / 60) * 60.0
        if begin >= window[0]:
            yield _go_to(state, begin, "Begin at")
    yield from fewer_frames(state)


FRAMES = Rule(
    kind="frames",
    find=_frames,
    candidates=fewer_frames,
    no_mend="A wider aperture range, a larger criterion or fewer brackets would take fewer.",
    searched=True,
)

LIGHT = Rule(
    kind="light",
    find=_light,
    candidates=_into_the_light,
    no_mend="Look for another day among the chances on the Light bench, or change what is wanted.",
)

LIGHT_ENDS = Rule(
    kind="light_ends",
    find=_light,
    candidates=_before_it_goes,
    no_mend="Take fewer frames, or shorter ones.",
    searched=True,
)
