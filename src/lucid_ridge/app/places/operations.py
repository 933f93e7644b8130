"""What can be done with places."""

from __future__ import annotations

from functools import lru_cache
from uuid import UUID, uuid4

from sqlalchemy import func, select
from sqlalchemy.orm import Session
from timezonefinder import TimezoneFinder

from lucid_ridge.app.compositions.tables import CompositionRow
from lucid_ridge.app.editing import check_new_id, check_version, copy_name, database, find, owner
from lucid_ridge.app.paging import MOST_ROWS, PageQuery, page, text
from lucid_ridge.app.places.notes import PlaceNotes
from lucid_ridge.app.places.saved import COLUMNS, NOTES, PLACE, core_place, notes_of, whole_document
from lucid_ridge.app.places.schemas import LocateBody, LocatedOut, PlaceChange, PlaceNew, PlaceOut, PlacesOut
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.problems import NotFound, Refused
from lucid_ridge.app.terrains import operations as terrains
from lucid_ridge.app.terrains.schemas import TerrainOut
from lucid_ridge.app.terrains.tables import TerrainRow
from lucid_ridge.core.changes.check import check_place
from lucid_ridge.core.light.terrain import height_of
from lucid_ridge.core.model.place import Place
from lucid_ridge.core.records import FieldProblem, SceneError
from lucid_ridge.formats.coordinates import PositionError, read_position


def present(row: PlaceRow, compositions: int = 0) -> PlaceOut:
    """The place as the API shows it."""
    return PlaceOut(
        id=row.id,
        version=row.version,
        updated_at=row.updated_at,
        place=core_place(row),
        compositions=compositions,
        **notes_of(row).model_dump(),
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
    under = terrain_under(found.latitude_deg, found.longitude_deg)
    return LocatedOut(
        latitude_deg=found.latitude_deg,
        longitude_deg=found.longitude_deg,
        time_zone=zone_at(found.latitude_deg, found.longitude_deg),
        terrain_id=None if under is None else under[0],
        elevation_m=None if under is None else round(under[1], 1),
    )


def zone_at(latitude_deg: float, longitude_deg: float) -> str:
    """The time zone at a position; at sea that of its longitude."""
    return _zones().timezone_at(lat=latitude_deg, lng=longitude_deg) or "UTC"


def terrains_finest_first() -> list[TerrainOut]:
    """The terrains that can be stood on."""
    return sorted(
        (one for one in terrains.list_terrains(PageQuery(limit=MOST_ROWS)).terrains if one.state == "ready"),
        key=lambda t: t.cell_m,
    )


def terrain_under(
    latitude_deg: float, longitude_deg: float, among: list[TerrainOut] | None = None
) -> tuple[UUID, float] | None:
    """The finest terrain that reaches a position, and the ground's height there; *among* those that are known already."""
    for one in terrains_finest_first() if among is None else among:
        if not one.south_deg <= latitude_deg <= one.north_deg:
            continue
        try:
            terrain = terrains.load(one.id)
        except (NotFound, Refused):
            continue
        height = height_of(terrain, latitude_deg, longitude_deg)
        if height is not None:
            return one.id, height
    return None


def fill(session: Session, row: PlaceRow, place: Place, notes: PlaceNotes) -> None:
    """Put a place and its notes into its row.

    Raises
    ------
    SceneError
        If the place contradicts itself, or names a terrain that is not there.

    """
    problems = check_place(place, "/place")
    if place.terrain_id is not None:
        try:
            terrain = session.get(TerrainRow, UUID(place.terrain_id))
        except ValueError:
            terrain = None
        if terrain is None or terrain.owner_id != owner():
            problems.append(FieldProblem(pointer="/place/terrain_id", message="Choose one of your terrains, or none."))
    if problems:
        raise SceneError(problems)
    row.name, row.time_zone = place.name, place.time_zone
    row.latitude_deg, row.longitude_deg, row.elevation_m = place.latitude_deg, place.longitude_deg, place.elevation_m
    noted = NOTES.write(notes, {"access": row.access, "hazards": row.hazards, **row.notes} if row.notes else None)
    row.notes = {k: v for k, v in noted.items() if k not in ("access", "hazards")}
    row.access, row.hazards = notes.access, notes.hazards
    written = PLACE.write(place, whole_document(row) if row.sky else None)
    row.sky = {k: v for k, v in written.items() if k not in ("name", *COLUMNS)}


def _notes_sent(sent: PlaceNew | PlaceChange) -> PlaceNotes:
    return PlaceNotes(**{name: getattr(sent, name) for name in PlaceNotes.model_fields})


def _count(session: Session, place_id: UUID) -> int:
    counted = session.scalar(
        select(func.count()).where(CompositionRow.place_id == place_id, CompositionRow.deleted_at.is_(None))
    )
    return counted or 0


def list_places(query: PageQuery) -> PlacesOut:
    """A page of the places by name, with how many compositions each has."""
    counted = (
        select(CompositionRow.place_id, func.count().label("n"))
        .where(CompositionRow.owner_id == owner(), CompositionRow.deleted_at.is_(None))
        .group_by(CompositionRow.place_id)
        .subquery()
    )
    with database().transaction() as session:
        mine = (
            select(PlaceRow, func.coalesce(counted.c.n, 0))
            .outerjoin(counted, counted.c.place_id == PlaceRow.id)
            .where(PlaceRow.owner_id == owner(), PlaceRow.deleted_at.is_(None))
        )
        order = {"by_name": PlaceRow.name, "by_id": PlaceRow.id}
        rows, following = page(session, mine, query, order, (text, UUID))
        return PlacesOut(places=[present(row[0], row[1]) for row in rows], next=following)


def add(new: PlaceNew) -> PlaceOut:
    """Add a place."""
    with database().transaction() as session:
        check_new_id(session, PlaceRow, new.id)
        row = PlaceRow(id=new.id or uuid4(), owner_id=owner())
        fill(session, row, new.place, _notes_sent(new))
        session.add(row)
        session.flush()
        return present(row)


def change(place_id: UUID, changed: PlaceChange) -> PlaceOut:
    """Save a changed place over the version that was changed."""
    with database().transaction() as session:
        row = find(session, PlaceRow, place_id, "place")
        check_version(row, changed.version, "place", present)
        fill(session, row, changed.place, _notes_sent(changed))
        row.version += 1
        session.flush()
        return present(row, _count(session, place_id))


def duplicate(place_id: UUID) -> PlaceOut:
    """Add a copy of a place, without its compositions."""
    with database().transaction() as session:
        row = find(session, PlaceRow, place_id, "place")
        columns = (*COLUMNS, "access", "hazards", "notes", "sky")
        copied = PlaceRow(
            id=uuid4(), owner_id=owner(), name=copy_name(row.name), **{c: getattr(row, c) for c in columns}
        )
        session.add(copied)
        session.flush()
        return present(copied)
