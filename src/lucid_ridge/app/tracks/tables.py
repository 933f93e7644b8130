"""Marks and paths."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey, String, Text
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base, Editable, checks


class TrackRow(Editable, Base):
    """A mark (one point) or a path (a line) at a place; points are latitude, longitude and height or null."""

    __tablename__ = "tracks"
    __table_args__ = checks(kind="kind IN ('mark', 'path')")

    place_id: Mapped[UUID] = mapped_column(ForeignKey("places.id"), index=True)
    kind: Mapped[str] = mapped_column(String(8))
    sort: Mapped[str] = mapped_column(String(16))
    note: Mapped[str] = mapped_column(Text, default="")
    points: Mapped[list[Any]] = mapped_column(JSONB)
