"""Reference photographs."""

from __future__ import annotations

from uuid import UUID

from sqlalchemy import ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base, Editable, checks


class PhotographRow(Editable, Base):
    """A reference photograph; the picture itself is a file as it was given, see `files`."""

    __tablename__ = "photographs"
    __table_args__ = checks(size="size_bytes > 0 AND width_px > 0 AND height_px > 0")

    composition_id: Mapped[UUID] = mapped_column(ForeignKey("compositions.id"), index=True)
    file_name: Mapped[str] = mapped_column(String(160))
    media_type: Mapped[str] = mapped_column(String(40))
    size_bytes: Mapped[int]
    width_px: Mapped[int]
    height_px: Mapped[int]
    view_deg: Mapped[float | None]
