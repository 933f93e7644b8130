"""Routes of backups."""

from __future__ import annotations

from flask import Response, send_file

from lucid_ridge.app.backups import operations
from lucid_ridge.app.backups.schemas import BackupPath, BackupsOut
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.jobs.schemas import JobOut
from lucid_ridge.app.responses import INVALID, MISSING, file_answer, json_response

feature = Feature("backups", __name__, "/api/backups")


@feature.get("", responses={200: BackupsOut})
def list_backups() -> Response:
    """The backups that are kept on the server's disk, the latest first."""
    return json_response(operations.backups())


@feature.post("", responses={202: JobOut, **INVALID})
def make_backup() -> Response:
    """Have a backup made now."""
    return json_response(operations.make(), 202)


@feature.get("/<name>", responses={**file_answer(("application/zip",), "The backup"), **MISSING, **INVALID})
def read_backup(path: BackupPath) -> Response:
    """A backup, to be kept elsewhere too."""
    found = operations.file(path.name)
    return send_file(found, mimetype="application/zip", as_attachment=True, download_name=found.name)


@feature.post("/<name>/bring-back", responses={202: BackupsOut, **MISSING, **INVALID})
def bring_backup_back(path: BackupPath) -> Response:
    """Put a backup in the place of everything that is kept; nobody is served meanwhile."""
    return json_response(operations.bring_back(path.name), 202)
