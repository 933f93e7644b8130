"""What the pictures of takes show."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base


class LookedRow(Base):
    """What was found in the pictures of a take, to be thrown away whenever it no longer holds.

    ``key`` tells which pictures were looked at, and by which version of the checks.
    """

    __tablename__ = "looked"

    take_id: Mapped[UUID] = mapped_column(ForeignKey("takes.id", ondelete="CASCADE"), primary_key=True)
    key: Mapped[str] = mapped_column(String(64))
    looked_at: Mapped[datetime]
    document: Mapped[dict[str, Any]]
