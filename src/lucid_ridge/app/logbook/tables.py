"""Takes."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey, Index, String, Text
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base, Editable


class Take(Editable, Base):
    """A sequence as it was carried out. ``frames`` in the document are the ones exposed."""

    __tablename__ = "takes"
    __table_args__ = (Index("ix_takes_faults", "faults", postgresql_using="gin"),)

    sequence_id: Mapped[UUID] = mapped_column(ForeignKey("sequences.id"), index=True)
    composition_id: Mapped[UUID] = mapped_column(ForeignKey("compositions.id"), index=True)
    place_id: Mapped[UUID] = mapped_column(ForeignKey("places.id"), index=True)
    started_at: Mapped[datetime] = mapped_column(index=True)
    ended_at: Mapped[datetime]
    rating: Mapped[int | None]
    note: Mapped[str] = mapped_column(Text, default="")
    faults: Mapped[list[str]] = mapped_column(ARRAY(String(40)), default=list)
    document: Mapped[dict[str, Any]]
