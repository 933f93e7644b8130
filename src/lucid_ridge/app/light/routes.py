"""Routes of the light ahead."""

from __future__ import annotations

from flask import Response
from pydantic import TypeAdapter

from lucid_ridge.app.bodies import IdPath
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.evaluation.operations import state_of
from lucid_ridge.app.evaluation.schemas import EvaluateBody
from lucid_ridge.app.light import operations
from lucid_ridge.app.light.schemas import (
    AlignmentsBody,
    AlignmentsOut,
    CalendarBody,
    DriftBody,
    DriftOut,
    ForecastOut,
    ForecastQuery,
    LightWindowsBody,
    LightWindowsOut,
    SkylineOut,
)
from lucid_ridge.app.responses import GONE, INVALID, JSON_TYPE, MISSING, download, file_answer, json_response
from lucid_ridge.app.turns import in_turn
from lucid_ridge.reports.light.alignments import Passings, alignments
from lucid_ridge.reports.light.report import drift_between
from lucid_ridge.reports.light.skyline import SkylineReport, skyline_report
from lucid_ridge.reports.light.year import YearPicture, light_windows

feature = Feature("light", __name__, "/api")

_SKYLINE: TypeAdapter[SkylineReport] = TypeAdapter(SkylineReport)
_CHANCES: TypeAdapter[YearPicture] = TypeAdapter(YearPicture)
_PASSINGS: TypeAdapter[Passings] = TypeAdapter(Passings)
_CALENDAR = file_answer(("text/calendar",), "A calendar")


@feature.post("/light/skyline", responses={200: SkylineOut, **INVALID})
def read_skyline(body: EvaluateBody) -> Response:
    """The skyline with the day's paths of sun and moon, and when the sun reaches each element."""
    return Response(_SKYLINE.dump_json(skyline_report(state_of(body))), content_type=JSON_TYPE)


@feature.post("/light/windows", responses={200: LightWindowsOut, **INVALID, **GONE})
@in_turn
def find_light_windows(body: LightWindowsBody) -> Response:
    """When the light that is wanted comes in the twelve months ahead."""
    return Response(_CHANCES.dump_json(light_windows(state_of(body), body.wish)), content_type=JSON_TYPE)


@feature.post("/light/drift", responses={200: DriftOut, **INVALID})
def find_drift(body: DriftBody) -> Response:
    """How much the light changes over an interval from the moment."""
    return json_response(DriftOut(drift_between(state_of(body), body.minutes)))


@feature.post("/light/alignments", responses={200: AlignmentsOut, **INVALID, **GONE})
@in_turn
def find_alignments(body: AlignmentsBody) -> Response:
    """When the sun or the moon stands where it is wanted."""
    return Response(_PASSINGS.dump_json(alignments(state_of(body), body.wish)), content_type=JSON_TYPE)


@feature.post("/light/calendar", responses={**_CALENDAR, **INVALID, **GONE})
@in_turn
def make_calendar(body: CalendarBody) -> Response:
    """Windows and events as iCalendar."""
    return download(operations.calendar(body), "text/calendar", "light.ics")


@feature.get("/places/<uuid:id>/forecast", responses={200: ForecastOut, **INVALID, **MISSING})
def read_forecast(path: IdPath, query: ForecastQuery) -> Response:
    """The forecast for a place from a moment on, or why there is none."""
    return json_response(operations.forecast(path.id, query.start))
