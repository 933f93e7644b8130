"""Requests and responses of the light ahead."""

from __future__ import annotations

from typing import Annotated

from pydantic import AwareDatetime, BaseModel, Field, RootModel

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.app.evaluation.schemas import EvaluateBody
from lucid_ridge.core.light_windows.alignments import Alignment
from lucid_ridge.core.model.place import Forecast
from lucid_ridge.core.model.wanted import LightWish
from lucid_ridge.reports.figures import Readout
from lucid_ridge.reports.light.alignments import Passings
from lucid_ridge.reports.light.skyline import SkylineReport
from lucid_ridge.reports.light.year import YearPicture

Words = Annotated[str, Field(max_length=2000, pattern="^[^\\x00]*$")]
Title = Annotated[str, Field(min_length=1, max_length=200, pattern="^[^\\x00]*$")]


class SkylineOut(RootModel[SkylineReport]):
    """The skyline strip and when the sun reaches each element."""


class LightWindowsBody(EvaluateBody):
    """A scene, and the light that is wanted where it is not the composition's own wish."""

    wish: LightWish | None = None


class LightWindowsOut(RootModel[YearPicture]):
    """The months ahead as one picture, with its light windows."""


class DriftBody(EvaluateBody):
    """A scene, and how many minutes from its moment; below zero before it."""

    minutes: Annotated[float, Field(ge=-1440, le=1440)]


class DriftOut(RootModel[Readout]):
    """How much the light changes until then, in stops."""


class AlignmentsBody(EvaluateBody):
    """A scene, and where the sun or the moon is wanted."""

    wish: Alignment


class AlignmentsOut(RootModel[Passings]):
    """When the sun or the moon stands there."""


class CalendarEvent(BaseModel):
    """Something to put into a calendar."""

    title: Title
    start_utc: AwareDatetime
    end_utc: AwareDatetime
    ready_utc: AwareDatetime | None = None
    notes: Words = ""


class CalendarBody(JsonBody):
    """Events at a place."""

    place_name: Title
    latitude_deg: Annotated[float, Field(ge=-90, le=90)]
    longitude_deg: Annotated[float, Field(ge=-180, le=180)]
    notes: Words = ""
    events: Annotated[list[CalendarEvent], Field(min_length=1, max_length=500)]


class ForecastQuery(BaseModel):
    """From which moment on a forecast is asked for."""

    start: AwareDatetime


class ForecastOut(BaseModel):
    """A forecast, or why there is none."""

    forecast: Forecast | None
    trouble: str
