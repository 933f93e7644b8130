"""Requests and responses of the evaluation."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, RootModel

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.core.technique.changes import Change
from lucid_ridge.core.technique.evaluate import Evaluation
from lucid_ridge.core.technique.explain import Explanation
from lucid_ridge.core.technique.scene import Scene
from lucid_ridge.core.technique.solve import Answer, Wish

Changes = Annotated[tuple[Annotated[Change, Field(discriminator="kind")], ...], Field(max_length=200)]


class EvaluateBody(JsonBody):
    """A scene, and what the hand has done to it since."""

    scene: Scene
    changes: Changes = ()


class ExplainBody(EvaluateBody):
    """A scene and the key of the number to explain."""

    key: Annotated[str, Field(min_length=1, max_length=120)]


class SolveBody(EvaluateBody):
    """A scene and a wish."""

    wish: Annotated[Wish, Field(discriminator="kind")]


class AnswerOut(RootModel[Answer]):
    """What grants the wish, or why nothing does."""


class EvaluationOut(RootModel[Evaluation]):
    """The whole evaluation."""


class ExplanationOut(RootModel[Explanation]):
    """How a number was got."""
