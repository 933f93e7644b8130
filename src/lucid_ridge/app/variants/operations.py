"""What can be done with variants."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from lucid_ridge.app.compositions.documents import COMPOSITION
from lucid_ridge.app.compositions.operations import checked_document, kit_details
from lucid_ridge.app.compositions.tables import CompositionRow
from lucid_ridge.app.editing import check_version, claimed, database, find, owner
from lucid_ridge.app.kit.documents import BODY, BY_KIND, LENS, SUPPORT
from lucid_ridge.app.kit.tables import KitItem
from lucid_ridge.app.places.saved import core_place
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.problems import NotFound, Refused
from lucid_ridge.app.terrains.operations import terrain_of
from lucid_ridge.app.variants.schemas import VariantChange, VariantNew, VariantOut, VariantsOut
from lucid_ridge.app.variants.tables import VariantRow
from lucid_ridge.core.model.kit import Kit
from lucid_ridge.core.model.scene import Composition, Scene, Units
from lucid_ridge.core.records import SceneError
from lucid_ridge.reports.evaluate import changed_state
from lucid_ridge.reports.frame.tries import Card, card

MOST_VARIANTS = 24

_OWNED = ("filter", "gear", "light")


def _scene(session: Session, row: VariantRow, composition: Composition, units: Units) -> Scene:
    base = session.get_one(CompositionRow, row.composition_id)
    place = session.get_one(PlaceRow, base.place_id)
    owned: dict[str, list[Any]] = {kind: [] for kind in _OWNED}
    for one in session.scalars(
        select(KitItem).where(KitItem.owner_id == owner(), KitItem.kind.in_(_OWNED), KitItem.deleted_at.is_(None))
    ):
        owned[one.kind].append(BY_KIND[one.kind].read(one.details))
    return Scene(
        place=core_place(place),
        kit=Kit(
            body=BODY.read(kit_details(session, row.body_id, "body")),
            lens=LENS.read(kit_details(session, row.lens_id, "lens")),
            support=SUPPORT.read(kit_details(session, row.support_id, "support")),
            filters=tuple(owned["filter"]),
            gear=tuple(owned["gear"]),
            lights=tuple(owned["light"]),
        ),
        composition=composition,
        units=units,
    )


def present(session: Session, row: VariantRow, units: Units = "metric") -> VariantOut:
    """The variant as the API shows it, with its card."""
    composition = COMPOSITION.read(row.document)
    made: Card | None = None
    problem = ""
    try:
        scene = _scene(session, row, composition, units)
        made = card(changed_state(scene, terrain=terrain_of(scene.place)))
    except SceneError as error:
        problem = " ".join(one.message for one in error.problems)
    return VariantOut(
        id=row.id,
        version=row.version,
        created_at=row.created_at,
        name=row.name,
        body_id=row.body_id,
        lens_id=row.lens_id,
        support_id=row.support_id,
        composition=composition,
        card=made,
        problem=problem,
    )


def of_composition(composition_id: UUID, units: Units) -> VariantsOut:
    """Every kept try of a composition, oldest first."""
    with database().transaction() as session:
        find(session, CompositionRow, composition_id, "composition")
        rows = session.scalars(
            select(VariantRow)
            .where(VariantRow.composition_id == composition_id, VariantRow.deleted_at.is_(None))
            .order_by(VariantRow.created_at, VariantRow.id)
        )
        return VariantsOut(variants=[present(session, row, units) for row in rows])


def keep(composition_id: UUID, new: VariantNew) -> tuple[VariantOut, bool]:
    """Keep a try; whether it is new."""
    with database().transaction() as session:
        find(session, CompositionRow, composition_id, "composition")
        kept = claimed(session, VariantRow, new.id)
        if kept is not None:
            if kept.owner_id != owner() or kept.composition_id != composition_id:
                raise Refused("/id", "A record with this id exists already; use another id.")
            return present(session, kept), False
        count = session.scalar(
            select(func.count())
            .select_from(VariantRow)
            .where(VariantRow.composition_id == composition_id, VariantRow.deleted_at.is_(None))
        )
        if (count or 0) >= MOST_VARIANTS:
            raise Refused("/composition", f"There are {MOST_VARIANTS} variants; remove one before keeping another.")
        for kind, item_id in (("body", new.body_id), ("lens", new.lens_id), ("support", new.support_id)):
            kit_details(session, item_id, kind)
        row = VariantRow(
            id=new.id,
            owner_id=owner(),
            name=new.name,
            composition_id=composition_id,
            body_id=new.body_id,
            lens_id=new.lens_id,
            support_id=new.support_id,
            document=checked_document(new.composition),
        )
        session.add(row)
        session.flush()
        return present(session, row), True


def rename(variant_id: UUID, change: VariantChange) -> VariantOut:
    """Give a variant another name."""
    with database().transaction() as session:
        row = find(session, VariantRow, variant_id, "variant")
        check_version(row, change.version, "variant", lambda one: present(session, one))
        row.name = change.name
        row.version += 1
        session.flush()
        return present(session, row)


def restore(variant_id: UUID) -> VariantOut:
    """Bring a removed variant back."""
    with database().transaction() as session:
        row = find(session, VariantRow, variant_id, "variant", deleted=True)
        if session.get(CompositionRow, row.composition_id) is None:
            raise NotFound("composition")
        row.deleted_at = None
        session.flush()
        return present(session, row)
