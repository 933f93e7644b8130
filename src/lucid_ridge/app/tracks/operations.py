"""What can be done with marks and paths, and with files that maps exchange."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import PurePath
from typing import Any, Literal
from uuid import UUID, uuid4

from pydantic import TypeAdapter, ValidationError
from sqlalchemy import Select, select
from sqlalchemy.orm import Session

from lucid_ridge.app.compositions.operations import stands_at
from lucid_ridge.app.compositions.tables import CompositionRow
from lucid_ridge.app.documents import UnreadableError
from lucid_ridge.app.editing import check_new_id, check_version, database, find, owner
from lucid_ridge.app.paging import PageQuery, page, text
from lucid_ridge.app.places.notes import PlaceNotes
from lucid_ridge.app.places.operations import fill, terrain_under, terrains_finest_first, zone_at
from lucid_ridge.app.places.saved import core_place, notes_of
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.problems import Refused
from lucid_ridge.app.terrains.schemas import TerrainOut
from lucid_ridge.app.terrains.tables import TerrainRow
from lucid_ridge.app.tracks.schemas import (
    ImportOut,
    Known,
    Skipped,
    TrackChange,
    TrackNew,
    TrackOut,
    TracksOut,
)
from lucid_ridge.app.tracks.tables import TrackRow
from lucid_ridge.core.light.terrain import apart_m, line_length_m, nearest, surely_farther
from lucid_ridge.core.model.place import Place
from lucid_ridge.core.records import SceneError
from lucid_ridge.formats.geography import (
    GeographyError,
    Point,
    Read,
    Shape,
    read_geojson,
    read_gpx,
    write_geojson,
    write_gpx,
)

_SAME_SPOT_M, _SAME_PLACE_M, _SAME_START_M = 15.0, 200.0, 50.0
_SAME_POINT_DEG = 1e-5
_NEAR_M = 30_000.0
_OWN = "lucid_ridge"
_SORTS = ("parking", "gate", "hazard", "viewpoint", "walk_in", "other")
_PLACE: TypeAdapter[Place] = TypeAdapter(Place)
_NOTES: TypeAdapter[PlaceNotes] = TypeAdapter(PlaceNotes)


def length_m(points: list[Any]) -> float:
    """Length of a line along the ellipsoid."""
    return line_length_m([p[0] for p in points], [p[1] for p in points])


def present(row: TrackRow) -> TrackOut:
    """The mark or path as the API shows it."""
    return TrackOut(
        id=row.id,
        version=row.version,
        place_id=row.place_id,
        name=row.name,
        kind=row.kind,  # type: ignore[arg-type]
        sort=row.sort,  # type: ignore[arg-type]
        note=row.note,
        points=row.points,
        length_m=length_m(row.points),
    )


def list_tracks(query: PageQuery) -> TracksOut:
    """A page of the marks and paths whose place is not deleted, by place and name."""
    order = {"by_place": PlaceRow.name, "by_kind": TrackRow.kind, "by_name": TrackRow.name, "by_id": TrackRow.id}
    with database().transaction() as session:
        rows, following = page(session, _mine(), query, order, (text, text, text, UUID))
        return TracksOut(tracks=[present(row[0]) for row in rows], next=following)


def _mine() -> Select[TrackRow]:
    return (
        select(TrackRow)
        .join(PlaceRow, PlaceRow.id == TrackRow.place_id)
        .where(TrackRow.owner_id == owner(), TrackRow.deleted_at.is_(None), PlaceRow.deleted_at.is_(None))
    )


def _fill(row: TrackRow, sent: TrackNew | TrackChange) -> None:
    row.name, row.kind, row.sort, row.note = sent.name, sent.kind, sent.sort, sent.note
    row.points = [list(p) for p in sent.points]


def add(new: TrackNew) -> TrackOut:
    """Add a mark or a path to a place."""
    with database().transaction() as session:
        check_new_id(session, TrackRow, new.id)
        place = session.get(PlaceRow, new.place_id)
        if place is None or place.owner_id != owner() or place.deleted_at is not None:
            raise Refused("/place_id", "Choose one of your places.")
        row = TrackRow(id=new.id or uuid4(), owner_id=owner(), place_id=new.place_id)
        _fill(row, new)
        session.add(row)
        session.flush()
        return present(row)


def change(track_id: UUID, changed: TrackChange) -> TrackOut:
    """Save a changed mark or path over the version that was changed."""
    with database().transaction() as session:
        row = find(session, TrackRow, track_id, "mark or path")
        check_version(row, changed.version, "mark or path", present)
        _fill(row, changed)
        row.version += 1
        session.flush()
        return present(row)


@dataclass
class _Import:
    """An import under way: what ground there is, and what it has made so far."""

    grounds: list[TerrainOut]
    known: list[PlaceRow] | None = None
    """The places there are, once they were asked for, with those that this import makes after that."""
    places: int = 0
    marks: int = 0
    paths: int = 0
    first: UUID | None = None


def read_file(name: str, data: bytes) -> Read:
    """What a GPX or GeoJSON file holds, told apart by what it begins with.

    Raises
    ------
    Refused
        Naming the file, if it cannot be used.

    """
    start = data.lstrip(b"\xef\xbb\xbf \t\r\n")[:1]
    try:
        if start == b"<":
            return read_gpx(data)
        if start == b"{":
            return read_geojson(data)
    except GeographyError as error:
        raise Refused("/file", f"{PurePath(name).name}: {error}") from None
    raise Refused("/file", f"{PurePath(name).name}: This is neither GPX nor GeoJSON; export it as one of these.")


def take_in(name: str, data: bytes, place_id: UUID | None, known: Known = "ask") -> ImportOut:
    """Import points and lines: as marks and paths of a place, or as places where none is chosen.

    Lines without a place go to the nearest within 30 km, else to a new place at their start. All of a file
    comes in, or nothing; what is there already is recognised and dealt with as *known* says, see `ImportQuery`.
    """
    found = read_file(name, data)
    under_way = _Import(terrains_finest_first())
    skipped = [Skipped(name=n, why=w) for n, w in found.skipped]
    with database().transaction() as session:
        chosen = None if place_id is None else find(session, PlaceRow, place_id, "place")
        there = _there(session, found.shapes, chosen is not None)
        already = [shape.name for shape in found.shapes if id(shape) in there]
        if already and known == "ask":
            return ImportOut(
                places=0, marks=0, paths=0, skipped=skipped, first_place_id=None, already=already, asked=True
            )
        if known == "merge":
            for shape in found.shapes:
                if id(shape) in there:
                    _merge(there[id(shape)], shape)
        fresh = [shape for shape in found.shapes if known == "keep" or id(shape) not in there]
        if chosen is None:
            for shape in fresh:
                if _makes_a_place(shape):
                    _add_place(session, shape, under_way, skipped)
            session.flush()
        for shape in fresh:
            if chosen is not None or not _makes_a_place(shape):
                _add_track(session, shape, chosen or _nearest(session, shape, under_way, skipped), under_way)
        session.flush()
    return ImportOut(
        places=under_way.places,
        marks=under_way.marks,
        paths=under_way.paths,
        skipped=skipped,
        first_place_id=under_way.first,
        already=already,
        asked=False,
    )


def _places(session: Session) -> Sequence[PlaceRow]:
    """Every place that is not deleted."""
    return session.scalars(select(PlaceRow).where(PlaceRow.owner_id == owner(), PlaceRow.deleted_at.is_(None))).all()


def _there(session: Session, shapes: Sequence[Shape], into_a_place: bool) -> dict[int, PlaceRow | TrackRow]:
    """What is there already of a file's shapes, by the shape's identity.

    A place is one of the same name within 200 m, or one within 15 m whatever it is called; a mark or path has the same
    points, or its name and begins within 50 m.
    """
    places = _places(session)
    tracks = session.scalars(_mine()).all()
    found: dict[int, PlaceRow | TrackRow] = {}
    for shape in shapes:
        latitude, longitude, _ = shape.points[0]
        if _makes_a_place(shape):
            for row in places:
                if surely_farther(latitude, longitude, (row.latitude_deg, row.longitude_deg), _SAME_PLACE_M):
                    continue
                away = apart_m(latitude, longitude, row.latitude_deg, row.longitude_deg)
                if away <= _SAME_SPOT_M or (away <= _SAME_PLACE_M and row.name.casefold() == shape.name.casefold()):
                    found[id(shape)] = row
                    break
            if id(shape) in found or not into_a_place:
                continue
        kind = "mark" if shape.kind == "point" else "path"
        for track in tracks:
            if track.kind != kind or not track.points:
                continue
            named = track.name.casefold() == shape.name.casefold()
            start = (track.points[0][0], track.points[0][1])
            if surely_farther(latitude, longitude, start, _SAME_START_M):
                continue
            begins = apart_m(latitude, longitude, *start)
            if (named and begins <= _SAME_START_M) or _same_line(shape, track):
                found[id(shape)] = track
                break
    return found


def _same_line(shape: Shape, track: TrackRow) -> bool:
    """Whether a line runs through the same points, to a metre or so."""
    return len(shape.points) == len(track.points) and all(
        abs(a[0] - b[0]) < _SAME_POINT_DEG and abs(a[1] - b[1]) < _SAME_POINT_DEG
        for a, b in zip(shape.points, track.points, strict=True)
    )


def _merge(row: PlaceRow | TrackRow, shape: Shape) -> None:
    """Put what a file says in the place of what is there; a place keeps all but its position, a note stays where none is told."""
    if isinstance(row, TrackRow):
        row.points = [list(p) for p in shape.points]
        row.note = shape.note or row.note
    else:
        row.latitude_deg, row.longitude_deg, height = shape.points[0]
        row.elevation_m = row.elevation_m if height is None else height
        row.access = row.access or shape.note
    row.version += 1


def _own(shape: Shape) -> dict[str, Any]:
    """What this application itself wrote of a shape, empty for another's file."""
    own = shape.properties.get(_OWN)
    return own if isinstance(own, dict) else {}


def _makes_a_place(shape: Shape) -> bool:
    kind = _own(shape).get("kind")
    return shape.kind == "point" and kind in (None, "place") and shape.properties.get("sort") not in _SORTS


def _add_place(session: Session, shape: Shape, under_way: _Import, skipped: list[Skipped]) -> PlaceRow | None:
    latitude, longitude, height = shape.points[0]
    own = _own(shape)
    raw = own.get("place")
    kept: dict[str, Any] = raw if isinstance(raw, dict) else {}
    # What stands on one of the terrains that are here stands at its height, and takes its skyline from it.
    under = (
        None if _has_terrain(session, kept.get("terrain_id")) else terrain_under(latitude, longitude, under_way.grounds)
    )
    if height is None and under is not None and "elevation_m" not in kept:
        height = round(under[1], 1)
    document = {
        **kept, "name": shape.name, "latitude_deg": latitude, "longitude_deg": longitude,
        "elevation_m": height if height is not None else kept.get("elevation_m", 0.0),
        "time_zone": kept.get("time_zone") or zone_at(latitude, longitude),
    }  # fmt: skip
    if not _has_terrain(session, kept.get("terrain_id")):
        # A terrain is a file of its own; without one the place still comes in, and says what it lacks.
        document["terrain_id"] = str(under[0]) if under else None
    try:
        place = _PLACE.validate_python(document, extra="ignore")
        notes = _NOTES.validate_python(own.get("notes", {}), extra="ignore")
        row = PlaceRow(id=uuid4(), owner_id=owner())
        fill(session, row, place, notes if own else PlaceNotes(access=shape.note))
    except (ValidationError, SceneError):
        skipped.append(Skipped(name=shape.name, why="what the file says of the place is not understood"))
        return None
    session.add(row)
    if under_way.known is not None:
        under_way.known.append(row)
    under_way.places += 1
    under_way.first = under_way.first or row.id
    return row


def _has_terrain(session: Session, terrain_id: Any) -> bool:
    try:
        row = session.get(TerrainRow, UUID(str(terrain_id)))
    except ValueError:
        return False
    return row is not None and row.owner_id == owner()


def _nearest(session: Session, shape: Shape, under_way: _Import, skipped: list[Skipped]) -> PlaceRow | None:
    latitude, longitude, _ = shape.points[0]
    if under_way.known is None:
        under_way.known = list(_places(session))
    if under_way.known:
        index, away = nearest(latitude, longitude, [(row.latitude_deg, row.longitude_deg) for row in under_way.known])
        if away <= _NEAR_M:
            return under_way.known[index]
    made = _add_place(session, Shape("point", shape.name, "", shape.points[:1]), under_way, skipped)
    session.flush()
    return made


def _add_track(session: Session, shape: Shape, place: PlaceRow | None, under_way: _Import) -> None:
    if place is None:
        return
    given = _own(shape).get("sort", shape.properties.get("sort"))
    kind = "mark" if shape.kind == "point" else "path"
    session.add(
        TrackRow(
            id=uuid4(), owner_id=owner(), place_id=place.id, name=shape.name, kind=kind,
            sort=given if given in _SORTS else "other", note=shape.note, points=[list(p) for p in shape.points],
        )
    )  # fmt: skip
    under_way.first = under_way.first or place.id
    if kind == "mark":
        under_way.marks += 1
    else:
        under_way.paths += 1


def _place_shape(row: PlaceRow) -> Shape:
    own = {
        "kind": "place",
        "place": _PLACE.dump_python(core_place(row), mode="json"),
        "notes": notes_of(row).model_dump(mode="json"),
    }
    return Shape("point", row.name, row.access, ((row.latitude_deg, row.longitude_deg, row.elevation_m),), {_OWN: own})


def _stand_shape(row: CompositionRow, place: PlaceRow) -> Shape:
    own = {"kind": "standpoint", "sort": "viewpoint"}
    point: Point = (*stands_at(row, place), None)
    return Shape("point", row.name, f"Standpoint at {place.name}", (point,), {"sort": "viewpoint", _OWN: own})


def _track_shape(row: TrackRow, place: PlaceRow) -> Shape:
    own = {"kind": row.kind, "sort": row.sort, "place": place.name}
    points = tuple((p[0], p[1], p[2]) for p in row.points)
    kind: Literal["point", "line"] = "point" if row.kind == "mark" else "line"
    return Shape(kind, row.name, row.note, points, {"sort": row.sort, _OWN: own})


def shapes(session: Session) -> list[Shape]:
    """Places, standpoints, marks and paths."""
    places: Sequence[PlaceRow] = session.scalars(
        select(PlaceRow)
        .where(PlaceRow.owner_id == owner(), PlaceRow.deleted_at.is_(None))
        .order_by(PlaceRow.name, PlaceRow.id)
    ).all()
    # One that another version wrote, and this one cannot read, does not keep the others from going out.
    places = [row for row in places if _readable(row)]
    by_id = {row.id: row for row in places}
    stands = session.scalars(
        select(CompositionRow)
        .where(CompositionRow.owner_id == owner(), CompositionRow.deleted_at.is_(None))
        .order_by(CompositionRow.name, CompositionRow.id)
    )
    return [
        *(_place_shape(row) for row in places),
        *(_stand_shape(row, by_id[row.place_id]) for row in stands if row.place_id in by_id),
        *(
            _track_shape(row, by_id[row.place_id])
            for row in session.scalars(_mine().order_by(PlaceRow.name, TrackRow.kind, TrackRow.name, TrackRow.id))
            if row.place_id in by_id
        ),
    ]


def _readable(row: PlaceRow) -> bool:
    try:
        core_place(row)
    except UnreadableError:
        return False
    return True


def export_gpx() -> str:
    """Places, standpoints, marks and paths as GPX."""
    with database().transaction() as session:
        return write_gpx(shapes(session), "Places")


def export_geojson() -> str:
    """The same as GeoJSON, which also keeps what only this application knows of them."""
    with database().transaction() as session:
        return write_geojson(shapes(session))
