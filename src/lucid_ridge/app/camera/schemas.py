"""Requests and responses of the camera."""

from __future__ import annotations

from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.core.rehearsal.mishaps import Mishap
from lucid_ridge.reports.rehearsal.report import MishapOffered

A_YEAR_S = 400 * 86400


class CameraQuery(BaseModel):
    """The sequence that it is to take."""

    sequence_id: UUID | None = None


class CameraOut(BaseModel):
    """The camera of this server: what it is called, and how it is. ``there`` is False where there is none at all.

    ``mishaps`` is what can go wrong in a sequence on purpose, where the camera is a simulated one.
    """

    there: bool
    name: str
    simulated: bool
    state_text: str
    trouble: str
    mishaps: tuple[MishapOffered, ...] = ()


class CameraFrameBody(JsonBody):
    """The frame of a sequence to take, and the id that its take has or will have. For a simulated camera, what goes wrong in it, and by how much its clock is fast."""

    sequence_id: UUID
    take_id: UUID
    number: Annotated[int, Field(ge=1, le=2000)]
    mishaps: Annotated[tuple[Mishap, ...], Field(max_length=6)] = ()
    clock_off_s: Annotated[float, Field(ge=-A_YEAR_S, le=A_YEAR_S)] = 0.0


class CameraFrameOut(BaseModel):
    """How far the frame is; once it is ``kept`` it is a picture with this id."""

    state: Literal["exposing", "kept"]
    exposed_s: float
