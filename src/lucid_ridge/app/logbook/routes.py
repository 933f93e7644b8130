"""Routes of the logbook."""

from __future__ import annotations

from flask import Response

from lucid_ridge.app import editing
from lucid_ridge.app.bodies import IdPath
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.logbook import operations
from lucid_ridge.app.logbook.schemas import TakeNew, TakeOut, TakeReview, TakesOut, TakesQuery
from lucid_ridge.app.logbook.tables import Take
from lucid_ridge.app.responses import EMPTY, INVALID, MISSING, STALE, json_response, no_content

feature = Feature("logbook", __name__, "/api/takes")


@feature.get("", responses={200: TakesOut, "422": INVALID["422"]})
def list_takes(query: TakesQuery) -> Response:
    """Takes, newest first."""
    return json_response(operations.all_takes(query))


@feature.put("/<uuid:id>", responses={200: TakeOut, 201: TakeOut, **INVALID, **MISSING})
def record_take(path: IdPath, body: TakeNew) -> Response:
    """Write a take. Sent again with the same id it answers with the one written."""
    made, is_new = operations.record(path.id, body)
    return json_response(made, 201 if is_new else 200)


@feature.get("/<uuid:id>", responses={200: TakeOut, **MISSING})
def read_take(path: IdPath) -> Response:
    """One take, planned beside actual."""
    return json_response(operations.one(path.id))


@feature.put("/<uuid:id>/review", responses={200: TakeOut, **INVALID, **MISSING, **STALE})
def review_take(path: IdPath, body: TakeReview) -> Response:
    """Save rating, faults and note."""
    return json_response(operations.review(path.id, body))


@feature.delete("/<uuid:id>", responses={**EMPTY, **MISSING})
def delete_take(path: IdPath) -> Response:
    """Delete a take; it can be restored."""
    editing.delete(Take, path.id, "take")
    return no_content()


@feature.post("/<uuid:id>/restore", responses={**EMPTY, **MISSING})
def restore_take(path: IdPath) -> Response:
    """Bring a deleted take back."""
    editing.restore(Take, path.id, "take", lambda _: None)
    return no_content()
