"""Requests and responses of reference photographs."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field


class PhotographPath(BaseModel):
    """The composition, and the id that the client gives its photograph."""

    id: UUID
    photograph_id: UUID


class NameQuery(BaseModel):
    """The file's name as it was given."""

    name: Annotated[str, Field(min_length=1, max_length=200, pattern="^[^\\x00]*$")]


class PhotographOut(BaseModel):
    """A reference photograph. ``view_deg`` is its field of view across where the file tells it."""

    id: UUID
    created_at: datetime
    name: str
    file_name: str
    media_type: str
    size_bytes: int
    width_px: int
    height_px: int
    view_deg: float | None


class PhotographsOut(BaseModel):
    """The reference photographs of a composition, oldest first."""

    photographs: list[PhotographOut]
    largest_bytes: int
    most_pixels: int
