"""What is worked out of takes, so that lists and sums read it from columns: the day, the season, where the sun stood, what it was.

It follows from the take and its sequence. Takes that came without it, by an archive or from an earlier version, get it in the
background.
"""

from __future__ import annotations

import math
from datetime import datetime
from typing import Any
from uuid import UUID
from zoneinfo import ZoneInfo

from pydantic import TypeAdapter
from sqlalchemy import ColumnElement, func, select, update

from lucid_ridge.app.documents import DocumentKind, UnreadableError
from lucid_ridge.app.editing import database
from lucid_ridge.app.field.plans import PLAN
from lucid_ridge.app.field.schemas import FieldPlan
from lucid_ridge.app.field.tables import SequenceRow
from lucid_ridge.app.logbook.schemas import TakenFrames
from lucid_ridge.app.logbook.tables import Take
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.terrains.operations import terrain_of
from lucid_ridge.core.light.ephemeris import FIRST_UNIX, LAST_UNIX, sun_place
from lucid_ridge.core.model.kit import Body
from lucid_ridge.core.model.outing import Packing
from lucid_ridge.core.outing.readiness import SPARE, charges
from lucid_ridge.core.state.state import build_state
from lucid_ridge.reports.evaluate import changed_state
from lucid_ridge.reports.logbook.kinds import kind_of, number_of

TAKEN: DocumentKind[TakenFrames] = DocumentKind("take", TypeAdapter(TakenFrames))
AT_ONCE = 500
_SEASONS = ("winter", "spring", "summer", "autumn")


def season_of(month: int, latitude_deg: float) -> str:
    """The season of a month, as the weather services count it: from the first of December, March, June and September."""
    north = (month % 12) // 3
    return _SEASONS[north if latitude_deg >= 0 else (north + 2) % 4]


def way_of(plan: FieldPlan) -> str:
    """How a sequence is put together, by what there is more than one of."""
    sequence = plan.sequence
    several = {
        "panels": sequence.panel_count > 1,
        "stack": sequence.slice_count > 1,
        "bracket": sequence.bracket_count > 1,
        "layers": sequence.layer_count > 0,
    }
    return next((name for name, so in several.items() if so), "one frame")


def worked_out(
    started_at: datetime, time_zone: str, plan: FieldPlan | None, latitude_deg: float, longitude_deg: float
) -> dict[str, Any]:
    """What is kept beside a take, by column.

    ``sun_height_deg`` is the sun's altitude when it began; ``sun_off_deg`` how far from the way the camera looks the sun stood,
    0 straight ahead and 180 behind. None where nobody knows which way it looked, or beyond the years of the ephemeris.
    Without a plan that can be read there is just the day, the season and the sun's height.
    """
    local = started_at.astimezone(ZoneInfo(time_zone))
    scene = None if plan is None else plan.scene
    made: dict[str, Any] = {
        "day": local.date(),
        "season": season_of(local.month, latitude_deg),
        "way": None if plan is None else way_of(plan),
        "water_look": None,
        "support": None if scene is None else scene.kit.support.kind,
        "sun_height_deg": None,
        "sun_off_deg": None,
    }
    if FIRST_UNIX <= started_at.timestamp() <= LAST_UNIX:
        sun = sun_place(started_at.timestamp(), latitude_deg, longitude_deg)
        made["sun_height_deg"] = float(sun.altitude_deg)
        if scene is not None:
            off = float(sun.azimuth_deg) - scene.composition.azimuth_deg
            made["sun_off_deg"] = abs((off + 180) % 360 - 180)
    if scene is not None and scene.composition.wants.water_look != "any":
        made["water_look"] = scene.composition.wants.water_look
    return made


def over_stops(plan: FieldPlan | None, shutter_s: float) -> float | None:
    """How much longer than the rule's limit a sequence by hand is open, stops; None on a support, and where the plan does not say."""
    scene = None if plan is None else plan.scene
    if scene is None or scene.kit.support.kind != "hand" or shutter_s <= 0:
        return None
    limit = build_state(scene).hand_held_limit_s / scene.composition.wants.hand_held_factor
    return math.log2(shutter_s / limit) if limit > 0 else None


def warm_room_stops(plan: FieldPlan | None) -> float | None:
    """How far below clipping the brightest saturated colour that must hold detail was to lie in the darkest frame, by luminance."""
    scene = None if plan is None else plan.scene
    if scene is None:
        return None
    warm = {e.id for e in scene.composition.elements if e.warm and e.holds_detail}
    if not warm:
        return None
    state = changed_state(scene, terrain=terrain_of(scene.place))
    stops = [one for element, one in state.range.element_stops if element in warm]
    holds = min(scene.kit.body.headroom_stops, state.range.usable) - min(state.offsets)
    return holds - max(stops) if stops else None


def charge_of(take: Take, body: Body | None) -> float | None:
    """How much of a battery's charge a take used by the usual figures, what is tried and looked at besides counted in.

    None where the frames cannot be read. Of a body that nobody knows the usual number of frames is taken.
    """
    try:
        frames = [frame for frame in TAKEN.read(take.document).frames if frame.status == "done"]
    except UnreadableError:
        return None
    per_charge = Body.frames_per_charge if body is None else body.frames_per_charge
    usual_c = Packing().coldest_c
    return SPARE * charges(len(frames), sum(frame.exposed_s for frame in frames), per_charge, usual_c)


def words_of(take: Take, place_name: str) -> ColumnElement[Any]:
    """The words by which a take is found: of its name, its place, its faults and its note."""
    return func.to_tsvector("simple", " ".join([take.name, place_name, *take.faults, take.note]))


def facts_of(take: Take, sequence: SequenceRow, plan: FieldPlan | None, place: PlaceRow) -> dict[str, Any]:
    """All that is worked out of a take, by column."""
    found = worked_out(take.started_at, sequence.time_zone, plan, place.latitude_deg, place.longitude_deg)
    shutter_s = sequence.shutter_s or None
    body = None if plan is None or plan.scene is None else plan.scene.kit.body
    kind = kind_of(
        found["day"].year,
        sun_off_deg=found["sun_off_deg"],
        sun_height_deg=found["sun_height_deg"],
        water_look=found["water_look"],
        shutter_s=shutter_s,
        way=found["way"],
    )
    return found | {
        "words": words_of(take, sequence.place_name),
        "shutter_s": shutter_s,
        "over_stops": over_stops(plan, sequence.shutter_s),
        "kind": number_of(kind),
        "body": None if body is None else body.name,
        "charge": charge_of(take, body),
        "warm_room_stops": warm_room_stops(plan),
    }


def _plan(sequence: SequenceRow) -> FieldPlan | None:
    try:
        return PLAN.read(sequence.document)
    except UnreadableError:
        return None


def work_out_left() -> int:
    """Work out what is missing of some takes; how many those were."""
    with database().transaction() as session:
        rows = session.execute(
            select(Take, PlaceRow)
            .join(PlaceRow, PlaceRow.id == Take.place_id)
            .where(Take.day.is_(None))
            .limit(AT_ONCE)
            .with_for_update(of=Take, skip_locked=True)
        ).all()
        plans: dict[UUID, FieldPlan | None] = {}
        for take, place in rows:
            sequence = session.get_one(SequenceRow, take.sequence_id)
            if sequence.id not in plans:
                plans[sequence.id] = _plan(sequence)
            facts = facts_of(take, sequence, plans[sequence.id], place)
            # Nobody has changed it: its age stays.
            session.execute(update(Take).where(Take.id == take.id).values(**facts, updated_at=Take.updated_at))
        return len(rows)
