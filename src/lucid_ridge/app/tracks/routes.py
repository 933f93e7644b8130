"""Routes of marks and paths, and of files that maps exchange."""

from __future__ import annotations

from flask import Response, request
from flask_openapi3.blueprint import APIBlueprint
from flask_openapi3.models.tag import Tag
from werkzeug.exceptions import RequestEntityTooLarge, UnsupportedMediaType

from lucid_ridge.app import editing
from lucid_ridge.app.answers import EMPTY, INVALID, MISSING, STALE, UPLOAD, Answers, answer, bytes_body, nothing
from lucid_ridge.app.bodies import IdPath
from lucid_ridge.app.tracks import operations
from lucid_ridge.app.tracks.schemas import ImportOut, ImportQuery, TrackChange, TrackNew, TrackOut, TracksOut
from lucid_ridge.app.tracks.tables import TrackRow
from lucid_ridge.formats.geography import LARGEST_BYTES

blueprint = APIBlueprint("tracks", __name__, url_prefix="/api/tracks", abp_tags=[Tag(name="tracks")])

GPX, GEOJSON = "application/gpx+xml", "application/geo+json"
KINDS = (GPX, GEOJSON, "application/octet-stream")


def _file(kind: str, schema: dict[str, str]) -> Answers:
    return {"200": {"description": "The file", "content": {kind: {"schema": schema}}}}


@blueprint.get("", responses={200: TracksOut})
def list_tracks() -> Response:
    """All marks and paths."""
    return answer(operations.all_tracks())


@blueprint.post("", responses={201: TrackOut, **INVALID})
def add_track(body: TrackNew) -> Response:
    """Add a mark or a path to a place."""
    return answer(operations.add(body), 201)


@blueprint.post(
    "/import", responses={200: ImportOut, **INVALID, **MISSING, **UPLOAD}, openapi_extensions=bytes_body(KINDS)
)
def import_file(query: ImportQuery) -> Response:
    """Import a GPX or GeoJSON file, sent as its bytes."""
    if request.mimetype not in KINDS:
        raise UnsupportedMediaType("Send a GPX or GeoJSON file, as application/gpx+xml or application/geo+json.")
    request.max_content_length = LARGEST_BYTES
    if (request.content_length or 0) > LARGEST_BYTES:
        raise RequestEntityTooLarge(f"A file may have up to {LARGEST_BYTES // 1024 // 1024} MB; thin its tracks first.")
    return answer(operations.take_in(query.name, request.get_data(), query.place_id))


def _download(text: str, kind: str, name: str) -> Response:
    response = Response(text, content_type=kind)
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@blueprint.get("/export.gpx", responses=_file(GPX, {"type": "string", "format": "binary"}))
def export_gpx() -> Response:
    """Places, standpoints, marks and paths as GPX."""
    return _download(operations.export_gpx(), GPX, "places.gpx")


@blueprint.get("/export.geojson", responses=_file(GEOJSON, {"type": "object"}))
def export_geojson() -> Response:
    """Places, standpoints, marks and paths as GeoJSON."""
    return _download(operations.export_geojson(), GEOJSON, "places.geojson")


@blueprint.put("/<uuid:id>", responses={200: TrackOut, **INVALID, **MISSING, **STALE})
def change_track(path: IdPath, body: TrackChange) -> Response:
    """Save a changed mark or path."""
    return answer(operations.change(path.id, body))


@blueprint.delete("/<uuid:id>", responses={**EMPTY, **MISSING})
def delete_track(path: IdPath) -> Response:
    """Delete a mark or path."""
    editing.delete(TrackRow, path.id, "mark or path")
    return nothing()


@blueprint.post("/<uuid:id>/restore", responses={200: TrackOut, **MISSING})
def restore_track(path: IdPath) -> Response:
    """Bring a deleted mark or path back."""
    return answer(editing.restore(TrackRow, path.id, "mark or path", operations.present))
