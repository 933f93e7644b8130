"""The answer to a wish as it is shown: the changes, the picture they make, and what else they alter."""

from __future__ import annotations

from lucid_ridge.core.camera.reach import how_reached
from lucid_ridge.core.changes.apply import apply_changes
from lucid_ridge.core.changes.kinds import Change
from lucid_ridge.core.records import record
from lucid_ridge.core.solve import solve
from lucid_ridge.core.solve.wishes import Fact, Wish
from lucid_ridge.core.state.separation import separation
from lucid_ridge.core.state.state import State, build_state
from lucid_ridge.core.tensions.find import find
from lucid_ridge.reports.frame.view import FramingReport, framing_report

_MOST_ALTERED = 6


@record
class Answer:
    """The changes that grant a wish, what they give, what else they alter; or why nothing does.

    ``picture`` is the frame after the changes, None without an answer.
    """

    changes: tuple[Change, ...] = ()
    label: str = ""
    gives: str = ""
    facts: tuple[Fact, ...] = ()
    alters: tuple[str, ...] = ()
    picture: FramingReport | None = None
    why_not: str = ""


def _alters(before: State, after: State) -> tuple[str, ...]:
    """What else changes: tensions, separations, elements that leave, the sky, the support."""
    was, now = {t.kind: t for t in find(before)}, {t.kind: t for t in find(after)}
    said = [how_reached(after.scene, after.steady, after.scene.composition.camera_height_m)]
    said += [f"{t.title}: {t.sentence}" for kind, t in now.items() if kind not in was]
    said += [f"No longer: {t.title[0].lower()}{t.title[1:]}." for kind, t in was.items() if kind not in now]
    met = {(m.kind, m.element_id, m.other_id) for m in separation(before)}
    said += [m.sentence for m in separation(after) if (m.kind, m.element_id, m.other_id) not in met]
    for i, element in enumerate(before.geometry.elements):
        if before.geometry.seen(i) and not after.geometry.seen(i):
            said.append(f"The {element.name} leaves the frame.")
        elif after.geometry.seen(i) and not before.geometry.seen(i):
            said.append(f"The {element.name} comes into the frame.")
    old, new = framing_report(before).sky, framing_report(after).sky
    if old.value is not None and new.value is not None and abs(old.value - new.value) >= 3:
        said.append(f"Sky goes from {old.text} to {new.text} of the picture.")
    return tuple(one for one in said if one)[:_MOST_ALTERED]


def answer_to(state: State, wish: Wish) -> Answer:
    """The answer to a wish, with its picture and what else it alters.

    Raises
    ------
    SceneError
        If the wish names an element that is not there or not in the frame.

    """
    found = solve(state, wish)
    if found.why_not:
        return Answer(why_not=found.why_not)
    after = build_state(apply_changes(state.scene, found.changes), terrain=state.terrain)
    return Answer(
        changes=found.changes,
        label=found.label,
        gives=found.gives,
        facts=found.facts,
        alters=_alters(state, after),
        picture=framing_report(after),
    )
