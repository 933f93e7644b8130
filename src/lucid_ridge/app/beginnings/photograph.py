"""Beginning from a photograph: what it tells, what is asked, and the composition that comes of it."""

from __future__ import annotations

from datetime import UTC, datetime
from uuid import UUID
from zoneinfo import ZoneInfo

from sqlalchemy import select

from lucid_ridge.app.beginnings.operations import new_place, owned_kit
from lucid_ridge.app.beginnings.schemas import (
    PhotographBeginBody,
    PhotographFacts,
    PhotographRead,
    Question,
    ToldLine,
)
from lucid_ridge.app.compositions import operations as compositions
from lucid_ridge.app.compositions.schemas import CompositionNew, CompositionOut
from lucid_ridge.app.database import now
from lucid_ridge.app.editing import database, find, owner
from lucid_ridge.app.kit import operations as kit
from lucid_ridge.app.photographs.pictures import Photograph, read_picture
from lucid_ridge.app.places import operations as places
from lucid_ridge.app.places.saved import core_place
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.problems import Refused
from lucid_ridge.app.terrains.operations import terrain_of
from lucid_ridge.beginnings.from_photograph import (
    Sensor,
    Shot,
    compose,
    equivalent_to_focal_mm,
    find_body,
    find_lens,
    made_body,
    made_lens,
    usual_support,
)
from lucid_ridge.beginnings.placing import USUAL_HEIGHT_M, best_support
from lucid_ridge.beginnings.usual_kit import format_named
from lucid_ridge.core.framing.camera import field_of_view_deg
from lucid_ridge.core.framing.declination import declination_deg
from lucid_ridge.core.light.ephemeris import FIRST_YEAR, LAST_YEAR
from lucid_ridge.core.light.terrain import apart_m
from lucid_ridge.core.model.kit import Body, Kit, Lens, Support
from lucid_ridge.formats.photographs import Facts
from lucid_ridge.reports.figures import aperture_text, degrees_text, distance_text, iso_text, shutter_text

_SAME_PLACE_M = 1500.0
_SMALLEST_SENSOR_MM = 3.0
"""A body's sides are not taken smaller; what is worked out below that is asked for."""


def _true_direction(told: Facts) -> tuple[float | None, float | None]:
    """Where a photograph looks from true north, and the declination that was taken into it, degrees; None for none."""
    looks, north, east = told.direction_deg, told.latitude_deg, told.longitude_deg
    if looks is None or not told.magnetic or north is None or east is None or told.taken is None:
        return looks, None
    turned = declination_deg(north, east, told.taken, told.elevation_m or 0.0)
    return (looks, None) if turned is None else ((looks + turned) % 360, turned)


def _facts(picture: Photograph) -> PhotographFacts:
    told = picture.facts
    sides = told.sensor_mm if told.sensor_mm and min(told.sensor_mm) >= _SMALLEST_SENSOR_MM else None
    return PhotographFacts(
        width_px=picture.width_px,
        height_px=picture.height_px,
        taken=told.taken.isoformat() if told.taken else None,
        latitude_deg=told.latitude_deg,
        longitude_deg=told.longitude_deg,
        elevation_m=told.elevation_m,
        direction_deg=_true_direction(told)[0],
        camera=told.camera,
        lens=told.lens,
        sensor_width_mm=round(sides[0], 2) if sides else None,
        sensor_height_mm=round(sides[1], 2) if sides else None,
        focal_length_mm=told.focal_length_mm,
        equivalent_mm=told.equivalent_mm,
        lens_range=told.lens_range,
        f_number=told.f_number,
        exposure_s=told.exposure_s,
        iso=told.iso,
        focus_m=told.focus_m,
    )


def _when_and_where(facts: PhotographFacts, told: Facts) -> list[tuple[str, str, bool]]:
    lines: list[tuple[str, str, bool]] = []
    if facts.taken:
        at = datetime.fromisoformat(facts.taken)
        clock = "" if at.tzinfo else ", by the camera's clock"
        lines.append(("taken", f"{at:%a} {at.day} {at:%b %Y %H:%M}{clock}", False))
    if facts.latitude_deg is not None and facts.longitude_deg is not None:
        lines.append(("position", f"{facts.latitude_deg:.5f}°, {facts.longitude_deg:.5f}°", False))
    if facts.direction_deg is not None:
        turned = _true_direction(told)[1]
        of = (
            ""
            if turned is None
            else f", declination of {abs(turned):.1f}° {'east' if turned >= 0 else 'west'} taken in"
        )
        north = f", by its compass{of}; a few degrees off is usual" if told.magnetic else ""
        lines.append(("looking to", f"{degrees_text(facts.direction_deg)}{north}", False))
    return lines


def _with_what(facts: PhotographFacts) -> list[tuple[str, str, bool]]:
    lines: list[tuple[str, str, bool]] = []
    if facts.camera:
        lines.append(("camera", facts.camera, False))
    if facts.sensor_width_mm and facts.sensor_height_mm:
        lines.append(("sensor", f"{facts.sensor_width_mm:g} × {facts.sensor_height_mm:g} mm", True))
    if facts.lens:
        lines.append(("lens", facts.lens, False))
    if facts.focal_length_mm:
        lines.append(("focal length", f"{facts.focal_length_mm:g} mm", False))
    elif facts.equivalent_mm:
        lines.append(("focal length", f"{facts.equivalent_mm:g} mm for 35 mm film", False))
    if facts.f_number:
        lines.append(("aperture", aperture_text(facts.f_number), False))
    if facts.exposure_s:
        lines.append(("shutter", shutter_text(facts.exposure_s), False))
    if facts.iso:
        lines.append(("ISO", iso_text(facts.iso), False))
    if facts.focus_m:
        lines.append(("focused at", distance_text(facts.focus_m, "metric"), False))
    return lines


def _place_near(latitude_deg: float, longitude_deg: float) -> tuple[UUID, str] | None:
    """The nearest of the places within a mile or so."""
    with database().transaction() as session:
        rows = session.execute(
            select(PlaceRow.id, PlaceRow.name, PlaceRow.latitude_deg, PlaceRow.longitude_deg).where(
                PlaceRow.owner_id == owner(), PlaceRow.deleted_at.is_(None)
            )
        ).all()
    away = [(apart_m(latitude_deg, longitude_deg, north, east), i, name) for i, name, north, east in rows]
    nearest = min(away, default=None, key=lambda one: one[0])
    return None if nearest is None or nearest[0] > _SAME_PLACE_M else (nearest[1], nearest[2])


def read(data: bytes) -> PhotographRead:
    """What a photograph tells, and what is to be asked.

    Raises
    ------
    Refused
        If it cannot be used as a photograph.

    """
    picture = read_picture(data)
    facts = _facts(picture)
    owned = owned_kit()
    sides = _sides(facts)
    body = find_body(owned.bodies, facts.camera, sides)
    if body is not None:
        used = owned.bodies[body.id]
        sides = (used.sensor_width_mm, used.sensor_height_mm)
    focal = facts.focal_length_mm
    if focal is None and facts.equivalent_mm is not None and sides is not None:
        focal = equivalent_to_focal_mm(facts.equivalent_mm, sides)
    lens = find_lens(owned.lenses, facts.lens, focal)
    missing: list[Question] = []
    if facts.latitude_deg is None:
        missing.append("position")
    if facts.taken is None:
        missing.append("time")
    if facts.direction_deg is None:
        missing.append("direction")
    if sides is None:
        missing.append("sensor")
    if facts.focal_length_mm is None and facts.equivalent_mm is None:
        missing.append("focal_length")
    near = None
    if facts.latitude_deg is not None and facts.longitude_deg is not None:
        near = _place_near(facts.latitude_deg, facts.longitude_deg)
    return PhotographRead(
        facts=facts,
        told=[
            ToldLine(label=label, text=text, worked_out=worked_out)
            for label, text, worked_out in (*_when_and_where(facts, picture.facts), *_with_what(facts))
        ],
        missing=missing,
        body_id=UUID(body.id) if body else None,
        lens_id=UUID(lens.id) if lens else None,
        place_id=near[0] if near else None,
        place_name=near[1] if near else "",
    )


def _sides(facts: PhotographFacts) -> tuple[float, float] | None:
    if facts.sensor_width_mm is None or facts.sensor_height_mm is None:
        return None
    return facts.sensor_width_mm, facts.sensor_height_mm


def _body(sent: PhotographBeginBody) -> tuple[UUID, Body]:
    facts, owned = sent.facts, owned_kit()
    if sent.body_id is not None and str(sent.body_id) in owned.bodies:
        return sent.body_id, owned.bodies[str(sent.body_id)]
    sides = _sides(facts)
    if sides is None and sent.format is None:
        raise Refused("/format", "Choose the sensor or film that the photograph was taken on.")
    pixels = (max(facts.width_px, facts.height_px), min(facts.width_px, facts.height_px))
    name = facts.camera or "camera of the photograph"
    if sides is None:
        usual = format_named(sent.format or "full")
        sides, name = (usual.width_mm, usual.height_mm), facts.camera or f"{usual.of_a_body} body"
        pixels = (usual.pixels_across, usual.pixels_down) if pixels[0] < 1000 else pixels
    sensor = Sensor(
        name=name,
        width_mm=sides[0],
        height_mm=sides[1],
        pixels_across=max(pixels[0], 100),
        pixels_down=max(pixels[1], 100),
    )
    saved = kit.add_usual("body", made_body(sensor))
    return saved.id, saved.item.details  # type: ignore[return-value]


def _lens(sent: PhotographBeginBody, focal_mm: float) -> tuple[UUID, Lens]:
    facts, owned = sent.facts, owned_kit()
    if sent.lens_id is not None and str(sent.lens_id) in owned.lenses:
        return sent.lens_id, owned.lenses[str(sent.lens_id)]
    saved = kit.add_usual("lens", made_lens(facts.lens, focal_mm, facts.f_number, facts.lens_range))
    return saved.id, saved.item.details  # type: ignore[return-value]


def _instant(taken: str | None, zone: str) -> datetime:
    """When a photograph was taken; a time without its offset is by the place's clock.

    Raises
    ------
    Refused
        If it cannot be read, or lies outside the ephemeris.

    """
    if taken is None:
        return now().replace(second=0, microsecond=0)
    try:
        at = datetime.fromisoformat(taken)
        at = (at.replace(tzinfo=ZoneInfo(zone)) if at.tzinfo is None else at).astimezone(UTC)
    except (ValueError, OverflowError):
        raise Refused("/facts/taken", "Write the time as 2026-10-18 07:25.") from None
    if not FIRST_YEAR < at.year < LAST_YEAR:
        raise Refused("/facts/taken", f"The sun is known for the years {FIRST_YEAR + 1} to {LAST_YEAR - 1}.")
    return at


def _support() -> tuple[UUID, Support]:
    """The support that reaches the eyes' height; the hands where the kit has none."""
    owned = owned_kit()
    if owned.supports:
        best = best_support(owned, USUAL_HEIGHT_M)
        return UUID(best), owned.supports[best]
    saved = kit.add_usual("support", usual_support())
    return saved.id, usual_support()


def _shot(facts: PhotographFacts, taken: datetime, focal_mm: float, sides_mm: tuple[float, float]) -> Shot:
    across = sides_mm[1] if facts.height_px > facts.width_px else sides_mm[0]
    return Shot(
        taken=taken,
        azimuth_deg=facts.direction_deg or 0.0,
        focal_length_mm=focal_mm,
        view_deg=round(float(field_of_view_deg(across, focal_mm)), 3),
        width_px=facts.width_px,
        height_px=facts.height_px,
        f_number=facts.f_number,
        exposure_s=facts.exposure_s,
        iso=facts.iso,
        focus_m=facts.focus_m,
    )


def _check(sent: PhotographBeginBody) -> None:
    """Refuse what cannot become a composition, before anything is kept.

    Raises
    ------
    Refused
        Naming what is missing.

    """
    facts = sent.facts
    if sent.place_id is None and sent.place is None:
        raise Refused(
            "/place", "Say where it was taken: choose one of your places, or name a new one and its position."
        )
    if sent.place is not None and sent.place_id is None:
        _instant(facts.taken, places.zone_at(sent.place.latitude_deg, sent.place.longitude_deg))
    if facts.focal_length_mm is None and facts.equivalent_mm is None:
        raise Refused("/facts/equivalent_mm", "Give the focal length; a guess will do, and measuring puts it right.")


def begin(sent: PhotographBeginBody) -> CompositionOut:
    """Begin a composition from what a photograph told and what was put in.

    Raises
    ------
    Refused
        Naming what is missing.

    """
    _check(sent)
    facts = sent.facts
    body_id, body = _body(sent)
    sides = (body.sensor_width_mm, body.sensor_height_mm)
    focal = facts.focal_length_mm or equivalent_to_focal_mm(facts.equivalent_mm or 28.0, sides)
    lens_id, lens = _lens(sent, round(focal, 2))
    support_id, support = _support()
    place_id = sent.place_id or new_place(sent.place)  # type: ignore[arg-type]
    with database().transaction() as session:
        place = core_place(find(session, PlaceRow, place_id, "place"))
    used = Kit(body=body, lens=lens, support=support, filters=owned_kit().filters)
    shot = _shot(facts, _instant(facts.taken, place.time_zone), focal, sides)
    made = compose(shot, place, used, str(sent.photograph_id), terrain_of(place))
    with database().transaction() as session:
        composition = compositions.taken_over(session, made)
    return compositions.add(
        CompositionNew(
            name=sent.name,
            place_id=place_id,
            body_id=body_id,
            lens_id=lens_id,
            support_id=support_id,
            composition=composition,
        )
    )
