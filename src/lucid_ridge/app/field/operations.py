"""What can be done with sequences: compute one for the field, and read it."""

from __future__ import annotations

import json
from dataclasses import replace
from uuid import UUID, uuid5
from zoneinfo import ZoneInfo

from sqlalchemy import select
from sqlalchemy.orm import Session

from lucid_ridge.app.compositions.tables import CompositionRow
from lucid_ridge.app.editing import claimed, database, find, owner
from lucid_ridge.app.field.plans import PLAN
from lucid_ridge.app.field.schemas import FieldPlan, SequenceNew, SequenceOut
from lucid_ridge.app.field.tables import SequenceRow
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.problems import NotFound, Refused
from lucid_ridge.app.terrains.operations import terrain_of
from lucid_ridge.app.turns import turn
from lucid_ridge.core.model.scene import Units
from lucid_ridge.core.state.close_up import near
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.close_up.lights import lights_report
from lucid_ridge.reports.evaluate import changed_state
from lucid_ridge.reports.exposure.freshness import freshness
from lucid_ridge.reports.frame.words import KEEP_BACK
from lucid_ridge.reports.light.report import light_report
from lucid_ridge.reports.light.tide_and_weather import TideRow
from lucid_ridge.reports.on_the_spot.table import SpotTable, spot_table
from lucid_ridge.reports.sequence.build import whole_sequence


def present(row: SequenceRow) -> SequenceOut:
    """The sequence as the API shows it."""
    return SequenceOut(
        id=row.id,
        composition_id=row.composition_id,
        created_at=row.created_at,
        plan=PLAN.read(row.document),
    )


def _cautions(state: State, hazards: str) -> list[str]:
    found = [hazards] if hazards else []
    found += [f"Keep behind the {line.name}. {KEEP_BACK}" for line in state.scene.composition.keep_out_lines]
    if state.scene.composition.close_up.lights:
        found += lights_report(state, near(state)).cautions
    if state.sun_altitude_deg < 0:
        found.append("It is dark, or will be: know the way back, and tell somebody.")
    if state.exposure.settings.focal_length_mm >= 100 and state.sun_altitude_deg > -1:
        found.append("Never look at the sun through the lens, and do not point a long lens at it.")
    tide = _tide_of(state)
    if tide is not None:
        going = "rising" if tide.rising else "falling"
        found.append(f"The tide is {going}, {tide.turn_text}: keep your way out, and follow the local tide table.")
    if any(e.motion == "water" for e in state.scene.composition.elements):
        found.append("Wet stone is slippery. Watch the water, not only the finder.")
    return found


def _tide_of(state: State) -> TideRow | None:
    """The tide at the moment, where the place has one."""
    return light_report(state).ribbon.tide


def _plan(state: State, place_name: str, composition_name: str, hazards: str) -> FieldPlan:
    light = light_report(state)
    zone = ZoneInfo(state.scene.place.time_zone)
    moment = state.scene.composition.moment_utc
    following = next((e for e in light.ribbon.events if e.at_utc > moment), None)
    return FieldPlan(
        sequence=whole_sequence(state),
        place_name=place_name,
        composition_name=composition_name,
        time_zone=state.scene.place.time_zone,
        moment_utc=moment,
        moment_text=moment.astimezone(zone).strftime("%-d %B %Y, %H:%M"),
        light_text=f"{light.side_text}, sun {light.altitude.text}",
        reading_text=_reading_text(state),
        next_event_text=f"{following.text} {following.time_text}" if following else "",
        next_event_utc=following.at_utc if following else None,
        cautions=_cautions(state, hazards),
        scene=state.scene,
    )


def _reading_text(state: State) -> str:
    fresh = freshness(state)
    if fresh is None:
        return "none: predicted. Meter first"
    return f"{fresh.read_text}, " + ("stale: meter again" if fresh.stale else fresh.until_text)


def kept_row(sequence_id: UUID, composition: CompositionRow, place: PlaceRow, state: State) -> SequenceRow:
    """A sequence to be kept: the plan of a state for a composition at a place."""
    plan = _plan(state, place.name, composition.name, place.hazards)
    settings, first = state.exposure.settings, plan.sequence.frames[0]
    return SequenceRow(
        id=sequence_id,
        owner_id=owner(),
        composition_id=composition.id,
        composition_name=composition.name,
        place_id=place.id,
        place_name=place.name,
        time_zone=plan.time_zone,
        frame_count=len(plan.sequence.frames),
        aperture_n=settings.aperture_n,
        shutter_s=first.exposure_s,
        iso=first.iso.value or settings.iso,
        filters=first.filters,
        document=PLAN.write(plan),
    )


def keep_once(session: Session, composition: CompositionRow, place: PlaceRow, state: State) -> SequenceOut:
    """The plan of a state, kept as one sequence however often it is asked for: what is the same has the same id."""
    fresh = kept_row(composition.id, composition, place, state)
    told = json.dumps(fresh.document, sort_keys=True)
    fresh.id = uuid5(composition.id, f"{owner()}{told}")
    kept = claimed(session, SequenceRow, fresh.id)
    if kept is not None:
        return present(kept)
    session.add(fresh)
    session.flush()
    return present(fresh)


def make(new: SequenceNew) -> tuple[SequenceOut, bool]:
    """Compute and keep a sequence; whether it is new. The same id again gives the one kept."""
    with database().transaction() as session:
        kept = claimed(session, SequenceRow, new.id)
        if kept is not None:
            if kept.owner_id != owner():
                raise Refused("/id", "A record with this id exists already; use another id.")
            return present(kept), False
        composition = find(session, CompositionRow, new.composition_id, "composition")
        place = find(session, PlaceRow, composition.place_id, "place")
        state = changed_state(new.scene, terrain=terrain_of(new.scene.place))
        row = kept_row(new.id, composition, place, state)
        session.add(row)
        session.flush()
        return present(row), True


def one(sequence_id: UUID) -> SequenceOut:
    """One sequence."""
    with database().transaction() as session:
        row = session.scalars(
            select(SequenceRow).where(SequenceRow.id == sequence_id, SequenceRow.owner_id == owner())
        ).one_or_none()
        if row is None:
            raise NotFound("sequence")
        return present(row)


def table(sequence_id: UUID, units: Units) -> SpotTable:
    """The spot table of a sequence.

    Raises
    ------
    Refused
        If the sequence is of an earlier version, which kept nothing to compute from.

    """
    kept = one(sequence_id).plan
    if kept.scene is None:
        raise Refused(
            "/id", "This sequence was made by an earlier version. Take it to the field anew for a spot table."
        )
    scene = replace(kept.scene, units=units)
    with turn():
        return spot_table(changed_state(scene, terrain=terrain_of(scene.place)), kept.composition_name)
