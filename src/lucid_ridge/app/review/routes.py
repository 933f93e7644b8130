"""Routes of the review."""

from __future__ import annotations

from flask import Response

from lucid_ridge.app.bodies import IdPath
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.jobs.schemas import JobOut
from lucid_ridge.app.pictures import sidecars
from lucid_ridge.app.responses import EMPTY, INVALID, MISSING, download, file_answer, json_response, no_content
from lucid_ridge.app.review import belonging, grouping, looking, matching
from lucid_ridge.app.review.schemas import (
    GroupTakenOn,
    LetGo,
    LookedOut,
    MatchOut,
    MatchTakenOn,
    NextTimeBody,
    NextTimeOut,
    TakenOn,
)

feature = Feature("review", __name__, "/api/review")


@feature.get("/takes/<uuid:id>", responses={200: LookedOut, "422": INVALID["422"], **MISSING})
def read_looked(path: IdPath) -> Response:
    """What the pictures of a take show, as far as somebody has looked."""
    return json_response(looking.looked(path.id))


@feature.post("/takes/<uuid:id>/look", responses={202: JobOut, **INVALID, **MISSING})
def look_at_take(path: IdPath) -> Response:
    """Look at the pictures of a take, in the background."""
    return json_response(looking.begin_looking(path.id), 202)


@feature.post("/takes/<uuid:id>/next-time", responses={200: NextTimeOut, **INVALID, **MISSING})
def take_proposal_on(path: IdPath, body: NextTimeBody) -> Response:
    """Put a proposal for next time into the composition."""
    return json_response(looking.take_on(path.id, body))


@feature.get("/matches", responses={200: MatchOut})
def propose_matches() -> Response:
    """Which frames of which sequences the loose pictures are of."""
    return json_response(matching.proposed())


@feature.post("/matches", responses={200: TakenOn, **INVALID, **MISSING})
def take_match_on(body: MatchTakenOn) -> Response:
    """Give pictures to a take; one is made of them where there is none."""
    return json_response(matching.taken_on(body))


@feature.post("/groups", responses={200: TakenOn, **INVALID, **MISSING})
def make_take_of_group(body: GroupTakenOn) -> Response:
    """Make a take of pictures that nobody planned."""
    return json_response(grouping.taken_on(body))


@feature.get("/takes/<uuid:id>/sidecars", responses={**file_answer(("application/zip",), "The sidecars"), **MISSING})
def read_sidecars(path: IdPath) -> Response:
    """The XMP sidecars of all pictures of a take in one archive."""
    return download(sidecars.of_take(path.id), "application/zip", "sidecars.zip")


@feature.post("/let-go", responses={**EMPTY, **INVALID, **MISSING})
def let_pictures_go(body: LetGo) -> Response:
    """Take pictures out of their takes: they are loose again."""
    belonging.let_go(body)
    return no_content()
