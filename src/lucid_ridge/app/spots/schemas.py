"""Requests and responses of what is measured on the spot."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.core.model.kit import Aperture, Iso, ShutterSeconds

Latitude = Annotated[float, Field(ge=-90, le=90)]
Longitude = Annotated[float, Field(ge=-180, le=180)]
Azimuth = Annotated[float, Field(ge=-360, le=720)]
Altitude = Annotated[float, Field(ge=-89, le=89)]
North = Literal["magnetic", "true"]
_STRICT = ConfigDict(extra="forbid")


class Fix(BaseModel):
    """A position by the device, or typed. ``accuracy_m`` is within which two of three lie."""

    model_config = _STRICT

    latitude_deg: Latitude
    longitude_deg: Longitude
    accuracy_m: Annotated[float, Field(ge=0, le=100_000)]
    elevation_m: Annotated[float, Field(ge=-500, le=9000)] | None = None


class PositionMeasured(Fix):
    """Where the camera stands."""

    kind: Literal["position"]


class BearingMeasured(BaseModel):
    """A bearing: of the camera's aim, or of something in sight by its ``name``; from a position where one is told, else the standpoint."""

    model_config = _STRICT

    kind: Literal["bearing"]
    what: Literal["aim", "element"]
    name: Annotated[str, Field(max_length=80, pattern="^[^\\x00]*$")] = ""
    azimuth_deg: Azimuth
    north: North
    error_deg: Annotated[float, Field(ge=0, le=90)]
    pitch_deg: Altitude | None = None
    stand: Fix | None = None


class SweptPoint(BaseModel):
    """A point of the skyline."""

    model_config = _STRICT

    azimuth_deg: Azimuth
    altitude_deg: Annotated[float, Field(ge=-30, le=89)]


class SkylineMeasured(BaseModel):
    """The skyline, by sweeping along it or by points."""

    model_config = _STRICT

    kind: Literal["skyline"]
    north: North
    error_deg: Annotated[float, Field(ge=0, le=90)]
    points: Annotated[list[SweptPoint], Field(min_length=2, max_length=720)]


class ReadingMeasured(BaseModel):
    """A meter reading, as the camera or a meter shows it; ``element_id`` is what it was pointed at."""

    model_config = _STRICT

    kind: Literal["reading"]
    aperture_n: Aperture
    shutter_s: ShutterSeconds
    iso: Iso
    element_id: Annotated[str, Field(min_length=1, max_length=64)] | None = None


class NoteMeasured(BaseModel):
    """Words."""

    model_config = _STRICT

    kind: Literal["note"]
    text: Annotated[str, Field(min_length=1, max_length=4000, pattern="^[^\\x00]*$")]


Measured = Annotated[
    PositionMeasured | BearingMeasured | SkylineMeasured | ReadingMeasured | NoteMeasured,
    Field(discriminator="kind"),
]


class SpotNew(JsonBody):
    """Something measured for a composition, or at a place; the id in the path makes it safe to send again."""

    composition_id: UUID | None = None
    place_id: UUID | None = None
    measured_at: AwareDatetime
    measured: Measured


class SpotOut(BaseModel):
    """Something measured, in words with how well it is known; ``does`` says what taking it on would change, where it changes anything."""

    id: UUID
    composition_id: UUID | None
    composition_name: str
    place_id: UUID
    place_name: str
    measured_at: datetime
    measured_text: str
    measured: Measured
    words: str
    does: str
    taken_on_at: datetime | None


class SpotsQuery(BaseModel):
    """Of which composition or place."""

    composition_id: UUID | None = None
    place_id: UUID | None = None


class SpotsOut(BaseModel):
    """What was measured, the latest first."""

    spots: list[SpotOut]


class CrossBody(JsonBody):
    """Two bearings of one thing from two standpoints. With ``take_on`` the element of the composition by that name is put there."""

    first: UUID
    second: UUID
    take_on: bool = False


class CrossOut(BaseModel):
    """Where they cross: metres from the place's origin, with the half axes of the error, and in words."""

    name: str
    east_m: float
    north_m: float
    latitude_deg: float
    longitude_deg: float
    longer_m: float
    shorter_m: float
    longer_azimuth_deg: float
    words: str
    taken_on: bool
