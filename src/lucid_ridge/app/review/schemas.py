"""Requests and responses of the review."""

from __future__ import annotations

from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.core.model.scene import Units
from lucid_ridge.reports.review.report import Shown


class LookedOut(BaseModel):
    """What the pictures of a take show. ``state`` is ``none`` before anybody looked, and ``old`` once other pictures are there."""

    state: Literal["none", "old", "good"]
    pictures: int
    shown: list[Shown]


class FramePicture(BaseModel):
    """A picture, and the frame of a sequence that it is of."""

    model_config = {"extra": "forbid"}

    picture_id: UUID
    number: Annotated[int, Field(ge=1, le=2000)]


class MatchedOut(BaseModel):
    """Pictures that fit a sequence. ``take_id`` is the take that is there already; without, one is made of them."""

    sequence_id: UUID
    take_id: UUID | None
    composition_name: str
    place_name: str
    when_text: str
    told: str
    frames: int
    sure: bool
    pictures: list[FramePicture]


class LooseGroup(BaseModel):
    """Pictures that fit no sequence and were taken together. ``place_id`` is the place that they say they were taken at, or near."""

    when_text: str
    told: str
    pictures: list[UUID]
    place_id: UUID | None


class MatchOut(BaseModel):
    """What the loose pictures are of, as far as it can be told. ``clock_off_s`` is by how much the camera's clock is ahead of UTC.

    It is None where nothing fits: nobody knows then. ``groups`` are the others, as they were taken together.
    """

    clock_text: str
    clock_off_s: float | None
    matched: list[MatchedOut]
    groups: list[LooseGroup]


class GroupTakenOn(JsonBody):
    """Pictures that are a take of their own, which nobody planned: where, and what it is called.

    Without ``clock_off_s`` the camera's clock is taken to have shown the time at the place.
    """

    place_id: UUID
    name: Annotated[str, Field(min_length=1, max_length=80, pattern=r"^\S(.*\S)?$")]
    clock_off_s: Annotated[float, Field(ge=-1e9, le=1e9)] | None
    units: Units = "metric"
    pictures: Annotated[list[UUID], Field(min_length=1, max_length=2000)]


class MatchTakenOn(JsonBody):
    """Pictures that are the frames of a sequence."""

    sequence_id: UUID
    take_id: UUID | None
    clock_off_s: Annotated[float, Field(ge=-1e9, le=1e9)]
    pictures: Annotated[list[FramePicture], Field(min_length=1, max_length=2000)]


class TakenOn(BaseModel):
    """The take that pictures went to."""

    take_id: UUID


class LetGo(JsonBody):
    """Pictures that are of no take after all."""

    pictures: Annotated[list[UUID], Field(min_length=1, max_length=2000)]


class NextTimeBody(JsonBody):
    """Which proposal is taken on: the finding and the proposal in it, both counted from 0."""

    finding: Annotated[int, Field(ge=0, le=1000)]
    proposal: Annotated[int, Field(ge=0, le=100)]


class NextTimeOut(BaseModel):
    """The composition that was changed, in the version that is saved now."""

    composition_id: UUID
    version: int
