"""Requests and responses of rehearsals."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field, RootModel

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.calc.requests import RehearseRequest
from lucid_ridge.reports.rehearsal.report import FrameReport, ProofReport, RehearsalReport

Share = Annotated[float, Field(ge=0, le=1)]
Pixels = Annotated[int, Field(ge=160, le=1600)]


class RehearsalBody(JsonBody, RehearseRequest):
    """A scene, and what goes wrong in it on purpose."""


class PieceOf(BaseModel):
    """A piece at the sensor's own pixels around a place in the frame."""

    model_config = {"extra": "forbid", "allow_inf_nan": False}

    x: Share
    y: Share
    across: Annotated[int, Field(ge=80, le=900)] = 600
    down: Annotated[int, Field(ge=80, le=900)] = 400


class FrameBody(RehearsalBody):
    """One frame by its number, its longer side in pixels; or a piece of it. Without a number the one that is exposed as metered.

    ``shutter_s`` or ``aperture_n`` draw it at another shutter time or aperture, as bright as it is.
    """

    number: Annotated[int, Field(ge=1, le=2000)] | None = None
    longest_px: Pixels = 1200
    piece: PieceOf | None = None
    shutter_s: Annotated[float, Field(ge=1e-6, le=1e6)] | None = None
    aperture_n: Annotated[float, Field(ge=0.5, le=256)] | None = None


class ProofBody(RehearsalBody):
    """The frames merged, the longer side in pixels; or a piece of that."""

    longest_px: Pixels = 1200
    piece: PieceOf | None = None


class RehearsalOut(RootModel[RehearsalReport]):
    """The frames that can be drawn."""


class FrameOut(BaseModel):
    """A frame: JPEG, and where it is clipped and blocked as PNG, each in base64; None where it is so nowhere."""

    told: FrameReport
    width: int
    height: int
    jpeg: str
    clipped: str | None
    blocked: str | None


class ProofOut(BaseModel):
    """The merged picture: JPEG, and where it fails as PNG, each in base64; None where it does nowhere."""

    told: ProofReport
    width: int
    height: int
    jpeg: str
    soft: str | None
    lost: str | None
    ghosts: str | None
