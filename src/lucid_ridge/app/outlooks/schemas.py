"""Requests and responses of outlooks."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.reports.frame.view import FramingReport


class OutlooksBody(JsonBody):
    """Of which compositions; those that are gone are left out of the answer."""

    ids: Annotated[list[UUID], Field(max_length=24)]


class NextLight(BaseModel):
    """The next window of a composition's light, and how it is said."""

    starts_utc: datetime
    ends_utc: datetime
    text: str


class OutlookOut(BaseModel):
    """How a composition looks, and its next light; ``said`` tells why there is none."""

    id: UUID
    view: FramingReport | None
    next_light: NextLight | None
    said: str


class OutlooksOut(BaseModel):
    """The outlooks asked for."""

    outlooks: list[OutlookOut]
