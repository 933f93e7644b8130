"""What a rule of tension is made of.

Adding one: its kind in `TensionKind`, a `Rule` beside its finder in the topic it belongs to, its place in `find.RULES`, a test,
and the types made anew. Everything else (mends, the search, the screen) goes through the rules.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

from lucid_ridge.core.changes.kinds import Change
from lucid_ridge.core.figures import Figure
from lucid_ridge.core.state.state import State

TensionKind = Literal[
    "near_soft", "gap_soft", "far_soft", "hand_held", "water_look", "frozen_wave", "foliage", "frames", "iso", "range", "diffraction", "bulb",
    "minimum_focus", "farthest_focus", "reach", "standing", "exposure", "background", "light", "light_ends", "support", "drifts_off", "horizon",
]  # fmt: skip

Severity = Literal["spoils", "misses"]
"""Whether a tension spoils the picture, or misses something that was wanted of it."""


@dataclass(frozen=True)
class Found:
    """A tension without its mend."""

    kind: TensionKind
    title: str
    sentence: str
    figure: Figure
    element_id: str | None = None


@dataclass(frozen=True)
class Candidate:
    """Changes that may mend a tension, and what the button will say of the state that they lead to."""

    label: Callable[[State], str]
    changes: tuple[Change, ...]


@dataclass(frozen=True)
class Rule:
    """One kind of tension.

    ``find`` tells where a state breaks it; rules that share a finder are found together. ``candidates`` are single changes that
    may mend it, the gentlest first; whether one does is found by trying. ``no_mend`` is said where none does. ``searched`` says
    whether the search over techniques answers for it.
    """

    kind: TensionKind
    find: Callable[[State], Iterator[Found]]
    candidates: Callable[[State], Iterator[Candidate]]
    no_mend: str
    severity: Severity = "misses"
    searched: bool = False
