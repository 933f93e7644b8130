"""What can be done with what was measured on the spot: keep it, tell it in words, and take it on."""

from __future__ import annotations

import math
from dataclasses import replace
from uuid import UUID
from zoneinfo import ZoneInfo

from pydantic import TypeAdapter
from sqlalchemy import select
from sqlalchemy.orm import Session

from lucid_ridge.app.compositions import operations as compositions
from lucid_ridge.app.compositions.tables import CompositionRow
from lucid_ridge.app.database import now
from lucid_ridge.app.documents import DocumentKind
from lucid_ridge.app.editing import claimed, database, find, owner
from lucid_ridge.app.places import operations as places
from lucid_ridge.app.places.notes import PlaceNotes
from lucid_ridge.app.places.saved import core_place
from lucid_ridge.app.places.schemas import PlaceChange
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.problems import NotFound, Refused
from lucid_ridge.app.spots.schemas import (
    BearingMeasured,
    CrossBody,
    CrossOut,
    Fix,
    Measured,
    NoteMeasured,
    PositionMeasured,
    ReadingMeasured,
    SkylineMeasured,
    SpotNew,
    SpotOut,
    SpotsOut,
    SpotsQuery,
)
from lucid_ridge.app.spots.tables import SpotRow
from lucid_ridge.app.terrains.operations import terrain_of
from lucid_ridge.core.framing.crossing import NoCrossing, Pointing, cross
from lucid_ridge.core.framing.declination import declination_deg
from lucid_ridge.core.light.terrain import height_of, metres_between, position_of
from lucid_ridge.core.model.place import Place, SkylinePoint
from lucid_ridge.core.model.scene import Composition, Reading
from lucid_ridge.reports.figures import aperture_text, iso_text, shutter_text

_MOST, _MOST_POINTS = 200, 720
_NEAREST_EVEN_DEG = 0.5
SPOT: DocumentKind[Measured] = DocumentKind("measurement", TypeAdapter(Measured))


def _turned(place: Place, row: SpotRow) -> float | None:
    """Declination where and when something was measured, degrees; None for years that no model covers."""
    return declination_deg(place.latitude_deg, place.longitude_deg, row.measured_at, place.elevation_m)


def _true(azimuth_deg: float, north: str, place: Place, row: SpotRow) -> float:
    """A bearing from true north."""
    turned = 0.0 if north == "true" else _turned(place, row)
    if turned is None:
        raise Refused("/measured/north", "No declination is known for that year: type the bearing from true north.")
    return (azimuth_deg + turned) % 360


def _north_words(measured: BearingMeasured | SkylineMeasured, place: Place, row: SpotRow) -> str:
    if measured.north == "true":
        return "from true north"
    turned = _turned(place, row)
    if turned is None:
        return "by the compass, with no declination known"
    return f"by the compass, {abs(turned):.1f}° {'east' if turned >= 0 else 'west'} put to it"


def _words(measured: Measured, place: Place, row: SpotRow) -> str:
    """What was measured and how well, in words."""
    match measured:
        case PositionMeasured():
            high = "" if measured.elevation_m is None else f", {measured.elevation_m:.0f} m up by the device"
            return f"{measured.latitude_deg:.6f}, {measured.longitude_deg:.6f}, ± {measured.accuracy_m:.0f} m{high}"
        case BearingMeasured():
            about = "aim" if measured.what == "aim" else f"to the {measured.name or 'thing pointed at'}"
            pitch = "" if measured.pitch_deg is None else f", {measured.pitch_deg:+.1f}° up"
            turned = 0.0 if measured.north == "true" else _turned(place, row) or 0.0
            return f"{about} {(measured.azimuth_deg + turned) % 360:.0f}° ± {measured.error_deg:.0f}°{pitch}, {_north_words(measured, place, row)}"
        case SkylineMeasured():
            highest = max(p.altitude_deg for p in measured.points)
            return (
                f"{len(measured.points)} points up to {highest:.1f}°, ± {measured.error_deg:.0f}°, "
                f"{_north_words(measured, place, row)}"
            )
        case ReadingMeasured():
            return f"{aperture_text(measured.aperture_n)}, {shutter_text(measured.shutter_s)}, ISO {iso_text(measured.iso)}"
        case NoteMeasured():
            return measured.text


def _does(measured: Measured, row: SpotRow, place: Place) -> str:
    """What taking it on changes."""
    if isinstance(measured, SkylineMeasured):
        return f"The skyline of {place.name} there."
    if row.composition_id is None or isinstance(measured, NoteMeasured):
        return ""
    if isinstance(measured, PositionMeasured):
        return "The standpoint."
    if isinstance(measured, ReadingMeasured):
        return "The meter reading."
    return "The aim." if measured.what == "aim" else ""


def _present(session: Session, row: SpotRow) -> SpotOut:
    place_row = session.get_one(PlaceRow, row.place_id)
    place, measured = core_place(place_row), SPOT.read(row.document)
    composition = None if row.composition_id is None else session.get_one(CompositionRow, row.composition_id)
    local = row.measured_at.astimezone(ZoneInfo(place.time_zone))
    return SpotOut(
        id=row.id,
        composition_id=row.composition_id,
        composition_name="" if composition is None else composition.name,
        place_id=row.place_id,
        place_name=place_row.name,
        measured_at=row.measured_at,
        measured_text=local.strftime("%-d %B %Y, %H:%M"),
        measured=measured,
        words=_words(measured, place, row),
        does=_does(measured, row, place),
        taken_on_at=row.taken_on_at,
    )


def record(spot_id: UUID, new: SpotNew) -> tuple[SpotOut, bool]:
    """Keep something measured; whether it is new. The same id again gives the one kept before.

    Raises
    ------
    Refused
        If neither composition nor place is told, or one is not there.

    """
    with database().transaction() as session:
        kept = claimed(session, SpotRow, spot_id)
        if kept is not None:
            if kept.owner_id != owner():
                raise NotFound("measurement")
            return _present(session, kept), False
        composition = None if new.composition_id is None else session.get(CompositionRow, new.composition_id)
        if new.composition_id is not None and (composition is None or composition.owner_id != owner()):
            raise Refused("/composition_id", "There is no such composition.")
        place_id = composition.place_id if composition is not None else new.place_id
        place = None if place_id is None else session.get(PlaceRow, place_id)
        if place is None or place.owner_id != owner():
            raise Refused("/place_id", "Say for which composition, or at which place, it was measured.")
        row = SpotRow(
            id=spot_id,
            owner_id=owner(),
            name=new.measured.kind,
            kind=new.measured.kind,
            place_id=place.id,
            composition_id=new.composition_id,
            measured_at=new.measured_at,
            document=SPOT.write(new.measured),
        )
        session.add(row)
        session.flush()
        return _present(session, row), True


def list_spots(query: SpotsQuery) -> SpotsOut:
    """What was measured, the latest first; two hundred at most."""
    wanted = select(SpotRow).where(SpotRow.owner_id == owner(), SpotRow.deleted_at.is_(None))
    if query.composition_id is not None:
        wanted = wanted.where(SpotRow.composition_id == query.composition_id)
    if query.place_id is not None:
        wanted = wanted.where(SpotRow.place_id == query.place_id)
    with database().transaction() as session:
        rows = session.scalars(wanted.order_by(SpotRow.measured_at.desc(), SpotRow.id).limit(_MOST)).all()
        return SpotsOut(spots=[_present(session, row) for row in rows])


def restored(spot_id: UUID) -> SpotOut:
    """Something measured, brought back after it was deleted."""
    with database().transaction() as session:
        row = find(session, SpotRow, spot_id, "measurement", deleted=True)
        row.deleted_at = None
        session.flush()
        return _present(session, row)


def take_on(spot_id: UUID) -> SpotOut:
    """Put something measured where it belongs: standpoint, aim, reading or skyline.

    Raises
    ------
    Refused
        If it changes nothing by itself.

    """
    with database().transaction() as session:
        row = find(session, SpotRow, spot_id, "measurement")
        measured, place = SPOT.read(row.document), core_place(session.get_one(PlaceRow, row.place_id))
        if not _does(measured, row, place):
            raise Refused("", "There is nothing in this to take on by itself.")
        composition_id, place_id = row.composition_id, row.place_id
    if isinstance(measured, SkylineMeasured):
        _take_skyline_on(measured, place_id, row)
    elif composition_id is not None:
        compositions.change_now(composition_id, lambda before: _with(before, measured, place, row))
    with database().transaction() as session:
        row = find(session, SpotRow, spot_id, "measurement")
        row.taken_on_at = now()
        session.flush()
        return _present(session, row)


def _with(before: Composition, measured: Measured, place: Place, row: SpotRow) -> Composition:
    match measured:
        case PositionMeasured():
            east, north = metres_between(
                place.latitude_deg, place.longitude_deg, measured.latitude_deg, measured.longitude_deg
            )
            terrain = terrain_of(place)
            here = None if terrain is None else height_of(terrain, measured.latitude_deg, measured.longitude_deg)
            ground = before.ground_m if here is None else here - place.elevation_m
            return replace(before, east_m=round(east, 2), north_m=round(north, 2), ground_m=round(ground, 2))
        case BearingMeasured():
            pitch = before.pitch_deg if measured.pitch_deg is None else measured.pitch_deg
            azimuth = _true(measured.azimuth_deg, measured.north, place, row)
            return replace(before, azimuth_deg=round(azimuth, 1), pitch_deg=round(pitch, 1))
        case ReadingMeasured():
            known = {e.id for e in before.elements}
            reading = Reading(
                aperture_n=measured.aperture_n,
                shutter_s=measured.shutter_s,
                iso=measured.iso,
                taken_at_utc=row.measured_at,
                element_id=measured.element_id if measured.element_id in known else None,
            )
            return replace(before, reading=reading)
        case _:
            return before


def _take_skyline_on(measured: SkylineMeasured, place_id: UUID, row: SpotRow) -> None:
    """The skyline of a place, with the stretch that was measured in place of what was there."""
    with database().transaction() as session:
        saved = places.present(find(session, PlaceRow, place_id, "place"))
    place = saved.place
    fresh = [
        SkylinePoint(azimuth_deg=_true(p.azimuth_deg, measured.north, place, row), altitude_deg=p.altitude_deg)
        for p in measured.points
    ]
    kept = [p for p in place.skyline if not _within(p.azimuth_deg % 360, [q.azimuth_deg for q in fresh])]
    joined = sorted([*kept, *fresh], key=lambda p: p.azimuth_deg % 360)
    if len(joined) > _MOST_POINTS:
        raise Refused(
            "/measured/points",
            f"With these the skyline has more than {_MOST_POINTS} points: take some out at the place first.",
        )
    changed = replace(place, horizon="measured", skyline=tuple(joined))
    notes = {name: getattr(saved, name) for name in PlaceNotes.model_fields}
    places.change(place_id, PlaceChange(version=saved.version, place=changed, **notes))


def _within(azimuth_deg: float, swept: list[float]) -> bool:
    """Whether a bearing lies in the stretch that was swept: between two points of it that stand together."""
    around = sorted(a % 360 for a in swept)
    gaps = [((b - a) % 360 or 360.0, a, b) for a, b in zip(around, [*around[1:], around[0]], strict=True)]
    widest, last, first = max(gaps)
    inside = (azimuth_deg - first) % 360
    return widest < 360 and inside <= (last - first) % 360 + _NEAREST_EVEN_DEG


def cross_bearings(sent: CrossBody) -> CrossOut:
    """Where two bearings cross, and the element put there.

    Raises
    ------
    Refused
        If they are not of one thing at one place, do not cross, or there is no such element.

    """
    with database().transaction() as session:
        rows = [find(session, SpotRow, i, "measurement") for i in (sent.first, sent.second)]
        place = core_place(session.get_one(PlaceRow, rows[0].place_id))
    read = [SPOT.read(row.document) for row in rows]
    bearings = [m for m in read if isinstance(m, BearingMeasured)]
    if len(bearings) != 2 or rows[0].place_id != rows[1].place_id or rows[0].id == rows[1].id:
        raise Refused("/second", "Choose two bearings that were measured at one place.")
    pointings = [
        _pointing(m, row, place, pointer) for m, row, pointer in zip(bearings, rows, ("/first", "/second"), strict=True)
    ]
    try:
        found = cross(*pointings)
    except NoCrossing as problem:
        raise Refused("/second", str(problem)) from None
    latitude, longitude = position_of(place.latitude_deg, place.longitude_deg, found.east_m, found.north_m)
    name = bearings[0].name or bearings[1].name
    taken = sent.take_on and _put_element(
        rows[0].composition_id or rows[1].composition_id, name, found.east_m, found.north_m
    )
    far = math.hypot(found.east_m - pointings[0].east_m, found.north_m - pointings[0].north_m)
    return CrossOut(
        name=name,
        east_m=found.east_m,
        north_m=found.north_m,
        latitude_deg=latitude,
        longitude_deg=longitude,
        longer_m=found.longer_m,
        shorter_m=found.shorter_m,
        longer_azimuth_deg=found.longer_azimuth_deg,
        words=f"{name or 'It'}: {far:.0f} m from the first standpoint, ± {found.longer_m:.0f} m towards "
        f"{found.longer_azimuth_deg:.0f}° and ± {found.shorter_m:.0f} m across.",
        taken_on=bool(taken),
    )


def _pointing(measured: BearingMeasured, row: SpotRow, place: Place, pointer: str) -> Pointing:
    stand: Fix | None = measured.stand
    if stand is not None:
        east, north = metres_between(place.latitude_deg, place.longitude_deg, stand.latitude_deg, stand.longitude_deg)
        unsure = stand.accuracy_m
    elif row.composition_id is not None:
        composition = compositions.one(row.composition_id).composition
        east, north, unsure = composition.east_m, composition.north_m, 0.0
    else:
        raise Refused(pointer, "This bearing does not say from where it was taken.")
    azimuth = _true(measured.azimuth_deg, measured.north, place, row)
    return Pointing(east, north, azimuth, measured.error_deg, unsure)


def _put_element(composition_id: UUID | None, name: str, east_m: float, north_m: float) -> bool:
    if composition_id is None:
        raise Refused("/take_on", "These bearings belong to no composition.")
    there = compositions.one(composition_id).composition
    found = next((e for e in there.elements if e.name.casefold() == name.casefold()), None)
    if found is None:
        raise Refused("/take_on", f"The composition has no element called {name!r}: add it on the workbench first.")
    moved = replace(found, east_m=round(east_m, 2), north_m=round(north_m, 2))
    compositions.change_now(
        composition_id,
        lambda before: replace(before, elements=tuple(moved if e.id == found.id else e for e in before.elements)),
    )
    return True
