"""What all editable records share: find, save against a version, delete and bring back."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar
from uuid import UUID

from flask import current_app
from pydantic import BaseModel
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from lucid_ridge.app.database import Database, Editable, Owned, now
from lucid_ridge.app.identity import who
from lucid_ridge.app.problems import Conflict, NotFound, Refused

Row = TypeVar("Row", bound=Editable)
Rec = TypeVar("Rec", bound=Owned)


def database() -> Database:
    """The application's database."""
    found: Database = current_app.extensions["database"]
    return found


def owner() -> UUID:
    """Whose records are looked at: those of whoever asks."""
    return who().id


def find(session: Session, table: type[Row], record_id: UUID, what: str, deleted: bool = False) -> Row:
    """The owner's record, locked until the transaction ends.

    Raises
    ------
    NotFound
        If it does not exist, belongs to somebody else, or is deleted and *deleted* is False.

    """
    row = session.scalars(
        select(table).where(table.id == record_id, table.owner_id == owner()).with_for_update()
    ).one_or_none()
    if row is None or (row.deleted_at is not None and not deleted):
        raise NotFound(what)
    return row


def claimed(session: Session, table: type[Rec], record_id: UUID) -> Rec | None:
    """The record with an id, whoever's it is; None where the id is free, and then nobody else's until the transaction ends.

    Two requests with one id that somebody's browser made come one after the other: the second finds what the first wrote.
    """
    session.execute(select(func.pg_advisory_xact_lock(func.hashtextextended(str(record_id), 0))))
    return session.get(table, record_id)


def check_new_id(session: Session, table: type[Row], record_id: UUID | None) -> None:
    """Refuse an id that is taken."""
    if record_id is not None and claimed(session, table, record_id) is not None:
        raise Refused("/id", "A record with this id exists already; use another id or change that record.")


def check_version(row: Row, version: int, what: str, present: Callable[[Row], BaseModel]) -> None:
    """Refuse a stale write, showing what is saved.

    Raises
    ------
    Conflict
        If the record has another version than the one that was changed.

    """
    if row.version != version:
        raise Conflict(what, version, row.version, present(row))


def delete(table: type[Row], record_id: UUID, what: str) -> None:
    """Hide a record; `restore` brings it back."""
    with database().transaction() as session:
        row = find(session, table, record_id, what)
        row.deleted_at = now()


def restore(table: type[Row], record_id: UUID, what: str, present: Callable[[Row], Any]) -> Any:
    """Bring a deleted record back."""
    with database().transaction() as session:
        row = find(session, table, record_id, what, deleted=True)
        row.deleted_at = None
        session.flush()
        return present(row)


def copy_name(name: str) -> str:
    """Name of a duplicate, within the limit."""
    return f"{name[:74]}, copy"[:80]
