"""Plans as they are kept, read as they would be kept today."""

from __future__ import annotations

from typing import Any

from pydantic import TypeAdapter

from lucid_ridge.app.documents import read_document
from lucid_ridge.app.field.schemas import FieldPlan

_PLAN: TypeAdapter[FieldPlan] = TypeAdapter(FieldPlan)


def brought_forward(document: dict[str, Any]) -> dict[str, Any]:
    """A saved plan as it would be saved today. Those of the first version did not count their frames."""
    sequence = document["sequence"]
    if "count" in sequence:
        return document
    count = len(sequence["frames"])
    told = {"value": count, "text": str(count), "explain": "sequence.frames"}
    return {**document, "sequence": {**sequence, "count": told}}


def read_plan(document: dict[str, Any]) -> FieldPlan:
    """The plan in a saved document.

    Raises
    ------
    UnreadableError
        If it lacks something that has no default, or holds something impossible.

    """
    return read_document(_PLAN, brought_forward(document), "sequence")
