"""Routes of the evaluation: one call of the core, with the place's terrain where it has one."""

from __future__ import annotations

from flask import Response
from pydantic import TypeAdapter

from lucid_ridge.app.describing import Feature
from lucid_ridge.app.evaluation import operations
from lucid_ridge.app.evaluation.operations import state_of
from lucid_ridge.app.evaluation.schemas import (
    AimBody,
    AimOut,
    AnswerOut,
    CloseUpBody,
    CloseUpOut,
    EvaluateBody,
    EvaluationOut,
    ExplainBody,
    ExplanationOut,
    ExposureBody,
    ExposureOut,
    MeasureBody,
    MeasureOut,
    PointBody,
    PointOut,
    SequenceFileBody,
    SharpnessOut,
    SolveBody,
    TriesOut,
    WaysOut,
    WhyNotBody,
    WhyNotOut,
    WorkbenchBody,
    WorkbenchOut,
)
from lucid_ridge.app.responses import GONE, INVALID, JSON_TYPE, download, file_answer, json_response
from lucid_ridge.app.terrains.operations import terrain_of
from lucid_ridge.app.turns import in_turn
from lucid_ridge.core.solve.measure import aim_photograph
from lucid_ridge.reports.close_up.report import CloseUpReport
from lucid_ridge.reports.depth.sharpness import SharpnessStudy, sharpness_study
from lucid_ridge.reports.evaluate import Evaluation, evaluate
from lucid_ridge.reports.explain import Explanation
from lucid_ridge.reports.exposure.study import ExposureStudy, exposure_study
from lucid_ridge.reports.frame.answers import Answer, answer_to
from lucid_ridge.reports.frame.measured import measured_element
from lucid_ridge.reports.frame.pointed import pointed
from lucid_ridge.reports.frame.tries import tries
from lucid_ridge.reports.ways.report import WaysReport, ways
from lucid_ridge.reports.ways.why import WhyNot
from lucid_ridge.reports.workbench import WorkbenchReport, workbench_report

feature = Feature("evaluation", __name__, "/api")

_EVALUATION: TypeAdapter[Evaluation] = TypeAdapter(Evaluation)
_WORKBENCH: TypeAdapter[WorkbenchReport] = TypeAdapter(WorkbenchReport)
_SHARPNESS: TypeAdapter[SharpnessStudy] = TypeAdapter(SharpnessStudy)
_CLOSE_UP: TypeAdapter[CloseUpReport] = TypeAdapter(CloseUpReport)
_WAYS: TypeAdapter[WaysReport] = TypeAdapter(WaysReport)
_WHY_NOT: TypeAdapter[WhyNot] = TypeAdapter(WhyNot)
_EXPOSURE: TypeAdapter[ExposureStudy] = TypeAdapter(ExposureStudy)
_FILES = file_answer(("application/pdf", "text/csv", "application/json"), "The sequence")
_EXPLANATION: TypeAdapter[Explanation] = TypeAdapter(Explanation)
_ANSWER: TypeAdapter[Answer] = TypeAdapter(Answer)


@feature.post("/evaluate", responses={200: EvaluationOut, **INVALID})
def evaluate_scene(body: EvaluateBody) -> Response:
    """Evaluate a composition whole, after changes."""
    made = evaluate(body.scene, body.changes, terrain_of(body.scene.place))
    return Response(_EVALUATION.dump_json(made), content_type=JSON_TYPE)


@feature.post("/workbench", responses={200: WorkbenchOut, **INVALID})
def evaluate_for_workbench(body: WorkbenchBody) -> Response:
    """Evaluate a composition as far as the workbench shows it with one bench open, after changes."""
    made = workbench_report(body.scene, body.changes, body.bench, terrain_of(body.scene.place))
    return Response(_WORKBENCH.dump_json(made), content_type=JSON_TYPE)


@feature.post("/sharpness", responses={200: SharpnessOut, **INVALID})
def study_sharpness(body: EvaluateBody) -> Response:
    """The study of depth: blur in every measure, apertures swept, schools side by side, the focus check."""
    return Response(_SHARPNESS.dump_json(sharpness_study(state_of(body))), content_type=JSON_TYPE)


@feature.post("/close-up", responses={200: CloseUpOut, **INVALID})
def study_close_up(body: CloseUpBody) -> Response:
    """Magnification, lenses side by side, gear, background, stacks and lights."""
    return Response(_CLOSE_UP.dump_json(operations.close_up(body)), content_type=JSON_TYPE)


@feature.post("/ways", responses={200: WaysOut, **INVALID, **GONE})
@in_turn
def find_ways(body: EvaluateBody) -> Response:
    """The ways to take a composition that give all that is wanted, none beaten by another."""
    return Response(_WAYS.dump_json(ways(state_of(body))), content_type=JSON_TYPE)


@feature.post("/ways/why-not", responses={200: WhyNotOut, **INVALID})
def ask_why_not(body: WhyNotBody) -> Response:
    """What a proposed way breaks, and by how much."""
    return Response(_WHY_NOT.dump_json(operations.why_not_so(body)), content_type=JSON_TYPE)


@feature.post("/exposure", responses={200: ExposureOut, **INVALID})
def study_exposure(body: ExposureBody) -> Response:
    """Filters carried, grad against bracket, looks of moving water, steadiness."""
    made = exposure_study(state_of(body), body.wanted_s, body.wind_m_s)
    return Response(_EXPOSURE.dump_json(made), content_type=JSON_TYPE)


@feature.post("/sequence-file", responses={**_FILES, **INVALID})
def make_sequence_file(body: SequenceFileBody) -> Response:
    """The sequence as a field card (PDF), a table (CSV) or data (JSON)."""
    return download(*operations.sequence_file(body))


@feature.post("/explain", responses={200: ExplanationOut, **INVALID})
def explain_number(body: ExplainBody) -> Response:
    """Formula, inputs and source of one number."""
    return Response(_EXPLANATION.dump_json(operations.explained(body)), content_type=JSON_TYPE)


@feature.post("/solve", responses={200: AnswerOut, **INVALID})
def solve_wish(body: SolveBody) -> Response:
    """The changes that grant a wish of the picture, or why nothing does."""
    made = answer_to(state_of(body), body.wish)
    return Response(_ANSWER.dump_json(made), content_type=JSON_TYPE)


@feature.post("/tries", responses={200: TriesOut, **INVALID, **GONE})
@in_turn
def try_others(body: EvaluateBody) -> Response:
    """Other takes on the composition, each with its card."""
    return json_response(TriesOut(tries=tries(state_of(body))))


@feature.post("/aim", responses={200: AimOut, **INVALID})
def aim_of_photograph(body: AimBody) -> Response:
    """Where a reference photograph looks, from points whose direction is known."""
    return json_response(AimOut(aim_photograph(state_of(body), body.places, body.aspect, body.view_deg)))


@feature.post("/point", responses={200: PointOut, **INVALID})
def point_into_view(body: PointBody) -> Response:
    """Along which sight a press in the view points, and how far off what lies there is."""
    return json_response(PointOut(pointed(state_of(body), body.x, body.y)))


@feature.post("/measure", responses={200: MeasureOut, **INVALID})
def measure_thing(body: MeasureBody) -> Response:
    """Bearing, distance and size of a thing marked in a reference photograph."""
    return json_response(MeasureOut(measured_element(state_of(body), body.aim, body.marks)))
