"""Mends: for each tension the single change that removes it, found by trying.

Each candidate change is applied, the state is built anew, and the first one after which the
tension is gone and no new one has come is offered. So a mend that is offered works, or at worst
trades one tension for another and is offered only when nothing better is.
"""

from __future__ import annotations

from dataclasses import dataclass

from lucid_ridge.core.changes.kinds import Change, PutOn, SetTo, TakeBracket, TakeSlices
from lucid_ridge.core.state.state import State
from lucid_ridge.core.tensions.find import RULE, find
from lucid_ridge.core.tensions.levers import after
from lucid_ridge.core.tensions.rule import Found, TensionKind


@dataclass(frozen=True, eq=False)
class Mend:
    """Changes that remove a tension, the state that they lead to, and the tensions that come with it."""

    changes: tuple[Change, ...]
    then: State
    brings: tuple[Found, ...]


@dataclass(frozen=True, eq=False)
class Tension:
    """A want that is broken, with its mend (None where nothing mends it) and the mends of others that pull the other way."""

    found: Found
    mend: Mend | None
    against: tuple[Mend, ...]


def find_mend(state: State, kind: TensionKind, kinds_now: frozenset[TensionKind]) -> Mend | None:
    """The first candidate that removes a tension and brings none that is not there now, else the first that removes it."""
    second_best: Mend | None = None
    for changes in RULE[kind].candidates(state):
        then = after(state, changes)
        # Most candidates fail at their own tension; the others are looked for only where it is gone.
        if any(found.kind == kind for found in RULE[kind].find(then)):
            continue
        mend = Mend(changes, then, tuple(found for found in find(then) if found.kind not in kinds_now))
        if not mend.brings:
            return mend
        second_best = second_best or mend
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
    """Every tension of a state with its mend, and which mends pull against each other."""
    found = find(state)
    kinds = frozenset(one.kind for one in found)
    mends = [find_mend(state, one.kind, kinds) for one in found]
    return tuple(
        Tension(one, mend, tuple(other for other in mends if mend and other and _pull_apart(mend, other)))
        for one, mend in zip(found, mends, strict=True)
    )
