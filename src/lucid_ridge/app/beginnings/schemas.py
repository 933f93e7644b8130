"""Requests and responses of the ways in."""

from __future__ import annotations

from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.app.kit.schemas import KitItemOut
from lucid_ridge.beginnings.pictures import PictureName
from lucid_ridge.beginnings.usual_kit import ChoiceKind, FormatName
from lucid_ridge.core.model.kit import Aperture, FocalLength
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


class PhotographFacts(BaseModel):
    """What is known of a photograph; None where it does not tell.

    ``taken`` is a time with its offset from UTC, or by the clock of the place where it has none. ``direction_deg`` is where
    the camera looked, from true north. The sensor's sides are in millimetres, the longer first. ``equivalent_mm`` is the
    focal length for 35 mm film, by the diagonals; of it and ``focal_length_mm`` one is enough.
    """

    width_px: Annotated[int, Field(ge=1, le=200_000)]
    height_px: Annotated[int, Field(ge=1, le=200_000)]
    taken: Annotated[str, Field(max_length=40)] | None = None
    latitude_deg: Annotated[float, Field(ge=-90, le=90)] | None = None
    longitude_deg: Annotated[float, Field(ge=-180, le=180)] | None = None
    elevation_m: Annotated[float, Field(ge=-450, le=9000)] | None = None
    direction_deg: Annotated[float, Field(ge=0, le=360)] | None = None
    camera: Annotated[str, Field(max_length=80)] | None = None
    lens: Annotated[str, Field(max_length=80)] | None = None
    sensor_width_mm: Annotated[float, Field(ge=3, le=300)] | None = None
    sensor_height_mm: Annotated[float, Field(ge=3, le=300)] | None = None
    focal_length_mm: Annotated[float, Field(ge=1, le=5000)] | None = None
    equivalent_mm: Annotated[float, Field(ge=1, le=5000)] | None = None
    lens_range: tuple[FocalLength, FocalLength, Aperture, Aperture] | None = None
    f_number: Annotated[float, Field(ge=0.5, le=256)] | None = None
    exposure_s: Annotated[float, Field(ge=1e-6, le=1e6)] | None = None
    iso: Annotated[float, Field(ge=1, le=10_000_000)] | None = None
    focus_m: Annotated[float, Field(ge=0.02, le=100_000)] | None = None


class ToldLine(BaseModel):
    """One thing that a photograph told, as it is said; ``worked_out`` where it follows from others."""

    label: str
    text: str
    worked_out: bool


Question = Literal["position", "time", "direction", "sensor", "focal_length"]


class PhotographRead(BaseModel):
    """What a photograph told, what is still to be asked, and what of the kit and the places it was taken with and at."""

    facts: PhotographFacts
    told: list[ToldLine]
    missing: list[Question]
    body_id: UUID | None
    lens_id: UUID | None
    place_id: UUID | None
    place_name: str


class PhotographBeginBody(JsonBody):
    """A composition to begin from a photograph: what is known of it, with what was missing put in.

    Body and lens are those of the kit that are named, else they are made of what the photograph tells, or of ``format``
    where it tells nothing. The client sends the picture itself to the composition afterwards, under ``photograph_id``.
    """

    name: Annotated[str, Field(min_length=1, max_length=80, pattern="^[^\\x00]*$")]
    photograph_id: UUID
    facts: PhotographFacts
    place_id: UUID | None = None
    place: NewPlace | None = None
    body_id: UUID | None = None
    lens_id: UUID | None = None
    format: FormatName | None = None
