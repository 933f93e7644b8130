"""Routes of reference photographs. A picture is sent as the bytes of its file."""

from __future__ import annotations

from typing import Any

from flask import Response, request

from lucid_ridge.app import editing
from lucid_ridge.app.bodies import IdPath
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.photographs import operations
from lucid_ridge.app.photographs.pictures import ENDINGS, KINDS, LARGEST_BYTES
from lucid_ridge.app.photographs.schemas import NameQuery, PhotographOut, PhotographPath, PhotographsOut
from lucid_ridge.app.photographs.tables import PhotographRow
from lucid_ridge.app.responses import EMPTY, INVALID, MISSING, file_answer, json_response, no_content, picture_response
from lucid_ridge.app.uploads import UPLOAD, bytes_body, expect_file

feature = Feature("photographs", __name__, "/api")

_PICTURE = file_answer(ENDINGS, "The picture")


@feature.get("/compositions/<uuid:id>/photographs", responses={200: PhotographsOut, **MISSING})
def list_photographs(path: IdPath) -> Response:
    """The reference photographs of a composition, and the limits for new ones."""
    return json_response(operations.of_composition(path.id))


@feature.put(
    "/compositions/<uuid:id>/photographs/<uuid:photograph_id>",
    responses={200: PhotographOut, 201: PhotographOut, **INVALID, **MISSING, **UPLOAD},
    openapi_extensions=bytes_body(KINDS),
)
def attach_photograph(path: PhotographPath, query: NameQuery) -> Response:
    """Attach a picture, sent as the bytes of its file."""
    expect_file(KINDS, LARGEST_BYTES, "a photograph", "save it smaller and try again")
    made, is_new = operations.attach(path.id, path.photograph_id, query.name, request.get_data())
    return json_response(made, 201 if is_new else 200)


def _sent(photograph_id: Any, whole: bool) -> Response:
    data, media_type, name = operations.picture(photograph_id, whole)
    return picture_response(data, media_type, name if whole else None)


@feature.get("/photographs/<uuid:id>/file", responses={**_PICTURE, **MISSING})
def read_photograph(path: IdPath) -> Response:
    """The picture as it was given."""
    return _sent(path.id, whole=True)


@feature.get("/photographs/<uuid:id>/shown", responses={**_PICTURE, **MISSING})
def show_photograph(path: IdPath) -> Response:
    """A copy small enough for the screen, turned upright."""
    return _sent(path.id, whole=False)


@feature.delete("/photographs/<uuid:id>", responses={**EMPTY, **MISSING})
def detach_photograph(path: IdPath) -> Response:
    """Detach a photograph; its file stays and it can be restored."""
    editing.delete(PhotographRow, path.id, "photograph")
    return no_content()


@feature.post("/photographs/<uuid:id>/restore", responses={200: PhotographOut, **MISSING})
def restore_photograph(path: IdPath) -> Response:
    """Bring a detached photograph back."""
    return json_response(editing.restore(PhotographRow, path.id, "photograph", operations.present))
