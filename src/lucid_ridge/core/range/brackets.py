"""Scene range against the range one frame holds, and the bracket that bridges them.

A frame exposed for a mid-tone holds detail from ``headroom`` stops above it to
``usable - headroom`` below. The usable range falls by about one stop per doubling of ISO (common
practice). A bracket of n frames, a step apart, holds ``usable + (n - 1) step``.
"""

from __future__ import annotations

import math
from typing import Annotated

from annotated_types import Ge, Gt, Le

from lucid_ridge.core.records import record

MOST_FRAMES = 25


@record
class BracketMode:
    """A bracket that the body can shoot by itself."""

    frames: Annotated[int, Ge(2), Le(15)]
    step_stops: Annotated[float, Gt(0), Le(5)]


@record
class BracketPlan:
    """Offsets from the base exposure in stops (+ longer), longest last.

    ``by_body`` says whether the body shoots the set in one of its modes, set by exposure
    compensation ``centre_stops``; otherwise the frames are set by hand.
    """

    offsets_stops: tuple[float, ...]
    step_stops: float
    centre_stops: float
    by_body: bool


@record
class HeldRange:
    """What a set of frames holds, in stops relative to the base mid-tone, and what is lost."""

    lowest: float
    highest: float
    lost_below: float
    lost_above: float


def usable_range_stops(at_base_iso: float, iso: float, base_iso: float) -> float:
    """Usable range in stops at an ISO: one stop less per doubling above base, at least one."""
    return max(1.0, at_base_iso - max(0.0, math.log2(iso / base_iso)))


def held(darkest: float, brightest: float, offsets: tuple[float, ...], usable: float, headroom: float) -> HeldRange:
    """What the frames hold of a scene.

    Parameters
    ----------
    darkest, brightest
        Stops relative to the base exposure's mid-tone of what must hold detail.
    offsets
        Stops by which each frame is exposed longer than the base.
    usable, headroom
        Stops one frame holds, and how much of that lies above its mid-tone.

    Notes
    -----
    A frame exposed longer has its mid-tone lower in the scene. Steps wider than the usable range
    would leave a hole in the middle; a planned bracket never has one.

    """
    highest = headroom - min(offsets)
    lowest = headroom - usable - max(offsets)
    return HeldRange(
        lowest=lowest,
        highest=highest,
        lost_below=max(0.0, lowest - darkest),
        lost_above=max(0.0, brightest - highest),
    )


def _third_up(stops: float) -> float:
    return math.ceil(stops * 3 - 1e-9) / 3


def _third_down(stops: float) -> float:
    return math.floor(stops * 3 + 1e-9) / 3


def plan_bracket(
    darkest: float,
    brightest: float,
    usable: float,
    headroom: float,
    modes: tuple[BracketMode, ...],
    wanted_step: float = 2.0,
) -> BracketPlan | None:
    """The smallest bracket that holds a scene, None where one frame at the base exposure does.

    One frame exposed brighter or darker comes first; then the body's own modes, fewest
    frames and then narrowest span; where none reaches, a list set by hand with *wanted_step*: ``ceil((scene - usable)/step) + 1`` frames.
    The set is moved as a whole, in thirds, so that both ends hold.

    Raises
    ------
    ValueError
        If the scene would take more than 25 frames.

    """
    single = held(darkest, brightest, (0.0,), usable, headroom)
    if single.lost_above <= 1e-9 and single.lost_below <= 1e-9:
        return None
    scene = brightest - darkest
    step = min(wanted_step, max(1 / 3, usable))

    def place(span: float) -> float | None:
        """Offset of the shortest frame, in thirds, so that a set of this span holds both ends."""
        highest_start = _third_down(headroom - brightest)
        lowest_start = headroom - usable - darkest - span
        if highest_start < lowest_start - 1e-9:
            return None
        # As close to symmetric about the base exposure as both ends allow.
        return min(highest_start, max(_third_up(lowest_start), -span / 2))

    alone = place(0.0)
    if alone is not None:
        return _plan(alone, 1, 0.0, by_body=True)
    fitting = sorted((m for m in modes if m.step_stops <= usable), key=lambda m: (m.frames, m.frames * m.step_stops))
    for mode in fitting:
        span = (mode.frames - 1) * mode.step_stops
        start = place(span)
        if start is not None:
            return _plan(start, mode.frames, mode.step_stops, by_body=True)
    count = max(2, math.ceil((scene - usable) / step - 1e-9) + 1)
    while count <= MOST_FRAMES:
        start = place((count - 1) * step)
        if start is not None:
            return _plan(start, count, step, by_body=False)
        count += 1
    raise ValueError(f"the scene spans {scene:.1f} stops, more than {MOST_FRAMES} frames can hold")


def _plan(start: float, count: int, step: float, by_body: bool) -> BracketPlan:
    return BracketPlan(
        offsets_stops=tuple(start + i * step for i in range(count)),
        step_stops=step,
        centre_stops=start + (count - 1) * step / 2,
        by_body=by_body,
    )
