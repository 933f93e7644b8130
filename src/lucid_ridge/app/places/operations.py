"""What can be done with places."""

from __future__ import annotations

from functools import lru_cache
from uuid import UUID, uuid4

from sqlalchemy import func, select
from sqlalchemy.orm import Session
from timezonefinder import TimezoneFinder

from lucid_ridge.app.compositions.tables import CompositionRow
from lucid_ridge.app.editing import check_new_id, check_version, copy_name, database, find, owner
from lucid_ridge.app.places.schemas import LocateBody, LocatedOut, PlaceChange, PlaceNew, PlaceOut, PlacesOut
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.problems import Refused
from lucid_ridge.core.records import SceneError
from lucid_ridge.core.technique.check import check_place
from lucid_ridge.core.technique.scene import Place
from lucid_ridge.formats.coordinates import PositionError, read_position


def core_place(row: PlaceRow) -> Place:
    """The core's record of a saved place."""
    return Place(
        name=row.name,
        latitude_deg=row.latitude_deg,
        longitude_deg=row.longitude_deg,
        elevation_m=row.elevation_m,
        time_zone=row.time_zone,
    )


def present(row: PlaceRow, compositions: int = 0) -> PlaceOut:
    """The place as the API shows it."""
    return PlaceOut(
        id=row.id,
        version=row.version,
        updated_at=row.updated_at,
        place=core_place(row),
        access=row.access,
        hazards=row.hazards,
        compositions=compositions,
    )


@lru_cache(maxsize=1)
def _zones() -> TimezoneFinder:
    """The boundaries of time zones, which come with the package; read when first asked for."""
    return TimezoneFinder()


def locate(sent: LocateBody) -> LocatedOut:
    """Read a position and find its time zone; at sea the zone of its longitude."""
    try:
        found = read_position(sent.text)
    except PositionError as error:
        raise Refused("/text", str(error)) from None
    zone = _zones().timezone_at(lat=found.latitude_deg, lng=found.longitude_deg) or "UTC"
    return LocatedOut(latitude_deg=found.latitude_deg, longitude_deg=found.longitude_deg, time_zone=zone)


def _fill(row: PlaceRow, sent: PlaceNew | PlaceChange) -> None:
    problems = check_place(sent.place, "/place")
    if problems:
        raise SceneError(problems)
    place = sent.place
    row.name, row.time_zone = place.name, place.time_zone
    row.latitude_deg, row.longitude_deg, row.elevation_m = place.latitude_deg, place.longitude_deg, place.elevation_m
    row.access, row.hazards = sent.access, sent.hazards


def _count(session: Session, place_id: UUID) -> int:
    counted = session.scalar(
        select(func.count()).where(CompositionRow.place_id == place_id, CompositionRow.deleted_at.is_(None))
    )
    return counted or 0


def all_places() -> PlacesOut:
    """Every place, with how many compositions it has."""
    counted = (
        select(CompositionRow.place_id, func.count().label("n"))
        .where(CompositionRow.deleted_at.is_(None))
        .group_by(CompositionRow.place_id)
        .subquery()
    )
    with database().transaction() as session:
        rows = session.execute(
            select(PlaceRow, func.coalesce(counted.c.n, 0))
            .outerjoin(counted, counted.c.place_id == PlaceRow.id)
            .where(PlaceRow.owner_id == owner(), PlaceRow.deleted_at.is_(None))
            .order_by(PlaceRow.name, PlaceRow.id)
        )
        return PlacesOut(places=[present(row, n) for row, n in rows])


def add(new: PlaceNew) -> PlaceOut:
    """Add a place."""
    with database().transaction() as session:
        check_new_id(session, PlaceRow, new.id)
        row = PlaceRow(id=new.id or uuid4(), owner_id=owner())
        _fill(row, new)
        session.add(row)
        session.flush()
        return present(row)


def change(place_id: UUID, changed: PlaceChange) -> PlaceOut:
    """Save a changed place over the version that was changed."""
    with database().transaction() as session:
        row = find(session, PlaceRow, place_id, "place")
        check_version(row, changed.version, "place", present)
        _fill(row, changed)
        row.version += 1
        session.flush()
        return present(row, _count(session, place_id))


def duplicate(place_id: UUID) -> PlaceOut:
    """Add a copy of a place, without its compositions."""
    with database().transaction() as session:
        row = find(session, PlaceRow, place_id, "place")
        columns = ("latitude_deg", "longitude_deg", "elevation_m", "time_zone", "access", "hazards")
        copied = PlaceRow(
            id=uuid4(), owner_id=owner(), name=copy_name(row.name), **{c: getattr(row, c) for c in columns}
        )
        session.add(copied)
        session.flush()
        return present(copied)
