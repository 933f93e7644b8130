"""Mends: for each tension the single change that removes it, found by trying.

Each candidate change is applied, the state is built anew, and the first one after which the
tension is gone and no new one has come is offered. So a mend that is offered works, or at worst
trades one tension for another and is offered only when nothing better is.
"""

from __future__ import annotations

from lucid_ridge.core.figures import Figure
from lucid_ridge.core.records import record
from lucid_ridge.core.technique.candidates import CANDIDATES, Mend, after
from lucid_ridge.core.technique.state import State
from lucid_ridge.core.technique.tensions import TensionKind, find


@record
class Tension:
    """A want that is broken. ``figure`` is by how much; ``mend`` is None with a reason why."""

    kind: TensionKind
    title: str
    sentence: str
    figure: Figure
    element_id: str | None
    mend: Mend | None
    why_no_mend: str


_NO_MEND: dict[TensionKind, str] = {
    "near_soft": "No aperture or stack within the locks holds it.",
    "gap_soft": "No aperture or stack within the locks holds it.",
    "far_soft": "No aperture or stack within the locks holds it.",
    "diffraction": "The lens does not open far enough, or the aperture is locked.",
    "minimum_focus": "Step back or change the lens.",
    "farthest_focus": "Take off the gear that extends the lens.",
    "hand_held": "Nothing free reaches that shutter time within the ISO you allow.",
    "water_look": "No filter owned, aperture or ISO that is free reaches that time.",
    "foliage": "Nothing free reaches that shutter time within the ISO you allow; wait for a lull.",
    "frozen_wave": "Nothing free, and no layer, reaches that shutter time within the ISO you allow.",
    "frames": "A wider aperture range, a larger criterion or fewer brackets would take fewer.",
    "iso": "Free the aperture or the shutter, or allow a higher ISO.",
    "range": "No bracket holds this range.",
    "bulb": "The body has no bulb, and nothing free shortens the time enough.",
    "reach": "Set the camera height within the reach, or change the support.",
    "standing": "Several lines are in the way: choose another standpoint in the plan.",
    "exposure": "Free the shutter or the ISO.",
}


def find_mend(state: State, kind: TensionKind, kinds_now: frozenset[TensionKind]) -> Mend | None:
    """The first candidate that removes a tension and brings no other; else the first that removes it."""
    second_best: Mend | None = None
    for mend in CANDIDATES[kind](state) if kind in CANDIDATES else ():
        left = frozenset(found.kind for found in find(after(state, mend.changes)))
        if kind in left:
            continue
        if left <= kinds_now:
            return mend
        second_best = second_best or mend
    return second_best


def tensions(state: State) -> tuple[Tension, ...]:
    """Every tension of a state with its mend."""
    found = find(state)
    kinds = frozenset(one.kind for one in found)
    made = []
    for one in found:
        mend = find_mend(state, one.kind, kinds)
        made.append(
            Tension(
                kind=one.kind,
                title=one.title,
                sentence=one.sentence,
                figure=one.figure,
                element_id=one.element_id,
                mend=mend,
                why_no_mend="" if mend else _NO_MEND[one.kind],
            )
        )
    return tuple(made)
