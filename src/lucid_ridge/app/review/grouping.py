"""Pictures that fit no sequence: put together as they were taken, and made takes of their own by a press."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from uuid import UUID, uuid5
from zoneinfo import ZoneInfo

from sqlalchemy import select
from sqlalchemy.orm import Session

from lucid_ridge.app.editing import claimed, database, find, owner
from lucid_ridge.app.field.plans import PLAN
from lucid_ridge.app.field.schemas import FieldPlan
from lucid_ridge.app.field.tables import SequenceRow
from lucid_ridge.app.logbook import operations as logbook
from lucid_ridge.app.logbook.lists import local_text
from lucid_ridge.app.logbook.schemas import FrameTaken, TakeNew
from lucid_ridge.app.pictures.documents import FACTS
from lucid_ridge.app.pictures.tables import PictureRow
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.review.belonging import give, loose, setting_of
from lucid_ridge.app.review.schemas import GroupTakenOn, LooseGroup, TakenOn
from lucid_ridge.core.light.terrain import apart_m
from lucid_ridge.core.review.grouping import Group, grouped
from lucid_ridge.reports.review.as_taken import as_taken, group_text

_NEAR_M = 3000.0
"""A picture that tells where it was taken belongs to the nearest place, if that is no farther."""


def groups_of(session: Session, rows: Sequence[PictureRow]) -> list[LooseGroup]:
    """Loose pictures as they were taken together."""
    places = session.execute(
        select(PlaceRow.id, PlaceRow.latitude_deg, PlaceRow.longitude_deg).where(
            PlaceRow.owner_id == owner(), PlaceRow.deleted_at.is_(None)
        )
    ).all()
    told = []
    for group in grouped([setting_of(row) for row in rows]):
        members = [rows[k] for k in group.pictures]
        began = members[0].taken_at.astimezone(UTC)
        told.append(
            LooseGroup(
                when_text=began.strftime("%-d %B %Y, %H:%M"),
                told=group_text(group),
                pictures=[row.id for row in members],
                place_id=_near(members, [(i, north, east) for i, north, east in places]),
            )
        )
    return told


def _near(rows: Sequence[PictureRow], places: Sequence[tuple[UUID, float, float]]) -> UUID | None:
    """The place that pictures say they were taken at, or near."""
    for row in rows:
        facts = FACTS.read(row.document)
        if facts.latitude_deg is None or facts.longitude_deg is None:
            continue
        far = {i: apart_m(facts.latitude_deg, facts.longitude_deg, north, east) for i, north, east in places}
        nearest = min(far, key=lambda i: far[i], default=None)
        return nearest if nearest is not None and far[nearest] <= _NEAR_M else None
    return None


def _moment(row: PictureRow, zone: ZoneInfo, clock_off_s: float | None) -> datetime:
    """When a picture was taken, by the clock's error where that is known, else by the clock as one at the place."""
    if clock_off_s is not None:
        return row.taken_at - timedelta(seconds=clock_off_s)
    told = FACTS.read(row.document).taken
    if told is not None and told.tzinfo is not None:
        return told
    return row.taken_at.astimezone(UTC).replace(tzinfo=zone)


def taken_on(body: GroupTakenOn) -> TakenOn:
    """Make a take of pictures that nobody planned; the same pictures again give the take that was made of them.

    Raises
    ------
    NotFound, Refused
        If there is no such place or picture, or some of them belong to a take already.

    """
    ids = sorted(set(body.pictures))
    sequence_id = uuid5(body.place_id, f"{body.name} {' '.join(map(str, ids))}")
    with database().transaction() as session:
        place = find(session, PlaceRow, body.place_id, "place")
        rows = sorted(loose(session, ids), key=lambda row: (row.taken_at, row.id))
        settings = [setting_of(row) for row in rows]
        # They are put together as somebody has put them together, however far apart they are.
        parts = grouped(settings)
        group = Group(tuple(range(len(rows))), max(one.slices for one in parts), max(one.exposures for one in parts))
        zone = ZoneInfo(place.time_zone)
        moments = [_moment(row, zone, body.clock_off_s) for row in rows]
        sequence = as_taken(settings, group, body.units)
        if claimed(session, SequenceRow, sequence_id) is None:
            plan = FieldPlan(
                sequence=sequence,
                place_name=place.name,
                composition_name=body.name,
                time_zone=place.time_zone,
                moment_utc=min(moments).astimezone(UTC),
                moment_text=local_text(min(moments), place.time_zone),
                light_text="",
                next_event_text="",
                next_event_utc=None,
                cautions=[],
                unplanned=True,
            )
            session.add(_sequence_row(sequence_id, place, plan))
        frames = [
            FrameTaken(number=k, status="done", started_at=at, exposed_s=one.shutter_s or 0.0)
            for k, (one, at) in enumerate(zip(settings, moments, strict=True), start=1)
        ]
    take_id = uuid5(sequence_id, "take")
    logbook.record(
        take_id,
        TakeNew(
            sequence_id=sequence_id,
            # Some may tell a zone and others none: the first by the clock need not have come first.
            started_at=min(moments),
            ended_at=max(one.started_at + timedelta(seconds=one.exposed_s) for one in frames),
            frames=frames,
        ),
    )
    give(take_id, sequence_id, {row.id: k for k, row in enumerate(rows, start=1)}, made=True)
    return TakenOn(take_id=take_id)


def _sequence_row(sequence_id: UUID, place: PlaceRow, plan: FieldPlan) -> SequenceRow:
    first = plan.sequence.frames[0]
    return SequenceRow(
        id=sequence_id,
        owner_id=owner(),
        composition_id=None,
        composition_name=plan.composition_name,
        place_id=place.id,
        place_name=place.name,
        time_zone=place.time_zone,
        frame_count=len(plan.sequence.frames),
        aperture_n=first.aperture.value or 0.0,
        shutter_s=first.exposure_s,
        iso=first.iso.value or 0.0,
        filters=first.filters,
        document=PLAN.write(plan),
    )
