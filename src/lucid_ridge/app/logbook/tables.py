"""Takes."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any
from uuid import UUID

from sqlalchemy import Boolean, ForeignKey, Index, String, Text, literal_column, text
from sqlalchemy.dialects.postgresql import ARRAY, TSVECTOR
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import WORKED_OUT, Base, Editable, added, checks


class Take(Editable, Base):
    """A sequence as it was carried out. ``frames`` in the document are the ones exposed.

    The columns from ``day`` on are worked out of the others, see `facts`; None until they are. ``over_stops`` is how much longer
    than the rule's limit one was open that was held by hand, ``kind`` what it was as a number (`reports.logbook.kinds`), ``charge`` how much of a battery's
    it took by the usual figures, ``warm_room_stops`` how much room was left above its brightest saturated colour. ``arrived_at`` is when its photographer was there, where they said so.
    """

    __tablename__ = "takes"
    __table_args__ = (
        *checks(rating="rating BETWEEN 0 AND 5", times="ended_at >= started_at"),
        Index("ix_takes_faults", "faults", postgresql_using="gin"),
        Index("ix_takes_owner_id_started_at_id", "owner_id", "started_at", "id"),
        Index(
            "ix_takes_owner_id_place_id_started_at_id",
            "owner_id",
            "place_id",
            "started_at",
            "id",
            postgresql_where=text("deleted_at IS NULL"),
        ),
        Index(
            "ix_takes_owner_id_faults",
            "owner_id",
            postgresql_include=["faults", "day"],
            postgresql_where=text("deleted_at IS NULL AND faults <> '{}'"),
        ),
        Index("ix_takes_owner_id_day", "owner_id", "day", postgresql_where=text("deleted_at IS NULL")),
        Index(
            "ix_takes_owner_id_season_started_at_id",
            "owner_id",
            "season",
            "started_at",
            "id",
            postgresql_where=text("deleted_at IS NULL"),
        ),
        Index("ix_takes_without_day", "id", postgresql_where=text("day IS NULL")),
        Index("ix_takes_words", "words", postgresql_using="gin"),
        # Sums over all takes are read from these alone. Same rows lie in them once, so they are small; no included columns, then.
        Index(
            "ix_takes_owner_id_place_id_rating",
            "owner_id",
            "place_id",
            "rating",
            postgresql_where=text("deleted_at IS NULL"),
        ),
        Index(
            "ix_takes_owner_id_kind_rating", "owner_id", "kind", "rating", postgresql_where=text("deleted_at IS NULL")
        ),
        Index(
            "ix_takes_owner_id_by_hand",
            "owner_id",
            "started_at",
            postgresql_where=text("deleted_at IS NULL AND over_stops IS NOT NULL"),
        ),
        Index(
            "ix_takes_owner_id_water_look_started_at",
            "owner_id",
            "water_look",
            "started_at",
            postgresql_where=text("deleted_at IS NULL AND water_look IS NOT NULL AND rating IS NOT NULL"),
        ),
        Index(
            "ix_takes_owner_id_arrived",
            "owner_id",
            "started_at",
            postgresql_where=text("deleted_at IS NULL AND arrived_at IS NOT NULL"),
        ),
        Index(
            "ix_takes_owner_id_warm",
            "owner_id",
            "started_at",
            postgresql_where=text("deleted_at IS NULL AND warm_room_stops IS NOT NULL"),
        ),
        Index("ix_takes_owner_id_rating", "owner_id", "rating", postgresql_where=text("deleted_at IS NULL")),
    )

    sequence_id: Mapped[UUID] = mapped_column(ForeignKey("sequences.id"), index=True)
    composition_id: Mapped[UUID | None] = mapped_column(ForeignKey("compositions.id"), index=True)
    place_id: Mapped[UUID] = mapped_column(ForeignKey("places.id"), index=True)
    started_at: Mapped[datetime]
    ended_at: Mapped[datetime]
    rating: Mapped[int | None]
    note: Mapped[str] = mapped_column(Text, default="")
    faults: Mapped[list[str]] = mapped_column(ARRAY(String(40)), default=list)
    frames_done: Mapped[int]
    document: Mapped[dict[str, Any]]
    arrived_at: Mapped[datetime | None] = mapped_column(info=added(None))
    day: Mapped[date | None] = mapped_column(info=WORKED_OUT)
    season: Mapped[str | None] = mapped_column(String(8), info=WORKED_OUT)
    way: Mapped[str | None] = mapped_column(String(12), info=WORKED_OUT)
    water_look: Mapped[str | None] = mapped_column(String(12), info=WORKED_OUT)
    sun_height_deg: Mapped[float | None] = mapped_column(info=WORKED_OUT)
    sun_off_deg: Mapped[float | None] = mapped_column(info=WORKED_OUT)
    shutter_s: Mapped[float | None] = mapped_column(info=WORKED_OUT)
    support: Mapped[str | None] = mapped_column(String(12), info=WORKED_OUT)
    over_stops: Mapped[float | None] = mapped_column(info=WORKED_OUT)
    kind: Mapped[int | None] = mapped_column(info=WORKED_OUT)
    body: Mapped[str | None] = mapped_column(String(80), info=WORKED_OUT)
    charge: Mapped[float | None] = mapped_column(info=WORKED_OUT)
    warm_room_stops: Mapped[float | None] = mapped_column(info=WORKED_OUT)
    words: Mapped[Any | None] = mapped_column(TSVECTOR, info=WORKED_OUT, deferred=True)


WITH_FAULTS = literal_column("takes.faults <> '{}'", Boolean)
"""That a take has a fault, in the words of the index that holds those."""
BY_HAND = literal_column("takes.over_stops IS NOT NULL", Boolean)
"""That one is known of how much over the limit it was held by hand, likewise."""
