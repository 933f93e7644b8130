"""The cookie by which a browser shows that somebody is signed in on it."""

from __future__ import annotations

from flask import Response, g, request

from lucid_ridge.app.accounts.operations import LONGEST, recognise, whoever
from lucid_ridge.app.responses import json_response, no_content

_SAFE, _PLAIN = "__Host-ridge", "ridge"


def _name() -> str:
    """Over HTTPS the name itself makes browsers refuse the cookie to any other host, and to a page without HTTPS."""
    return _SAFE if request.is_secure else _PLAIN


def look_at_cookie() -> bool:
    """See who is asking; whether a cookie came at all."""
    token = request.cookies.get(_name())
    g.who = recognise(token) if token else None
    return token is not None


def set_cookie(token: str) -> Response:
    """Tell a browser its token, and who is signed in."""
    g.who = recognise(token)
    response = json_response(whoever())
    response.set_cookie(
        _name(), token, max_age=LONGEST, path="/", secure=request.is_secure, httponly=True, samesite="Lax"
    )
    return response


def clear_cookie() -> Response:
    """Have a browser forget its token, and everything that it kept of the answers."""
    response = no_content()
    response.delete_cookie(_name(), path="/", secure=request.is_secure, httponly=True, samesite="Lax")
    response.headers["Clear-Site-Data"] = '"cache"'
    return response
