"""The application, put together."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from urllib.parse import urlsplit

from flask import Response, jsonify, request
from flask_openapi3.models.info import Info
from flask_openapi3.openapi import OpenAPI
from werkzeug.exceptions import BadRequest, Forbidden, UnsupportedMediaType

from lucid_ridge.app import problems
from lucid_ridge.app.compositions.routes import blueprint as compositions
from lucid_ridge.app.database import Database
from lucid_ridge.app.evaluation.routes import blueprint as evaluation
from lucid_ridge.app.field.routes import blueprint as field
from lucid_ridge.app.kit.routes import blueprint as kit
from lucid_ridge.app.logbook.routes import blueprint as logbook
from lucid_ridge.app.photographs.pictures import ENDINGS
from lucid_ridge.app.photographs.routes import blueprint as photographs
from lucid_ridge.app.places.routes import blueprint as places
from lucid_ridge.app.variants.routes import blueprint as variants
from lucid_ridge.app.web import CONTENT_POLICY, make_blueprint

LARGEST_REQUEST = 4 * 1024 * 1024
LOCAL_HOSTS = frozenset({"127.0.0.1", "localhost", "::1"})


@dataclass(frozen=True)
class Configuration:
    """What a deployment decides. Without a files folder no photograph can be attached."""

    database_url: str
    files_folder: Path | None = None
    web_folder: Path | None = None


def _guard() -> None:
    """Only this machine, and only its own pages, may write: no other site can reach in through a browser."""
    host = urlsplit(f"//{request.host}").hostname
    if host not in LOCAL_HOSTS:
        raise BadRequest("Open Lucid Ridge by the address the start command printed.")
    if request.method in ("GET", "HEAD", "OPTIONS"):
        return
    origin = request.headers.get("Origin")
    if origin is not None and urlsplit(origin).netloc != request.host:
        raise Forbidden("Writes from another site's pages are refused.")
    if request.mimetype in ENDINGS and "/photographs/" in request.path:
        return
    if request.get_data() and request.mimetype != "application/json":
        raise UnsupportedMediaType("Send JSON, with Content-Type: application/json.")


def _harden(response: Response) -> Response:
    response.headers.setdefault("Content-Security-Policy", CONTENT_POLICY)
    response.headers.setdefault("X-Content-Type-Options", "nosniff")
    response.headers.setdefault("Referrer-Policy", "no-referrer")
    if request.path.startswith("/api/"):
        response.headers.setdefault("Cache-Control", "no-store")
    return response


def create_app(configuration: Configuration) -> OpenAPI:
    """The Flask application for a configuration."""
    app = OpenAPI(
        "lucid_ridge",
        info=Info(title="Lucid Ridge", version="0.1.0"),
        doc_ui=False,
        security_schemes={},
        validation_error_model=problems.Problem,
        validation_error_callback=problems.validation_problem,
        static_folder=None,
    )
    app.config["MAX_CONTENT_LENGTH"] = LARGEST_REQUEST
    app.extensions["database"] = Database(configuration.database_url)
    app.extensions["files_folder"] = configuration.files_folder
    problems.register(app)
    app.before_request(_guard)
    app.after_request(_harden)
    for blueprint in (kit, places, compositions, variants, photographs, evaluation, field, logbook):
        app.register_api(blueprint)

    @app.route("/api/openapi.json")
    def document() -> Response:
        return jsonify(openapi_document(app))

    if configuration.web_folder is not None:
        app.register_blueprint(make_blueprint(configuration.web_folder))
    return app


def openapi_document(app: OpenAPI) -> dict[str, object]:
    """The OpenAPI document, with the problem schemas that only error answers refer to."""
    made: dict[str, object] = app.api_doc
    schemas = made.setdefault("components", {}).setdefault("schemas", {})  # type: ignore[attr-defined]
    for model in (problems.Problem, problems.ConflictProblem):
        schema = model.model_json_schema(ref_template="#/components/schemas/{model}")
        for name, definition in schema.pop("$defs", {}).items():
            schemas.setdefault(name, definition)
        schemas[model.__name__] = schema
    return made
