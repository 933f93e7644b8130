"""Routes of rehearsals. They compute and change nothing."""

from __future__ import annotations

from flask import Response
from pydantic import TypeAdapter

from lucid_ridge.app.describing import Feature
from lucid_ridge.app.evaluation.operations import state_of
from lucid_ridge.app.rehearsal import operations
from lucid_ridge.app.rehearsal.schemas import FrameBody, FrameOut, ProofBody, ProofOut, RehearsalBody, RehearsalOut
from lucid_ridge.app.responses import GONE, INVALID, JSON_TYPE, json_response
from lucid_ridge.reports.rehearsal.report import RehearsalReport, rehearsal_report

feature = Feature("rehearsal", __name__, "/api/rehearsal")

_REPORT: TypeAdapter[RehearsalReport] = TypeAdapter(RehearsalReport)


@feature.post("", responses={200: RehearsalOut, **INVALID})
def plan_rehearsal(body: RehearsalBody) -> Response:
    """The frames of a sequence that can be drawn, and what can go wrong in it."""
    return Response(_REPORT.dump_json(rehearsal_report(state_of(body), body.mishaps)), content_type=JSON_TYPE)


@feature.post("/frame", responses={200: FrameOut, **INVALID, **GONE})
def draw_frame(body: FrameBody) -> Response:
    """One frame as the simulated camera takes it."""
    return json_response(operations.frame(body))


@feature.post("/proof", responses={200: ProofOut, **INVALID, **GONE})
def draw_proof(body: ProofBody) -> Response:
    """The frames merged, with what is missing marked."""
    return json_response(operations.proof(body))
