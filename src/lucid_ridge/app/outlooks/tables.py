"""Outlooks."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base


class OutlookRow(Base):
    """What was worked out of a composition, to be thrown away whenever it no longer holds.

    ``key`` tells what it was worked out from; the window holds until ``good_until``. ``view`` is what the small drawing
    shows, None where the composition cannot be computed.
    """

    __tablename__ = "outlooks"

    composition_id: Mapped[UUID] = mapped_column(ForeignKey("compositions.id", ondelete="CASCADE"), primary_key=True)
    key: Mapped[str] = mapped_column(String(64))
    view: Mapped[dict[str, Any] | None]
    starts_at: Mapped[datetime | None]
    ends_at: Mapped[datetime | None]
    side: Mapped[str] = mapped_column(String(12))
    good_until: Mapped[datetime]
