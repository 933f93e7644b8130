"""Requests and responses of places."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.app.places.notes import PlaceNotes
from lucid_ridge.core.model.place import Place


class PlaceNew(JsonBody, PlaceNotes):
    """A place to add, with its notes; ``id`` may be chosen by the client."""

    id: UUID | None = None
    place: Place


class PlaceChange(JsonBody, PlaceNotes):
    """A place as changed with all its notes, and the version that was changed."""

    version: Annotated[int, Field(ge=1)]
    place: Place


class LocateBody(JsonBody):
    """A position as somebody writes or pastes it."""

    text: Annotated[str, Field(min_length=1, max_length=200)]


class LocatedOut(BaseModel):
    """The position read, in degrees, the time zone there, and the ground's height by a terrain that reaches it."""

    latitude_deg: float
    longitude_deg: float
    time_zone: str
    elevation_m: float | None
    terrain_id: UUID | None


class PlaceOut(PlaceNotes):
    """A place as saved."""

    id: UUID
    version: int
    updated_at: datetime
    place: Place
    compositions: int


class PlacesOut(BaseModel):
    """All places by name."""

    places: list[PlaceOut]
    next: str | None
