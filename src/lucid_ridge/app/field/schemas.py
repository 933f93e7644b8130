"""Requests and responses of the field."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID

from pydantic import BaseModel, RootModel

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.core.model.scene import Scene, Units
from lucid_ridge.reports.on_the_spot.table import SpotTable
from lucid_ridge.reports.sequence.frames import Sequence


class SequenceNew(JsonBody):
    """The scene to carry out. ``id`` is made by the client; sending it again makes no second one."""

    id: UUID
    composition_id: UUID
    scene: Scene


class FieldPlan(BaseModel):
    """What the field screen needs and the logbook compares with; works without a network."""

    sequence: Sequence
    place_name: str
    composition_name: str
    time_zone: str
    moment_utc: datetime
    moment_text: str
    light_text: str
    reading_text: str = ""
    next_event_text: str
    next_event_utc: datetime | None
    cautions: list[str]
    scene: Scene | None = None
    """What it was computed from; None in sequences of earlier versions, and where nobody planned it."""
    unplanned: bool = False
    """Whether it was put together afterwards, of the pictures that came back."""


class SpotQuery(BaseModel):
    """In which units distances are told."""

    units: Units = "metric"


class SpotTableOut(RootModel[SpotTable]):
    """The spot table of a sequence."""


class SequenceOut(BaseModel):
    """A sequence as saved."""

    id: UUID
    composition_id: UUID | None
    created_at: datetime
    plan: FieldPlan
