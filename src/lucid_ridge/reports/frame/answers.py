"""The answer to a wish as it is shown: the changes, the picture they make, and what else they alter."""

from __future__ import annotations

from lucid_ridge.core.changes.apply import apply_changes
from lucid_ridge.core.changes.kinds import Change
from lucid_ridge.core.records import record
from lucid_ridge.core.solve import solve
from lucid_ridge.core.solve.wishes import Wish
from lucid_ridge.core.state.state import State, build_state
from lucid_ridge.core.tensions.find import find
from lucid_ridge.reports.frame.separation import separation
from lucid_ridge.reports.frame.view import FramingReport, framing_report
from lucid_ridge.reports.frame.wish_words import Fact, facts, gives, label, why_not
from lucid_ridge.reports.frame.words import how_reached
from lucid_ridge.reports.tensions.words import said as words

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
    was, now = ({one.kind: words(state, one) for one in find(state)} for state in (before, after))
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
    if found.refused:
        return Answer(why_not=why_not(state, wish, found.refused))
    after = build_state(apply_changes(state.scene, found.changes), terrain=state.terrain)
    return Answer(
        changes=found.changes,
        label=label(state, wish, found, after),
        gives=gives(state, wish, found),
        facts=facts(state, wish, found, after),
        alters=_alters(state, after),
        picture=framing_report(after),
    )
