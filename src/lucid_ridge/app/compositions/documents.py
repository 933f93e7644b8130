"""How compositions are kept, also those of variants."""

from __future__ import annotations

from typing import Any

from pydantic import TypeAdapter

from lucid_ridge.app.documents import Document, DocumentKind, renamed
from lucid_ridge.core.model.scene import Composition

_HELD = {"level": "landscape", "upright": "portrait"}
_MEANS = {"hand": "manual"}


def _terms_of_the_field(old: Document) -> Document:
    """From 1 to 2: private words give way to those of the field."""
    document = renamed(old, {"stand_lines": "keep_out_lines"})
    if "orientation" in document:
        document["orientation"] = _HELD.get(document["orientation"], document["orientation"])
    parts: dict[str, dict[str, str]] = {
        "wants": {"criterion": "sharpness_standard"},
        "settings": {"offset_stops": "compensation_stops"},
        "close_up": {"count_wave": "count_diffraction"},
        "technique": {"hand_foci_m": "manual_foci_m", "hand_offsets_stops": "manual_offsets_stops"},
    }
    for part, names in parts.items():
        if isinstance(document.get(part), dict):
            document[part] = renamed(document[part], names)
    technique: dict[str, Any] = document.get("technique", {})
    for name in ("slices", "bracket"):
        if name in technique:
            technique[name] = _MEANS.get(technique[name], technique[name])
    return document


COMPOSITION: DocumentKind[Composition] = DocumentKind(
    "composition", TypeAdapter(Composition), upcasters=(_terms_of_the_field,)
)
