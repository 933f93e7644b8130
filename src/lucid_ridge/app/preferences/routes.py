"""Routes of preferences."""

from __future__ import annotations

from flask import Response

from lucid_ridge.app.describing import Feature
from lucid_ridge.app.preferences import operations
from lucid_ridge.app.preferences.schemas import PreferencesBody, PreferencesOut
from lucid_ridge.app.responses import INVALID, json_response

feature = Feature("preferences", __name__, "/api/preferences")


@feature.get("", responses={200: PreferencesOut})
def read_preferences() -> Response:
    """What a new composition takes over."""
    return json_response(operations.read())


@feature.put("", responses={200: PreferencesOut, **INVALID})
def put_preferences(body: PreferencesBody) -> Response:
    """Choose what a new composition takes over."""
    return json_response(operations.put(body))
