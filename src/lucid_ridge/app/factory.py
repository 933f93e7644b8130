"""The application, put together."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from flask import Response, request
from flask_openapi3.models.info import Info
from flask_openapi3.openapi import OpenAPI

from lucid_ridge import VERSION
from lucid_ridge.app import gate, problems
from lucid_ridge.app.accounts.routes import feature as accounts
from lucid_ridge.app.archives.routes import feature as archives
from lucid_ridge.app.backups.routes import feature as backups
from lucid_ridge.app.beginnings.routes import feature as beginnings
from lucid_ridge.app.beginnings.valley import SampleValley
from lucid_ridge.app.camera.routes import feature as camera
from lucid_ridge.app.camera.source import HttpCamera
from lucid_ridge.app.compositions.routes import feature as compositions
from lucid_ridge.app.database import Database
from lucid_ridge.app.evaluation.routes import feature as evaluation
from lucid_ridge.app.field.routes import feature as field
from lucid_ridge.app.health.routes import feature as health
from lucid_ridge.app.jobs.queue import Here, InDatabase
from lucid_ridge.app.jobs.routes import feature as jobs
from lucid_ridge.app.jobs.running import carry_out
from lucid_ridge.app.jobs.works import WORKS
from lucid_ridge.app.kit.routes import feature as kit
from lucid_ridge.app.learning.routes import feature as learning
from lucid_ridge.app.light.routes import feature as light
from lucid_ridge.app.light.weather import HttpForecast
from lucid_ridge.app.logbook.routes import feature as logbook
from lucid_ridge.app.objects import Objects
from lucid_ridge.app.observing import observe
from lucid_ridge.app.outings.routes import feature as outings
from lucid_ridge.app.outlooks.routes import feature as outlooks
from lucid_ridge.app.photographs.routes import feature as photographs
from lucid_ridge.app.pictures.routes import feature as pictures
from lucid_ridge.app.places.routes import feature as places
from lucid_ridge.app.practice.routes import feature as practice
from lucid_ridge.app.preferences.routes import feature as preferences
from lucid_ridge.app.rehearsal.routes import feature as rehearsal
from lucid_ridge.app.review.routes import feature as review
from lucid_ridge.app.sharing.routes import feature as sharing
from lucid_ridge.app.spots.routes import feature as spots
from lucid_ridge.app.terrains.routes import feature as terrains
from lucid_ridge.app.tracks.routes import feature as tracks
from lucid_ridge.app.trust.routes import feature as trust
from lucid_ridge.app.turns import give_turns
from lucid_ridge.app.variants.routes import feature as variants
from lucid_ridge.app.web import CONTENT_POLICY, PERMISSIONS, make_blueprint

LARGEST_REQUEST = 4 * 1024 * 1024
FEATURES = (
    kit,
    places,
    terrains,
    tracks,
    compositions,
    variants,
    photographs,
    evaluation,
    rehearsal,
    practice,
    light,
    field,
    logbook,
    pictures,
    camera,
    learning,
    review,
    spots,
    outlooks,
    outings,
    beginnings,
    preferences,
    archives,
    sharing,
    backups,
    jobs,
    accounts,
    health,
    trust,
)


@dataclass(frozen=True)
class Configuration:
    """What a deployment decides. Without a files folder no photograph or terrain can be kept.

    ``forecast_url`` and ``camera_url`` are the addresses of a forecast source and of a camera, None where there is none; ``document`` the OpenAPI document
    that is served. ``described`` works one out, which takes seconds. ``valley`` is the sample data that may be put beside
    one's own. ``accounts`` says whether people sign in, and ``hosts`` by which names the application may be reached then;
    without accounts only this machine reaches it. ``authority`` is the certificate that vouches for this installation's
    own, for others to trust. ``workers`` says that worker processes do what goes on in the background; without, this process
    does. ``backups_folder`` is where backups of the whole installation are kept. ``threads`` is how many requests a process
    answers at a time. ``object_store`` is the address of the store in which files lie; the files folder holds copies then.
    ``brings_back`` says that what watches over the server puts a backup in the place of what is kept when it is asked to.
    """

    database_url: str
    files_folder: Path | None = None
    web_folder: Path | None = None
    forecast_url: str | None = None
    camera_url: str | None = None
    document: Path | None = None
    described: bool = False
    valley: SampleValley | None = None
    accounts: bool = False
    hosts: frozenset[str] = frozenset()
    authority: Path | None = None
    workers: bool = False
    backups_folder: Path | None = None
    threads: int = 8
    object_store: str | None = None
    brings_back: bool = False


def _harden(response: Response) -> Response:
    response.headers.setdefault("Content-Security-Policy", CONTENT_POLICY)
    response.headers.setdefault("X-Content-Type-Options", "nosniff")
    response.headers.setdefault("Referrer-Policy", "no-referrer")
    response.headers.setdefault("Permissions-Policy", PERMISSIONS)
    response.headers.setdefault("Cross-Origin-Opener-Policy", "same-origin")
    response.headers.setdefault("Cross-Origin-Resource-Policy", "same-origin")
    response.headers["X-Request-Id"] = problems.request_id()
    if request.path.startswith("/api/"):
        response.headers.setdefault("Cache-Control", "no-store")
    return response


def create_app(configuration: Configuration) -> OpenAPI:
    """The Flask application for a configuration."""
    app = OpenAPI(
        "lucid_ridge",
        info=Info(title="Lucid Ridge", version=VERSION),
        doc_ui=False,
        security_schemes={},
        validation_error_model=problems.Problem,
        validation_error_callback=problems.validation_problem,
        static_folder=None,
    )
    app.config["MAX_CONTENT_LENGTH"] = LARGEST_REQUEST
    app.config["ACCOUNTS"] = configuration.accounts
    app.config["HOSTS"] = gate.LOCAL_HOSTS | (configuration.hosts if configuration.accounts else frozenset())
    app.extensions["database"] = Database(configuration.database_url)
    app.extensions["files_folder"] = configuration.files_folder
    app.extensions["objects"] = Objects(configuration.object_store) if configuration.object_store else None
    app.extensions["brings_back"] = configuration.brings_back
    app.extensions["backups_folder"] = configuration.backups_folder
    app.extensions["forecast"] = HttpForecast(configuration.forecast_url) if configuration.forecast_url else None
    app.extensions["camera"] = HttpCamera(configuration.camera_url) if configuration.camera_url else None
    app.extensions["valley"] = configuration.valley
    app.extensions["queue"] = (
        InDatabase(configuration.database_url)
        if configuration.workers
        else Here(lambda job: carry_out(app, job, WORKS))
    )
    app.extensions["authority"] = configuration.authority
    app.extensions["undone"] = {kind: work.undone for kind, work in WORKS.items()}
    give_turns(app, configuration.threads, configuration.files_folder)
    problems.register(app)
    observe(app)
    app.before_request(gate.guard)
    app.before_request(gate.admit)
    app.after_request(_harden)
    for feature in FEATURES:
        app.register_api(feature.blueprint(configuration.described))

    if configuration.document is not None:
        kept = configuration.document

        @app.route("/api/openapi.json")
        def document() -> Response:
            return Response(kept.read_bytes(), mimetype="application/json")

    if configuration.authority is not None:
        vouches = configuration.authority

        @app.route("/authority.crt")
        def authority() -> Response:
            return Response(vouches.read_bytes(), mimetype="application/x-x509-ca-cert")

    if configuration.web_folder is not None:
        app.register_blueprint(make_blueprint(configuration.web_folder))
    return app


def openapi_document(app: OpenAPI) -> dict[str, object]:
    """The OpenAPI document of routes that are described, with the problem schemas that only error answers refer to."""
    made: dict[str, object] = app.api_doc
    schemas = made.setdefault("components", {}).setdefault("schemas", {})  # type: ignore[attr-defined]
    for model in (problems.Problem, problems.ConflictProblem):
        schema = model.model_json_schema(ref_template="#/components/schemas/{model}")
        for name, definition in schema.pop("$defs", {}).items():
            schemas.setdefault(name, definition)
        schemas[model.__name__] = schema
    return made
