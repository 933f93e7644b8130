"""Terrain models."""

from __future__ import annotations

from sqlalchemy import String, Text
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base, Editable, checks


class TerrainRow(Editable, Base):
    """A terrain model; its heights are a GeoTIFF in the files folder, see `files`.

    ``state`` is importing, ready or failed; ``done`` the share of the import that is done, ``problem`` why
    it failed. Metres are about the origin, see `core.light.terrain`.
    """

    __tablename__ = "terrains"
    __table_args__ = checks(
        state="state IN ('importing', 'ready', 'failed')",
        done="done BETWEEN 0 AND 1",
        grid="columns > 0 AND rows > 0 AND cell_m > 0",
    )

    state: Mapped[str] = mapped_column(String(12))
    done: Mapped[float]
    problem: Mapped[str] = mapped_column(Text, default="")
    source_text: Mapped[str] = mapped_column(String(200), default="")
    size_bytes: Mapped[int]
    latitude_deg: Mapped[float]
    longitude_deg: Mapped[float]
    cell_m: Mapped[float]
    columns: Mapped[int]
    rows: Mapped[int]
    lowest_m: Mapped[float] = mapped_column(default=0.0)
    highest_m: Mapped[float] = mapped_column(default=0.0)
    void_share: Mapped[float] = mapped_column(default=0.0)
    south_deg: Mapped[float] = mapped_column(default=0.0)
    west_deg: Mapped[float] = mapped_column(default=0.0)
    north_deg: Mapped[float] = mapped_column(default=0.0)
    east_deg: Mapped[float] = mapped_column(default=0.0)
