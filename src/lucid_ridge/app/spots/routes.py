"""Routes of what is measured on the spot."""

from __future__ import annotations

from flask import Response

from lucid_ridge.app import editing
from lucid_ridge.app.bodies import IdPath
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.responses import EMPTY, INVALID, MISSING, json_response, no_content
from lucid_ridge.app.spots import operations
from lucid_ridge.app.spots.schemas import CrossBody, CrossOut, SpotNew, SpotOut, SpotsOut, SpotsQuery
from lucid_ridge.app.spots.tables import SpotRow

feature = Feature("spots", __name__, "/api/spots")


@feature.get("", responses={200: SpotsOut, "422": INVALID["422"]})
def list_spots(query: SpotsQuery) -> Response:
    """What was measured on the spot, the latest first."""
    return json_response(operations.list_spots(query))


@feature.put("/<uuid:id>", responses={200: SpotOut, 201: SpotOut, **INVALID, **MISSING})
def record_spot(path: IdPath, body: SpotNew) -> Response:
    """Record something measured. Sent again with the same id it answers with the one recorded."""
    made, is_new = operations.record(path.id, body)
    return json_response(made, 201 if is_new else 200)


@feature.post("/<uuid:id>/take-on", responses={200: SpotOut, **INVALID, **MISSING})
def take_on(path: IdPath) -> Response:
    """Put something measured into its composition or its place."""
    return json_response(operations.take_on(path.id))


@feature.post("/cross", responses={200: CrossOut, **INVALID, **MISSING})
def cross_bearings(body: CrossBody) -> Response:
    """Where two bearings of one thing cross, with the error; and put it there."""
    return json_response(operations.cross_bearings(body))


@feature.delete("/<uuid:id>", responses={**EMPTY, **MISSING})
def delete_spot(path: IdPath) -> Response:
    """Delete something measured; it can be restored."""
    editing.delete(SpotRow, path.id, "measurement")
    return no_content()


@feature.post("/<uuid:id>/restore", responses={200: SpotOut, **MISSING})
def restore_spot(path: IdPath) -> Response:
    """Bring something measured back."""
    return json_response(operations.restored(path.id))
