"""Documents: how records are written to the database, and read again, perhaps years and versions later.

A document carries the ``schema_version`` it was written in. Upcasters bring an old one forward, one step a version, when it
is read. What is read of a document but unknown to this version (a newer version wrote it, or a field has gone without an
upcaster) is kept: a save writes it back beside what the person changed. What comes in over the API is another matter: there a
field too many is refused.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any, Generic, TypeVar

from pydantic import TypeAdapter, ValidationError

T = TypeVar("T")
Document = dict[str, Any]
Upcaster = Callable[[Document], Document]

VERSION_KEY = "schema_version"


class UnreadableError(Exception):
    """A saved record cannot be read any more. Nothing of it is lost: it stays in the database."""

    def __init__(self, what: str, detail: str) -> None:
        super().__init__(f"{what}: {detail}")
        self.what = what


class DocumentKind(Generic[T]):
    """One kind of document: the record in it, and how old ones are brought forward.

    Parameters
    ----------
    what
        What a person calls it, for messages.
    adapter
        Of the record.
    upcasters
        The n-th brings a document of version n + 1 to version n + 2. It gets a copy that it may change.

    """

    def __init__(self, what: str, adapter: TypeAdapter[T], upcasters: tuple[Upcaster, ...] = ()) -> None:
        self.what = what
        self._adapter = adapter
        self._upcasters = upcasters
        self.version = len(upcasters) + 1

    def forward(self, saved: Mapping[str, Any]) -> Document:
        """A saved document as this version would have written it; one without a version is of the first."""
        document = dict(saved)
        for upcast in self._upcasters[int(document.get(VERSION_KEY, 1)) - 1 :]:
            document = upcast(document)
        document[VERSION_KEY] = max(self.version, int(document.get(VERSION_KEY, 1)))
        return document

    def read(self, saved: Mapping[str, Any]) -> T:
        """The record in a saved document.

        Raises
        ------
        UnreadableError
            If the document lacks something that has no default, or holds something impossible.

        """
        try:
            return self._adapter.validate_python(self.forward(saved), extra="ignore")
        except ValidationError as error:
            raise UnreadableError(self.what, str(error)) from error

    def write(self, record: T, over: Mapping[str, Any] | None = None) -> Document:
        """The document of a record; what is unknown in the one that it is written *over* stays in it."""
        document: Document = self._adapter.dump_python(record, mode="json")
        if over:
            before = self.forward(over)
            known = self._adapter.dump_python(self.read(over), mode="json")
            document = _grafted(document, _unknown(before, known))
            document[VERSION_KEY] = before[VERSION_KEY]
        else:
            document[VERSION_KEY] = self.version
        return document


def renamed(document: Mapping[str, Any], names: Mapping[str, str]) -> Document:
    """A copy with fields renamed, for upcasters; what is there under the new name already stays."""
    kept = {k: v for k, v in document.items() if k not in names}
    return {**{names[k]: v for k, v in document.items() if k in names}, **kept}


def _unknown(saved: Any, known: Any) -> Any:
    """What of a saved document is not in what was read of it: nested dicts of the rest, None where nothing is.

    Entries of lists are told apart by their ``id``, else by their position.
    """
    if isinstance(saved, dict) and isinstance(known, dict):
        rest = {k: v if k not in known else _unknown(v, known[k]) for k, v in saved.items() if k != VERSION_KEY}
        return {k: v for k, v in rest.items() if k not in known or v is not None} or None
    if isinstance(saved, list) and isinstance(known, list):
        found = _by_identity(known)
        rest = {key: _unknown(one, found.get(key, one)) for key, one in _by_identity(saved).items()}
        return {key: one for key, one in rest.items() if one is not None} or None
    return None


def _identity(position: int, entry: Any) -> Any:
    return entry.get("id", position) if isinstance(entry, dict) else position


def _by_identity(entries: list[Any]) -> dict[Any, Any]:
    return {_identity(i, one): one for i, one in enumerate(entries)}


def _grafted(document: Any, rest: Any) -> Any:
    """A document with what was unknown put back, where what it belonged to is still there."""
    if not isinstance(rest, dict):
        return document
    if isinstance(document, dict):
        known = {k: _grafted(v, rest.get(k)) for k, v in document.items()}
        return {**{k: v for k, v in rest.items() if k not in document}, **known}
    if isinstance(document, list):
        return [_grafted(one, rest.get(_identity(i, one))) for i, one in enumerate(document)]
    return document
