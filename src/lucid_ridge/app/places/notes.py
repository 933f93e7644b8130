"""What is noted of a place beside where it lies."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

Notes = Annotated[str, Field(max_length=4000, pattern="^[^\\x00]*$")]
SeasonKind = Literal["water", "dry", "frozen", "snow", "leaf_colour", "flowers", "crowds", "closed", "other"]


class Season(BaseModel):
    """What a stretch of the year does to a place; months 1 to 12, over the new year where the first is later."""

    model_config = ConfigDict(extra="forbid")

    kind: SeasonKind
    from_month: Annotated[int, Field(ge=1, le=12)]
    to_month: Annotated[int, Field(ge=1, le=12)]
    note: Annotated[str, Field(max_length=400, pattern="^[^\\x00]*$")] = ""


class PlaceNotes(BaseModel):
    """How to get in, what can hurt, whose land it is, and when it is worth going."""

    model_config = ConfigDict(extra="forbid")

    access: Notes = ""
    parking: Notes = ""
    walk_in: Notes = ""
    right_of_way: Notes = ""
    hazards: Notes = ""
    seasons: Annotated[list[Season], Field(max_length=24)] = []
