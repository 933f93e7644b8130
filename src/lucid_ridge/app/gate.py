"""What every request goes through before anything else looks at it: who may ask, and what text and form may come in."""

from __future__ import annotations

import re
from urllib.parse import urlsplit

from flask import current_app, request
from werkzeug.exceptions import BadRequest, Forbidden, Unauthorized, UnsupportedMediaType

from lucid_ridge.app.accounts.cookie import look_at_cookie
from lucid_ridge.app.archives.routes import KINDS as ARCHIVE_KINDS
from lucid_ridge.app.identity import has_accounts, recognised
from lucid_ridge.app.photographs.pictures import KINDS as PICTURE_KINDS
from lucid_ridge.app.pictures.sidecars import KINDS as SIDECAR_KINDS
from lucid_ridge.app.problems import Refused
from lucid_ridge.app.terrains.routes import KINDS as TERRAIN_KINDS
from lucid_ridge.app.tracks.routes import KINDS as TRACK_KINDS

LOCAL_HOSTS = frozenset({"127.0.0.1", "localhost", "::1"})
# Where files are sent as their bytes, and the media types read there.
_FILES = (
    ("/api/compositions/", PICTURE_KINDS),
    ("/api/pictures/sidecar", SIDECAR_KINDS),
    ("/api/pictures/", PICTURE_KINDS),
    ("/api/beginnings/photograph", PICTURE_KINDS),
    ("/api/terrains/", TERRAIN_KINDS),
    ("/api/tracks/import", TRACK_KINDS),
    ("/api/archives/import", ARCHIVE_KINDS),
)
OPEN = frozenset(
    {
        "accounts.read_account",
        "accounts.sign_in",
        "accounts.read_invitation",
        "accounts.join",
        "accounts.pair",
        "trust.read_trust",
        "health.read_live",
        "health.read_ready",
        "document",
        "authority",
        "metrics",
        "web.page",
    }
)
"""What answers before anybody has signed in."""
OWN = frozenset(
    {
        "accounts.sign_out",
        "accounts.sign_out_everywhere",
        "accounts.change_password",
        "accounts.sign_out_device",
        "accounts.link_device",
        "preferences.put_preferences",
        "sharing.end_share",
    }
)
"""What somebody may change who only looks on: how they themselves sign in, and how they see things."""
COMPUTES = frozenset(
    {
        "evaluation",
        "rehearsal",
        "practice.ask_next",
        "practice.draw_drill",
        "light",
        "places.locate_place",
        "outlooks.read_outlooks",
        "beginnings.read_photograph",
    }
)
"""Routes, and whole features, that are sent something and change nothing."""
_NUL = re.compile(rb"(?<!\\)(?:\\\\)*\\u0000")
"""The escape of NUL in JSON; a backslash before it that is itself escaped makes it plain text."""


def guard() -> None:
    """Only by its own names, and only from its own pages: no other site can reach in through a browser.

    Raises
    ------
    BadRequest, Forbidden, UnsupportedMediaType, Refused
        Each says what to do instead.

    """
    if _part(f"//{request.host}", "hostname") not in current_app.config["HOSTS"]:
        raise BadRequest("Open Lucid Ridge by the address the start command printed.")
    if any("\x00" in value for values in request.args.listvalues() for value in values) or "\x00" in request.path:
        raise Refused("", "No text may hold the character NUL (U+0000).")
    if request.method in ("GET", "HEAD", "OPTIONS"):
        return
    origin = request.headers.get("Origin")
    if origin is not None and _origin(origin) != (request.scheme, request.host):
        raise Forbidden("Writes from another site's pages are refused.")
    if any(request.path.startswith(start) and request.mimetype in kinds for start, kinds in _FILES):
        return
    sent = request.get_data()
    if sent and request.mimetype != "application/json":
        raise UnsupportedMediaType("Send JSON, with Content-Type: application/json.")
    if _NUL.search(sent):
        raise Refused("", "No text may hold the character NUL (U+0000).")


def admit() -> None:
    """Where people sign in: nobody sees or changes anything before; whoever only looks on changes nothing.

    Raises
    ------
    Unauthorized, Forbidden
        If nobody is signed in; if the role does not allow it, or the request may come from another site's page.

    """
    if not has_accounts():
        return
    by_cookie = look_at_cookie()
    writes = request.method not in ("GET", "HEAD", "OPTIONS")
    # Every browser says from which page a write comes. One that comes with a cookie and does not say so is none.
    if by_cookie and writes and "Origin" not in request.headers:
        raise Forbidden("Send the header Origin with the address of this server.")
    endpoint = request.endpoint or ""
    if endpoint in OPEN:
        return
    asker = recognised()
    if asker is None:
        raise Unauthorized("Sign in first.")
    if asker.role == "viewer" and writes and endpoint not in OWN and COMPUTES.isdisjoint({endpoint, request.blueprint}):
        raise Forbidden("You may look here, not change anything. Whoever runs this installation can allow more.")


def _origin(said: str) -> tuple[str | None, str | None]:
    return _part(said, "scheme"), _part(said, "netloc")


def _part(address: str, name: str) -> str | None:
    """A part of an address; None where it is none."""
    try:
        found: str | None = getattr(urlsplit(address), name)
    except ValueError:
        return None
    return found
