"""The database: engine, session, and what every editable table shares."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from typing import Any, ClassVar
from uuid import UUID, uuid4

from sqlalchemy import CheckConstraint, DateTime, ForeignKey, MetaData, String, create_engine
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.engine import Engine
from sqlalchemy.orm import DeclarativeBase, Mapped, Session, mapped_column, sessionmaker

LOCAL_PHOTOGRAPHER = UUID("6f1d0c1e-0000-4000-8000-000000000001")
"""The one owner until there are accounts."""


def now() -> datetime:
    """Return this instant in UTC."""
    return datetime.now(UTC)


WORKED_OUT: dict[str, Any] = {"worked out": True}
"""Marks a column that follows from others of its row and is in no archive."""


def added(default: Any) -> dict[str, Any]:
    """Marks a column that archives of earlier versions do not hold, with what it is there."""
    return {"added": default}


class Base(DeclarativeBase):
    """Base of all tables."""

    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(table_name)s_%(column_0_N_name)s",
            "ck": "ck_%(table_name)s_%(constraint_name)s",
            "uq": "uq_%(table_name)s_%(column_0_N_name)s",
            "fk": "fk_%(table_name)s_%(column_0_N_name)s",
            "pk": "pk_%(table_name)s",
        }
    )
    type_annotation_map: ClassVar = {dict[str, Any]: JSONB, datetime: DateTime(timezone=True)}


class Photographer(Base):
    """Who owns records."""

    __tablename__ = "photographers"

    id: Mapped[UUID] = mapped_column(primary_key=True, default=uuid4)
    name: Mapped[str] = mapped_column(String(80))


class Owned:
    """Columns of a root table: id and owner."""

    id: Mapped[UUID] = mapped_column(primary_key=True, default=uuid4)
    owner_id: Mapped[UUID] = mapped_column(ForeignKey("photographers.id"), index=True)
    created_at: Mapped[datetime] = mapped_column(default=now)


class Editable(Owned):
    """Columns of a record that people edit: versions against lost updates, deletion that can be undone."""

    name: Mapped[str] = mapped_column(String(80))
    version: Mapped[int] = mapped_column(default=1)
    updated_at: Mapped[datetime] = mapped_column(default=now, onupdate=now)
    deleted_at: Mapped[datetime | None] = mapped_column(default=None)


def checks(**texts: str) -> tuple[CheckConstraint, ...]:
    """What must hold of every row of an editable table, by name; also that versions count from 1."""
    return tuple(CheckConstraint(text, name=name) for name, text in {"version": "version >= 1", **texts}.items())


class Database:
    """One engine and its sessions."""

    def __init__(self, url: str) -> None:
        # What people write and where they go has no business in a log, errors of statements included.
        self.engine: Engine = create_engine(url, pool_pre_ping=True, pool_size=8, hide_parameters=True)
        self._sessions = sessionmaker(self.engine, expire_on_commit=False)

    def dispose(self) -> None:
        """Close every connection."""
        self.engine.dispose()

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        """A session in one transaction: committed at the end, rolled back on any error."""
        with self._sessions.begin() as session:
            yield session
