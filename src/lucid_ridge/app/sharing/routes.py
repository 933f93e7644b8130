"""Routes of what is shared."""

from __future__ import annotations

from flask import Response

from lucid_ridge.app.bodies import IdPath
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.responses import EMPTY, INVALID, MISSING, json_response, no_content
from lucid_ridge.app.sharing import operations
from lucid_ridge.app.sharing.schemas import CopiedOut, ShareBody, SharedOut, ShareOut, SharesOut

feature = Feature("sharing", __name__, "/api/shares")


@feature.get("", responses={200: SharesOut, **INVALID})
def list_shares() -> Response:
    """What the asker shares, and what others share with them."""
    return json_response(operations.shares())


@feature.put("", responses={200: ShareOut, **INVALID, **MISSING})
def share(body: ShareBody) -> Response:
    """Let somebody look at a place or a composition, or copy it."""
    return json_response(operations.share(body))


@feature.get("/<uuid:id>", responses={200: SharedOut, **INVALID, **MISSING})
def read_share(path: IdPath) -> Response:
    """What somebody shares with the asker."""
    return json_response(operations.one(path.id))


@feature.delete("/<uuid:id>", responses={**EMPTY, **MISSING})
def end_share(path: IdPath) -> Response:
    """End a share, from either side."""
    operations.end(path.id)
    return no_content()


@feature.post("/<uuid:id>/copy", responses={201: CopiedOut, **INVALID, **MISSING})
def copy_share(path: IdPath) -> Response:
    """Copy what is shared into one's own."""
    return json_response(operations.copy(path.id), 201)
