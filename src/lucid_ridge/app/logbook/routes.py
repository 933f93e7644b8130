"""Routes of the logbook."""

from __future__ import annotations

from flask import Response, stream_with_context
from pydantic import TypeAdapter

from lucid_ridge.app import editing
from lucid_ridge.app.bodies import IdPath
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.logbook import lists, operations, views
from lucid_ridge.app.logbook.schemas import (
    CalendarOut,
    CalendarQuery,
    FileQuery,
    PlacesOfTakesOut,
    SeasonsOut,
    SeasonsQuery,
    TakeNew,
    TakeOut,
    TakeReview,
    TakesOut,
    TakesQuery,
    WorksOut,
    WorksQuery,
)  # fmt: skip
from lucid_ridge.app.logbook.tables import Take
from lucid_ridge.app.responses import (
    EMPTY,
    INVALID,
    JSON_TYPE,
    MISSING,
    STALE,
    file_answer,
    json_response,
    no_content,
)
from lucid_ridge.reports.logbook.works import WhatWorks

feature = Feature("logbook", __name__, "/api/takes")
_WORKS: TypeAdapter[WhatWorks] = TypeAdapter(WhatWorks)


@feature.get("", responses={200: TakesOut, "422": INVALID["422"]})
def list_takes(query: TakesQuery) -> Response:
    """Takes, newest first."""
    return json_response(lists.all_takes(query))


@feature.get("/calendar", responses={200: CalendarOut, "422": INVALID["422"]})
def read_calendar(query: CalendarQuery) -> Response:
    """The days of a year on which something was taken."""
    return json_response(views.calendar(query.year))


@feature.get("/places", responses={200: PlacesOfTakesOut})
def list_places_of_takes() -> Response:
    """Where something was taken, and how it went."""
    return json_response(views.places())


@feature.get("/works", responses={200: WorksOut, "422": INVALID["422"]})
def read_what_works(query: WorksQuery) -> Response:
    """Ratings by light, water and way, and faults by year."""
    return Response(_WORKS.dump_json(views.works(query.place_id)), content_type=JSON_TYPE)


@feature.get("/seasons", responses={200: SeasonsOut, "422": INVALID["422"], **MISSING})
def compare_seasons(query: SeasonsQuery) -> Response:
    """The seasons at a place beside each other."""
    return json_response(views.seasons(query.place_id))


_FORMS = {"csv": "text/csv; charset=utf-8", "json": JSON_TYPE}


@feature.get("/file", responses={**file_answer(("text/csv", JSON_TYPE), "The takes"), "422": INVALID["422"]})
def download_takes(query: FileQuery) -> Response:
    """The takes of a list, all of them, as a file to keep."""
    response = Response(stream_with_context(views.as_file(query)), content_type=_FORMS[query.form])
    response.headers["Content-Disposition"] = f'attachment; filename="takes.{query.form}"'
    return response


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
