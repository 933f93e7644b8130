"""Routes of places."""

from __future__ import annotations

from flask import Response

from lucid_ridge.app import editing
from lucid_ridge.app.bodies import IdPath
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.paging import PageQuery
from lucid_ridge.app.places import operations
from lucid_ridge.app.places.schemas import LocateBody, LocatedOut, PlaceChange, PlaceNew, PlaceOut, PlacesOut
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.responses import EMPTY, INVALID, MISSING, STALE, json_response, no_content

feature = Feature("places", __name__, "/api/places")


@feature.get("", responses={200: PlacesOut, "422": INVALID["422"]})
def list_places(query: PageQuery) -> Response:
    """All places."""
    return json_response(operations.list_places(query))


@feature.post("", responses={201: PlaceOut, **INVALID})
def add_place(body: PlaceNew) -> Response:
    """Add a place."""
    return json_response(operations.add(body), 201)


@feature.post("/locate", responses={200: LocatedOut, **INVALID})
def locate_place(body: LocateBody) -> Response:
    """Read a written or pasted position, and find the time zone there."""
    return json_response(operations.locate(body))


@feature.put("/<uuid:id>", responses={200: PlaceOut, **INVALID, **MISSING, **STALE})
def change_place(path: IdPath, body: PlaceChange) -> Response:
    """Save a changed place."""
    return json_response(operations.change(path.id, body))


@feature.delete("/<uuid:id>", responses={**EMPTY, **MISSING})
def delete_place(path: IdPath) -> Response:
    """Delete a place; its compositions are hidden with it, and come back with it."""
    editing.delete(PlaceRow, path.id, "place")
    return no_content()


@feature.post("/<uuid:id>/restore", responses={200: PlaceOut, **MISSING})
def restore_place(path: IdPath) -> Response:
    """Bring a deleted place back."""
    return json_response(editing.restore(PlaceRow, path.id, "place", operations.present))


@feature.post("/<uuid:id>/duplicate", responses={201: PlaceOut, **MISSING})
def duplicate_place(path: IdPath) -> Response:
    """Add a copy of a place."""
    return json_response(operations.duplicate(path.id), 201)
