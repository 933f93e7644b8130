"""An outing to take along: its sequences at their planned times, and the plans for running late."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta
from uuid import UUID

from lucid_ridge.app.compositions.tables import CompositionRow
from lucid_ridge.app.documents import UnreadableError
from lucid_ridge.app.editing import database
from lucid_ridge.app.field.operations import keep_once
from lucid_ridge.app.outings.assembling import Shelf, assemble, id_of, shelf
from lucid_ridge.app.outings.files import written
from lucid_ridge.app.outings.operations import checked, one, plan_of, planned
from lucid_ridge.app.outings.schemas import AlongOut, AlongSequence, LateBody, LateOut, Later, OutingOut
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.problems import Refused
from lucid_ridge.app.terrains.operations import relief_key, terrain_of
from lucid_ridge.app.turns import turn
from lucid_ridge.core.model.outing import DoneVisit, OutingVisit
from lucid_ridge.core.model.scene import Units
from lucid_ridge.core.outing.day_times import minute_of
from lucid_ridge.core.records import SceneError
from lucid_ridge.core.state.state import State
from lucid_ridge.formats.relief_tiles import tiles_over
from lucid_ridge.reports.evaluate import changed_state
from lucid_ridge.reports.outing.plan import PlanShown, plan_shown

_ABOUT_DEG = 0.004
_MOST_TILES = 240
LATE_MIN = (0, 5, 10, 15, 20, 30, 45, 60, 90)
"""Minutes for which an outing is planned anew before leaving; between them the next one holds."""


def along(outing_id: UUID, units: Units) -> AlongOut:
    """An outing with its plan, and a sequence for each visit at the time that the plan has for it."""
    saved = one(outing_id)
    with turn():
        plan = plan_of(checked(saved.outing), units)
        sequences = _sequences(saved, plan.plan, units)
    note = written("note.txt", str(outing_id), saved.name, saved.outing, plan.plan, plan.readiness)
    return AlongOut(outing=saved, plan=plan, sequences=sequences, note=note.decode(), ground=_ground(plan.plan))


def _ground(plan: PlanShown) -> list[str]:
    """Addresses of the pictures of the ground about an outing, where there is a relief of it."""
    points = [spot.position for spot in plan.spots]
    for day in plan.days:
        ways = [visit.way_there for visit in day.visits] + ([day.way_back] if day.way_back else [])
        points += [visit.position for visit in day.visits]
        points += [point for way in ways for line in way.lines for point in line]
    key = relief_key()
    if key is None or not points:
        return []
    south, north = min(p[0] for p in points) - _ABOUT_DEG, max(p[0] for p in points) + _ABOUT_DEG
    west, east = min(p[1] for p in points) - _ABOUT_DEG, max(p[1] for p in points) + _ABOUT_DEG
    return [
        f"/api/terrains/relief/{z}/{x}/{y}?v={key}" for z, x, y in tiles_over(west, south, east, north, _MOST_TILES)
    ]


def _sequences(saved: OutingOut, plan: PlanShown, units: Units) -> list[AlongSequence]:
    first = {v.visit_id: v.first.at_utc for day in plan.days for v in day.visits}
    with database().transaction() as session:
        kept = shelf(session, {i for v in saved.outing.visits if (i := id_of(v)) is not None})
    made = [_at_its_time(kept, visit, first.get(visit.id), units) for visit in saved.outing.visits]
    told = []
    with database().transaction() as session:
        for visit, (name, found, lacking) in zip(saved.outing.visits, made, strict=True):
            sequence = None if found is None else keep_once(session, *found)
            told.append(AlongSequence(visit_id=visit.id, name=name, sequence=sequence, lacking=lacking))
    return told


_Found = tuple[CompositionRow, PlaceRow, State]


def _at_its_time(kept: Shelf, visit: OutingVisit, at: datetime | None, units: Units) -> tuple[str, _Found | None, str]:
    """The composition of a visit at an instant, its own where there is none: its name, its state, or what is lacking."""
    composition_id = id_of(visit)
    pair = None if composition_id is None else kept.pairs.get(composition_id)
    if composition_id is None or pair is None:
        return "", None, "Its composition is no longer there."
    row, place = pair
    try:
        scene = kept.state(composition_id).scene
        moment = at or scene.composition.moment_utc
        scene = replace(scene, units=units, composition=replace(scene.composition, moment_utc=moment))
        return row.name, (row, place, changed_state(scene, terrain=terrain_of(scene.place))), ""
    except (SceneError, UnreadableError, ValueError) as problem:
        return row.name, None, str(problem)


def late(sent: LateBody) -> LateOut:
    """Plans for leaving one picture later and later, until nothing of the outing is left.

    Raises
    ------
    SceneError, Refused
        If the outing contradicts itself; if the picture is not in its plan.

    """
    outing = checked(sent.outing)
    with turn():
        found = assemble(outing)
        put, made, reasons = planned(found, sent.now)
        shown = plan_shown(put, made, sent.units, None if sent.now is None else minute_of(sent.now), reasons)
        leaves_at = _leaves(shown, sent.visit_id)
        if leaves_at is None:
            raise Refused("/visit_id", "The plan does not hold this picture.")
        told = []
        for minutes in LATE_MIN:
            at = leaves_at + timedelta(minutes=minutes)
            done = (
                outing.done if sent.visit_id is None else (*outing.done, DoneVisit(visit_id=sent.visit_id, left_at=at))
            )
            later, plan, why = planned(replace(found, outing=replace(found.outing, done=done)), at)
            told.append(
                Later(minutes=minutes, leaves_at=at, plan=plan_shown(later, plan, sent.units, minute_of(at), why))
            )
            if not any(day.visits for day in told[-1].plan.days):
                break
    return LateOut(visit_id=sent.visit_id, later=told)


def _leaves(shown: PlanShown, visit_id: str | None) -> datetime | None:
    """When one leaves a picture, or sets out."""
    if visit_id is None:
        return next((day.leave.at_utc for day in shown.days if day.leave is not None), None)
    return next((v.leave_by.at_utc for day in shown.days for v in day.visits if v.visit_id == visit_id), None)
