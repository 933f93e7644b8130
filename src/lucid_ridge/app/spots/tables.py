"""What was measured on the spot."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base, Editable, checks


class SpotRow(Editable, Base):
    """Something measured or noted on the spot, at a place or for a composition. The document holds it as it was."""

    __tablename__ = "spots"
    __table_args__ = checks(kind="kind IN ('position', 'bearing', 'skyline', 'reading', 'note')")

    kind: Mapped[str] = mapped_column(String(16))
    place_id: Mapped[UUID] = mapped_column(ForeignKey("places.id"), index=True)
    composition_id: Mapped[UUID | None] = mapped_column(ForeignKey("compositions.id"), index=True)
    measured_at: Mapped[datetime]
    taken_on_at: Mapped[datetime | None] = mapped_column(default=None)
    document: Mapped[dict[str, Any]]
