"""Routes of compositions."""

from __future__ import annotations

from flask import Response

from lucid_ridge.app import editing
from lucid_ridge.app.bodies import IdPath
from lucid_ridge.app.compositions import operations
from lucid_ridge.app.compositions.schemas import (
    CompositionChange,
    CompositionNew,
    CompositionOut,
    CompositionsOut,
)
from lucid_ridge.app.compositions.tables import CompositionRow
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.paging import PageQuery
from lucid_ridge.app.responses import EMPTY, INVALID, MISSING, STALE, json_response, no_content

feature = Feature("compositions", __name__, "/api/compositions")


@feature.get("", responses={200: CompositionsOut, "422": INVALID["422"]})
def list_compositions(query: PageQuery) -> Response:
    """All compositions."""
    return json_response(operations.list_compositions(query))


@feature.post("", responses={201: CompositionOut, **INVALID})
def add_composition(body: CompositionNew) -> Response:
    """Add a composition."""
    return json_response(operations.add(body), 201)


@feature.get("/<uuid:id>", responses={200: CompositionOut, **MISSING})
def read_composition(path: IdPath) -> Response:
    """One composition."""
    return json_response(operations.one(path.id))


@feature.put("/<uuid:id>", responses={200: CompositionOut, **INVALID, **MISSING, **STALE})
def change_composition(path: IdPath, body: CompositionChange) -> Response:
    """Save a changed composition."""
    return json_response(operations.change(path.id, body))


@feature.delete("/<uuid:id>", responses={**EMPTY, **MISSING})
def delete_composition(path: IdPath) -> Response:
    """Delete a composition; it can be restored."""
    editing.delete(CompositionRow, path.id, "composition")
    return no_content()


@feature.post("/<uuid:id>/restore", responses={200: CompositionOut, **MISSING})
def restore_composition(path: IdPath) -> Response:
    """Bring a deleted composition back."""
    return json_response(editing.restore(CompositionRow, path.id, "composition", operations.present))


@feature.post("/<uuid:id>/duplicate", responses={201: CompositionOut, **MISSING})
def duplicate_composition(path: IdPath) -> Response:
    """Add a copy of a composition."""
    return json_response(operations.duplicate(path.id), 201)
