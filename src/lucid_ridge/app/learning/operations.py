"""What can be done with what is learned."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from lucid_ridge.app.compositions import operations as compositions
from lucid_ridge.app.compositions.tables import CompositionRow
from lucid_ridge.app.documents import UnreadableError
from lucid_ridge.app.editing import database, owner
from lucid_ridge.app.learning import evidence
from lucid_ridge.app.learning.schemas import LearnedOut, LearningOut
from lucid_ridge.app.logbook.filters import mine
from lucid_ridge.app.logbook.tables import Take
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.preferences import operations as preferences
from lucid_ridge.app.preferences.schemas import Learned
from lucid_ridge.app.problems import Refused
from lucid_ridge.core.learning.looks import LearnedLook, learned_look
from lucid_ridge.core.model.outing import SET_UP_MIN
from lucid_ridge.core.model.scene import Composition, Wants
from lucid_ridge.core.motion.travel import LOOK_SECONDS, OwnLook, WaterLook
from lucid_ridge.reports.learning.proposals import (
    LOOK_NAMES,
    Proposal,
    back_off_proposal,
    charge_proposal,
    hold_proposal,
    kept_look,
    look_proposal,
    pace_proposal,
    set_up_proposal,
)

_Told = tuple[float | None, Proposal | None]


@dataclass(frozen=True)
class _Factor:
    """Something that is learned as one number: from what, and where it is kept, rounded and held within limits.

    ``learned`` gives the value to keep, and what the screen says of it beside the value that was taken on.
    """

    kept: Literal["hand_held_factor", "warm_back_off_stops", "pace", "set_up_min", "charge"]
    learned: Callable[[Session, float | None], _Told]
    lowest: float
    highest: float
    digits: int
    holds_text: str = ""


def _hold(session: Session, taken: float | None) -> _Told:
    made = evidence.hold(session)
    return None if made is None else made.factor, hold_proposal(made, taken)


def _back_off(session: Session, taken: float | None) -> _Told:
    made = evidence.back_off(session)
    return None if made is None else made.stops, back_off_proposal(made, taken)


def _pace(session: Session, taken: float | None) -> _Told:
    made = evidence.pace(session)
    return None if made is None else made.factor, pace_proposal(made, taken)


def _set_up(session: Session, taken: float | None) -> _Told:
    made = evidence.set_up(session)
    return None if made is None else made.factor * SET_UP_MIN, set_up_proposal(made, taken)


def _charge(session: Session, taken: float | None) -> _Told:
    made = evidence.charge(session)
    return None if made is None else made.factor, charge_proposal(made, taken)


_FACTORS = {
    "hold": _Factor("hand_held_factor", _hold, 0.1, 16, 2),
    "back-off": _Factor("warm_back_off_stops", _back_off, -1, 4, 2),
    "pace": _Factor("pace", _pace, 0.2, 10, 2, "In every outing that is planned."),
    "set-up": _Factor("set_up_min", _set_up, 1, 240, 0, "In what is added to outings from now on."),
    "charge": _Factor("charge", _charge, 0.05, 20, 2, "In the packing list of every outing."),
}


def _learned_look(session: Session, look: WaterLook) -> tuple[LearnedLook | None, list[float], list[float]]:
    shutters, ratings = evidence.rated(session, look)
    return learned_look(shutters, ratings, LOOK_SECONDS[look]), shutters, ratings


def _proposals(session: Session) -> list[Proposal]:
    taken = preferences.chosen(session).learned
    made: list[Proposal] = []
    for look in LOOK_NAMES:
        kept = next((one for one in taken.own_looks if one.look == look), None)
        learned, shutters, ratings = _learned_look(session, look)
        if learned is not None:
            made.append(look_proposal(look, learned, shutters, ratings, kept))
        elif kept is not None:
            made.append(kept_look(kept))
    for factor in _FACTORS.values():
        _, one = factor.learned(session, getattr(taken, factor.kept))
        if one is not None:
            made.append(one)
    return made


def _shown(session: Session) -> LearningOut:
    rated = session.scalar(select(func.count()).select_from(Take).where(*mine(), Take.rating.is_not(None)))
    return LearningOut(proposals=_proposals(session), rated=rated or 0)


def learning() -> LearningOut:
    """What is learned, proposed or taken on."""
    with database().transaction() as session:
        return _shown(session)


def _from_now_on(held: float, before: float | None, after: float | None, usual: float) -> float:
    """What a composition holds from now on; what was set by hand stays."""
    if held not in (usual, before):
        return held
    return usual if after is None else after


def _put_into_all(before: Learned, after: Learned) -> int:
    """Put what was taken on or given up into every composition; into how many. What was set by hand stays."""
    with database().transaction() as session:
        ids = session.scalars(
            select(CompositionRow.id)
            .join(PlaceRow, PlaceRow.id == CompositionRow.place_id)
            .where(
                CompositionRow.owner_id == owner(), CompositionRow.deleted_at.is_(None), PlaceRow.deleted_at.is_(None)
            )
        ).all()

    def changed(composition: Composition) -> Composition:
        wants = composition.wants
        hold = (wants.hand_held_factor, before.hand_held_factor, after.hand_held_factor, Wants.hand_held_factor)
        back_off = (
            wants.warm_back_off_stops,
            before.warm_back_off_stops,
            after.warm_back_off_stops,
            Wants.warm_back_off_stops,
        )
        made = replace(
            wants,
            own_looks=tuple(after.own_looks),
            hand_held_factor=_from_now_on(*hold),
            warm_back_off_stops=_from_now_on(*back_off),
        )
        return replace(composition, wants=made)

    count = 0
    for composition_id in ids:
        try:
            now = compositions.one(composition_id).composition
        except UnreadableError:
            # One that a later version wrote keeps no other from it.
            continue
        if changed(now) != now:
            compositions.change_now(composition_id, changed)
            count += 1
    return count


def _keep(made: Learned, holds_text: str = "") -> LearnedOut:
    """Keep it and put it where it holds: into every composition, unless it is told that it holds elsewhere."""
    with database().transaction() as session:
        before = preferences.chosen(session).learned
        preferences.keep_learned(session, made)
    count = 0 if holds_text else _put_into_all(before, made)
    with database().transaction() as session:
        return LearnedOut(
            **_shown(session).model_dump(),
            compositions=count,
            holds_text=holds_text or f"In {count} composition{'s' * (count != 1)}, and in those to come.",
        )


def take_on(key: str) -> LearnedOut:
    """Take something on that is proposed: it holds for every composition that there is, and for those to come.

    Raises
    ------
    Refused
        If it is not proposed (any more).

    """
    gone = Refused("/key", "This is not proposed any more. Look at what your takes say again.")
    with database().transaction() as session:
        now = preferences.chosen(session).learned
        factor = _FACTORS.get(key)
        if factor is not None:
            value, _ = factor.learned(session, None)
            if value is None:
                raise gone
            within = round(min(max(value, factor.lowest), factor.highest), factor.digits or None)
            made = now.model_copy(update={factor.kept: within})
        else:
            look = next((one for one in LOOK_NAMES if key == f"look-{one}"), None)
            learned = None if look is None else _learned_look(session, look)[0]
            if look is None or learned is None:
                raise gone
            own = OwnLook(look=look, shortest_s=learned.shortest_s, longest_s=learned.longest_s, takes=learned.takes)
            others = [one for one in now.own_looks if one.look != look]
            made = now.model_copy(update={"own_looks": [*others, own]})
    return _keep(made, factor.holds_text if factor else "")


def give_up(key: str) -> LearnedOut:
    """Go back to common practice."""
    with database().transaction() as session:
        now = preferences.chosen(session).learned
    factor = _FACTORS.get(key)
    if factor is not None:
        return _keep(now.model_copy(update={factor.kept: None}), factor.holds_text)
    return _keep(now.model_copy(update={"own_looks": [one for one in now.own_looks if key != f"look-{one.look}"]}))
