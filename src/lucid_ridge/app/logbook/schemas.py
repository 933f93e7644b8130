"""Requests and responses of the logbook."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal, get_args
from uuid import UUID

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field, RootModel

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.app.field.schemas import FieldPlan
from lucid_ridge.app.paging import PageQuery
from lucid_ridge.reports.logbook.works import WhatWorks

# The fault list of the trade (common practice).
Fault = Literal[
    "moved subject", "moved camera", "missed slice", "shake", "focus missed", "wind blur", "clipped channel",
    "filter forgotten on", "filter forgotten off", "flat battery", "full card", "access refused", "late for the light",
    "cloud bank", "layers merged", "wind on the reflection", "lens sprayed", "stack artefacts", "banded sky",
    "vignette", "wrong white balance between layers",
]  # fmt: skip
FAULTS: tuple[str, ...] = get_args(Fault)

Season = Literal["winter", "spring", "summer", "autumn"]
SEASONS: tuple[Season, ...] = get_args(Season)
Rating = Annotated[int, Field(ge=0, le=5)]
TakeNote = Annotated[str, Field(max_length=4000, pattern="^[^\\x00]*$")]


class FrameTaken(BaseModel):
    """One frame of the sequence as it went. Several with one number are repeats."""

    model_config = ConfigDict(extra="forbid")

    number: Annotated[int, Field(ge=1, le=2000)]
    status: Literal["done", "skipped"]
    started_at: AwareDatetime
    exposed_s: Annotated[float, Field(ge=0, le=1_000_000)]
    fault: Fault | None = None
    note: Annotated[str, Field(max_length=400, pattern="^[^\\x00]*$")] = ""


class TakeNew(JsonBody):
    """What the field screen sends at the end; the id in the path makes it safe to send again."""

    sequence_id: UUID
    arrived_at: AwareDatetime | None = None
    """When one was there and began to set up, where that was said."""
    started_at: AwareDatetime
    ended_at: AwareDatetime
    frames: Annotated[list[FrameTaken], Field(max_length=4000)]
    faults: Annotated[list[Fault], Field(max_length=21)] = []
    rating: Rating | None = None
    note: TakeNote = ""


class TakeReview(JsonBody):
    """Rating, faults and note as changed, and the version that was changed."""

    version: Annotated[int, Field(ge=1)]
    faults: Annotated[list[Fault], Field(max_length=21)]
    rating: Rating | None
    note: TakeNote


class PlanAgainstActual(BaseModel):
    """One frame planned beside what happened."""

    number: int
    caption: str
    planned_text: str
    actual_text: str
    status: Literal["done", "skipped", "missing"]
    repeats: int
    fault: str | None
    note: str
    differs: bool


class TakeOut(BaseModel):
    """A take as saved, planned beside actual."""

    id: UUID
    version: int
    sequence_id: UUID
    composition_id: UUID | None
    composition_name: str
    place_id: UUID
    place_name: str
    started_at: datetime
    started_text: str
    ended_at: datetime
    set_up_text: str
    """How long setting up took; empty where nobody knows."""
    planned_total_text: str
    actual_total_text: str
    rating: int | None
    note: str
    faults: list[str]
    plan: FieldPlan
    compared: list[PlanAgainstActual]


class TakeBrief(BaseModel):
    """A take in the list."""

    id: UUID
    composition_id: UUID | None
    composition_name: str
    place_id: UUID
    place_name: str
    started_at: datetime
    started_text: str
    settings_text: str
    frames_done: int
    frames_planned: int
    rating: int | None
    faults: list[str]
    note: str
    picture_id: UUID | None
    """The best of its pictures that came back."""
    sun_text: str
    """Where the sun stood; empty where nobody knows."""


class TakenFrames(BaseModel):
    """The frames of a take, as they are kept."""

    frames: list[FrameTaken]


class TakesQuery(PageQuery):
    """Filters of the list."""

    model_config = ConfigDict(extra="ignore")

    place_id: UUID | None = None
    fault: Fault | None = None
    season: Season | None = None
    rating: Annotated[int, Field(ge=1, le=5)] | None = None
    """At least so well."""
    day: date | None = None
    words: Annotated[str, Field(max_length=200, pattern="^[^\\x00]*$")] = ""
    """Beginnings of words of the name, the note, the place or a fault; all of them are found."""
    limit: Annotated[int, Field(ge=1, le=200)] = 50


class PlaceCount(BaseModel):
    """Takes at one place."""

    id: UUID
    name: str
    takes: int


class FaultCount(BaseModel):
    """Takes with one fault."""

    fault: str
    takes: int


class TakesOut(BaseModel):
    """Takes, newest first, and what one can filter by."""

    takes: list[TakeBrief]
    next: str | None
    total: int
    at_least: bool
    """Whether there may be more than that."""
    places: list[PlaceCount]
    faults: list[FaultCount]
    all_faults: list[str]


class DayOfTakes(BaseModel):
    """A day on which something was taken, and how good the best of it was."""

    day: date
    takes: int
    best: int | None


class CalendarQuery(BaseModel):
    """Which year; the last one with takes where none is told."""

    model_config = ConfigDict(extra="forbid")

    year: Annotated[int, Field(ge=1900, le=2200)] | None = None


class CalendarOut(BaseModel):
    """A year's days with takes, and all years that have any."""

    year: int | None
    years: list[int]
    days: list[DayOfTakes]


class PlaceOfTakes(BaseModel):
    """A place on the map of takes."""

    id: UUID
    name: str
    latitude_deg: float
    longitude_deg: float
    takes: int
    mean_text: str


class PlacesOfTakesOut(BaseModel):
    """Where takes were made."""

    places: list[PlaceOfTakes]


class WorksQuery(BaseModel):
    """At which place; everywhere where none is told."""

    model_config = ConfigDict(extra="forbid")

    place_id: UUID | None = None


class WorksOut(RootModel[WhatWorks]):
    """What works."""


class SeasonOfTakes(BaseModel):
    """A season at a place: how many takes, how they were rated, what went wrong most, and its best takes with a picture."""

    season: Season
    takes: int
    mean_text: str
    kept_text: str
    faults: list[FaultCount]
    best: list[TakeBrief]


class SeasonsQuery(BaseModel):
    """At which place."""

    model_config = ConfigDict(extra="forbid")

    place_id: UUID


class SeasonsOut(BaseModel):
    """The seasons beside each other."""

    seasons: list[SeasonOfTakes]


class FileQuery(TakesQuery):
    """Which takes, and the form of the file."""

    form: Literal["csv", "json"] = "csv"
