"""Requests and responses of learning."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.reports.learning.proposals import Proposal


class LearningOut(BaseModel):
    """What is learned, proposed or taken on; and how many takes are rated in all."""

    proposals: list[Proposal]
    rated: int


class LearnedBody(JsonBody):
    """What is taken on, or given up."""

    key: Annotated[str, Field(min_length=1, max_length=40, pattern="^[a-z-]+$")]


class LearnedOut(LearningOut):
    """What is learned now, into how many compositions it was put, and in words where it holds."""

    compositions: int
    holds_text: str
