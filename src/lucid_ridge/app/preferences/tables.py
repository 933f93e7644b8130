"""Preferences."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base


class PreferencesRow(Base):
    """What a photographer chose; no row while nothing was."""

    __tablename__ = "preferences"

    owner_id: Mapped[UUID] = mapped_column(ForeignKey("photographers.id"), primary_key=True)
    document: Mapped[dict[str, Any]]
