"""Routes of the field."""

from __future__ import annotations

from flask import Response

from lucid_ridge.app.bodies import IdPath
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.field import operations
from lucid_ridge.app.field.schemas import SequenceNew, SequenceOut, SpotQuery, SpotTableOut
from lucid_ridge.app.responses import INVALID, MISSING, json_response

feature = Feature("field", __name__, "/api/sequences")


@feature.post("", responses={200: SequenceOut, 201: SequenceOut, **INVALID, **MISSING})
def make_sequence(body: SequenceNew) -> Response:
    """Compute and keep a sequence. Sent again with the same id it answers with the one kept."""
    made, is_new = operations.make(body)
    return json_response(made, 201 if is_new else 200)


@feature.get("/<uuid:id>", responses={200: SequenceOut, **MISSING})
def read_sequence(path: IdPath) -> Response:
    """One sequence."""
    return json_response(operations.one(path.id))


@feature.get("/<uuid:id>/spot-table", responses={200: SpotTableOut, "422": INVALID["422"], **MISSING})
def read_spot_table(path: IdPath, query: SpotQuery) -> Response:
    """What to do with another reading, filter or aperture, worked out beforehand; and why a frame may look soft."""
    return json_response(SpotTableOut(operations.table(path.id, query.units)))
