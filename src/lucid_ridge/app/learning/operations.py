"""What can be done with what is learned."""

from __future__ import annotations

from dataclasses import replace

from sqlalchemy import Float, func, select
from sqlalchemy.orm import Session

from lucid_ridge.app.compositions import operations as compositions
from lucid_ridge.app.compositions.tables import CompositionRow
from lucid_ridge.app.documents import UnreadableError
from lucid_ridge.app.editing import database, owner
from lucid_ridge.app.field.tables import SequenceRow
from lucid_ridge.app.learning.schemas import LearnedOut, LearningOut
from lucid_ridge.app.logbook.filters import mine
from lucid_ridge.app.logbook.tables import BY_HAND, Take
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.preferences import operations as preferences
from lucid_ridge.app.preferences.schemas import Learned
from lucid_ridge.app.problems import Refused
from lucid_ridge.core.learning.holding import LearnedHold, learned_hold
from lucid_ridge.core.learning.looks import LearnedLook, learned_look
from lucid_ridge.core.learning.pace import LearnedPace, learned_pace
from lucid_ridge.core.model.scene import Composition
from lucid_ridge.core.motion.travel import LOOK_SECONDS, OwnLook, WaterLook
from lucid_ridge.reports.learning.proposals import (
    LOOK_NAMES,
    Proposal,
    hold_proposal,
    kept_look,
    look_proposal,
    pace_proposal,
)

_LATEST = 400
"""Older takes tell little of how one photographs now."""
_LATEST_BY_HAND = 150
_LATEST_PACED = 100
_LEAST_PACED_S = 10.0
"""What is over sooner tells of the hand at the button, not of a pace."""
_LEFT_OPEN = 6.0


def _rated(session: Session, look: WaterLook) -> tuple[list[float], list[float]]:
    """Shutter times and ratings of the latest takes with a look of the water, without those in which something went wrong."""
    rows = session.execute(
        select(Take.shutter_s, Take.rating)
        .where(*mine(), Take.water_look == look, Take.rating.is_not(None), Take.shutter_s > 0, Take.faults == [])
        .order_by(Take.started_at.desc(), Take.id)
        .limit(_LATEST)
    ).all()
    return [t for t, _ in rows if t is not None], [float(r) for _, r in rows if r is not None]


def _by_hand(session: Session) -> tuple[list[float], list[bool]]:
    """Of the latest takes by hand: how much longer than the rule they were open, stops; and whether they were shaken."""
    rows = session.execute(
        select(Take.over_stops, Take.faults)
        .where(*mine(), BY_HAND)
        .order_by(Take.started_at.desc(), Take.id)
        .limit(_LATEST_BY_HAND)
    ).all()
    return [stops for stops, _ in rows if stops is not None], ["shake" in faults for _, faults in rows]


def _learned_look(session: Session, look: WaterLook) -> tuple[LearnedLook | None, list[float], list[float]]:
    shutters, ratings = _rated(session, look)
    return learned_look(shutters, ratings, LOOK_SECONDS[look]), shutters, ratings


def _learned_hold(session: Session) -> LearnedHold | None:
    return learned_hold(*_by_hand(session))


def _learned_pace(session: Session) -> LearnedPace | None:
    """Of the latest takes that were carried out to the end, planned and real times."""
    latest = (
        select(Take.sequence_id, Take.started_at, Take.ended_at)
        .join(SequenceRow, SequenceRow.id == Take.sequence_id)
        .where(*mine(), SequenceRow.composition_id.is_not(None), Take.frames_done == SequenceRow.frame_count)
        .order_by(Take.started_at.desc(), Take.id)
        .limit(_LATEST_PACED)
        .subquery()
    )
    # Only of these the plans are opened: they are long.
    planned = SequenceRow.document[("sequence", "total", "value")].astext.cast(Float)
    rows = session.execute(
        select(planned, latest.c.started_at, latest.c.ended_at).join(latest, latest.c.sequence_id == SequenceRow.id)
    ).all()
    times = [(whole, (ended - began).total_seconds()) for whole, began, ended in rows if (whole or 0) >= _LEAST_PACED_S]
    # A screen that was left open is no take that went on.
    real = [(whole, took) for whole, took in times if 1 / _LEFT_OPEN < took / whole < _LEFT_OPEN]
    return learned_pace(*zip(*real, strict=True)) if real else None


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
    for one in (
        hold_proposal(_learned_hold(session), taken.hand_held_factor),
        pace_proposal(_learned_pace(session), taken.pace),
    ):
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


def _put_into_all(before: Learned, after: Learned) -> int:
    """Put what was taken on or given up into every composition; into how many. A factor that was set by hand stays."""
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
        by_hand = wants.hand_held_factor not in (1.0, before.hand_held_factor)
        factor = wants.hand_held_factor if by_hand else after.hand_held_factor or 1.0
        return replace(composition, wants=replace(wants, own_looks=tuple(after.own_looks), hand_held_factor=factor))

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


def _keep(made: Learned) -> LearnedOut:
    with database().transaction() as session:
        before = preferences.chosen(session).learned
        preferences.keep_learned(session, made)
    count = _put_into_all(before, made)
    with database().transaction() as session:
        return LearnedOut(
            **_shown(session).model_dump(),
            compositions=count,
            holds_text="In every outing that is planned."
            if made.pace != before.pace
            else f"In {count} composition{'s' * (count != 1)}, and in those to come.",
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
        if key == "hold":
            hold = _learned_hold(session)
            if hold is None:
                raise gone
            made = now.model_copy(update={"hand_held_factor": round(min(max(hold.factor, 0.1), 16), 2)})
        elif key == "pace":
            pace = _learned_pace(session)
            if pace is None:
                raise gone
            made = now.model_copy(update={"pace": round(min(max(pace.factor, 0.2), 10), 2)})
        else:
            look = next((one for one in LOOK_NAMES if key == f"look-{one}"), None)
            learned = None if look is None else _learned_look(session, look)[0]
            if look is None or learned is None:
                raise gone
            own = OwnLook(look=look, shortest_s=learned.shortest_s, longest_s=learned.longest_s, takes=learned.takes)
            others = [one for one in now.own_looks if one.look != look]
            made = now.model_copy(update={"own_looks": [*others, own]})
    return _keep(made)


def give_up(key: str) -> LearnedOut:
    """Go back to common practice."""
    with database().transaction() as session:
        now = preferences.chosen(session).learned
    if key == "hold":
        return _keep(now.model_copy(update={"hand_held_factor": None}))
    if key == "pace":
        return _keep(now.model_copy(update={"pace": None}))
    return _keep(now.model_copy(update={"own_looks": [one for one in now.own_looks if key != f"look-{one.look}"]}))
