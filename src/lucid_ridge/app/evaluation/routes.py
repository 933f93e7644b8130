"""Routes of the evaluation: no database, one call of the core."""

from __future__ import annotations

from flask import Response
from flask_openapi3.blueprint import APIBlueprint
from flask_openapi3.models.tag import Tag
from pydantic import TypeAdapter

from lucid_ridge.app.answers import INVALID, JSON_TYPE
from lucid_ridge.app.evaluation.schemas import (
    EvaluateBody,
    EvaluationOut,
    ExplainBody,
    ExplanationOut,
    HeightAnswerOut,
    PartBody,
)
from lucid_ridge.core.technique.compose import HeightAnswer, height_to_part
from lucid_ridge.core.technique.evaluate import Evaluation, changed_state, evaluate
from lucid_ridge.core.technique.explain import Explanation, explain

blueprint = APIBlueprint("evaluation", __name__, url_prefix="/api", abp_tags=[Tag(name="evaluation")])

_EVALUATION: TypeAdapter[Evaluation] = TypeAdapter(Evaluation)
_EXPLANATION: TypeAdapter[Explanation] = TypeAdapter(Explanation)
_HEIGHT: TypeAdapter[HeightAnswer] = TypeAdapter(HeightAnswer)


@blueprint.post("/evaluate", responses={200: EvaluationOut, **INVALID})
def evaluate_scene(body: EvaluateBody) -> Response:
    """Evaluate a composition whole, after changes."""
    made = evaluate(body.scene, body.changes)
    return Response(_EVALUATION.dump_json(made), content_type=JSON_TYPE)


@blueprint.post("/explain", responses={200: ExplanationOut, **INVALID})
def explain_number(body: ExplainBody) -> Response:
    """Formula, inputs and source of one number."""
    made = explain(changed_state(body.scene, body.changes), body.key)
    return Response(_EXPLANATION.dump_json(made), content_type=JSON_TYPE)


@blueprint.post("/part", responses={200: HeightAnswerOut, **INVALID})
def part_elements(body: PartBody) -> Response:
    """The smallest change of camera height that parts two elements."""
    made = height_to_part(changed_state(body.scene, body.changes), body.element_id, body.other_id)
    return Response(_HEIGHT.dump_json(made), content_type=JSON_TYPE)
