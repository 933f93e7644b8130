"""Places."""

from __future__ import annotations

from typing import Any

from sqlalchemy import String, Text
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base, Editable, checks


class PlaceRow(Editable, Base):
    """Somewhere to photograph.

    ``notes`` holds what else is noted (see `notes.PlaceNotes`), ``sky`` horizon, skyline, terrain and tide
    as in the core's `Place`.
    """

    __tablename__ = "places"
    __table_args__ = checks(position="latitude_deg BETWEEN -90 AND 90 AND longitude_deg BETWEEN -180 AND 180")

    latitude_deg: Mapped[float]
    longitude_deg: Mapped[float]
    elevation_m: Mapped[float]
    time_zone: Mapped[str] = mapped_column(String(64))
    access: Mapped[str] = mapped_column(Text, default="")
    hazards: Mapped[str] = mapped_column(Text, default="")
    notes: Mapped[dict[str, Any]] = mapped_column(default=dict)
    sky: Mapped[dict[str, Any]] = mapped_column(default=dict)
