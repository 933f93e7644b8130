"""Routes of the ways in."""

from __future__ import annotations

from flask import Response, request

from lucid_ridge.app.beginnings import operations, photograph
from lucid_ridge.app.beginnings.schemas import (
    AboutHereOut,
    AboutHereQuery,
    BeginBody,
    PhotographBeginBody,
    PhotographRead,
    PicturesOut,
    StarterKitBody,
    StarterKitOut,
    UsualKitOut,
    ValleyOut,
)
from lucid_ridge.app.compositions.schemas import CompositionOut
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.photographs.pictures import KINDS, LARGEST_BYTES
from lucid_ridge.app.responses import INVALID, MISSING, json_response
from lucid_ridge.app.uploads import UPLOAD, bytes_body, expect_file

feature = Feature("beginnings", __name__, "/api/beginnings")


@feature.get("/pictures", responses={200: PicturesOut})
def list_pictures() -> Response:
    """The kinds of picture to begin with, drawn."""
    return json_response(operations.pictures())


@feature.get("/kit", responses={200: UsualKitOut})
def read_usual_kit() -> Response:
    """What a starter kit is made of."""
    return json_response(operations.usual_kit())


@feature.post("/kit", responses={201: StarterKitOut, **INVALID})
def add_starter_kit(body: StarterKitBody) -> Response:
    """Add a starter kit."""
    return json_response(operations.add_kit(body), 201)


@feature.get("/about-here", responses={200: AboutHereOut, "422": INVALID["422"]})
def read_about_here(query: AboutHereQuery) -> Response:
    """A town of a time zone, as a first guess at a position."""
    return json_response(operations.about_here(query.zone))


@feature.post("/compositions", responses={201: CompositionOut, **INVALID, **MISSING})
def begin_composition(body: BeginBody) -> Response:
    """Begin a composition, with its place and kit where these are new."""
    return json_response(operations.begin(body), 201)


@feature.get("/valley", responses={200: ValleyOut})
def read_valley() -> Response:
    """Whether the demo valley is loaded."""
    return json_response(operations.valley())


@feature.put("/valley", responses={200: ValleyOut, **INVALID})
def load_valley() -> Response:
    """Put the demo valley beside what is there."""
    return json_response(operations.put_valley(loaded=True))


@feature.delete("/valley", responses={200: ValleyOut, **INVALID})
def remove_valley() -> Response:
    """Take the demo valley away again."""
    return json_response(operations.put_valley(loaded=False))


@feature.post(
    "/photograph/read", responses={200: PhotographRead, **INVALID, **UPLOAD}, openapi_extensions=bytes_body(KINDS)
)
def read_photograph() -> Response:
    """What a photograph, sent as the bytes of its file, tells; nothing is kept."""
    expect_file(KINDS, LARGEST_BYTES, "a photograph", "save it smaller and try again")
    return json_response(photograph.read(request.get_data()))


@feature.post("/photograph", responses={201: CompositionOut, **INVALID, **MISSING})
def begin_from_photograph(body: PhotographBeginBody) -> Response:
    """Begin a composition from what a photograph told."""
    return json_response(photograph.begin(body), 201)
