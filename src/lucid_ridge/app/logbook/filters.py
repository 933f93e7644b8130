"""Which takes a list shows."""

from __future__ import annotations

from typing import Any

from sqlalchemy import ColumnElement, func

from lucid_ridge.app.editing import owner
from lucid_ridge.app.logbook.schemas import TakesQuery
from lucid_ridge.app.logbook.tables import WITH_FAULTS, Take

MOST_WORDS = 8


def mine() -> list[ColumnElement[bool]]:
    """One's own takes that are not deleted."""
    return [Take.owner_id == owner(), Take.deleted_at.is_(None)]


def _begun(word: str) -> str:
    """A word of a text query that stands for all that begin so."""
    quoted = word.replace("\\", "\\\\").replace("'", "''")
    return f"'{quoted}':*"


def has_words(query: TakesQuery, words: Any) -> list[ColumnElement[bool]]:
    """What holds of a column of words for all that a query asks for."""
    asked = query.words.split()[:MOST_WORDS]
    return [words.bool_op("@@")(func.to_tsquery("simple", " & ".join(map(_begun, asked))))] if asked else []


def wanted(query: TakesQuery) -> list[ColumnElement[bool]]:
    """What holds of the takes that a query asks for."""
    return [*wanted_but_words(query), *has_words(query, Take.words)]


def wanted_but_words(query: TakesQuery) -> list[ColumnElement[bool]]:
    """The same, whatever its words."""
    found = mine()
    if query.place_id is not None:
        found.append(Take.place_id == query.place_id)
    if query.fault is not None:
        found += [WITH_FAULTS, Take.faults.contains([query.fault])]
    if query.season is not None:
        found.append(Take.season == query.season)
    if query.rating is not None:
        found.append(Take.rating >= query.rating)
    if query.day is not None:
        found.append(Take.day == query.day)
    return found
