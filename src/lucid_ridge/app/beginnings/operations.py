"""What can be done to begin."""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import UTC, datetime
from functools import lru_cache
from importlib.resources import files
from uuid import UUID

from flask import current_app
from pydantic import TypeAdapter
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
from lucid_ridge.app.database import now
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
from lucid_ridge.beginnings.placing import Owned, best_lens, best_support, place_picture
from lucid_ridge.beginnings.usual_kit import FORMATS, usual_items
from lucid_ridge.core.light_windows.next_light import soon
from lucid_ridge.core.model.kit import Kit
from lucid_ridge.core.model.place import Place
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.state.state import build_state
from lucid_ridge.reports.frame.view import FramingReport, framing_report

_VIEW: TypeAdapter[FramingReport] = TypeAdapter(FramingReport)
_SHOWN_FOR = Place(name="anywhere", latitude_deg=52.0, longitude_deg=0.0, elevation_m=100.0)
_SHOWN_AT = datetime(2026, 9, 20, 4, 0, tzinfo=UTC)
"""The kinds of picture are drawn for a morning at middle latitudes, whoever looks at them."""
_USUAL_EQUIVALENT_MM = 24.0


@lru_cache(maxsize=1)
def pictures() -> PicturesOut:
    """The kinds of picture, each drawn with the usual full-frame kit."""
    items = usual_items("full")
    owned = Owned(
        bodies={i.id: i.details for i in items if i.kind == "body"},  # type: ignore[misc]
        lenses={i.id: i.details for i in items if i.kind == "lens"},  # type: ignore[misc]
        supports={i.id: i.details for i in items if i.kind == "support"},  # type: ignore[misc]
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
    by_id = {item.id: item for item in usual_items(sent.format)}
    unknown = [i for i in sent.items if i not in by_id]
    if unknown:
        raise Refused("/items", f"'{unknown[0]}' is no usual item of this format; leave it out.")
    chosen = [item for item in by_id.values() if item.kind == "body" or item.id in sent.items]
    return StarterKitOut(items=[kit.add_usual(item.kind, item.details) for item in chosen])


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
    of: Callable[[str], dict[str, KitItem]] = lambda kind: {str(r.id): r for r in rows if r.kind == kind}  # noqa: E731
    read = {kind: {i: BY_KIND[kind].read(row.details) for i, row in of(kind).items()} for kind in BY_KIND}
    return Owned(
        bodies=read["body"],
        lenses=read["lens"],
        supports=read["support"],
        filters=tuple(read["filter"].values())[:40],
    )


def begin(sent: BeginBody) -> CompositionOut:
    """Make a composition to begin with, with its place and kit where these are new.

    Raises
    ------
    Refused
        If there is no place, or the kit lacks something that is needed.

    """
    if sent.kit is not None:
        add_kit(sent.kit)
    owned = owned_kit()
    lacking = [what for what in ("bodies", "lenses", "supports") if not getattr(owned, what)]
    if lacking:
        names = {"bodies": "a body", "lenses": "a lens", "supports": "a tripod, a bag or your hands"}
        raise Refused("/kit", f"Your kit needs {names[lacking[0]]}; choose a sensor format and tick what you own.")
    if sent.place_id is None and sent.place is None:
        raise Refused("/place", "Say where: choose one of your places, or name a new one and its position.")
    place_id = sent.place_id or new_place(sent.place)  # type: ignore[arg-type]
    with database().transaction() as session:
        place = core_place(find(session, PlaceRow, place_id, "place"))
    if sent.picture is None:
        body = next(iter(owned.bodies.values()))
        lens_id = best_lens(owned, _USUAL_EQUIVALENT_MM * body.sensor_width_mm / 36.0, macro=False)
        new = CompositionNew(
            name="New composition",
            place_id=place_id,
            body_id=UUID(next(iter(owned.bodies))),
            lens_id=UUID(lens_id),
            support_id=UUID(best_support(owned, 1.5)),
        )
        return compositions.add(new)
    picture = picture_named(sent.picture)
    placed = place_picture(picture, place, owned, soon(now()), terrain_of(place))
    with database().transaction() as session:
        composition = compositions.taken_over(session, placed.composition, schools_too=False)
    return compositions.add(
        CompositionNew(
            name=picture.name,
            place_id=place_id,
            body_id=UUID(placed.body_id),
            lens_id=UUID(placed.lens_id),
            support_id=UUID(placed.support_id),
            composition=composition,
        )
    )


def _valley() -> SampleValley | None:
    found: SampleValley | None = current_app.extensions["valley"]
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
