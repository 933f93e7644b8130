"""Routes of jobs."""

from __future__ import annotations

from flask import Response, send_file

from lucid_ridge.app.bodies import IdPath
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.jobs import operations
from lucid_ridge.app.jobs.schemas import JobOut, JobsOut
from lucid_ridge.app.responses import EMPTY, INVALID, MISSING, file_answer, json_response, no_content

feature = Feature("jobs", __name__, "/api/jobs")

_TYPES = {".zip": "application/zip", ".txt": "text/plain"}
"""Of files that come of jobs, by their ending."""


@feature.get("", responses={200: JobsOut})
def list_jobs() -> Response:
    """The latest jobs, the newest first."""
    return json_response(operations.latest())


@feature.get("/<uuid:id>", responses={200: JobOut, **MISSING})
def read_job(path: IdPath) -> Response:
    """One job, with how far it is."""
    return json_response(operations.one(path.id))


@feature.post("/<uuid:id>/stop", responses={200: JobOut, **MISSING})
def stop_job(path: IdPath) -> Response:
    """Have a job go no further."""
    return json_response(operations.stop(path.id))


@feature.post("/<uuid:id>/retry", responses={200: JobOut, **MISSING, **INVALID})
def retry_job(path: IdPath) -> Response:
    """Begin a job anew that failed or was stopped."""
    return json_response(operations.retry(path.id))


@feature.delete("/<uuid:id>", responses={**EMPTY, **MISSING, **INVALID})
def forget_job(path: IdPath) -> Response:
    """Take a job that has ended out of the list, with its file."""
    operations.forget(path.id)
    return no_content()


@feature.get("/<uuid:id>/file", responses={**file_answer(tuple(_TYPES.values()), "What came of it"), **MISSING})
def read_job_file(path: IdPath) -> Response:
    """The file that came of a job."""
    found, name = operations.file(path.id)
    return send_file(found, mimetype=_TYPES[found.suffix], as_attachment=True, download_name=name)
