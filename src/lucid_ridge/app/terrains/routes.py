"""Routes of terrain models. A file is sent as its bytes, and imported in the background."""

from __future__ import annotations

from typing import Any, BinaryIO, cast

from flask import Response, request, send_file

from lucid_ridge.app import editing
from lucid_ridge.app.bodies import IdPath
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.paging import PageQuery
from lucid_ridge.app.responses import EMPTY, INVALID, MISSING, file_answer, json_response, no_content
from lucid_ridge.app.terrains import operations
from lucid_ridge.app.terrains.schemas import ShadeQuery, TerrainNewQuery, TerrainOut, TerrainsOut, TilePath
from lucid_ridge.app.terrains.tables import TerrainRow
from lucid_ridge.app.uploads import UPLOAD, bytes_body, expect_file
from lucid_ridge.formats.terrain_grids import LARGEST_BYTES

feature = Feature("terrains", __name__, "/api/terrains")

KINDS = ("image/tiff", "text/plain", "application/octet-stream")


@feature.get("", responses={200: TerrainsOut, "422": INVALID["422"]})
def list_terrains(query: PageQuery) -> Response:
    """All terrain models."""
    return json_response(operations.list_terrains(query))


@feature.put(
    "/<uuid:id>",
    responses={200: TerrainOut, 202: TerrainOut, **INVALID, **MISSING, **UPLOAD},
    openapi_extensions=bytes_body(KINDS),
)
def import_terrain(path: IdPath, query: TerrainNewQuery) -> Response:
    """Import a GeoTIFF or an ESRI ASCII grid under an id of the client's; ask for it again to see how far it is."""
    expect_file(KINDS, LARGEST_BYTES, "a GeoTIFF or an ESRI ASCII grid", "cut out the part around your places")
    made, is_new = operations.begin(path.id, query.name, query.crs, cast(BinaryIO, request.stream))
    return json_response(made, 202 if is_new else 200)


@feature.get("/<uuid:id>", responses={200: TerrainOut, **MISSING})
def read_terrain(path: IdPath) -> Response:
    """One terrain model, with how far its import is."""
    return json_response(operations.one(path.id))


@feature.delete("/<uuid:id>", responses={**EMPTY, **MISSING})
def delete_terrain(path: IdPath) -> Response:
    """Delete a terrain model; places that use it count a level horizon until it comes back."""
    operations.delete(path.id)
    return no_content()


@feature.post("/<uuid:id>/restore", responses={200: TerrainOut, **MISSING})
def restore_terrain(path: IdPath) -> Response:
    """Bring a deleted terrain model back."""
    return json_response(editing.restore(TerrainRow, path.id, "terrain", operations.present))


@feature.get(
    "/relief/<int:z>/<int:x>/<int:y>", responses={**file_answer(("image/png",), "A tile"), **INVALID, **MISSING}
)
def read_relief_tile(path: TilePath) -> Response:
    """Shading, height tint and contours of all terrains, the finest on top, as a tile of Web Mercator."""
    return _picture(operations.relief_tile(path.z, path.x, path.y))


@feature.get("/<uuid:id>/shade", responses={**file_answer(("image/png",), "Ground in shade"), **INVALID, **MISSING})
def read_shade(path: IdPath, query: ShadeQuery) -> Response:
    """Ground in the terrain's shade at a moment, over the terrain's bounds."""
    return _picture(operations.shade(path.id, query.at))


def _picture(data: bytes) -> Response:
    response = Response(data, content_type="image/png")
    response.headers["Cache-Control"] = "private, max-age=3600"
    return response


@feature.get("/<uuid:id>/file", responses={**file_answer(("image/tiff",), "The terrain as GeoTIFF"), **MISSING})
def read_file(path: IdPath) -> Any:
    """The terrain as it is kept: a GeoTIFF in metres about its middle."""
    found, name = operations.file_of(path.id)
    return send_file(found, mimetype="image/tiff", as_attachment=True, download_name=name)
