"""Routes of practice."""

from __future__ import annotations

from flask import Response

from lucid_ridge.app.describing import Feature
from lucid_ridge.app.practice import operations
from lucid_ridge.app.practice.schemas import (
    DrillAnswerBody,
    DrillAnsweredOut,
    DrillRef,
    NextDrillBody,
    NextDrillOut,
    PracticeOut,
    PracticePicture,
)
from lucid_ridge.app.responses import GONE, INVALID, MISSING, json_response

feature = Feature("practice", __name__, "/api/practice")


@feature.get("", responses={200: PracticeOut})
def read_practice() -> Response:
    """Every kind of drill and how far it has come."""
    return json_response(operations.progress())


@feature.post("/next", responses={200: NextDrillOut, **INVALID})
def ask_next(body: NextDrillBody) -> Response:
    """The next drill."""
    return json_response(operations.ask(body.after))


@feature.post("/picture", responses={200: PracticePicture, **INVALID, **MISSING, **GONE})
def draw_drill(body: DrillRef) -> Response:
    """What a drill looks at."""
    return json_response(operations.picture(body))


@feature.post("/answers", responses={200: DrillAnsweredOut, **INVALID, **MISSING})
def take_answer(body: DrillAnswerBody) -> Response:
    """Judge an answer and remember it."""
    return json_response(operations.take(body))
