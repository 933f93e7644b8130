"""What every request goes through before anything else looks at it: who may ask, and what text and form may come in."""

from __future__ import annotations

import re
from urllib.parse import urlsplit

from flask import request
from werkzeug.exceptions import BadRequest, Forbidden, UnsupportedMediaType

from lucid_ridge.app.photographs.pictures import KINDS as PICTURE_KINDS
from lucid_ridge.app.problems import Refused
from lucid_ridge.app.terrains.routes import KINDS as TERRAIN_KINDS
from lucid_ridge.app.tracks.routes import KINDS as TRACK_KINDS

LOCAL_HOSTS = frozenset({"127.0.0.1", "localhost", "::1"})
# Where files are sent as their bytes, and the media types read there.
_FILES = (
    ("/api/compositions/", PICTURE_KINDS),
    ("/api/beginnings/photograph", PICTURE_KINDS),
    ("/api/terrains/", TERRAIN_KINDS),
    ("/api/tracks/import", TRACK_KINDS),
)
_NUL = re.compile(rb"(?<!\\)(?:\\\\)*\\u0000")
"""The escape of NUL in JSON; a backslash before it that is itself escaped makes it plain text."""


def guard() -> None:
    """Only this machine, and only its own pages, may write: no other site can reach in through a browser.

    Raises
    ------
    BadRequest, Forbidden, UnsupportedMediaType, Refused
        Each says what to do instead.

    """
    if _part(f"//{request.host}", "hostname") not in LOCAL_HOSTS:
        raise BadRequest("Open Lucid Ridge by the address the start command printed.")
    if any("\x00" in value for values in request.args.listvalues() for value in values) or "\x00" in request.path:
        raise Refused("", "No text may hold the character NUL (U+0000).")
    if request.method in ("GET", "HEAD", "OPTIONS"):
        return
    origin = request.headers.get("Origin")
    if origin is not None and _part(origin, "netloc") != request.host:
        raise Forbidden("Writes from another site's pages are refused.")
    if any(request.path.startswith(start) and request.mimetype in kinds for start, kinds in _FILES):
        return
    sent = request.get_data()
    if sent and request.mimetype != "application/json":
        raise UnsupportedMediaType("Send JSON, with Content-Type: application/json.")
    if _NUL.search(sent):
        raise Refused("", "No text may hold the character NUL (U+0000).")


def _part(address: str, name: str) -> str | None:
    """A part of an address; None where it is none."""
    try:
        found: str | None = getattr(urlsplit(address), name)
    except ValueError:
        return None
    return found
