"""Routes of outlooks."""

from __future__ import annotations

from flask import Response

from lucid_ridge.app.describing import Feature
from lucid_ridge.app.outlooks import operations
from lucid_ridge.app.outlooks.schemas import OutlooksBody, OutlooksOut
from lucid_ridge.app.responses import GONE, INVALID, json_response

feature = Feature("outlooks", __name__, "/api/outlooks")


@feature.post("", responses={200: OutlooksOut, **INVALID, **GONE})
def read_outlooks(body: OutlooksBody) -> Response:
    """How some compositions look and when their light comes next."""
    return json_response(operations.outlooks(body))
