"""The one way records are declared in the core.

A record is a frozen, keyword-only dataclass. Limits stand beside the field as
``annotated_types`` metadata, so that the same declaration serves the core, the JSON
schema and the validation at the edge. Unknown fields are refused there: a mistyped name
must not be dropped silently.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, TypeVar, dataclass_transform

from annotated_types import MaxLen, MinLen

T = TypeVar("T")
_declared: list[type] = []

Name = Annotated[str, MinLen(1), MaxLen(80)]
Identifier = Annotated[str, MinLen(1), MaxLen(64)]


@dataclass_transform(frozen_default=True, kw_only_default=True)
def record(cls: type[T]) -> type[T]:
    """Declare *cls* as a record."""
    made = dataclass(frozen=True, kw_only=True)(cls)
    made.__pydantic_config__ = {"extra": "forbid", "allow_inf_nan": False}  # type: ignore[attr-defined]
    _declared.append(made)
    return made


def declared() -> tuple[type, ...]:
    """Every record declared so far, in order: what a record is made of comes before it."""
    return tuple(_declared)


@record
class FieldProblem:
    """One thing wrong with one field, and what to do about it."""

    pointer: str
    message: str


class SceneError(ValueError):
    """The scene cannot be computed as it stands.

    ``problems`` names each field by JSON pointer, with a sentence that says what to do.
    """

    def __init__(self, problems: list[FieldProblem]) -> None:
        super().__init__("; ".join(f"{p.pointer}: {p.message}" for p in problems))
        self.problems = problems
