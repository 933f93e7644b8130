"""Jobs."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import CheckConstraint, Index, String, Text, text
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base, Owned, now


class JobRow(Owned, Base):
    """A piece of background work.

    ``attempt`` counts how often it was begun: whoever began it last may end it. ``cut_off`` counts how often the process that
    did it ended without a word since somebody asked for it; ``seen_at`` is its last sign of life.
    """

    __tablename__ = "jobs"
    __table_args__ = (
        CheckConstraint("state IN ('waiting', 'running', 'done', 'failed', 'stopped')", name="state"),
        Index("ix_jobs_owner_id_created_at", "owner_id", "created_at"),
        Index("ix_jobs_seen_at", "seen_at", postgresql_where=text("state IN ('waiting', 'running')")),
    )

    kind: Mapped[str] = mapped_column(String(20))
    name: Mapped[str] = mapped_column(String(160))
    state: Mapped[str] = mapped_column(String(12), default="waiting")
    doing: Mapped[str] = mapped_column(String(80), default="")
    done: Mapped[int] = mapped_column(default=0)
    whole: Mapped[int] = mapped_column(default=0)
    attempt: Mapped[int] = mapped_column(default=0)
    cut_off: Mapped[int] = mapped_column(default=0)
    arguments: Mapped[dict[str, Any]]
    result: Mapped[dict[str, Any] | None]
    problem: Mapped[str] = mapped_column(Text, default="")
    stop_asked: Mapped[bool] = mapped_column(default=False)
    seen_at: Mapped[datetime] = mapped_column(default=now)
    ended_at: Mapped[datetime | None]
