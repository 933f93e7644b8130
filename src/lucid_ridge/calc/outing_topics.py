"""Topics of outings: how long a way takes."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated

from pydantic import BaseModel, Field, TypeAdapter

from lucid_ridge.calc.requests import Request, Topic
from lucid_ridge.core.model.outing import Pace
from lucid_ridge.core.outing.walking import RULES, profile
from lucid_ridge.core.records import FieldProblem, SceneError

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
}
