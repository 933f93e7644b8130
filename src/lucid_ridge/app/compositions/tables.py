"""Compositions."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base, Editable


class CompositionRow(Editable, Base):
    """A composition. ``document`` is the core's record: always read, checked and written whole."""

    __tablename__ = "compositions"

    place_id: Mapped[UUID] = mapped_column(ForeignKey("places.id"), index=True)
    body_id: Mapped[UUID] = mapped_column(ForeignKey("kit_items.id"))
    lens_id: Mapped[UUID] = mapped_column(ForeignKey("kit_items.id"))
    support_id: Mapped[UUID] = mapped_column(ForeignKey("kit_items.id"))
    document: Mapped[dict[str, Any]]
