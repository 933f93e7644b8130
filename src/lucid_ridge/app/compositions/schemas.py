"""Requests and responses of compositions."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.core.model.scene import Composition

CompositionName = Annotated[str, Field(min_length=1, max_length=80, pattern="^[^\\x00]*$")]


SeasonName = Literal["winter", "spring", "summer", "autumn"]


class CompositionNew(JsonBody):
    """A composition to add. Without a document it starts at the lens's wide end, now, unmetered."""

    id: UUID | None = None
    name: CompositionName
    place_id: UUID
    body_id: UUID
    lens_id: UUID
    support_id: UUID
    composition: Composition | None = None


class CompositionChange(JsonBody):
    """A composition as changed, and the version that was changed."""

    version: Annotated[int, Field(ge=1)]
    name: CompositionName
    place_id: UUID
    body_id: UUID
    lens_id: UUID
    support_id: UUID
    composition: Composition


class CompositionOut(BaseModel):
    """A composition as saved."""

    id: UUID
    version: int
    updated_at: datetime
    name: str
    place_id: UUID
    body_id: UUID
    lens_id: UUID
    support_id: UUID
    composition: Composition


class CompositionBrief(BaseModel):
    """A composition in a list.

    ``looks_to`` is the latitude and longitude of a point 250 m ahead of its standpoint. ``light_at`` is when its light
    comes next, where that is known; ``outlook_known`` tells that it was looked for.
    """

    id: UUID
    name: str
    place_id: UUID
    place_name: str
    lens_name: str
    moment_utc: datetime
    time_zone: str
    elements: int
    subject: str
    season: SeasonName
    updated_at: datetime
    latitude_deg: float
    longitude_deg: float
    looks_to: tuple[float, float]
    light_at: datetime | None
    outlook_known: bool


class CompositionsOut(BaseModel):
    """All compositions by place and name."""

    compositions: list[CompositionBrief]
    next: str | None
