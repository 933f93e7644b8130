"""Kit items."""

from __future__ import annotations

from typing import Any

from sqlalchemy import String, false
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base, Editable, checks


class KitItem(Editable, Base):
    """A body, lens, filter, support, piece of close-up gear or light; ``details`` is the core's record for its kind.

    ``usual`` marks values that nobody confirmed yet: they are the usual ones of such a thing.
    """

    __tablename__ = "kit_items"
    __table_args__ = checks(kind="kind IN ('body', 'lens', 'filter', 'support', 'gear', 'light')")

    kind: Mapped[str] = mapped_column(String(12), index=True)
    details: Mapped[dict[str, Any]]
    usual: Mapped[bool] = mapped_column(default=False, server_default=false())
