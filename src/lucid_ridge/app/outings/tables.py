"""Outings."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base, Editable, checks


class OutingRow(Editable, Base):
    """A day or a trip. ``document`` is the core's record; the first minute of its first day and the last of its last stand beside it."""

    __tablename__ = "outings"
    __table_args__ = checks()

    leaves_at: Mapped[datetime] = mapped_column(index=True)
    back_at: Mapped[datetime]
    document: Mapped[dict[str, Any]]
