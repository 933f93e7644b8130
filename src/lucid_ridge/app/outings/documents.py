"""How outings are kept."""

from __future__ import annotations

from pydantic import TypeAdapter

from lucid_ridge.app.documents import DocumentKind
from lucid_ridge.core.model.outing import Outing

OUTING: DocumentKind[Outing] = DocumentKind("outing", TypeAdapter(Outing))
