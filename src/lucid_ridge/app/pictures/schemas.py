"""Requests and responses of pictures."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.app.paging import PageQuery
from lucid_ridge.formats.sidecars import LONGEST_KEYWORD, MOST_KEYWORDS

Verdict = Literal["keep", "reject"]
Keyword = Annotated[str, Field(min_length=1, max_length=LONGEST_KEYWORD, pattern=r"^\S(.*\S)?$")]


class BroughtQuery(PageQuery):
    """Those of one take, or those of which nobody knows the frame yet; without either all of them."""

    take_id: UUID | None = None
    loose: bool = False


class BroughtPicture(BaseModel):
    """A picture. ``number`` is the frame of its sequence; ``settings`` what it was taken with, in words."""

    id: UUID
    version: int
    name: str
    taken_at: datetime
    taken_text: str
    settings: str
    width_px: int
    height_px: int
    media_type: str
    sequence_id: UUID | None
    take_id: UUID | None
    number: int | None
    rating: int | None
    verdict: Verdict | None
    keywords: list[str]


class BroughtPictures(BaseModel):
    """Pictures in the order in which they were taken."""

    pictures: list[BroughtPicture]
    next: str | None
    loose: int
    """Of how many nobody knows the frame yet."""


class PictureKept(BaseModel):
    """A picture that was sent: kept, or here already under another id."""

    picture: BroughtPicture
    known: bool


class PictureJudged(JsonBody):
    """How good a picture is: stars, and whether it is kept; its keywords; and the version that was judged.

    Without ``keywords`` they stay as they are.
    """

    version: Annotated[int, Field(ge=1)]
    rating: Annotated[int, Field(ge=0, le=5)] | None
    verdict: Verdict | None
    keywords: Annotated[list[Keyword], Field(max_length=MOST_KEYWORDS)] | None = None


class SidecarTaken(BaseModel):
    """The pictures that a sidecar was for, as they are judged now."""

    pictures: list[BroughtPicture]


class InboxOut(BaseModel):
    """The folder on the server's disk that pictures may be laid into; ``offered`` is False for whoever may not bring them in."""

    offered: bool
    folder: str
    files: int
