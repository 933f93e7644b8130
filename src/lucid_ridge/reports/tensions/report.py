"""The tensions of a composition as the screen and the field card tell them."""

from __future__ import annotations

from lucid_ridge.core.changes.kinds import Change
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.core.tensions import mends
from lucid_ridge.core.tensions.find import RULE
from lucid_ridge.core.tensions.rule import Severity, TensionKind
from lucid_ridge.reports.figures import Readout
from lucid_ridge.reports.sequence.dial import turned_words
from lucid_ridge.reports.tensions.mend_words import mend_label
from lucid_ridge.reports.tensions.words import WORDS, said


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
    figure: Readout
    element_id: str | None
    mend: Mend | None
    why_no_mend: str
    brings: tuple[str, ...] = ()
    against: tuple[str, ...] = ()


def _mend(state: State, mend: mends.Mend) -> Mend:
    clicks = turned_words(state.exposure.settings, mend.then.exposure.settings, state.scene.kit.body)
    return Mend(label=mend_label(state, mend.changes, mend.then), changes=mend.changes, clicks=clicks)


def _tension(state: State, one: mends.Tension) -> Tension:
    found, mend = one.found, one.mend
    words = said(state, found)
    return Tension(
        kind=found.kind,
        severity=RULE[found.kind].severity,
        title=words.title,
        sentence=words.sentence,
        figure=words.figure,
        element_id=found.element_id,
        mend=_mend(state, mend) if mend else None,
        why_no_mend="" if mend else WORDS[found.kind].no_mend,
        brings=tuple(said(mend.then, other).title for other in mend.brings) if mend else (),
        against=tuple(dict.fromkeys(mend_label(state, other.changes, other.then) for other in one.against)),
    )


def tensions(state: State) -> tuple[Tension, ...]:
    """Every tension of a state in words, with its mend, what that would bring, and which mends pull against each other."""
    return tuple(_tension(state, one) for one in mends.tensions(state))
