"""Requests and responses of the kit."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.core.camera.moving_support import MovingGround
from lucid_ridge.core.model.gear import Gear, LightSource
from lucid_ridge.core.model.kit import Body, Lens, Support
from lucid_ridge.core.stops.filters import Filter


class BodyItem(BaseModel):
    """A camera body."""

    kind: Literal["body"]
    details: Body


class LensItem(BaseModel):
    """A lens."""

    kind: Literal["lens"]
    details: Lens


class FilterItem(BaseModel):
    """A filter. Its own ``id`` is the item's; what is sent there is replaced."""

    kind: Literal["filter"]
    details: Filter


class SupportItem(BaseModel):
    """A tripod, a bag, or the hand."""

    kind: Literal["support"]
    details: Support


class GearItem(BaseModel):
    """Close-up gear: tubes, bellows, rings, converters, close-up lenses and rails. Its own ``id`` is the item's."""

    kind: Literal["gear"]
    details: Gear


class LightItem(BaseModel):
    """A flash or a lamp. Its own ``id`` is the item's."""

    kind: Literal["light"]
    details: LightSource


AnyItem = Annotated[BodyItem | LensItem | FilterItem | SupportItem | GearItem | LightItem, Field(discriminator="kind")]


class KitItemNew(JsonBody):
    """An item to add; ``id`` may be chosen by the client."""

    id: UUID | None = None
    item: AnyItem


class KitItemChange(JsonBody):
    """An item as changed, and the version that was changed."""

    version: Annotated[int, Field(ge=1)]
    item: AnyItem


class KitItemOut(BaseModel):
    """An item as saved. The values of a ``usual`` one are the usual ones of such a thing, until it is saved by hand."""

    id: UUID
    version: int
    updated_at: datetime
    usual: bool
    item: AnyItem


class MovingGroundOut(BaseModel):
    """What one may stand on that moves, with usual rates to start from."""

    kinds: tuple[MovingGround, ...]


class KitOut(BaseModel):
    """All items, by kind and name."""

    items: list[KitItemOut]
    next: str | None
