"""Routes of outings."""

from __future__ import annotations

from flask import Response

from lucid_ridge.app import editing
from lucid_ridge.app.bodies import IdPath
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.outings import along, operations
from lucid_ridge.app.outings.files import TYPES
from lucid_ridge.app.outings.schemas import (
    AlongOut,
    DatesBody,
    DatesOut,
    FilePath,
    FileQuery,
    InsteadOut,
    LateBody,
    LateOut,
    NextOut,
    OutingChange,
    OutingNew,
    OutingOut,
    OutingPlanOut,
    OutingsOut,
    PlanBody,
    UsualVisitOut,
)
from lucid_ridge.app.outings.tables import OutingRow
from lucid_ridge.app.responses import (
    EMPTY,
    GONE,
    INVALID,
    MISSING,
    STALE,
    download,
    file_answer,
    json_response,
    no_content,
)

feature = Feature("outings", __name__, "/api/outings")


@feature.get("", responses={200: OutingsOut})
def list_outings() -> Response:
    """All outings, those to come first."""
    return json_response(operations.list_outings())


@feature.post("", responses={201: OutingOut, **INVALID})
def add_outing(body: OutingNew) -> Response:
    """Add an outing."""
    return json_response(operations.add(body), 201)


@feature.get("/usual-visit", responses={200: UsualVisitOut})
def read_usual_visit() -> Response:
    """What a visit is given that is added to an outing."""
    return json_response(operations.usual_visit())


@feature.get("/next", responses={200: NextOut, "422": INVALID["422"], **GONE})
def read_next(query: FileQuery) -> Response:
    """The outing one is on or that comes next, and when to leave."""
    return json_response(operations.next_one(query.units))


@feature.post("/plan", responses={200: OutingPlanOut, **INVALID, **GONE})
def plan_outing(body: PlanBody) -> Response:
    """Plan an outing as it stands: when to be where, what falls and why, whether to go, what to pack."""
    return json_response(operations.plan(body))


@feature.post("/dates", responses={200: DatesOut, **INVALID, **GONE})
def compare_dates(body: DatesBody) -> Response:
    """The same outing begun on several dates, side by side."""
    return json_response(operations.dates(body))


@feature.post("/instead", responses={200: InsteadOut, **INVALID, **GONE})
def find_instead(body: PlanBody) -> Response:
    """Compositions near by whose light is likely within the days of an outing."""
    return json_response(operations.in_place_of_it(body))


@feature.get("/<uuid:id>", responses={200: OutingOut, **MISSING})
def read_outing(path: IdPath) -> Response:
    """One outing."""
    return json_response(operations.one(path.id))


@feature.put("/<uuid:id>", responses={200: OutingOut, **INVALID, **MISSING, **STALE})
def change_outing(path: IdPath, body: OutingChange) -> Response:
    """Save a changed outing."""
    return json_response(operations.change(path.id, body))


@feature.delete("/<uuid:id>", responses={**EMPTY, **MISSING})
def delete_outing(path: IdPath) -> Response:
    """Delete an outing; it can be restored."""
    editing.delete(OutingRow, path.id, "outing")
    return no_content()


@feature.post("/<uuid:id>/restore", responses={200: OutingOut, **MISSING})
def restore_outing(path: IdPath) -> Response:
    """Bring a deleted outing back."""
    return json_response(editing.restore(OutingRow, path.id, "outing", operations.present))


@feature.post("/<uuid:id>/duplicate", responses={201: OutingOut, **MISSING})
def duplicate_outing(path: IdPath) -> Response:
    """Add a copy of an outing."""
    return json_response(operations.duplicate(path.id), 201)


@feature.post("/late", responses={200: LateOut, **INVALID, **GONE})
def run_late(body: LateBody) -> Response:
    """What falls when one leaves a picture later than planned, for more and more minutes."""
    return json_response(along.late(body))


@feature.post("/<uuid:id>/along", responses={200: AlongOut, **MISSING, "422": INVALID["422"], **GONE})
def take_along(path: IdPath, query: FileQuery) -> Response:
    """Everything of an outing that is needed outside, with a sequence kept for each of its visits."""
    return json_response(along.along(path.id, query.units))


@feature.get(
    "/<uuid:id>/files/<string:form>",
    responses={**file_answer(TYPES.values(), "The outing in a form"), **MISSING, "422": INVALID["422"], **GONE},
)
def write_outing(path: FilePath, query: FileQuery) -> Response:
    """The outing on paper, as a note, a calendar, GPX or JSON."""
    data, kind, name = operations.file_of(path.id, path.form, query.units)
    return download(data, kind, name)
