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
    """All terrains by name; ``relief_key`` changes whenever the map of them does, and is drawn down to ``deepest_zoom``."""

    terrains: list[TerrainOut]
    next: str | None
    largest_bytes: int
    relief_key: str
    deepest_zoom: int


class ShadeQuery(BaseModel):
    """The moment at which the ground's shade is asked for."""

    at: AwareDatetime


class TilePath(BaseModel):
    """A tile of a web map: zoom, column from the west, row from the north."""

    z: Annotated[int, Field(ge=0, le=30)]
    x: Annotated[int, Field(ge=0)]
    y: Annotated[int, Field(ge=0)]
