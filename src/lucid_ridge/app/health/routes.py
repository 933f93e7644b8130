"""Routes of health, for whoever watches over a server: a person, systemd, a load balancer."""

from __future__ import annotations

import os

from flask import Response, current_app
from sqlalchemy import text
from werkzeug.exceptions import ServiceUnavailable

from lucid_ridge import VERSION
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.editing import database
from lucid_ridge.app.health.schemas import HealthOut
from lucid_ridge.app.responses import GONE, json_response

feature = Feature("health", __name__, "/api/health")


@feature.get("/live", responses={200: HealthOut})
def read_live() -> Response:
    """The server answers; nothing else is looked at."""
    return json_response(HealthOut(version=VERSION))


@feature.get("/ready", responses={200: HealthOut, **GONE})
def read_ready() -> Response:
    """The server can do its work: its database answers, and files can be kept."""
    with database().transaction() as session:
        revision = session.scalar(text("SELECT version_num FROM alembic_version"))
    folder = current_app.extensions["files_folder"]
    if folder is not None and folder.exists() and not os.access(folder, os.W_OK | os.X_OK):
        raise ServiceUnavailable("The folder of files cannot be written. Make it writable; nothing is lost.")
    return json_response(HealthOut(version=VERSION, revision=revision))
