"""Lists a page at a time, by the last entry seen: what is added or deleted meanwhile shifts nothing."""

from __future__ import annotations

import base64
import binascii
import json
from collections.abc import Callable, Mapping, Sequence
from typing import Annotated, Any, TypeVar

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import Select, tuple_
from sqlalchemy.orm import Session

from lucid_ridge.app.problems import Refused

Row = TypeVar("Row")

MOST_ROWS = 1000
USUAL_ROWS = 250
"""As many as are read, put into words and sent well within a tenth of a second."""


class PageQuery(BaseModel):
    """Which page: so many entries, after the one that the last page's ``next`` stands for."""

    model_config = ConfigDict(extra="ignore")

    after: Annotated[str, Field(max_length=2000)] | None = None
    limit: Annotated[int, Field(ge=1, le=MOST_ROWS)] = USUAL_ROWS


def cut(rows: Sequence[Row], limit: int, key: Callable[[Row], list[str]]) -> tuple[Sequence[Row], str | None]:
    """The rows of a page, and the cursor of the next; *rows* holds one more than fits where there is another page."""
    if len(rows) <= limit:
        return rows, None
    words = json.dumps(key(rows[limit - 1])).encode()
    return rows[:limit], base64.urlsafe_b64encode(words).decode()


def page(
    session: Session,
    statement: Select[*tuple[Any, ...]],
    query: PageQuery,
    columns: Mapping[str, Any],
    kinds: tuple[Any, ...],
) -> tuple[Sequence[Any], str | None]:
    """The rows of one page of a list that is ordered by columns, and the cursor of the next.

    ``columns`` order the list, by names that no column of the statement has; the last is unique. ``kinds`` read their
    values from text. Rows hold what the statement selects, then those columns.
    """
    statement = statement.add_columns(*(column.label(name) for name, column in columns.items()))
    if query.after is not None:
        statement = statement.where(tuple_(*columns.values()) > tuple_(*read_cursor(query.after, *kinds)))
    rows = session.execute(statement.order_by(*columns.values()).limit(query.limit + 1)).all()
    return cut(rows, query.limit, lambda row: [str(row[-k]) for k in range(len(columns), 0, -1)])


def read_cursor(cursor: str, *kinds: Callable[[str], Any]) -> tuple[Any, ...]:
    """What a cursor stands for.

    Raises
    ------
    Refused
        If it was not made by `cut` for such a list.

    """
    try:
        words = json.loads(base64.urlsafe_b64decode(cursor.encode()))
        found = tuple(kind(word) for kind, word in zip(kinds, words, strict=True))
    except (ValueError, TypeError, binascii.Error):
        raise Refused("/after", "This is no place in the list; begin at its start.") from None
    return found


def text(word: str) -> str:
    """A word of a cursor as it is; PostgreSQL takes no NUL.

    Raises
    ------
    ValueError
        If it holds one.

    """
    if "\x00" in word:
        raise ValueError(word)
    return word
