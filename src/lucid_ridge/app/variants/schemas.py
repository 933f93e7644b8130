"""Requests and responses of variants."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.app.compositions.schemas import CompositionName
from lucid_ridge.core.model.scene import Composition, Units
from lucid_ridge.reports.frame.tries import Card


class VariantNew(JsonBody):
    """A try to keep. The same id again gives the one that is kept."""

    id: UUID
    name: CompositionName
    body_id: UUID
    lens_id: UUID
    support_id: UUID
    composition: Composition


class VariantChange(JsonBody):
    """A new name, and the version that was renamed."""

    version: Annotated[int, Field(ge=1)]
    name: CompositionName


class VariantOut(BaseModel):
    """A kept try and its card; without a card, why it cannot be computed."""

    id: UUID
    version: int
    created_at: datetime
    name: str
    body_id: UUID
    lens_id: UUID
    support_id: UUID
    composition: Composition
    card: Card | None
    problem: str


class VariantsOut(BaseModel):
    """The kept tries of a composition, oldest first."""

    variants: list[VariantOut]


class UnitsQuery(BaseModel):
    """How lengths are shown."""

    units: Units = "metric"
