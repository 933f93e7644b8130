"""Routes of marks and paths, and of files that maps exchange."""

from __future__ import annotations

from flask import Response, request

from lucid_ridge.app import editing
from lucid_ridge.app.bodies import IdPath
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.paging import PageQuery
from lucid_ridge.app.responses import (
    EMPTY,
    INVALID,
    MISSING,
    STALE,
    Answers,
    download,
    file_answer,
    json_response,
    no_content,
)
from lucid_ridge.app.tracks import operations
from lucid_ridge.app.tracks.schemas import ImportOut, ImportQuery, TrackChange, TrackNew, TrackOut, TracksOut
from lucid_ridge.app.tracks.tables import TrackRow
from lucid_ridge.app.uploads import UPLOAD, bytes_body, expect_file
from lucid_ridge.formats.geography import LARGEST_BYTES

feature = Feature("tracks", __name__, "/api/tracks")

GPX, GEOJSON = "application/gpx+xml", "application/geo+json"
KINDS = (GPX, GEOJSON, "application/octet-stream")


_GEOJSON: Answers = {"200": {"description": "The file", "content": {GEOJSON: {"schema": {"type": "object"}}}}}


@feature.get("", responses={200: TracksOut, "422": INVALID["422"]})
def list_tracks(query: PageQuery) -> Response:
    """All marks and paths."""
    return json_response(operations.list_tracks(query))


@feature.post("", responses={201: TrackOut, **INVALID})
def add_track(body: TrackNew) -> Response:
    """Add a mark or a path to a place."""
    return json_response(operations.add(body), 201)


@feature.post(
    "/import", responses={200: ImportOut, **INVALID, **MISSING, **UPLOAD}, openapi_extensions=bytes_body(KINDS)
)
def import_file(query: ImportQuery) -> Response:
    """Import a GPX or GeoJSON file, sent as its bytes."""
    expect_file(KINDS, LARGEST_BYTES, "a GPX or GeoJSON file", "thin its tracks first")
    return json_response(operations.take_in(query.name, request.get_data(), query.place_id, query.known))


@feature.get("/export.gpx", responses=file_answer((GPX,), "The file"))
def export_gpx() -> Response:
    """Places, standpoints, marks and paths as GPX."""
    return download(operations.export_gpx(), GPX, "places.gpx")


@feature.get("/export.geojson", responses=_GEOJSON)
def export_geojson() -> Response:
    """Places, standpoints, marks and paths as GeoJSON."""
    return download(operations.export_geojson(), GEOJSON, "places.geojson")


@feature.put("/<uuid:id>", responses={200: TrackOut, **INVALID, **MISSING, **STALE})
def change_track(path: IdPath, body: TrackChange) -> Response:
    """Save a changed mark or path."""
    return json_response(operations.change(path.id, body))


@feature.delete("/<uuid:id>", responses={**EMPTY, **MISSING})
def delete_track(path: IdPath) -> Response:
    """Delete a mark or path."""
    editing.delete(TrackRow, path.id, "mark or path")
    return no_content()


@feature.post("/<uuid:id>/restore", responses={200: TrackOut, **MISSING})
def restore_track(path: IdPath) -> Response:
    """Bring a deleted mark or path back."""
    return json_response(editing.restore(TrackRow, path.id, "mark or path", operations.present))
