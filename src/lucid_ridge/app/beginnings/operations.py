"""What can be done to begin."""

from __future__ import annotations

import re
from datetime import UTC, datetime
from functools import lru_cache
from importlib.resources import files
from typing import Any
from uuid import UUID

from flask import current_app
from sqlalchemy import select

from lucid_ridge.app.beginnings.schemas import (
    AboutHereOut,
    BeginBody,
    ChoiceOut,
    FormatOut,
    NewPlace,
    PictureOut,
    PicturesOut,
    StarterKit,
    StarterKitOut,
    UsualKitOut,
    ValleyOut,
)
from lucid_ridge.app.beginnings.valley import SampleValley
from lucid_ridge.app.compositions import operations as compositions
from lucid_ridge.app.compositions.schemas import CompositionNew, CompositionOut
from lucid_ridge.app.compositions.tables import CompositionRow
from lucid_ridge.app.database import LOCAL_PHOTOGRAPHER, now
from lucid_ridge.app.editing import database, find, owner
from lucid_ridge.app.kit import operations as kit
from lucid_ridge.app.kit.documents import BY_KIND
from lucid_ridge.app.kit.tables import KitItem
from lucid_ridge.app.places import operations as places
from lucid_ridge.app.places.saved import core_place
from lucid_ridge.app.places.schemas import PlaceNew
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.problems import Refused
from lucid_ridge.app.terrains.operations import terrain_of
from lucid_ridge.beginnings.pictures import PICTURES, picture_named
from lucid_ridge.beginnings.placing import USUAL_HEIGHT_M, Owned, best_lens, best_support, place_picture
from lucid_ridge.beginnings.usual_kit import FORMATS, UsualItem, usual_items
from lucid_ridge.core.light_windows.next_light import soon
from lucid_ridge.core.model.kit import Body, Kit, Lens, Support
from lucid_ridge.core.model.place import Place
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.motion.travel import equivalent_focal_length_mm
from lucid_ridge.core.state.state import build_state
from lucid_ridge.reports.frame.view import framing_report

_SHOWN_FOR = Place(name="anywhere", latitude_deg=52.0, longitude_deg=0.0, elevation_m=100.0)
_SHOWN_AT = datetime(2026, 9, 20, 4, 0, tzinfo=UTC)
"""The kinds of picture are drawn for a morning at middle latitudes, whoever looks at them."""
_USUAL_EQUIVALENT_MM = 24.0
_NEEDED = {
    "body": ("bodies", "a body"),
    "lens": ("lenses", "a lens"),
    "support": ("supports", "a tripod, a bag or your hands"),
}
"""What no composition can do without: where it stands in what is owned, and how it is asked for."""


@lru_cache(maxsize=1)
def pictures() -> PicturesOut:
    """The kinds of picture, each drawn with the usual full-frame kit."""
    items = usual_items("full")
    owned = Owned(
        bodies={i.id: i.details for i in items if isinstance(i.details, Body)},
        lenses={i.id: i.details for i in items if isinstance(i.details, Lens)},
        supports={i.id: i.details for i in items if isinstance(i.details, Support)},
    )
    made = []
    for picture in PICTURES:
        placed = place_picture(picture, _SHOWN_FOR, owned, _SHOWN_AT)
        used = Kit(
            body=owned.bodies[placed.body_id],
            lens=owned.lenses[placed.lens_id],
            support=owned.supports[placed.support_id],
        )
        state = build_state(Scene(place=_SHOWN_FOR, kit=used, composition=placed.composition))
        made.append(
            PictureOut(id=picture.id, name=picture.name, about=picture.about, view=framing_report(state, shares=False))
        )
    return PicturesOut(pictures=made)


@lru_cache(maxsize=1)
def usual_kit() -> UsualKitOut:
    """What a starter kit is made of, by format."""
    return UsualKitOut(
        formats=[
            FormatOut(
                id=one.id,
                name=one.name,
                width_mm=one.width_mm,
                height_mm=one.height_mm,
                choices=[
                    ChoiceOut(id=item.id, kind=item.kind, name=item.details.name, ticked=item.ticked)
                    for item in usual_items(one.id)
                ],
            )
            for one in FORMATS
        ]
    )


def add_kit(sent: StarterKit) -> StarterKitOut:
    """Add the usual items that are owned; what is there already under its name is not added again.

    Raises
    ------
    Refused
        If an item is not one of the format's.

    """
    return StarterKitOut(items=[kit.add_usual(item.kind, item.details) for item in _chosen(sent)])


def _chosen(sent: StarterKit) -> list[UsualItem]:
    """The usual items that are ticked, and the body."""
    by_id = {item.id: item for item in usual_items(sent.format)}
    unknown = [i for i in sent.items if i not in by_id]
    if unknown:
        raise Refused("/items", f"'{unknown[0]}' is no usual item of this format; leave it out.")
    return [item for item in by_id.values() if item.kind == "body" or item.id in sent.items]


@lru_cache(maxsize=1)
def _towns() -> dict[str, tuple[float, float]]:
    """Latitude and longitude of the town that each time zone is named after, from the table that comes with the zones."""
    found = {}
    table = files("tzdata").joinpath("zoneinfo", "zone.tab").read_text(encoding="utf-8")
    for line in table.splitlines():
        if line.startswith("#"):
            continue
        position, zone = line.split("\t")[1:3]
        north, east = re.findall(r"[+-]\d+", position)
        found[zone] = (_degrees(north, 2), _degrees(east, 3))
    return found


def _degrees(text: str, whole: int) -> float:
    """Degrees of a position written as ±DDMM or ±DDMMSS, with *whole* digits of degrees."""
    sign, digits = (-1.0 if text[0] == "-" else 1.0), text[1:].ljust(whole + 4, "0")
    minutes, seconds = float(digits[whole : whole + 2]), float(digits[whole + 2 : whole + 4])
    return round(sign * (float(digits[:whole]) + minutes / 60 + seconds / 3600), 4)


def about_here(zone: str) -> AboutHereOut:
    """The town that a time zone is named after."""
    found = _towns().get(zone)
    if found is None:
        return AboutHereOut(known=False, town="", latitude_deg=0.0, longitude_deg=0.0)
    town = zone.rsplit("/", maxsplit=1)[-1].replace("_", " ")
    return AboutHereOut(known=True, town=town, latitude_deg=found[0], longitude_deg=found[1])


def new_place(sent: NewPlace) -> UUID:
    """Add a place of which only name and position are known."""
    under = places.terrain_under(sent.latitude_deg, sent.longitude_deg)
    made = places.add(
        PlaceNew(
            place=Place(
                name=sent.name,
                latitude_deg=sent.latitude_deg,
                longitude_deg=sent.longitude_deg,
                elevation_m=round(under[1], 1) if under else 0.0,
                time_zone=places.zone_at(sent.latitude_deg, sent.longitude_deg),
                horizon="terrain" if under else "flat",
                terrain_id=str(under[0]) if under else None,
            )
        )
    )
    return made.id


def owned_kit() -> Owned:
    """The kit that is there, what was used last first."""
    with database().transaction() as session:
        rows = session.scalars(
            select(KitItem)
            .where(KitItem.owner_id == owner(), KitItem.deleted_at.is_(None))
            .order_by(KitItem.created_at, KitItem.id)
        ).all()
        last = session.execute(
            select(CompositionRow.body_id, CompositionRow.lens_id, CompositionRow.support_id)
            .where(CompositionRow.owner_id == owner(), CompositionRow.deleted_at.is_(None))
            .order_by(CompositionRow.updated_at.desc())
            .limit(1)
        ).first()
    used = set(last or ())
    rows = sorted(rows, key=lambda row: row.id not in used)
    read: dict[str, dict[str, Any]] = {kind: {} for kind in BY_KIND}
    for row in rows:
        read[row.kind][str(row.id)] = BY_KIND[row.kind].read(row.details)
    return Owned(
        bodies=read["body"],
        lenses=read["lens"],
        supports=read["support"],
        filters=tuple(read["filter"].values())[:40],
    )


def _check(sent: BeginBody) -> None:
    """Refuse what cannot become a composition, before anything is kept.

    Raises
    ------
    Refused
        If there is no place, or the kit would lack something that is needed.

    """
    if sent.place_id is None and sent.place is None:
        raise Refused("/place", "Say where: choose one of your places, or name a new one and its position.")
    if sent.place_id is not None:
        with database().transaction() as session:
            find(session, PlaceRow, sent.place_id, "place")
    owned = owned_kit()
    there = {kind for kind in _NEEDED if getattr(owned, _NEEDED[kind][0])}
    if sent.kit is not None:
        there |= {item.kind for item in _chosen(sent.kit)}
    for kind, (_, words) in _NEEDED.items():
        if kind not in there:
            raise Refused("/kit", f"Your kit needs {words}; choose a sensor format and tick what you own.")


def begin(sent: BeginBody) -> CompositionOut:
    """Make a composition to begin with, with its place and kit where these are new; see `_check` for errors."""
    _check(sent)
    if sent.kit is not None:
        add_kit(sent.kit)
    owned = owned_kit()
    place_id = sent.place_id or new_place(sent.place)  # type: ignore[arg-type]
    if sent.picture is None:
        body_id, body = next(iter(owned.bodies.items()))
        equivalent = _USUAL_EQUIVALENT_MM / float(
            equivalent_focal_length_mm(1.0, body.sensor_width_mm, body.sensor_height_mm)
        )
        lens_id, support_id = best_lens(owned, equivalent, macro=False), best_support(owned, USUAL_HEIGHT_M)
        name, composition = "New composition", None
    else:
        with database().transaction() as session:
            place = core_place(find(session, PlaceRow, place_id, "place"))
        picture = picture_named(sent.picture)
        placed = place_picture(picture, place, owned, soon(now()), terrain_of(place))
        with database().transaction() as session:
            composition = compositions.taken_over(session, placed.composition, schools_too=False)
        name, body_id, lens_id, support_id = picture.name, placed.body_id, placed.lens_id, placed.support_id
    return compositions.add(
        CompositionNew(
            name=name,
            place_id=place_id,
            body_id=UUID(body_id),
            lens_id=UUID(lens_id),
            support_id=UUID(support_id),
            composition=composition,
        )
    )


def _valley() -> SampleValley | None:
    # Its records have ids of their own: one photographer of an installation can have it.
    found: SampleValley | None = current_app.extensions["valley"] if owner() == LOCAL_PHOTOGRAPHER else None
    return found


def valley() -> ValleyOut:
    """Whether the sample valley is offered and loaded."""
    found = _valley()
    return ValleyOut(offered=found is not None, loaded=found is not None and found.is_there())


def put_valley(loaded: bool) -> ValleyOut:
    """Load the sample valley, or take it away.

    Raises
    ------
    Refused
        If this installation has none.

    """
    found = _valley()
    if found is None:
        raise Refused("", "This installation has no demo valley.")
    if loaded:
        found.load()
    else:
        found.remove()
    return valley()
