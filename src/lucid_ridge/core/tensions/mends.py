"""Mends: for each tension the single change that removes it, found by trying.

Each candidate change is applied, the state is built anew, and the first one after which the
tension is gone and no new one has come is offered. So a mend that is offered works, or at worst
trades one tension for another and is offered only when nothing better is.
"""

from __future__ import annotations

from lucid_ridge.core.changes.kinds import Change, PutOn, SetTo, TakeBracket, TakeSlices
from lucid_ridge.core.figures import Figure
from lucid_ridge.core.records import record
from lucid_ridge.core.sequence.dial import turned_words
from lucid_ridge.core.state.state import State
from lucid_ridge.core.tensions.find import RULE, find
from lucid_ridge.core.tensions.levers import after
from lucid_ridge.core.tensions.rule import Severity, TensionKind


@record
class Mend:
    """What the button says, the changes it sends, and what that is in clicks of the camera's dials."""

    label: str
    changes: tuple[Change, ...]
    clicks: str = ""


@record
class Tension:
    """A want that is broken. ``figure`` is by how much; ``mend`` is None with a reason why.

    ``brings`` are the tensions that its mend would bring; ``against`` the mends of others that pull the other way.
    """

    kind: TensionKind
    severity: Severity
    title: str
    sentence: str
    figure: Figure
    element_id: str | None
    mend: Mend | None
    why_no_mend: str
    brings: tuple[str, ...] = ()
    against: tuple[str, ...] = ()


def find_mend(
    state: State, kind: TensionKind, kinds_now: frozenset[TensionKind]
) -> tuple[Mend | None, tuple[str, ...]]:
    """The first candidate that removes a tension and brings no other, else the first that removes it; what it brings."""
    second_best: tuple[Mend | None, tuple[str, ...]] = (None, ())
    for candidate in RULE[kind].candidates(state):
        then = after(state, candidate.changes)
        # Most candidates fail at their own tension; the others are looked for only where it is gone.
        if any(found.kind == kind for found in RULE[kind].find(then)):
            continue
        left = find(then)
        clicks = turned_words(state.exposure.settings, then.exposure.settings, state.scene.kit.body)
        mend = Mend(label=candidate.label(then), changes=candidate.changes, clicks=clicks)
        brought = tuple(found.title for found in left if found.kind not in kinds_now)
        if not brought:
            return mend, ()
        if second_best[0] is None:
            second_best = (mend, brought)
    return second_best


def _settings_of(mend: Mend) -> dict[str, object]:
    """What a mend sets, by setting, for telling which pull apart."""
    set_to: dict[str, object] = {}
    for change in mend.changes:
        match change:
            case SetTo():
                set_to[change.setting] = change.value
            case PutOn():
                set_to["filters"] = change.filters
            case TakeSlices():
                set_to["slices"] = change.mode
            case TakeBracket():
                set_to["bracket"] = change.mode
            case _:
                pass
    return set_to


def _pull_apart(one: Mend, other: Mend) -> bool:
    """Whether two mends set the same thing differently."""
    mine, theirs = _settings_of(one), _settings_of(other)
    return any(name in theirs and theirs[name] != value for name, value in mine.items())


def tensions(state: State) -> tuple[Tension, ...]:
    """Every tension of a state with its mend, what that would bring, and which mends pull against each other."""
    found = find(state)
    kinds = frozenset(one.kind for one in found)
    mends = [find_mend(state, one.kind, kinds) for one in found]
    made = []
    for one, (mend, brings) in zip(found, mends, strict=True):
        against = tuple(
            dict.fromkeys(
                other.label for other, _ in mends if mend and other and other != mend and _pull_apart(mend, other)
            )
        )
        made.append(
            Tension(
                kind=one.kind,
                severity=RULE[one.kind].severity,
                title=one.title,
                sentence=one.sentence,
                figure=one.figure,
                element_id=one.element_id,
                mend=mend,
                why_no_mend="" if mend else RULE[one.kind].no_mend,
                brings=brings,
                against=against,
            )
        )
    return tuple(made)
