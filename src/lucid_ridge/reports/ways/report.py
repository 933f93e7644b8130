"""Ways as they are shown: a few techniques, each the best at something, with what it gives up for it."""

from __future__ import annotations

import math
from dataclasses import replace

from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.core.ways.choose import Choice, choose
from lucid_ridge.core.ways.search import Cost, Want
from lucid_ridge.reports.figures import significant, stops_words
from lucid_ridge.reports.ways.way import Way, cost_of, make_way

WANT_TEXT: dict[Want, str] = {
    "sharp": "everything sharp that must be",
    "water": "the look of the water",
    "wave": "the frozen wave",
    "foliage": "the leaves sharp",
    "range": "both ends of the range held",
    "by hand": "no slower than the hand, and what you stand on, hold still",
    "frames": "no more frames than you want",
    "bulb": "no longer than the body times",
    "exposure": "the picture as bright as you want",
    "background": "the background as smooth as you want",
    "light": "the sequence done before the light is gone",
    "framing": "the sequence done before the framing has drifted off",
}


@record
class WaysReport:
    """The ways of a composition. Without any that gives all that is wanted: the nearest, and what to relax."""

    ways: tuple[Way, ...]
    found: bool
    count: int
    judged: int
    sentence: str
    relax: tuple[str, ...]


_GIVEN_UP: tuple[tuple[Cost, str], ...] = (
    ("frames", "the frames"), ("seconds", "the time"), ("blur", "the blur"), ("iso", "the ISO"), ("travel", "the leaves' travel"),
)  # fmt: skip


def _given_up(way: Way, ways: list[Way]) -> tuple[str, ...]:
    """Where another way does clearly better, in words."""
    said = []
    for cost, words in _GIVEN_UP:
        best, here = min(cost_of(one, cost) for one in ways), cost_of(way, cost)
        if here > best * 1.15:
            said.append(f"{significant(here / best, 2)} × {words}")
    off = math.log2(cost_of(way, "lens"))
    if off > 0.5:
        said.append(
            f"{way.settings_text.split(',')[0]} is {stops_words(round(off * 3) / 3)} from where most lenses are best"
        )
    return tuple(said)


def ways(state: State) -> WaysReport:
    """Three to six ways to give all that is wanted, none beaten by another; or the nearest, and what to relax."""
    choice = choose(state)
    if not choice.found:
        return _nearest(state, choice)
    made = [make_way(state, one.state, one.changes, f"way-{k}", one.kept_for, []) for k, one in enumerate(choice.ways)]
    told = tuple(replace(one, gives_up=_given_up(one, made)) for one in made)
    words = "way gives" if len(told) == 1 else "ways give"
    sentence = f"{len(told)} {words} all that you want, of {choice.count} that do; {choice.judged} were judged."
    return WaysReport(ways=told, found=True, count=choice.count, judged=choice.judged, sentence=sentence, relax=())


def _nearest(state: State, choice: Choice) -> WaysReport:
    """The technique that breaks least, and the wants that stand in the way."""
    (nearest,) = choice.ways
    way = make_way(state, nearest.state, nearest.changes, "nearest", (), list(nearest.broken))
    relax = [f"Without {WANT_TEXT[want]} there are ways." for want in choice.alone_in_the_way]
    if not relax and choice.farthest_off is not None:
        relax.append(
            f"No single want stands in the way; {WANT_TEXT[choice.farthest_off]} is farthest off. Free a setting, or relax two."
        )
    locks = state.scene.composition.locks
    free = f" Locked are {', '.join(name.replace('_', ' ') for name in locks)}." if locks else ""
    return WaysReport(
        ways=(replace(way, name="The nearest"),),
        found=False,
        count=0,
        judged=choice.judged,
        sentence=f"No way gives all that you want; {choice.judged} were judged.{free}",
        relax=tuple(relax),
    )
