"""Practice."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base


class PracticeRow(Base):
    """How far a photographer's practice has come; no row before the first answer."""

    __tablename__ = "practice"

    owner_id: Mapped[UUID] = mapped_column(ForeignKey("photographers.id"), primary_key=True)
    document: Mapped[dict[str, Any]]
