"""A saved place as the core's record, and what is noted of it."""

from __future__ import annotations

from typing import Any

from pydantic import TypeAdapter

from lucid_ridge.app.documents import DocumentKind
from lucid_ridge.app.places.notes import PlaceNotes
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.core.model.place import Place

COLUMNS = ("latitude_deg", "longitude_deg", "elevation_m", "time_zone")
PLACE: DocumentKind[Place] = DocumentKind("place", TypeAdapter(Place))
NOTES: DocumentKind[PlaceNotes] = DocumentKind("place's notes", TypeAdapter(PlaceNotes))


def core_place(row: PlaceRow) -> Place:
    """The core's record of a saved place."""
    return PLACE.read(whole_document(row))


def whole_document(row: PlaceRow) -> dict[str, Any]:
    """The document of a place, of which some fields are columns."""
    return {"name": row.name, **{column: getattr(row, column) for column in COLUMNS}, **row.sky}


def notes_of(row: PlaceRow) -> PlaceNotes:
    """What is noted of a saved place."""
    return NOTES.read({"access": row.access, "hazards": row.hazards, **row.notes})
