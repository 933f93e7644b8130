"""What one's latest takes say of each thing that can be learned."""

from __future__ import annotations

from itertools import groupby

from sqlalchemy import Float, select
from sqlalchemy.orm import Session

from lucid_ridge.app.field.tables import SequenceRow
from lucid_ridge.app.logbook.filters import mine
from lucid_ridge.app.logbook.tables import BY_HAND, Take
from lucid_ridge.app.review.tables import LookedRow
from lucid_ridge.core.learning.back_off import LearnedBackOff, learned_back_off
from lucid_ridge.core.learning.charge import LearnedCharge, learned_charge
from lucid_ridge.core.learning.holding import LearnedHold, learned_hold
from lucid_ridge.core.learning.pace import LearnedPace, learned_pace
from lucid_ridge.core.model.outing import SET_UP_MIN
from lucid_ridge.core.motion.travel import WaterLook

# Older takes tell little of how one photographs now.
_LATEST = 400
_LATEST_BY_HAND = 150
_LATEST_PACED = 100
_LEAST_PACED_S = 10.0
"""What is over sooner tells of the hand at the button, not of a pace."""
_LEFT_OPEN = 6.0
_LATEST_WARM = 150
_LATEST_CHARGED = 1000
_LEAST_CHARGE = 0.02
"""A day of a few frames says nothing of a battery."""


def rated(session: Session, look: WaterLook) -> tuple[list[float], list[float]]:
    """Shutter times and ratings of the latest takes with a look of the water, without those in which something went wrong."""
    rows = session.execute(
        select(Take.shutter_s, Take.rating)
        .where(*mine(), Take.water_look == look, Take.rating.is_not(None), Take.shutter_s > 0, Take.faults == [])
        .order_by(Take.started_at.desc(), Take.id)
        .limit(_LATEST)
    ).all()
    return [t for t, _ in rows if t is not None], [float(r) for _, r in rows if r is not None]


def hold(session: Session) -> LearnedHold | None:
    """How still one holds: of the latest takes by hand, how much over the rule's time they were, and whether they were shaken."""
    rows = session.execute(
        select(Take.over_stops, Take.faults)
        .where(*mine(), BY_HAND)
        .order_by(Take.started_at.desc(), Take.id)
        .limit(_LATEST_BY_HAND)
    ).all()
    return learned_hold([stops for stops, _ in rows if stops is not None], ["shake" in faults for _, faults in rows])


def pace(session: Session) -> LearnedPace | None:
    """One's pace: of the latest takes that were carried out to the end, planned and real times."""
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
    return _paced([(whole or 0.0, (ended - began).total_seconds()) for whole, began, ended in rows])


def set_up(session: Session) -> LearnedPace | None:
    """How long one sets up, against the usual: of the latest takes that say when one arrived."""
    rows = session.execute(
        select(Take.arrived_at, Take.started_at)
        .where(*mine(), Take.arrived_at.is_not(None))
        .order_by(Take.started_at.desc(), Take.id)
        .limit(_LATEST_PACED)
    )
    usual_s = SET_UP_MIN * 60.0
    return _paced([(usual_s, (began - there).total_seconds()) for there, began in rows if there is not None])


def _paced(times_s: list[tuple[float, float]]) -> LearnedPace | None:
    """What planned and real times say; a screen that was left open, or pressed in passing, does not count."""
    real = [
        (planned, took)
        for planned, took in times_s
        if planned >= _LEAST_PACED_S and 1 / _LEFT_OPEN < took / planned < _LEFT_OPEN
    ]
    return learned_pace(*zip(*real, strict=True)) if real else None


def back_off(session: Session) -> LearnedBackOff | None:
    """How far to back off for saturated colours: of takes with such, the room they had, and whether one channel was full.

    A take tells where somebody has looked at its pictures, or noted a clipped channel.
    """
    rows = session.execute(
        select(Take.warm_room_stops, Take.faults, LookedRow.document["findings"])
        .outerjoin(LookedRow, LookedRow.take_id == Take.id)
        .where(*mine(), Take.warm_room_stops.is_not(None))
        .order_by(Take.started_at.desc(), Take.id)
        .limit(_LATEST_WARM)
    )
    room, clipped = [], []
    for stops, faults, findings in rows:
        noted = "clipped channel" in faults
        if stops is not None and (noted or findings is not None):
            room.append(stops)
            clipped.append(noted or any(one["kind"] == "clipped" and one["channel"] for one in findings))
    return learned_back_off(room, clipped)


def charge(session: Session) -> LearnedCharge | None:
    """How long a charge lasts: each day's first battery is taken to be full, and so is the next when one ran flat.

    Days with several bodies are left out: nobody knows whose battery it was.
    """
    rows = session.execute(
        select(Take.day, Take.body, Take.charge, Take.faults)
        .where(*mine(), Take.charge.is_not(None), Take.day.is_not(None))
        .order_by(Take.started_at.desc(), Take.id)
        .limit(_LATEST_CHARGED)
    ).all()
    used, flat = [], []
    for _, takes in groupby(reversed(rows), key=lambda row: row[0]):
        day = list(takes)
        if len({body for _, body, _, _ in day if body is not None}) > 1:
            continue
        so_far = 0.0
        for _, _, took, faults in day:
            so_far += took or 0.0
            if "flat battery" in faults and so_far > 0:
                used.append(so_far)
                flat.append(True)
                so_far = 0.0
        if so_far >= _LEAST_CHARGE:
            used.append(so_far)
            flat.append(False)
    return learned_charge(used, flat)
