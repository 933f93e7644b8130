"""Sequences taken to the field."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey, String, Text
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base, Owned


class SequenceRow(Owned, Base):
    """A computed sequence. It does not change when its composition does; it has none where nobody planned it. Settings and filters are the first frame's."""

    __tablename__ = "sequences"

    composition_id: Mapped[UUID | None] = mapped_column(ForeignKey("compositions.id"), index=True)
    composition_name: Mapped[str] = mapped_column(String(80))
    place_id: Mapped[UUID] = mapped_column(ForeignKey("places.id"))
    place_name: Mapped[str] = mapped_column(String(80))
    time_zone: Mapped[str] = mapped_column(String(64))
    frame_count: Mapped[int]
    aperture_n: Mapped[float]
    shutter_s: Mapped[float]
    iso: Mapped[float]
    filters: Mapped[str] = mapped_column(Text)
    document: Mapped[dict[str, Any]]
