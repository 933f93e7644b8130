"""Compositions."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey, Index, String, text
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base, Editable, checks


class CompositionRow(Editable, Base):
    """A composition. ``document`` is the core's record: read, checked and written whole; what lists show stands in columns."""

    __tablename__ = "compositions"
    __table_args__ = (
        *checks(),
        Index("ix_compositions_owner_id_updated_at", "owner_id", "updated_at"),
        Index("ix_compositions_owner_id_place_id", "owner_id", "place_id", postgresql_where=text("deleted_at IS NULL")),
    )

    place_id: Mapped[UUID] = mapped_column(ForeignKey("places.id"), index=True)
    body_id: Mapped[UUID] = mapped_column(ForeignKey("kit_items.id"))
    lens_id: Mapped[UUID] = mapped_column(ForeignKey("kit_items.id"))
    support_id: Mapped[UUID] = mapped_column(ForeignKey("kit_items.id"))
    moment_utc: Mapped[datetime]
    east_m: Mapped[float]
    north_m: Mapped[float]
    azimuth_deg: Mapped[float]
    element_count: Mapped[int]
    subject: Mapped[str] = mapped_column(String(80), default="", server_default="")
    document: Mapped[dict[str, Any]]
