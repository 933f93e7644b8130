"""How the details of kit items are kept, by kind."""

from __future__ import annotations

from typing import Any

from pydantic import TypeAdapter

from lucid_ridge.app.documents import Document, DocumentKind, renamed
from lucid_ridge.core.model.gear import Gear, LightSource
from lucid_ridge.core.model.kit import Body, Lens, Support
from lucid_ridge.core.stops.filters import Filter


def _lens_hood(old: Document) -> Document:
    """From 1 to 2: the shade of a lens is its hood."""
    return renamed(old, {"shade_mm": "hood_mm"})


BODY: DocumentKind[Body] = DocumentKind("body", TypeAdapter(Body))
LENS: DocumentKind[Lens] = DocumentKind("lens", TypeAdapter(Lens), upcasters=(_lens_hood,))
SUPPORT: DocumentKind[Support] = DocumentKind("support", TypeAdapter(Support))
FILTER: DocumentKind[Filter] = DocumentKind("filter", TypeAdapter(Filter))
GEAR: DocumentKind[Gear] = DocumentKind("gear", TypeAdapter(Gear))
LIGHT: DocumentKind[LightSource] = DocumentKind("light", TypeAdapter(LightSource))

BY_KIND: dict[str, DocumentKind[Any]] = {
    "body": BODY,
    "lens": LENS,
    "support": SUPPORT,
    "filter": FILTER,
    "gear": GEAR,
    "light": LIGHT,
}
