"""What a rule of tension is made of.

Adding one: its kind in `TensionKind`, a `Rule` beside its finder in the topic it belongs to, its place in `find.RULES`, its
words in `reports/tensions/words.py`, a test, and the types made anew. Everything else (mends, the search, the screen) goes
through the rules.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

from lucid_ridge.core.changes.kinds import Change
from lucid_ridge.core.state.state import State

TensionKind = Literal[
    "near_soft", "gap_soft", "far_soft", "hand_held", "water_look", "frozen_wave", "foliage", "frames", "iso", "range", "diffraction", "bulb",
    "minimum_focus", "farthest_focus", "reach", "standing", "exposure", "background", "light", "light_ends", "support", "drifts_off", "horizon",
]  # fmt: skip

Severity = Literal["spoils", "misses"]
"""Whether a tension spoils the picture, or misses something that was wanted of it."""


@dataclass(frozen=True)
class Found:
    """Where a state breaks a rule.

    ``amount`` is by how much, in the unit of its kind: stops for times and light, mm for blur, m for distances, s for durations,
    degrees, a count or a share; None where it cannot be told. ``at`` is where or when: m or s, NaN without.
    """

    kind: TensionKind
    amount: float | None
    element_id: str | None = None
    at: float = math.nan


Candidate = tuple[Change, ...]
"""Changes that together may mend a tension."""


@dataclass(frozen=True)
class Rule:
    """One kind of tension.

    ``find`` tells where a state breaks it; rules that share a finder are found together. ``candidates`` are single changes that
    may mend it, the gentlest first; whether one does is found by trying. ``searched`` says whether the search over
    techniques answers for it.
    """

    kind: TensionKind
    find: Callable[[State], Iterator[Found]]
    candidates: Callable[[State], Iterator[Candidate]]
    severity: Severity = "misses"
    searched: bool = False
