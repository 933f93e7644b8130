"""Routes of the camera."""

from __future__ import annotations

from flask import Response

from lucid_ridge.app.bodies import IdPath
from lucid_ridge.app.camera import operations
from lucid_ridge.app.camera.schemas import CameraFrameBody, CameraFrameOut, CameraOut, CameraQuery
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.responses import EMPTY, INVALID, MISSING, NO_CAMERA, json_response, no_content

feature = Feature("camera", __name__, "/api/camera")


@feature.get("", responses={200: CameraOut, **INVALID, **MISSING})
def read_camera(query: CameraQuery) -> Response:
    """The camera of this server, and how it is."""
    return json_response(operations.what_camera(query.sequence_id))


@feature.put("/frames/<uuid:id>", responses={200: CameraFrameOut, **INVALID, **MISSING, **NO_CAMERA})
def take_frame(path: IdPath, body: CameraFrameBody) -> Response:
    """Take a frame of a sequence, or say how far it is; asked again with the same id it is the same frame."""
    return json_response(operations.take_frame(path.id, body))


@feature.delete("/frames/<uuid:id>", responses={**EMPTY, **INVALID, **MISSING, **NO_CAMERA})
def stop_frame(path: IdPath) -> Response:
    """Close the shutter now; the frame is kept as long as it was exposed."""
    operations.stop_frame(path.id)
    return no_content()
