"""What the pictures of a take show, in words: what happened, what it comes from, and what to try next time."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import get_args

from lucid_ridge.core.changes.kinds import Change, Nudge, SetCompensation, SetTimer, TakeBracket, TakeSlices
from lucid_ridge.core.exposure.closing import filters_in_use
from lucid_ridge.core.records import record
from lucid_ridge.core.review.findings import Finding, FindingKind
from lucid_ridge.core.state.state import State
from lucid_ridge.core.stops.filters import cost_stops
from lucid_ridge.reports.figures import distance_text, stops_words
from lucid_ridge.reports.rehearsal.words import share_text

SURENESS = {"sure": "certain", "likely": "likely", "perhaps": "perhaps"}
_LONG_TIMER_S = 5.0
_MUCH_CLIPPED, _ALL_CLIPPED = 0.02, 0.6
_MUCH_FILTER_STOPS = 2.0
_THIRD = 1 / 3
_DIRECTIONS = ("right", "down and right", "down", "down and left", "left", "up and left", "up", "up and right")


def _stops_words(seen: float) -> str:
    """What was measured, to the sixth of a stop."""
    return stops_words(round(seen * 6) / 6)


@record
class NextTime:
    """Something to try next time: how it is said, and the changes that do it to the composition."""

    label: str
    changes: tuple[Change, ...]


@record
class Shown:
    """Something that the pictures show. ``fault`` is the word of the logbook for it, where there is one.

    ``box`` is where in the picture (left, top, wide, high, 0 to 1); ``frames`` where it is seen, or between which. ``told`` is False
    where it only says what cannot be told.
    """

    kind: FindingKind
    title: str
    why: str
    sure: str
    told: bool
    frames: tuple[int, ...]
    box: tuple[float, float, float, float] | None
    fault: str | None
    next_time: tuple[NextTime, ...]


def frames_text(frames: tuple[int, ...]) -> str:
    """Frames by their numbers."""
    if len(frames) == 1:
        return f"frame {frames[0]}"
    if len(frames) > 2 and frames == tuple(range(frames[0], frames[-1] + 1)):
        return f"frames {frames[0]} to {frames[-1]}"
    return f"frames {', '.join(map(str, frames[:-1]))} and {frames[-1]}"


def _way(direction_deg: float | None) -> str:
    return _DIRECTIONS[round((direction_deg or 0.0) / 45) % 8]


Words = tuple[str, str, str | None, tuple[NextTime, ...]]


def _clipped(state: State, one: Finding) -> Words:
    what = f"{one.channel.capitalize()} is clipped" if one.channel else "Highlights are clipped"
    now = state.scene.composition.settings.compensation_stops
    back = NextTime(
        label="Back off ⅓ stop" + (f" for {one.channel}" if one.channel else ""),
        changes=(SetCompensation(stops=now - _THIRD),),
    )
    bracket = NextTime(label="Take a bracket for the whole range", changes=(TakeBracket(mode="range"),))
    much = one.size > _MUCH_CLIPPED and not one.channel
    why = (
        "The histogram of all channels together hides it: one channel clips before the others."
        if one.channel
        else "The scene holds more light than one frame, or it was metered for something darker."
    )
    through = sum(cost_stops(owned, use) for owned, use in filters_in_use(state.scene))
    if one.size > _ALL_CLIPPED and through >= _MUCH_FILTER_STOPS:
        why = f"Perhaps the filters were not on: without them it is {stops_words(through)} brighter."
    title = f"{what} in {share_text(one.size)} of {frames_text(one.frames)}"
    return title, why, "clipped channel", (bracket, back) if much else (back,)


def _camera_moved(state: State, one: Finding) -> Words:
    a, b = one.frames
    title = f"The camera moved between frames {a} and {b}: {one.size:.0f} px, {_way(one.direction_deg)}"
    return title, "A leg sank, the head crept, or a hand was on the camera.", "moved camera", _by_timer(state)


def _by_timer(state: State) -> tuple[NextTime, ...]:
    if state.scene.composition.settings.timer_s >= _LONG_TIMER_S:
        return ()
    return (
        NextTime(
            label=f"Self-timer {_LONG_TIMER_S:.0f} s before each frame", changes=(SetTimer(seconds=_LONG_TIMER_S),)
        ),
    )


def _subject_moved(state: State, one: Finding) -> Words:
    a, b = one.frames
    title = f"Something moved between frames {a} and {b}: about {one.size:.0f} px"
    faster = NextTime(label="One stop more ISO, half the time", changes=(Nudge(setting="iso", steps=3),))
    return title, "It moved by itself; the rest of the picture stood still.", "moved subject", (faster,)


def _slice_missing(state: State, one: Finding) -> Words:
    focus = distance_text(one.focus_m or 0.0, state.scene.units)
    title = f"Slice {one.size:.0f}, at {focus}, is missing"
    why = "The focus was not turned on, or turned on twice: no frame is sharp there."
    return title, why, "missed slice", _named_slices(state, f"Name each slice, {focus} among them")


def _named_slices(state: State, label: str) -> tuple[NextTime, ...]:
    foci = tuple(float(s) for s in state.depth.focused_m if math.isfinite(s))
    if len(foci) < 2 or state.scene.composition.technique.slices == "manual":
        return ()
    return (NextTime(label=label, changes=(TakeSlices(mode="manual", foci_m=foci),)),)


def _end_slice_missing(state: State, one: Finding) -> Words:
    count = round(one.size)
    what = "A slice at one end is" if count == 1 else f"{count} slices at the ends are"
    why = "Fewer frames came back than were planned; the others lie as planned."
    return f"{what} missing", why, "missed slice", _named_slices(state, "Name each slice")


def _focus_off(state: State, one: Finding) -> Words:
    near = "near" if one.size < 0 else "far"
    title = f"Frame {one.frames[0]} is focused too {near}, by {abs(one.size):.1f} × what stays sharp"
    smaller = NextTime(label="Stop down by one stop", changes=(Nudge(setting="aperture", steps=3),))
    return title, "The ring was turned too far or not far enough, or the focus slipped.", "focus missed", (smaller,)


def _shaken(state: State, one: Finding) -> Words:
    title = f"Frame {one.frames[0]} is drawn out along one direction"
    why = "Shake: near and far lose detail alike, along one direction only."
    faster = NextTime(label="One stop more ISO, half the time", changes=(Nudge(setting="iso", steps=3),))
    return title, why, "shake", (*_by_timer(state), faster)


def _light_changed(state: State, one: Finding) -> Words:
    a, b = one.frames
    more = "brighter" if one.size > 0 else "darker"
    title = f"Frame {b} is {_stops_words(one.size)} {more} than frame {a} with the same settings would be"
    return title, "The light changed, or something was put on or taken off in front of the lens.", None, ()


def _filter_forgotten(state: State, one: Finding) -> Words:
    much = stops_words(one.size)
    if len(one.frames) > 1:
        a, b = one.frames
        title = f"Frames {a} and {b} came out as if no filter had been changed between them"
        return (
            title,
            f"The plan changes {much} of filters between them: one was not put on, or not taken off.",
            None,
            (),
        )
    if one.size > 0:
        title = f"Frame {one.frames[0]} is full of light: the filter of {much} was not on"
        return title, "It was taken off for the frame before, or never put on.", "filter forgotten off", ()
    title = f"Frame {one.frames[0]} is all dark: a filter of {much} was left on"
    return title, "It was to come off for this frame.", "filter forgotten on", ()


def _soft(state: State, one: Finding) -> Words:
    names = {e.id: e.name for e in state.scene.composition.elements}
    known = [names[i] for i in one.elements if i in names] or ["It"]
    what = " and ".join([", ".join(known[:-1]), known[-1]] if len(known) > 1 else known)
    verb = "are" if len(known) > 1 else "is"
    which = f"{frames_text(one.frames)}" if len(one.frames) == 1 else "every frame"
    title = f"{what[0].upper()}{what[1:]} {verb} softer in {which} than in {one.takes} earlier takes"
    smaller = NextTime(label="Stop down by one stop", changes=(Nudge(setting="aperture", steps=3),))
    if one.focused:
        near = one.focused == "near"
        why = f"What is {'nearer' if near else 'farther'} is as sharp as it was: the focus lay too {one.focused}."
        return title, why, "focus missed", (smaller,)
    why = "Missed focus, shake or haze: look at it large, and see whether it is drawn out along one direction."
    return title, why, None, (*_by_timer(state), smaller)


def _white_changed(state: State, one: Finding) -> Words:
    a, b = one.frames
    cooler = "bluer" if one.size > 0 else "warmer"
    title = f"Frame {b} is {cooler} than frame {a}, by {_stops_words(one.size)}"
    why = "The white balance was left to the camera, or the light changed. In raw files it can be set alike afterwards."
    return title, why, None, ()


def _blocked(state: State, one: Finding) -> Words:
    title = f"Shadows are blocked in {share_text(one.size)} of the brightest exposure, {frames_text(one.frames)}"
    why = "The bracket does not reach down to them: it takes one brighter frame more."
    bracket = NextTime(label="Take a bracket for the whole range", changes=(TakeBracket(mode="range"),))
    return title, why, None, (bracket,)


def _tilted(state: State, one: Finding) -> Words:
    lower = "right" if one.size > 0 else "left"
    title = f"The horizon is off by {abs(one.size):.1f}°: its {lower} end is too low"
    return title, "The camera was not level, or what was taken for the horizon is a shore that slopes.", None, ()


def _frame_missing(state: State, one: Finding) -> Words:
    title = f"{frames_text(one.frames).capitalize()} did not come back"
    return title, "Not taken, left on another card, or not matched yet.", None, ()


def _movement_unknown(state: State, one: Finding) -> Words:
    title = f"Cannot tell whether the camera moved: {frames_text(one.frames)}"
    return title, "Too little in them is sharp and stands still.", None, ()


def _focus_unknown(state: State, one: Finding) -> Words:
    title = f"Cannot tell where the slices were focused: {frames_text(one.frames)}"
    return title, "It takes four slices or more, and a lens whose picture grows as it is focused nearer.", None, ()


WORDS: dict[FindingKind, Callable[[State, Finding], Words]] = {
    "clipped": _clipped,
    "camera_moved": _camera_moved,
    "subject_moved": _subject_moved,
    "slice_missing": _slice_missing,
    "end_slice_missing": _end_slice_missing,
    "focus_off": _focus_off,
    "shaken": _shaken,
    "light_changed": _light_changed,
    "filter_forgotten": _filter_forgotten,
    "white_changed": _white_changed,
    "blocked": _blocked,
    "tilted": _tilted,
    "soft": _soft,
    "frame_missing": _frame_missing,
    "movement_unknown": _movement_unknown,
    "focus_unknown": _focus_unknown,
}
assert set(WORDS) == set(get_args(FindingKind))
_UNTOLD = ("movement_unknown", "focus_unknown")


def shown_of(state: State, findings: tuple[Finding, ...]) -> tuple[Shown, ...]:
    """What pictures show, the worst first; what cannot be told comes last."""
    made = []
    for one in sorted(findings, key=lambda f: (f.kind in _UNTOLD, ("sure", "likely", "perhaps").index(f.sure))):
        title, why, fault, next_time = WORDS[one.kind](state, one)
        made.append(
            Shown(
                kind=one.kind,
                title=title,
                why=why,
                sure=SURENESS[one.sure],
                told=one.kind not in _UNTOLD,
                frames=one.frames,
                box=one.box,
                fault=fault,
                next_time=next_time,
            )
        )
    return tuple(made)
