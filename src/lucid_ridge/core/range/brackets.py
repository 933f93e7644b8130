"""Scene range against the range one frame holds, and the bracket that bridges them.

A frame exposed for a mid-tone holds detail from ``headroom`` stops above it to
``usable - headroom`` below. The usable range falls by about one stop per doubling of ISO (common
practice). A bracket of n frames, a step apart, holds ``usable + (n - 1) step``.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Annotated

from annotated_types import Ge, Gt, Le

from lucid_ridge.core.records import record

MOST_FRAMES = 25
_LAPPED_STOPS = 1.0
"""By so much neighbouring frames of a short bracket lap over, so that they can be blended (common practice)."""


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
    """What a set of frames holds, in stops relative to the base mid-tone, and what is lost.

    ``spans`` are the stretches that some frame holds, darkest first; ``lost_between`` is by how much the tone farthest
    into a hole between them misses the nearest.
    """

    spans: tuple[tuple[float, float], ...]
    lost_below: float
    lost_above: float
    lost_between: float

    @property
    def lowest(self) -> float:
        """The darkest tone that some frame holds."""
        return self.spans[0][0]

    @property
    def highest(self) -> float:
        """The brightest tone that some frame holds."""
        return self.spans[-1][1]

    @property
    def lost(self) -> float:
        """The largest miss of all."""
        return max(self.lost_below, self.lost_above, self.lost_between)

    def miss(self, tone: float) -> float:
        """By how much a tone misses what is held: above zero brighter than the span below it, below zero darker."""
        if any(low <= tone <= high for low, high in self.spans):
            return 0.0
        ends = [tone - high for _, high in self.spans if tone > high] + [
            tone - low for low, _ in self.spans if tone < low
        ]
        return min(ends, key=abs)


def usable_range_stops(at_base_iso: float, iso: float, base_iso: float) -> float:
    """Usable range in stops at an ISO: one stop less per doubling above base, at least one."""
    return max(1.0, at_base_iso - max(0.0, math.log2(iso / base_iso)))


def held(tones: Iterable[float], offsets: tuple[float, ...], usable: float, headroom: float) -> HeldRange:
    """What the frames hold of a scene.

    Parameters
    ----------
    tones
        Stops relative to the base exposure's mid-tone of everything that must hold detail.
    offsets
        Stops by which each frame is exposed longer than the base.
    usable, headroom
        Stops one frame holds, and how much of that lies above its mid-tone.

    Notes
    -----
    A frame exposed longer has its mid-tone lower in the scene. What is held is the union of the frames' spans: steps
    wider than the usable range leave holes in it, as a set by hand may; a planned bracket never has one.

    """
    spans: list[tuple[float, float]] = []
    for offset in sorted(offsets, reverse=True):
        low, high = headroom - usable - offset, headroom - offset
        if spans and low <= spans[-1][1] + 1e-9:
            spans[-1] = (spans[-1][0], max(high, spans[-1][1]))
        else:
            spans.append((low, high))
    made = HeldRange(spans=tuple(spans), lost_below=0.0, lost_above=0.0, lost_between=0.0)
    below = above = between = 0.0
    for tone in tones:
        miss = abs(made.miss(tone))
        if tone < made.lowest:
            below = max(below, miss)
        elif tone > made.highest:
            above = max(above, miss)
        else:
            between = max(between, miss)
    return HeldRange(spans=made.spans, lost_below=below, lost_above=above, lost_between=between)


def _third_up(stops: float) -> float:
    return math.ceil(stops * 3 - 1e-9) / 3


def _third_down(stops: float) -> float:
    return math.floor(stops * 3 + 1e-9) / 3


# Long: every way of bracketing is weighed in one place.
def bracket_choices(  # noqa: C901 -- every way of bracketing is weighed in one place
    darkest: float,
    brightest: float,
    usable: float,
    headroom: float,
    modes: tuple[BracketMode, ...],
    wanted_step: float = 2.0,
) -> tuple[BracketPlan, ...]:
    """Brackets that hold a scene, the handiest first, each with fewer frames; none where the base exposure does.

    One frame exposed brighter or darker comes first; then the body's own modes, fewest frames and then narrowest span;
    then a list set by hand with *wanted_step*: ``ceil((scene - usable)/step) + 1`` frames; at last one with the widest
    steps that still lap over by a stop, for where frames are counted. Each set is moved as a whole, in thirds, so that
    both ends hold.

    Raises
    ------
    ValueError
        If the scene would take more than 25 frames.

    """
    single = held((darkest, brightest), (0.0,), usable, headroom)
    if single.lost <= 1e-9:
        return ()
    scene = brightest - darkest

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
        return (_plan(alone, 1, 0.0, by_body=True),)
    found: list[BracketPlan] = []
    fitting = sorted((m for m in modes if m.step_stops <= usable), key=lambda m: (m.frames, m.frames * m.step_stops))
    for mode in fitting:
        span = (mode.frames - 1) * mode.step_stops
        start = place(span)
        if start is not None:
            found.append(_plan(start, mode.frames, mode.step_stops, by_body=True))
            break
    widest = max(usable - _LAPPED_STOPS, usable / 2)
    for step in (min(wanted_step, max(1 / 3, usable)), max(_third_down(widest), 1 / 3)):
        count = max(2, math.ceil((scene - usable) / step - 1e-9) + 1)
        while count <= MOST_FRAMES:
            own = step
            while step > wanted_step and place((count - 1) * (own - 1 / 3)) is not None:
                # No wider than so many frames ask for.
                own -= 1 / 3
            start = place((count - 1) * own)
            if start is not None:
                if not found or count < len(found[-1].offsets_stops):
                    found.append(_plan(start, count, own, by_body=False))
                break
            count += 1
    if not found:
        raise ValueError(f"the scene spans {scene:.1f} stops, more than {MOST_FRAMES} frames can hold")
    return tuple(found)


def plan_bracket(
    darkest: float,
    brightest: float,
    usable: float,
    headroom: float,
    modes: tuple[BracketMode, ...],
    wanted_step: float = 2.0,
    most_frames: float = math.inf,
) -> BracketPlan | None:
    """The handiest bracket that holds a scene with no more than *most_frames* where one does; see `bracket_choices`.

    None where one frame at the base exposure holds the scene.

    Raises
    ------
    ValueError
        If the scene would take more than 25 frames.

    """
    choices = bracket_choices(darkest, brightest, usable, headroom, modes, wanted_step)
    if not choices:
        return None
    return next((one for one in choices if len(one.offsets_stops) <= most_frames), choices[0])


def _plan(start: float, count: int, step: float, by_body: bool) -> BracketPlan:
    return BracketPlan(
        offsets_stops=tuple(start + i * step for i in range(count)),
        step_stops=step,
        centre_stops=start + (count - 1) * step / 2,
        by_body=by_body,
    )
