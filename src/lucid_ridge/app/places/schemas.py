"""Requests and responses of places."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.core.technique.scene import Place

Notes = Annotated[str, Field(max_length=4000, pattern="^[^\\x00]*$")]


class PlaceNew(JsonBody):
    """A place to add; ``id`` may be chosen by the client."""

    id: UUID | None = None
    place: Place
    access: Notes = ""
    hazards: Notes = ""


class PlaceChange(JsonBody):
    """A place as changed, and the version that was changed."""

    version: Annotated[int, Field(ge=1)]
    place: Place
    access: Notes = ""
    hazards: Notes = ""


class LocateBody(JsonBody):
    """A position as somebody writes or pastes it."""

    text: Annotated[str, Field(min_length=1, max_length=200)]


class LocatedOut(BaseModel):
    """The position read, in degrees, and the time zone there."""

    latitude_deg: float
    longitude_deg: float
    time_zone: str


class PlaceOut(BaseModel):
    """A place as saved."""

    id: UUID
    version: int
    updated_at: datetime
    place: Place
    access: str
    hazards: str
    compositions: int


class PlacesOut(BaseModel):
    """All places by name."""

    places: list[PlaceOut]
