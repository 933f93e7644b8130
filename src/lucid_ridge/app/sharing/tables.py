"""Shares."""

from __future__ import annotations

from uuid import UUID

from sqlalchemy import CheckConstraint, ForeignKey, String, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base, Owned


class ShareRow(Owned, Base):
    """A record of its owner that another may look at, and copy where ``may_copy`` says so."""

    __tablename__ = "shares"
    __table_args__ = (
        CheckConstraint("kind IN ('place', 'composition')", name="kind"),
        UniqueConstraint("with_id", "kind", "record_id"),
    )

    with_id: Mapped[UUID] = mapped_column(ForeignKey("accounts.id", ondelete="CASCADE"), index=True)
    kind: Mapped[str] = mapped_column(String(12))
    record_id: Mapped[UUID]
    may_copy: Mapped[bool]
