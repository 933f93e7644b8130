"""Routes of archives."""

from __future__ import annotations

from typing import BinaryIO, cast

from flask import Response, request

from lucid_ridge.app.archives import operations
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.jobs.schemas import JobOut
from lucid_ridge.app.responses import INVALID, json_response
from lucid_ridge.app.uploads import UPLOAD, bytes_body, expect_file

feature = Feature("archives", __name__, "/api/archives")

KINDS = ("application/zip", "application/octet-stream")


@feature.post("/export", responses={202: JobOut})
def export_everything() -> Response:
    """Write everything that the asker owns into one file, in the background."""
    return json_response(operations.export_everything(), 202)


@feature.post("/import", responses={202: JobOut, **INVALID, **UPLOAD}, openapi_extensions=bytes_body(KINDS))
def import_archive() -> Response:
    """Take an archive in beside what is there, in the background."""
    expect_file(
        KINDS, operations.LARGEST_BYTES, "an archive that Lucid Ridge wrote", "use ./ridge import on the server"
    )
    return json_response(operations.import_archive(cast(BinaryIO, request.stream)), 202)
