"""Routes of pictures. A picture is sent as the bytes of its file."""

from __future__ import annotations

from uuid import UUID

from flask import Response, request

from lucid_ridge.app import editing
from lucid_ridge.app.bodies import IdPath
from lucid_ridge.app.describing import Feature
from lucid_ridge.app.jobs.schemas import JobOut
from lucid_ridge.app.photographs.pictures import ENDINGS, KINDS, LARGEST_BYTES
from lucid_ridge.app.photographs.schemas import NameQuery
from lucid_ridge.app.pictures import folders, operations, sidecars
from lucid_ridge.app.pictures.schemas import (
    BroughtPicture,
    BroughtPictures,
    BroughtQuery,
    InboxOut,
    PictureJudged,
    PictureKept,
    SidecarTaken,
)
from lucid_ridge.app.pictures.tables import PictureRow
from lucid_ridge.app.responses import (
    EMPTY,
    INVALID,
    MISSING,
    STALE,
    download,
    file_answer,
    json_response,
    no_content,
    picture_response,
)
from lucid_ridge.app.uploads import UPLOAD, bytes_body, expect_file
from lucid_ridge.formats.sidecars import LARGEST_BYTES as LARGEST_SIDECAR

feature = Feature("pictures", __name__, "/api/pictures")

_PICTURE = file_answer(ENDINGS, "The picture")


@feature.get("", responses={200: BroughtPictures, "422": INVALID["422"]})
def list_pictures(query: BroughtQuery) -> Response:
    """Pictures that came back, in the order in which they were taken."""
    return json_response(operations.listed(query))


@feature.get("/inbox", responses={200: InboxOut})
def read_inbox() -> Response:
    """The folder on the server's disk that pictures may be laid into, and how many files are in it."""
    return json_response(folders.inbox())


@feature.post("/inbox", responses={201: JobOut, **INVALID})
def bring_inbox() -> Response:
    """Have what lies in that folder brought in, in the background; begun anew it goes on where it was."""
    return json_response(folders.begin_bringing(), 201)


@feature.put(
    "/<uuid:id>",
    responses={200: PictureKept, 201: PictureKept, **INVALID, **MISSING, **UPLOAD},
    openapi_extensions=bytes_body(KINDS),
)
def bring_picture(path: IdPath, query: NameQuery) -> Response:
    """Bring a picture in, sent as the bytes of its file. One that is here already is not kept twice."""
    expect_file(KINDS, LARGEST_BYTES, "a photograph", "save it smaller and try again")
    made, is_new = operations.keep(path.id, query.name, request.get_data())
    return json_response(PictureKept(picture=made, known=not is_new), 201 if is_new else 200)


@feature.put(
    "/sidecar",
    responses={200: SidecarTaken, **INVALID, **UPLOAD},
    openapi_extensions=bytes_body(sidecars.KINDS),
)
def bring_sidecar(query: NameQuery) -> Response:
    """Judge a picture as its XMP sidecar does, found by its name; what else is in the sidecar is kept."""
    expect_file(sidecars.KINDS, LARGEST_SIDECAR, "an XMP sidecar", "sidecars are far smaller")
    return json_response(SidecarTaken(pictures=sidecars.take_in(query.name, request.get_data())))


@feature.get("/<uuid:id>/sidecar", responses={**file_answer(("application/rdf+xml",), "The sidecar"), **MISSING})
def read_sidecar(path: IdPath) -> Response:
    """A picture's XMP sidecar with what was judged here."""
    data, name = sidecars.of_picture(path.id)
    return download(data, "application/rdf+xml", name.encode("ascii", "replace").decode().replace("?", "_"))


@feature.put("/<uuid:id>/judged", responses={200: BroughtPicture, **INVALID, **MISSING, **STALE})
def judge_picture(path: IdPath, body: PictureJudged) -> Response:
    """Save how good a picture is."""
    return json_response(operations.judge(path.id, body))


def _sent(picture_id: UUID, size: str) -> Response:
    data, media_type, name = operations.file(picture_id, size)
    return picture_response(data, media_type, name if size == "file" else None)


@feature.get("/<uuid:id>/file", responses={**_PICTURE, **MISSING})
def read_picture_file(path: IdPath) -> Response:
    """The picture as it came."""
    return _sent(path.id, "file")


@feature.get("/<uuid:id>/shown", responses={**_PICTURE, "422": INVALID["422"], **MISSING})
def show_picture(path: IdPath) -> Response:
    """A copy small enough for the screen, turned upright."""
    return _sent(path.id, "shown")


@feature.get("/<uuid:id>/small", responses={**_PICTURE, "422": INVALID["422"], **MISSING})
def show_picture_small(path: IdPath) -> Response:
    """A small copy for a contact sheet, turned upright."""
    return _sent(path.id, "small")


@feature.delete("/<uuid:id>", responses={**EMPTY, **MISSING})
def delete_picture(path: IdPath) -> Response:
    """Take a picture out; its file stays for a while and it can be restored."""
    editing.delete(PictureRow, path.id, "picture")
    return no_content()


@feature.post("/<uuid:id>/restore", responses={200: BroughtPicture, **MISSING})
def restore_picture(path: IdPath) -> Response:
    """Bring a picture that was taken out back."""
    return json_response(editing.restore(PictureRow, path.id, "picture", operations.present))
