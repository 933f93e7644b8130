"""Requests and responses of terrain models."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import AwareDatetime, BaseModel, Field

TerrainState = Literal["importing", "ready", "failed"]


class TerrainNewQuery(BaseModel):
    """Name of the terrain, and its coordinate system where the file does not say it."""

    name: Annotated[str, Field(min_length=1, max_length=80, pattern="^[^\\x00]*$")]
    crs: Annotated[str, Field(max_length=40, pattern="^(EPSG:[0-9]{4,6})?$")] = ""


class TerrainOut(BaseModel):
    """A terrain model. Bounds and heights mean something once it is ready."""

    id: UUID
    version: int
    name: str
    state: TerrainState
    done: float
    problem: str
    source_text: str
    size_bytes: int
    latitude_deg: float
    longitude_deg: float
    cell_m: float
    columns: int
    rows: int
    lowest_m: float
    highest_m: float
    void_share: float
    south_deg: float
    west_deg: float
    north_deg: float
    east_deg: float
    created_at: datetime


class TerrainsOut(BaseModel):
    """All terrain models by name, and the limit for new ones."""

    terrains: list[TerrainOut]
    next: str | None
    largest_bytes: int


class ContourOut(BaseModel):
    """Lines of one height, as pairs of latitude and longitude."""

    height_m: float
    major: bool
    lines: tuple[tuple[tuple[float, float], ...], ...]


class ContoursOut(BaseModel):
    """Contour lines of a terrain."""

    step_m: float
    contours: list[ContourOut]


class ShadeQuery(BaseModel):
    """The moment at which the ground's shade is asked for."""

    at: AwareDatetime
