"""Routes of what is learned."""

from __future__ import annotations

from flask import Response

from lucid_ridge.app.describing import Feature
from lucid_ridge.app.learning import operations
from lucid_ridge.app.learning.schemas import LearnedBody, LearnedOut, LearningOut
from lucid_ridge.app.responses import INVALID, json_response

feature = Feature("learning", __name__, "/api/learning")


@feature.get("", responses={200: LearningOut})
def read_learning() -> Response:
    """What one's takes teach, and what of it is taken on."""
    return json_response(operations.learning())


@feature.post("/taken-on", responses={200: LearnedOut, **INVALID})
def take_learned_on(body: LearnedBody) -> Response:
    """Let a value of one's own hold in every composition."""
    return json_response(operations.take_on(body.key))


@feature.post("/given-up", responses={200: LearnedOut, **INVALID})
def give_learned_up(body: LearnedBody) -> Response:
    """Let common practice hold again."""
    return json_response(operations.give_up(body.key))
