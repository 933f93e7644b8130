"""Requests and responses of the evaluation."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field, RootModel

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.app.evaluation.sequence_files import SequenceForm
from lucid_ridge.calc.requests import Changes, ExplainRequest, SceneRequest, SolveRequest
from lucid_ridge.core.model.kit import Lens
from lucid_ridge.core.solve.measure import KnownPlaces, Marks, PhotographAim, ViewDeg
from lucid_ridge.reports.close_up.report import CloseUpReport
from lucid_ridge.reports.depth.sharpness import SharpnessStudy
from lucid_ridge.reports.evaluate import Evaluation
from lucid_ridge.reports.explain import Explanation
from lucid_ridge.reports.exposure.study import ExposureStudy
from lucid_ridge.reports.frame.answers import Answer
from lucid_ridge.reports.frame.measured import MeasuredElement
from lucid_ridge.reports.frame.pointed import Pointed
from lucid_ridge.reports.frame.tries import Try
from lucid_ridge.reports.ways.report import WaysReport
from lucid_ridge.reports.ways.why import WhyNot
from lucid_ridge.reports.workbench import Bench, WorkbenchReport


class EvaluateBody(JsonBody, SceneRequest):
    """A scene, and what the hand has done to it since."""


class WorkbenchBody(EvaluateBody):
    """The same, and which bench is open."""

    bench: Bench


class WorkbenchOut(RootModel[WorkbenchReport]):
    """What the workbench shows; of the benches the open one."""


class ExplainBody(JsonBody, ExplainRequest):
    """A scene, the key of the number to explain, and the lenses that stand side by side where it is one of theirs."""


class SolveBody(JsonBody, SolveRequest):
    """A scene and a wish."""


class AnswerOut(RootModel[Answer]):
    """What grants the wish, or why nothing does."""


class TriesOut(BaseModel):
    """Takes on the composition that people commonly try."""

    tries: tuple[Try, ...]


class AimBody(EvaluateBody):
    """A scene, and places in a reference photograph whose direction is known. Without ``view_deg`` it is found too."""

    places: KnownPlaces
    aspect: Annotated[float, Field(ge=0.05, le=20)]
    view_deg: ViewDeg | None = None


class AimOut(RootModel[PhotographAim]):
    """Where the photograph looks."""


class MeasureBody(EvaluateBody):
    """A scene, where a reference photograph looks, and a thing marked in it."""

    aim: PhotographAim
    marks: Marks


class MeasureOut(RootModel[MeasuredElement]):
    """What the marked thing measures."""


class PointBody(EvaluateBody):
    """A scene, and a place in its frame: 0 to 1 from the left and the top."""

    x: Annotated[float, Field(ge=-1, le=2)]
    y: Annotated[float, Field(ge=-1, le=2)]


class PointOut(RootModel[Pointed]):
    """Where a press in the view points."""


class SharpnessOut(RootModel[SharpnessStudy]):
    """The study of depth."""


class CloseUpBody(EvaluateBody):
    """A scene, and the lenses owned, to be set side by side."""

    lenses: Annotated[tuple[Lens, ...], Field(max_length=40)] = ()


class CloseUpOut(RootModel[CloseUpReport]):
    """What the Close-up bench shows."""


class WaysOut(RootModel[WaysReport]):
    """The ways to take a composition."""


class WhyNotBody(EvaluateBody):
    """A scene, and the changes that somebody proposes."""

    proposal: Changes


class WhyNotOut(RootModel[WhyNot]):
    """What a proposal breaks."""


class ExposureBody(EvaluateBody):
    """A scene; a time to reach with filters, and the wind to count with, where they are told."""

    wanted_s: Annotated[float, Field(gt=0, le=1_000_000)] | None = None
    wind_m_s: Annotated[float, Field(ge=0, le=120)] | None = None


class ExposureOut(RootModel[ExposureStudy]):
    """The study of exposure."""


class SequenceFileBody(EvaluateBody):
    """A scene whose sequence is to be taken along, under a name, as a file of some form."""

    name: Annotated[str, Field(min_length=1, max_length=80)] = "Sequence"
    form: SequenceForm


class EvaluationOut(RootModel[Evaluation]):
    """The whole evaluation."""


class ExplanationOut(RootModel[Explanation]):
    """How a number was got."""
