"""Routes of the kit."""

from __future__ import annotations

from flask import Response

from lucid_ridge.app import editing
from lucid_ridge.app.bodies import IdPath
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.kit import operations
from lucid_ridge.app.kit.schemas import KitItemChange, KitItemNew, KitItemOut, KitOut, MovingGroundOut
from lucid_ridge.app.kit.tables import KitItem
from lucid_ridge.app.paging import PageQuery
from lucid_ridge.app.responses import EMPTY, INVALID, MISSING, STALE, json_response, no_content
from lucid_ridge.core.camera.moving_support import MOVING_GROUND

feature = Feature("kit", __name__, "/api/kit")


@feature.get("", responses={200: KitOut, "422": INVALID["422"]})
def list_kit(query: PageQuery) -> Response:
    """All kit items."""
    return json_response(operations.list_items(query))


@feature.get("/moving-ground", responses={200: MovingGroundOut})
def list_moving_ground() -> Response:
    """What one may stand on that moves, with usual rates of rocking and drift."""
    return json_response(MovingGroundOut(kinds=MOVING_GROUND))


@feature.post("", responses={201: KitItemOut, **INVALID})
def add_kit_item(body: KitItemNew) -> Response:
    """Add a kit item."""
    return json_response(operations.add(body), 201)


@feature.put("/<uuid:id>", responses={200: KitItemOut, **INVALID, **MISSING, **STALE})
def change_kit_item(path: IdPath, body: KitItemChange) -> Response:
    """Save a changed kit item."""
    return json_response(operations.change(path.id, body))


@feature.delete("/<uuid:id>", responses={**EMPTY, **MISSING})
def delete_kit_item(path: IdPath) -> Response:
    """Delete a kit item; it can be restored."""
    editing.delete(KitItem, path.id, "kit item")
    return no_content()


@feature.post("/<uuid:id>/restore", responses={200: KitItemOut, **MISSING})
def restore_kit_item(path: IdPath) -> Response:
    """Bring a deleted kit item back."""
    return json_response(editing.restore(KitItem, path.id, "kit item", operations.present))


@feature.post("/<uuid:id>/duplicate", responses={201: KitItemOut, **MISSING})
def duplicate_kit_item(path: IdPath) -> Response:
    """Add a copy of a kit item."""
    return json_response(operations.duplicate(path.id), 201)
