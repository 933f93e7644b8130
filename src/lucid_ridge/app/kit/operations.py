"""What can be done with the kit."""

from __future__ import annotations

from dataclasses import replace
from typing import Any
from uuid import UUID, uuid4

from pydantic import TypeAdapter
from sqlalchemy import select
from sqlalchemy.orm import Session

from lucid_ridge.app.editing import check_new_id, check_version, copy_name, database, find, owner
from lucid_ridge.app.kit.documents import BY_KIND
from lucid_ridge.app.kit.schemas import AnyItem, KitItemChange, KitItemNew, KitItemOut, KitOut
from lucid_ridge.app.kit.tables import KitItem
from lucid_ridge.app.paging import PageQuery, page, text
from lucid_ridge.app.problems import Refused
from lucid_ridge.core.changes.check import check_body, check_lens, check_support
from lucid_ridge.core.model.gear import Gear, LightSource, check_gear
from lucid_ridge.core.model.kit import Body, Lens, Support
from lucid_ridge.core.records import FieldProblem, SceneError
from lucid_ridge.core.stops.filters import Filter, check_filter

_ITEM: TypeAdapter[Any] = TypeAdapter(AnyItem)


def present(row: KitItem) -> KitItemOut:
    """The item as the API shows it."""
    item = _ITEM.validate_python({"kind": row.kind, "details": BY_KIND[row.kind].read(row.details)})
    return KitItemOut(id=row.id, version=row.version, updated_at=row.updated_at, usual=row.usual, item=item)


def _check(item: Any) -> None:
    details = item.details
    problems: list[FieldProblem] = []
    match details:
        case Body():
            problems = check_body(details, "/item/details")
        case Lens():
            problems = check_lens(details, "/item/details")
        case Support():
            problems = check_support(details, "/item/details")
        case Filter():
            problems = check_filter(details, "/item/details")
        case Gear():
            problems = check_gear(details, "/item/details")
    if problems:
        raise SceneError(problems)


def _fill(row: KitItem, item: Any) -> None:
    # What others refer to by its own id carries the one it is saved under.
    if isinstance(item.details, Filter | Gear | LightSource):
        item = item.model_copy(update={"details": replace(item.details, id=str(row.id))})
    row.kind, row.name = item.kind, item.details.name
    row.details = BY_KIND[item.kind].write(item.details, row.details)


def list_items(query: PageQuery) -> KitOut:
    """A page of the kit, by kind and name."""
    with database().transaction() as session:
        mine = select(KitItem).where(KitItem.owner_id == owner(), KitItem.deleted_at.is_(None))
        order = {"by_kind": KitItem.kind, "by_name": KitItem.name, "by_id": KitItem.id}
        rows, following = page(session, mine, query, order, (text, text, UUID))
        return KitOut(items=[present(row[0]) for row in rows], next=following)


def _add(session: Session, item_id: UUID | None, item: Any, usual: bool = False) -> KitItemOut:
    row = KitItem(id=item_id or uuid4(), owner_id=owner(), usual=usual)
    _fill(row, item)
    session.add(row)
    session.flush()
    return present(row)


def add(new: KitItemNew) -> KitItemOut:
    """Add an item."""
    _check(new.item)
    with database().transaction() as session:
        check_new_id(session, KitItem, new.id)
        return _add(session, new.id, new.item)


def change(item_id: UUID, changed: KitItemChange) -> KitItemOut:
    """Save a changed item over the version that was changed."""
    _check(changed.item)
    with database().transaction() as session:
        row = find(session, KitItem, item_id, "kit item")
        check_version(row, changed.version, "kit item", present)
        if row.kind != changed.item.kind:
            raise Refused("/item/kind", "An item cannot become another kind; add a new one.")
        _fill(row, changed.item)
        row.usual = False
        row.version += 1
        session.flush()
        return present(row)


def duplicate(item_id: UUID) -> KitItemOut:
    """Add a copy of an item."""
    with database().transaction() as session:
        saved = present(find(session, KitItem, item_id, "kit item"))
        original = saved.item
        renamed = replace(original.details, name=copy_name(original.details.name))
        return _add(session, None, original.model_copy(update={"details": renamed}), saved.usual)


def add_usual(kind: str, details: Any) -> KitItemOut:
    """Add an item with the usual values of its kind, or give the one of that name that is there."""
    with database().transaction() as session:
        there = session.scalars(
            select(KitItem)
            .where(
                KitItem.owner_id == owner(),
                KitItem.deleted_at.is_(None),
                KitItem.kind == kind,
                KitItem.name == details.name,
            )
            .limit(1)
        ).first()
        if there is not None:
            return present(there)
        return _add(session, None, _ITEM.validate_python({"kind": kind, "details": details}), usual=True)
