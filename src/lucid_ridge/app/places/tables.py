"""Places."""

from __future__ import annotations

from sqlalchemy import String, Text
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base, Editable


class PlaceRow(Editable, Base):
    """Somewhere to photograph."""

    __tablename__ = "places"

    latitude_deg: Mapped[float]
    longitude_deg: Mapped[float]
    elevation_m: Mapped[float]
    time_zone: Mapped[str] = mapped_column(String(64))
    access: Mapped[str] = mapped_column(Text, default="")
    hazards: Mapped[str] = mapped_column(Text, default="")
