"""Variants."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base, Editable, checks


class VariantRow(Editable, Base):
    """A try of a composition, with the kit it was tried with. ``document`` is the core's record."""

    __tablename__ = "variants"
    __table_args__ = checks()

    composition_id: Mapped[UUID] = mapped_column(ForeignKey("compositions.id"), index=True)
    body_id: Mapped[UUID] = mapped_column(ForeignKey("kit_items.id"))
    lens_id: Mapped[UUID] = mapped_column(ForeignKey("kit_items.id"))
    support_id: Mapped[UUID] = mapped_column(ForeignKey("kit_items.id"))
    document: Mapped[dict[str, Any]]
