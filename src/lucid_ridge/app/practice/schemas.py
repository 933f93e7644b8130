"""Requests and responses of practice."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.core.practice.drills import LEVELS
from lucid_ridge.reports.practice.words import DrillAnswer, DrillQuestion

Key = Annotated[str, Field(min_length=1, max_length=40)]
Seed = Annotated[int, Field(ge=0, le=2**31 - 1)]
_LAST = 20


class PracticeCard(BaseModel):
    """What is known of one kind of drill. ``memory`` is the scheduler's own; ``last`` the last answers, right or not."""

    model_config = ConfigDict(allow_inf_nan=False)

    memory: dict[str, float | int | str | None]
    level: Annotated[int, Field(ge=0, lt=LEVELS)] = 0
    answered: Annotated[int, Field(ge=0)] = 0
    right: Annotated[int, Field(ge=0)] = 0
    last: Annotated[tuple[bool, ...], Field(max_length=_LAST)] = ()


class Practice(BaseModel):
    """The cards that were answered, by their key."""

    cards: Annotated[dict[Key, PracticeCard], Field(max_length=100)] = {}


class PracticeCardOut(BaseModel):
    """One kind of drill on the page of progress. ``strength`` is how firmly it is held, 0 to 1 to draw."""

    key: str
    title: str
    level: int
    levels: int
    answered: int
    right: int
    last: tuple[bool, ...]
    due_at: datetime | None
    due: str
    strength: float
    logged: int


class PracticeOut(BaseModel):
    """Progress: every kind of drill, and how many are due."""

    cards: list[PracticeCardOut]
    due: int
    answered: int


class NextDrillBody(JsonBody):
    """Which drill was asked last, so that another comes."""

    after: Key | None = None


class DrillRef(JsonBody):
    """Which drill: all that it was made from."""

    key: Key
    composition_id: UUID
    seed: Seed
    level: Annotated[int, Field(ge=0, lt=LEVELS)]


class DrillOut(BaseModel):
    """A drill as it is asked."""

    key: str
    composition_id: UUID
    composition: str
    seed: int
    level: int
    levels: int
    asked: DrillQuestion


class NextDrillOut(BaseModel):
    """The next drill; none where there is nothing to draw it from, and then why."""

    drill: DrillOut | None
    why_none: str


class DrillAnswerBody(DrillRef):
    """An answer: the option chosen, or the number typed; and how long it took."""

    given: Annotated[str, Field(min_length=1, max_length=40)]
    took_s: Annotated[float, Field(ge=0, le=86_400)] = 30.0


class DrillAnsweredOut(BaseModel):
    """What is right and why, and where the card stands now."""

    answer: DrillAnswer
    card: PracticeCardOut


class PracticePicture(BaseModel):
    """What a drill looks at: one picture, or the one as planned and the one that came back, JPEG in base64.

    ``seen`` is False where nobody could tell the two apart however badly it goes wrong: go on to another drill.
    """

    seen: bool
    jpegs: list[str]
    width: int
    height: int
