"""What can be done with compositions."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Any
from uuid import UUID, uuid4
from zoneinfo import ZoneInfo

from sqlalchemy import select
from sqlalchemy.orm import Session, defer

from lucid_ridge.app.compositions.documents import COMPOSITION
from lucid_ridge.app.compositions.schemas import (
    CompositionBrief,
    CompositionChange,
    CompositionNew,
    CompositionOut,
    CompositionsOut,
    SeasonName,
)
from lucid_ridge.app.compositions.tables import CompositionRow
from lucid_ridge.app.database import now
from lucid_ridge.app.editing import check_new_id, check_version, copy_name, database, find, owner
from lucid_ridge.app.kit.documents import BY_KIND
from lucid_ridge.app.kit.tables import KitItem
from lucid_ridge.app.outlooks import operations as outlooks
from lucid_ridge.app.outlooks.tables import OutlookRow
from lucid_ridge.app.paging import PageQuery, page, text
from lucid_ridge.app.places.saved import core_place
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.preferences import operations as preferences
from lucid_ridge.app.problems import Refused
from lucid_ridge.app.terrains.operations import terrain_of
from lucid_ridge.beginnings.placing import empty_frame
from lucid_ridge.core.changes.check import check_composition
from lucid_ridge.core.light.terrain import position_of
from lucid_ridge.core.light_windows.next_light import soon
from lucid_ridge.core.model.kit import Kit
from lucid_ridge.core.model.scene import Composition, Wants
from lucid_ridge.core.records import SceneError

_AHEAD_M = 250.0


def present(row: CompositionRow) -> CompositionOut:
    """The composition as the API shows it."""
    return CompositionOut(
        id=row.id,
        version=row.version,
        updated_at=row.updated_at,
        name=row.name,
        place_id=row.place_id,
        body_id=row.body_id,
        lens_id=row.lens_id,
        support_id=row.support_id,
        composition=COMPOSITION.read(row.document),
    )


def kit_details(session: Session, item_id: UUID, kind: str) -> dict[str, Any]:
    """Details of an owned item. A deleted one still serves the compositions that use it."""
    item = session.get(KitItem, item_id)
    if item is None or item.owner_id != owner() or item.kind != kind:
        raise Refused(f"/{kind}_id", f"Choose a {kind} from your kit.")
    return item.details


def _check_links(session: Session, sent: CompositionNew | CompositionChange) -> None:
    place = session.get(PlaceRow, sent.place_id)
    if place is None or place.owner_id != owner() or place.deleted_at is not None:
        raise Refused("/place_id", "Choose one of your places.")
    for kind, item_id in (("body", sent.body_id), ("lens", sent.lens_id), ("support", sent.support_id)):
        kit_details(session, item_id, kind)


def checked_document(composition: Composition, over: dict[str, Any] | None = None) -> dict[str, Any]:
    """The document to save of a composition, over the one that is saved.

    Raises
    ------
    SceneError
        If it contradicts itself.

    """
    problems = check_composition(composition)
    if problems:
        raise SceneError(problems)
    return COMPOSITION.write(composition, over)


def _put_in(row: CompositionRow, composition: Composition) -> None:
    """Put a composition into its row.

    Raises
    ------
    SceneError
        If it contradicts itself.

    """
    row.document = checked_document(composition, row.document)
    row.moment_utc, row.azimuth_deg = composition.moment_utc, composition.azimuth_deg
    row.east_m, row.north_m, row.element_count = composition.east_m, composition.north_m, len(composition.elements)
    row.subject = next((e.name for e in composition.elements if e.role == "subject"), "")[:80]


def taken_over(session: Session, composition: Composition, schools_too: bool = True) -> Composition:
    """A new composition with what it takes over: the preferences, or the schools of the one last worked on.

    Without *schools_too* only what follows the photographer and not the picture: the print's width and the golden hour.
    """
    prefers = preferences.chosen(session)
    learned = prefers.learned
    wants = replace(
        composition.wants,
        print_width_mm=prefers.print_width_mm,
        own_looks=tuple(learned.own_looks),
        hand_held_factor=learned.hand_held_factor or composition.wants.hand_held_factor,
        warm_back_off_stops=composition.wants.warm_back_off_stops
        if learned.warm_back_off_stops is None
        else learned.warm_back_off_stops,
    )
    if schools_too:
        standard, school, motion = prefers.sharpness_standard, prefers.focus_school, prefers.motion_school
        row = session.scalar(
            select(CompositionRow)
            .where(CompositionRow.owner_id == owner(), CompositionRow.deleted_at.is_(None))
            .order_by(CompositionRow.updated_at.desc(), CompositionRow.id)
            .limit(1)
        )
        if prefers.take_over == "last" and row is not None:
            last = COMPOSITION.read(row.document).wants
            standard, school, motion = last.sharpness_standard, last.focus_school, last.motion_school
        wants = replace(
            wants,
            sharpness_standard=standard,
            focus_school=school,
            motion_school=motion,
            highest_iso=prefers.highest_iso,
        )
    return replace(composition, wants=wants, golden_hour=prefers.golden_hour)


def list_compositions(query: PageQuery) -> CompositionsOut:
    """A page of the compositions whose place is not deleted, by place and name."""
    mine = (
        select(CompositionRow, PlaceRow, KitItem.name)
        .join(PlaceRow, PlaceRow.id == CompositionRow.place_id)
        .join(KitItem, KitItem.id == CompositionRow.lens_id)
        .where(CompositionRow.owner_id == owner(), CompositionRow.deleted_at.is_(None), PlaceRow.deleted_at.is_(None))
        .options(defer(CompositionRow.document), defer(PlaceRow.notes), defer(PlaceRow.sky))
    )
    order = {"by_place": PlaceRow.name, "by_name": CompositionRow.name, "by_id": CompositionRow.id}
    with database().transaction() as session:
        rows, following = page(session, mine, query, order, (text, text, UUID))
        looked_for = outlooks.known(session, ((row[0], row[1]) for row in rows), drawn=False)
        shown = [brief(row[0], row[1], row[2], looked_for.get(row[0].id)) for row in rows]
        return CompositionsOut(compositions=shown, next=following)


def stands_at(row: CompositionRow, place: PlaceRow) -> tuple[float, float]:
    """Latitude and longitude of a composition's standpoint."""
    return position_of(place.latitude_deg, place.longitude_deg, row.east_m, row.north_m)


_SEASONS: tuple[SeasonName, ...] = ("winter", "spring", "summer", "autumn")


def season_of(month: int, latitude_deg: float) -> SeasonName:
    """The season of a month by the meteorological calendar (December to February are the northern winter)."""
    return _SEASONS[((month % 12) // 3 + (0 if latitude_deg >= 0 else 2)) % 4]


def brief(row: CompositionRow, place: PlaceRow, lens_name: str, outlook: OutlookRow | None) -> CompositionBrief:
    """A composition in a list."""
    latitude, longitude = stands_at(row, place)
    azimuth = math.radians(row.azimuth_deg)
    ahead = (_AHEAD_M * math.sin(azimuth), _AHEAD_M * math.cos(azimuth))
    return CompositionBrief(
        id=row.id,
        name=row.name,
        place_id=place.id,
        place_name=place.name,
        lens_name=lens_name,
        moment_utc=row.moment_utc,
        time_zone=place.time_zone,
        elements=row.element_count,
        subject=row.subject,
        season=season_of(row.moment_utc.astimezone(ZoneInfo(place.time_zone)).month, place.latitude_deg),
        updated_at=row.updated_at,
        latitude_deg=latitude,
        longitude_deg=longitude,
        looks_to=position_of(latitude, longitude, *ahead),
        light_at=outlook.starts_at if outlook else None,
        outlook_known=outlook is not None,
    )


def one(composition_id: UUID) -> CompositionOut:
    """One composition."""
    with database().transaction() as session:
        return present(find(session, CompositionRow, composition_id, "composition"))


def _fill(session: Session, row: CompositionRow, sent: CompositionNew | CompositionChange) -> None:
    _check_links(session, sent)
    composition = sent.composition
    if composition is None:
        body, lens, support = (
            BY_KIND[kind].read(kit_details(session, item_id, kind))
            for kind, item_id in (("body", sent.body_id), ("lens", sent.lens_id), ("support", sent.support_id))
        )
        place = core_place(session.get_one(PlaceRow, sent.place_id))
        kit = Kit(body=body, lens=lens, support=support)
        composition = taken_over(session, empty_frame(place, kit, Wants(), soon(now()), terrain_of(place)))
    row.name, row.place_id = sent.name, sent.place_id
    row.body_id, row.lens_id, row.support_id = sent.body_id, sent.lens_id, sent.support_id
    _put_in(row, composition)


def add(new: CompositionNew) -> CompositionOut:
    """Add a composition."""
    with database().transaction() as session:
        check_new_id(session, CompositionRow, new.id)
        row = CompositionRow(id=new.id or uuid4(), owner_id=owner())
        _fill(session, row, new)
        session.add(row)
        session.flush()
        return present(row)


def change(composition_id: UUID, changed: CompositionChange) -> CompositionOut:
    """Save a changed composition over the version that was changed."""
    with database().transaction() as session:
        row = find(session, CompositionRow, composition_id, "composition")
        check_version(row, changed.version, "composition", present)
        _fill(session, row, changed)
        row.version += 1
        session.flush()
        return present(row)


def change_now(composition_id: UUID, made: Callable[[Composition], Composition]) -> CompositionOut:
    """Change a composition over its version as it is now."""
    saved = one(composition_id)
    changed = CompositionChange(
        version=saved.version,
        name=saved.name,
        place_id=saved.place_id,
        body_id=saved.body_id,
        lens_id=saved.lens_id,
        support_id=saved.support_id,
        composition=made(saved.composition),
    )
    return change(composition_id, changed)


def duplicate(composition_id: UUID) -> CompositionOut:
    """Add a copy of a composition."""
    with database().transaction() as session:
        row = find(session, CompositionRow, composition_id, "composition")
        shown = ("moment_utc", "east_m", "north_m", "azimuth_deg", "element_count", "subject")
        links = {c: getattr(row, c) for c in ("place_id", "body_id", "lens_id", "support_id", *shown)}
        copied = CompositionRow(
            id=uuid4(), owner_id=owner(), name=copy_name(row.name), document=dict(row.document), **links
        )
        session.add(copied)
        session.flush()
        return present(copied)
