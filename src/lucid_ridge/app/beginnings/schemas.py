"""Requests and responses of the ways in."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.app.kit.schemas import KitItemOut
from lucid_ridge.beginnings.pictures import PictureName
from lucid_ridge.beginnings.usual_kit import ChoiceKind, FormatName
from lucid_ridge.reports.frame.view import FramingReport


class PictureOut(BaseModel):
    """A kind of picture to begin with, drawn small as it comes out with the usual full-frame kit."""

    id: PictureName
    name: str
    about: str
    view: FramingReport


class PicturesOut(BaseModel):
    """The kinds of picture."""

    pictures: list[PictureOut]


class ChoiceOut(BaseModel):
    """A usual item; ``ticked`` when most people own one."""

    id: str
    kind: ChoiceKind
    name: str
    ticked: bool


class FormatOut(BaseModel):
    """A sensor format, its sides in millimetres, and what may be ticked for it."""

    id: FormatName
    name: str
    width_mm: float
    height_mm: float
    choices: list[ChoiceOut]


class UsualKitOut(BaseModel):
    """What a starter kit is made of."""

    formats: list[FormatOut]


class StarterKit(BaseModel):
    """A format, and which of its usual items are owned; the body always is."""

    format: FormatName
    items: Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=40)]


class StarterKitBody(StarterKit, JsonBody):
    """A starter kit to add."""


class StarterKitOut(BaseModel):
    """The items of a starter kit, those that were there already among them."""

    items: list[KitItemOut]


class NewPlace(BaseModel):
    """A place by its name and position; time zone, height and terrain are looked up."""

    name: Annotated[str, Field(min_length=1, max_length=80, pattern="^[^\\x00]*$")]
    latitude_deg: Annotated[float, Field(ge=-90, le=90)]
    longitude_deg: Annotated[float, Field(ge=-180, le=180)]


class BeginBody(JsonBody):
    """A composition to begin: at a saved place or a new one, with the kit that is there or a starter kit.

    Without a picture it is an empty frame.
    """

    picture: PictureName | None = None
    place_id: UUID | None = None
    place: NewPlace | None = None
    kit: StarterKit | None = None


class AboutHereQuery(BaseModel):
    """The name of a time zone."""

    zone: Annotated[str, Field(min_length=1, max_length=64)]


class AboutHereOut(BaseModel):
    """A town of a time zone, for a first guess at where somebody is; ``known`` is False for a zone without one."""

    known: bool
    town: str
    latitude_deg: float
    longitude_deg: float


class ValleyOut(BaseModel):
    """Whether there is a sample valley to be had, and whether it is loaded."""

    offered: bool
    loaded: bool
