"""How what a picture tells of itself is kept."""

from __future__ import annotations

from pydantic import TypeAdapter

from lucid_ridge.app.documents import DocumentKind
from lucid_ridge.formats.photographs import Facts

FACTS: DocumentKind[Facts] = DocumentKind("picture", TypeAdapter(Facts))
