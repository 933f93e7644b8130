"""Topics of light: a day, the months ahead, skylines, alignments, the tide."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime
from typing import Annotated

import numpy as np
from pydantic import BaseModel, Field, TypeAdapter

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.calc.requests import Request, SceneRequest, Topic
from lucid_ridge.core.changes.check import check_place
from lucid_ridge.core.light.ephemeris import FIRST_YEAR, LAST_YEAR
from lucid_ridge.core.light.horizon import terrain_horizon
from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.core.light.tide import tide_height, turns
from lucid_ridge.core.light_windows.alignments import Alignment
from lucid_ridge.core.model.place import Place, TideConstituent, TideStation
from lucid_ridge.core.model.wanted import LightWish
from lucid_ridge.core.records import FieldProblem, SceneError
from lucid_ridge.reports.evaluate import changed_state
from lucid_ridge.reports.light.alignments import Passings, alignments
from lucid_ridge.reports.light.report import LightReport, light_report
from lucid_ridge.reports.light.skyline import SkylineReport, skyline_report
from lucid_ridge.reports.light.year import YearPicture, light_windows

Height = Annotated[float, Field(ge=-500, le=9000)]


class LightDayRequest(Request):
    """A place, a moment and the azimuth of the view."""

    place: Place
    moment_utc: datetime
    azimuth_deg: Annotated[float, Field(ge=0, le=360)] = 0.0


class LightYearRequest(SceneRequest):
    """A scene, and the light that is wanted."""

    wish: LightWish


class AlignmentsRequest(SceneRequest):
    """A scene, and where the sun or the moon is wanted."""

    wish: Alignment


class HorizonRequest(Request):
    """A grid of heights in metres, rows from south to north, and an eye in it.

    The first height lies at the origin; ``east_m`` and ``north_m`` are the eye's place from there.
    """

    heights_m: Annotated[
        list[Annotated[list[Height], Field(min_length=2, max_length=2000)]], Field(min_length=2, max_length=2000)
    ]
    cell_m: Annotated[float, Field(gt=0, le=10_000)]
    east_m: float
    north_m: float
    eye_above_ground_m: Annotated[float, Field(ge=0, le=1000)] = 1.6
    azimuths: Annotated[int, Field(ge=8, le=3600)] = 72


class HorizonAnswer(BaseModel):
    """Altitude of the skyline by azimuth, evenly clockwise from north; distances None where nothing is seen."""

    altitude_deg: list[float]
    distance_m: list[float | None]


class TideRequest(Request):
    """A station and a stretch of time."""

    station: TideStation
    start_utc: datetime
    hours: Annotated[float, Field(gt=0, le=24 * 400)] = 25.0


class TideTurnAnswer(BaseModel):
    """High or low water."""

    at_utc: datetime
    height_m: float
    high: bool


class TideAnswer(BaseModel):
    """Turns of the tide in the stretch."""

    turns: list[TideTurnAnswer]


def light_of_day(request: LightDayRequest) -> LightReport:
    """Light on a view at a moment, with the ribbon of its day."""
    composition = replace(
        TARN_SCENE.composition,
        moment_utc=request.moment_utc,
        azimuth_deg=request.azimuth_deg,
        reading=None,
        elements=(),
    )
    return light_report(changed_state(replace(TARN_SCENE, place=request.place, composition=composition)))


def horizon(request: HorizonRequest) -> HorizonAnswer:
    """The skyline of a grid."""
    if len({len(row) for row in request.heights_m}) != 1:
        raise SceneError([FieldProblem(pointer="/heights_m", message="Every row needs as many heights as the first.")])
    heights = np.array(request.heights_m, dtype=np.float32)
    land = Terrain(heights, request.cell_m, 0.0, 0.0, 0.0, 0.0)
    ground = float(land.height_at(request.east_m, request.north_m))
    if not np.isfinite(ground):
        raise SceneError([FieldProblem(pointer="/east_m", message="The eye lies outside the grid; move it in.")])
    made = terrain_horizon(
        land, request.east_m, request.north_m, ground + request.eye_above_ground_m, azimuths=request.azimuths
    )
    return HorizonAnswer(
        altitude_deg=made.altitude_deg.tolist(),
        distance_m=[None if np.isnan(d) else float(d) for d in made.distance_m],
    )


def tide(request: TideRequest) -> TideAnswer:
    """High and low waters."""
    problems = check_place(replace(TARN_SCENE.place, tide=request.station), "")
    if problems:
        raise SceneError([replace(p, pointer=p.pointer.replace("/tide", "/station")) for p in problems])
    if request.start_utc.tzinfo is None:
        raise SceneError([FieldProblem(pointer="/start_utc", message="Add the offset from UTC to the time.")])
    if not FIRST_YEAR <= request.start_utc.year < LAST_YEAR:
        message = f"The tide is computed for the years {FIRST_YEAR} to {LAST_YEAR - 1}; choose a time among them."
        raise SceneError([FieldProblem(pointer="/start_utc", message=message)])
    start = request.start_utc.timestamp()
    at = np.arange(start - 600, start + request.hours * 3600 + 600, 300.0)
    heights = tide_height(at, request.station.mean_m, request.station.harmonics)
    return TideAnswer(
        turns=[
            TideTurnAnswer(at_utc=datetime.fromtimestamp(round(t), UTC), height_m=h, high=high)
            for t, h, high in turns(at, heights)
            if start <= t <= start + request.hours * 3600
        ]
    )


_CREEK = TideStation(
    name="creek", mean_m=4.6, constituents=(TideConstituent(name="M2", amplitude_m=2.9, phase_deg=318.0),)
)

LIGHT_TOPICS: dict[str, Topic] = {
    "light-day": Topic(
        LightDayRequest,
        TypeAdapter(LightReport),
        LightDayRequest(place=TARN_SCENE.place, moment_utc=TARN_SCENE.composition.moment_utc, azimuth_deg=40),
        light_of_day,
        "light on a view through a day",
    ),
    "light-year": Topic(
        LightYearRequest,
        TypeAdapter(YearPicture),
        LightYearRequest(scene=TARN_SCENE, wish=LightWish(sides=("side_right",), lowest_deg=3.0, highest_deg=12.0)),
        lambda r: light_windows(changed_state(r.scene, r.changes), r.wish),
        "when the light that is wanted comes, twelve months",
    ),
    "skyline": Topic(
        SceneRequest,
        TypeAdapter(SkylineReport),
        SceneRequest(scene=TARN_SCENE),
        lambda r: skyline_report(changed_state(r.scene, r.changes)),
        "skyline, paths of sun and moon, and the sun's arrivals",
    ),
    "alignments": Topic(
        AlignmentsRequest,
        TypeAdapter(Passings),
        AlignmentsRequest(scene=TARN_SCENE, wish=Alignment(body="moon", bearing_deg=120.0, moon_lit_from=0.9)),
        lambda r: alignments(changed_state(r.scene, r.changes), r.wish),
        "when sun or moon stands at a bearing, or beside an element",
    ),
    "horizon": Topic(
        HorizonRequest,
        TypeAdapter(HorizonAnswer),
        HorizonRequest(heights_m=[[0, 0, 0], [0, 0, 0], [0, 0, 90]], cell_m=500, east_m=500, north_m=500),
        horizon,
        "the skyline of a grid of heights",
    ),
    "tide": Topic(
        TideRequest,
        TypeAdapter(TideAnswer),
        TideRequest(station=_CREEK, start_utc=TARN_SCENE.composition.moment_utc),
        tide,
        "high and low waters from constituents",
    ),
}
