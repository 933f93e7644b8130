"""Requests and responses of marks and paths."""

from __future__ import annotations

from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field, model_validator

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.formats.geography import MOST_OF_A_LINE

TrackKind = Literal["mark", "path"]
TrackSort = Literal["parking", "gate", "hazard", "viewpoint", "walk_in", "other"]
Latitude = Annotated[float, Field(ge=-90, le=90)]
Longitude = Annotated[float, Field(ge=-180, le=180)]
Height = Annotated[float, Field(ge=-500, le=9000)]
TrackPoint = tuple[Latitude, Longitude, Height | None]
Name = Annotated[str, Field(min_length=1, max_length=80, pattern="^[^\\x00]*$")]
Note = Annotated[str, Field(max_length=2000, pattern="^[^\\x00]*$")]


class TrackBase(JsonBody):
    """A mark or a path: a mark is one point, a path two or more."""

    name: Name
    kind: TrackKind
    sort: TrackSort = "other"
    note: Note = ""
    points: Annotated[list[TrackPoint], Field(min_length=1, max_length=MOST_OF_A_LINE)]

    @model_validator(mode="after")
    def _as_many_points_as_it_needs(self) -> TrackBase:
        if self.kind == "mark" and len(self.points) != 1:
            raise ValueError("A mark has one point")
        if self.kind == "path" and len(self.points) < 2:
            raise ValueError("A path has at least two points")
        return self


class TrackNew(TrackBase):
    """A mark or path to add; ``id`` may be chosen by the client."""

    id: UUID | None = None
    place_id: UUID


class TrackChange(TrackBase):
    """A mark or path as changed, and the version that was changed."""

    version: Annotated[int, Field(ge=1)]


class TrackOut(BaseModel):
    """A mark or path as saved. ``length_m`` is a path's length on the ground, as on the map."""

    id: UUID
    version: int
    place_id: UUID
    name: str
    kind: TrackKind
    sort: TrackSort
    note: str
    points: list[TrackPoint]
    length_m: float


class TracksOut(BaseModel):
    """All marks and paths by place and name."""

    tracks: list[TrackOut]
    next: str | None


Known = Literal["ask", "skip", "keep", "merge"]


class ImportQuery(BaseModel):
    """The file's name, and the place that what is in it belongs to; without one, points become places.

    ``known`` says what becomes of what is there already: nothing is brought in and it is told (ask), it is left as it is
    (skip), it is brought in beside it (keep), or the file's points and notes take its place (merge).
    """

    name: Annotated[str, Field(min_length=1, max_length=200, pattern="^[^\\x00]*$")]
    place_id: UUID | None = None
    known: Known = "ask"


class Skipped(BaseModel):
    """Something in the file that was passed over, and why."""

    name: str
    why: str


class ImportOut(BaseModel):
    """What came of an import. ``already`` are names of what is there already; ``asked`` when nothing was done because of it."""

    places: int
    marks: int
    paths: int
    skipped: list[Skipped]
    first_place_id: UUID | None
    already: list[str]
    asked: bool
