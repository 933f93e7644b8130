"""Requests and answers about what is shared."""

from __future__ import annotations

from datetime import datetime
from typing import Literal
from uuid import UUID

from pydantic import BaseModel

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.app.compositions.schemas import CompositionBrief
from lucid_ridge.app.outlooks.schemas import OutlookOut
from lucid_ridge.app.places.schemas import PlaceOut

ShareKind = Literal["place", "composition"]


class ShareBody(JsonBody):
    """What to share, with whom, and whether they may copy it."""

    kind: ShareKind
    record_id: UUID
    with_id: UUID
    may_copy: bool = False


class ShareOut(BaseModel):
    """A share: of what by its name, and the other's name, who looks at it or whose it is."""

    id: UUID
    kind: ShareKind
    record_id: UUID
    name: str
    person: str
    may_copy: bool
    created_at: datetime


class SomebodyOut(BaseModel):
    """Somebody to share with."""

    id: UUID
    name: str


class SharesOut(BaseModel):
    """What the asker shares, what others share with them, and with whom they may share."""

    mine: list[ShareOut]
    theirs: list[ShareOut]
    people: list[SomebodyOut]


class SharedComposition(BaseModel):
    """A composition that is shared, as it looks; ``facts`` say with what it is taken, a line each."""

    brief: CompositionBrief
    outlook: OutlookOut | None
    facts: list[str]


class SharedOut(BaseModel):
    """What is shared: the place, and the compositions there that belong to it."""

    share: ShareOut
    place: PlaceOut
    compositions: list[SharedComposition]


class CopiedOut(BaseModel):
    """What came of a copy: the place and the compositions that are the asker's own now."""

    place_id: UUID
    composition_ids: list[UUID]
