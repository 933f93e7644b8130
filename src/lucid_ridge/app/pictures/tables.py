"""Pictures that came back."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey, Index, String, Text, text
from sqlalchemy.dialects.postgresql import ARRAY
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import WORKED_OUT, Base, Editable, added, checks


class PictureRow(Editable, Base):
    """A picture; the file is kept as it came, see `CAME_BACK`. What it tells of itself is in the document.

    ``taken_at`` is what the camera's clock showed, as if that were UTC where no zone is told. ``sequence_id`` and ``number`` are
    the frame that it is of, ``take_id`` the take; none while nobody knows. ``for_take`` is the id that a take will have
    which is still being carried out. ``sha256`` is of the file, ``sidecar`` what came beside it. ``has_copy`` tells whether the
    copy for the screen is made, and with that whether anybody has looked further into the file than its head.
    """

    __tablename__ = "pictures"
    __table_args__ = (
        *checks(
            size="size_bytes > 0 AND width_px > 0 AND height_px > 0",
            rating="rating BETWEEN 0 AND 5",
            verdict="verdict IN ('keep', 'reject')",
            number="number >= 1",
        ),
        Index("ix_pictures_owner_id_sha256", "owner_id", "sha256"),
        Index("ix_pictures_owner_id_taken_at_id", "owner_id", "taken_at", "id"),
        Index("ix_pictures_without_copy", "owner_id", "id", postgresql_where=text("NOT has_copy")),
    )

    sequence_id: Mapped[UUID | None] = mapped_column(ForeignKey("sequences.id"), index=True)
    take_id: Mapped[UUID | None] = mapped_column(ForeignKey("takes.id"), index=True)
    number: Mapped[int | None]
    for_take: Mapped[UUID | None] = mapped_column(index=True)
    taken_at: Mapped[datetime]
    file_name: Mapped[str] = mapped_column(String(160))
    media_type: Mapped[str] = mapped_column(String(40))
    size_bytes: Mapped[int]
    width_px: Mapped[int]
    height_px: Mapped[int]
    sha256: Mapped[str] = mapped_column(String(64))
    rating: Mapped[int | None]
    verdict: Mapped[str | None] = mapped_column(String(8))
    keywords: Mapped[list[str]] = mapped_column(ARRAY(String(64)), default=list, info=added([]))
    sidecar: Mapped[str | None] = mapped_column(Text, info=added(None))
    has_copy: Mapped[bool] = mapped_column(default=True, info=WORKED_OUT)
    document: Mapped[dict[str, Any]]
