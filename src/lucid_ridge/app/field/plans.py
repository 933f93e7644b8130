"""How sequences taken to the field are kept."""

from __future__ import annotations

from pydantic import TypeAdapter

from lucid_ridge.app.documents import Document, DocumentKind
from lucid_ridge.app.field.schemas import FieldPlan


def _counted(document: Document) -> Document:
    """From 1 to 2: a sequence tells how many frames it has."""
    sequence = document["sequence"]
    if "count" not in sequence:
        count = len(sequence["frames"])
        told = {"value": count, "text": str(count), "explain": "sequence.frames"}
        document["sequence"] = {**sequence, "count": told}
    return document


PLAN: DocumentKind[FieldPlan] = DocumentKind("sequence", TypeAdapter(FieldPlan), upcasters=(_counted,))
