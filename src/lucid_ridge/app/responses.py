"""Responses of routes: models as JSON, and the problems each route may answer with."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from flask import Response
from pydantic import BaseModel

from lucid_ridge.app.problems import PROBLEM_TYPE, ConflictProblem, Problem

JSON_TYPE = "application/json"


def json_response(model: BaseModel, status: int = 200) -> Response:
    """A model as a JSON response."""
    return Response(model.model_dump_json(), status=status, content_type=JSON_TYPE)


def no_content() -> Response:
    """204."""
    return Response(status=204)


def _problem(model: type[BaseModel], description: str) -> dict[str, Any]:
    return {
        "description": description,
        "content": {PROBLEM_TYPE: {"schema": {"$ref": f"#/components/schemas/{model.__name__}"}}},
    }


Answers = dict[str | int, Any]

INVALID: Answers = {
    "400": _problem(Problem, "Not JSON"),
    "422": _problem(Problem, "Some fields need another value"),
}
MISSING: Answers = {"404": _problem(Problem, "No such record")}
STALE: Answers = {"409": _problem(ConflictProblem, "Saved elsewhere meanwhile; shows both versions")}
GONE: Answers = {"503": _problem(Problem, "It cannot be done just now; try again in a moment")}
NO_CAMERA: Answers = {"502": _problem(Problem, "The camera does not do it, or does not answer; says why")}
LIMITED: Answers = {"429": _problem(Problem, "Too many attempts; says for how long to wait")}
BARRED: Answers = {
    "401": _problem(Problem, "Nobody is signed in; only where people sign in"),
    "403": _problem(Problem, "Whoever is signed in may not do that; or the request comes from another site's page"),
}
"""What every route may answer with."""
EMPTY: Answers = {"204": {"description": "Done"}}


def file_answer(kinds: Iterable[str], description: str) -> Answers:
    """What the OpenAPI document says of an answer that is a file."""
    binary = {"schema": {"type": "string", "format": "binary"}}
    return {"200": {"description": description, "content": dict.fromkeys(kinds, binary)}}


def picture_response(data: bytes, kind: str, name: str | None = None) -> Response:
    """A picture that never changes under its address; with a name for whoever keeps it."""
    response = Response(data, content_type=kind)
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    if name is not None:
        response.headers["Content-Disposition"] = f'inline; filename="{name}"'
    return response


def download(data: bytes | str, kind: str, name: str) -> Response:
    """A file for the person to keep."""
    response = Response(data, content_type=kind)
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
