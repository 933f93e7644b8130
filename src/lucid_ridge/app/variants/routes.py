"""Routes of variants."""

from __future__ import annotations

from flask import Response

from lucid_ridge.app import editing
from lucid_ridge.app.bodies import IdPath
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.responses import EMPTY, INVALID, MISSING, STALE, json_response, no_content
from lucid_ridge.app.variants import operations
from lucid_ridge.app.variants.schemas import UnitsQuery, VariantChange, VariantNew, VariantOut, VariantsOut
from lucid_ridge.app.variants.tables import VariantRow

feature = Feature("variants", __name__, "/api")


@feature.get("/compositions/<uuid:id>/variants", responses={200: VariantsOut, **INVALID, **MISSING})
def list_variants(path: IdPath, query: UnitsQuery) -> Response:
    """The kept tries of a composition."""
    return json_response(operations.of_composition(path.id, query.units))


@feature.post("/compositions/<uuid:id>/variants", responses={200: VariantOut, 201: VariantOut, **INVALID, **MISSING})
def keep_variant(path: IdPath, body: VariantNew) -> Response:
    """Keep a try of a composition."""
    made, is_new = operations.keep(path.id, body)
    return json_response(made, 201 if is_new else 200)


@feature.put("/variants/<uuid:id>", responses={200: VariantOut, **INVALID, **MISSING, **STALE})
def rename_variant(path: IdPath, body: VariantChange) -> Response:
    """Give a variant another name."""
    return json_response(operations.rename(path.id, body))


@feature.delete("/variants/<uuid:id>", responses={**EMPTY, **MISSING})
def remove_variant(path: IdPath) -> Response:
    """Remove a variant; it can be restored."""
    editing.delete(VariantRow, path.id, "variant")
    return no_content()


@feature.post("/variants/<uuid:id>/restore", responses={200: VariantOut, **MISSING})
def restore_variant(path: IdPath) -> Response:
    """Bring a removed variant back."""
    return json_response(operations.restore(path.id))
