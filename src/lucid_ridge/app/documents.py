"""Reading documents that were saved, perhaps by an earlier version of the application.

What comes in over the API is refused when it has a field too many. What is already saved must stay
readable: a field that has gone is passed over, and a field that has come since takes its default,
so every field added to a saved record needs one.
"""

from __future__ import annotations

from typing import Any, TypeVar

from pydantic import TypeAdapter, ValidationError

T = TypeVar("T")


class UnreadableError(Exception):
    """A saved record cannot be read any more. Nothing of it is lost: it stays in the database."""

    def __init__(self, what: str, detail: str) -> None:
        super().__init__(f"{what}: {detail}")
        self.what = what


def read_document(adapter: TypeAdapter[T], saved: Any, what: str) -> T:
    """The record in a saved document.

    Raises
    ------
    UnreadableError
        If the document lacks something that has no default, or holds something impossible.

    """
    try:
        return adapter.validate_python(saved, extra="ignore")
    except ValidationError as error:
        raise UnreadableError(what, str(error)) from error
