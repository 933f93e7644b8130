"""Takes."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import Boolean, ForeignKey, Index, String, Text, literal_column, text
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base, Editable, checks


class Take(Editable, Base):
    """A sequence as it was carried out. ``frames`` in the document are the ones exposed."""

    __tablename__ = "takes"
    __table_args__ = (
        *checks(rating="rating BETWEEN 0 AND 5", times="ended_at >= started_at"),
        Index("ix_takes_faults", "faults", postgresql_using="gin"),
        Index("ix_takes_owner_id_started_at_id", "owner_id", "started_at", "id"),
        Index(
            "ix_takes_owner_id_place_id_started_at_id",
            "owner_id",
            "place_id",
            "started_at",
            "id",
            postgresql_where=text("deleted_at IS NULL"),
        ),
        Index(
            "ix_takes_owner_id_faults",
            "owner_id",
            postgresql_include=["faults"],
            postgresql_where=text("deleted_at IS NULL AND faults <> '{}'"),
        ),
    )

    sequence_id: Mapped[UUID] = mapped_column(ForeignKey("sequences.id"), index=True)
    composition_id: Mapped[UUID] = mapped_column(ForeignKey("compositions.id"), index=True)
    place_id: Mapped[UUID] = mapped_column(ForeignKey("places.id"), index=True)
    started_at: Mapped[datetime]
    ended_at: Mapped[datetime]
    rating: Mapped[int | None]
    note: Mapped[str] = mapped_column(Text, default="")
    faults: Mapped[list[str]] = mapped_column(ARRAY(String(40)), default=list)
    frames_done: Mapped[int]
    document: Mapped[dict[str, Any]]


WITH_FAULTS = literal_column("takes.faults <> '{}'", Boolean)
"""That a take has a fault, in the words of the index that holds those."""
