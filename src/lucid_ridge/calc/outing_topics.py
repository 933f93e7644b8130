"""Topics of outings: how long a way takes, and what fits into a day and why the rest does not."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, time
from typing import Annotated

from pydantic import AwareDatetime, BaseModel, Field, TypeAdapter

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.calc.requests import Request, Topic
from lucid_ridge.core.changes.check import check_scene
from lucid_ridge.core.model.outing import Outing, OutingDay, OutingVisit, Pace, Spot
from lucid_ridge.core.model.scene import Scene, Units
from lucid_ridge.core.outing.check import check_outing
from lucid_ridge.core.outing.day_times import minute_of
from lucid_ridge.core.outing.left_out import left_out
from lucid_ridge.core.outing.legs import Path
from lucid_ridge.core.outing.planning import Candidate, put_together, stands_at, ways_of
from lucid_ridge.core.outing.schedule import schedule
from lucid_ridge.core.outing.walking import RULES, profile
from lucid_ridge.core.records import FieldProblem, SceneError
from lucid_ridge.core.state.state import State, build_state
from lucid_ridge.reports.outing.plan import PlanShown, plan_shown
from lucid_ridge.reports.outing.readiness import ReadinessShown, readiness_shown
from lucid_ridge.reports.outing.weather import GoOrStay, go_or_stay

Height = Annotated[float, Field(ge=-500, le=9000)]
Latitude = Annotated[float, Field(ge=-90, le=90)]
Longitude = Annotated[float, Field(ge=-180, le=180)]


class WalkRequest(Request):
    """A way through positions (latitude, longitude, height or None), and how somebody walks."""

    points: Annotated[list[tuple[Latitude, Longitude, Height | None]], Field(min_length=2, max_length=50_000)]
    pace: Pace = Pace()


class WalkAnswer(BaseModel):
    """Level length, what goes up and down, and minutes: by the rule that was chosen, by each of them, and for the way back."""

    length_m: float
    ascent_m: float
    descent_m: float
    minutes: float
    minutes_by_rule: dict[str, float]
    minutes_back: float


def walk(request: WalkRequest) -> WalkAnswer:
    """How long a way takes.

    Raises
    ------
    SceneError
        If no height along it is known.

    """
    latitude, longitude, height = zip(*request.points, strict=True)
    try:
        way = profile(latitude, longitude, [float("nan") if h is None else h for h in height])
    except ValueError:
        message = "Give the height of at least one of the positions."
        raise SceneError([FieldProblem(pointer="/points", message=message)]) from None
    return WalkAnswer(
        length_m=way.length_m,
        ascent_m=way.ascent_m,
        descent_m=way.descent_m,
        minutes=way.seconds(request.pace) / 60,
        minutes_by_rule={rule: way.seconds(replace(request.pace, rule=rule)) / 60 for rule in RULES},
        minutes_back=way.reversed().seconds(request.pace) / 60,
    )


SceneName = Annotated[str, Field(min_length=1, max_length=64)]
PathPoint = tuple[Latitude, Longitude, Height | None]


class OutingRequest(Request):
    """An outing; the scenes of its compositions by their id; paths that may be walked, by name. With ``now`` it is planned from then on.

    Ground without a path is walked straight, with the outing's detour; a forecast counts where a scene has one.
    """

    outing: Outing
    scenes: Annotated[dict[SceneName, Scene], Field(max_length=40)]
    names: Annotated[dict[SceneName, str], Field(max_length=40, default_factory=dict)]
    paths: Annotated[
        dict[SceneName, Annotated[list[PathPoint], Field(min_length=2, max_length=5000)]],
        Field(max_length=40, default_factory=dict),
    ]
    now: AwareDatetime | None = None
    units: Units = "metric"
    seconds: Annotated[float, Field(gt=0, le=60)] = 5.0


class OutingAnswer(BaseModel):
    """The plan with what is left out and why, whether to go, and what to pack."""

    plan: PlanShown
    weather: GoOrStay
    readiness: ReadinessShown


def _state(request: OutingRequest, key: str) -> State:
    scene = request.scenes[key]
    try:
        check_scene(scene)
    except SceneError as error:
        found = [FieldProblem(pointer=f"/scenes/{key}{p.pointer}", message=p.message) for p in error.problems]
        raise SceneError(found) from None
    return build_state(scene)


def outing(request: OutingRequest) -> OutingAnswer:
    """Plan an outing.

    Raises
    ------
    SceneError
        If it contradicts itself, or a scene is missing or cannot be computed.

    """
    problems = check_outing(request.outing)
    for i, visit in enumerate(request.outing.visits):
        if visit.composition_id not in request.scenes:
            message = "Give the scene of this composition under its id in scenes."
            problems.append(FieldProblem(pointer=f"/outing/visits/{i}/composition_id", message=message))
    if problems:
        raise SceneError(problems)
    candidates = []
    for visit in request.outing.visits:
        state = _state(request, visit.composition_id)
        name = request.names.get(visit.composition_id, visit.composition_id)
        candidates.append(Candidate(visit, name, state, stands_at(state)))
    now = None if request.now is None else minute_of(request.now)
    paths = [Path(name, tuple(points)) for name, points in request.paths.items()]
    ways = ways_of(request.outing, candidates, paths, None)
    put = put_together(request.outing, candidates, ways, now)
    plan = schedule(put.task, request.seconds)
    shown = plan_shown(put, plan, request.units, now, left_out(put.task, plan))
    forecasts = {scene.place: scene.forecast for scene in request.scenes.values() if scene.forecast is not None}
    return OutingAnswer(
        plan=shown,
        weather=go_or_stay(put, plan, forecasts, request.units),
        readiness=readiness_shown(request.outing, put, shown, [], ()),
    )


_DAY = OutingDay(date=date(2026, 10, 18), leave_from=time(5, 30), back_by=time(11))
_EXAMPLE = OutingRequest(
    outing=Outing(
        days=(_DAY,),
        start=Spot(name="lay-by", latitude_deg=54.095, longitude_deg=-2.39, elevation_m=350, time_zone="Europe/London"),
        visits=(
            OutingVisit(id="dawn", composition_id="boathouse", wanted="must"),
            OutingVisit(id="later", composition_id="boathouse", goal="moment", moment=time(10), wanted="if_fits"),
        ),
    ),
    scenes={"boathouse": TARN_SCENE},
    names={"boathouse": "Boathouse at first light"},
    paths={},
)

OUTING_TOPICS: dict[str, Topic] = {
    "walk": Topic(
        WalkRequest,
        TypeAdapter(WalkAnswer),
        WalkRequest(
            points=[(54.1, -2.4, 300), (54.105, -2.402, 345), (54.11, -2.4, 410), (54.112, -2.395, 380)],
            pace=Pace(rule="langmuir", load=1.1),
        ),
        walk,
        "how long a way takes on foot, by three rules",
    ),
    "outing": Topic(
        OutingRequest,
        TypeAdapter(OutingAnswer),
        _EXAMPLE,
        outing,
        "which pictures, in which order and when, what is left out and why, whether to go, what to pack",
    ),
}
