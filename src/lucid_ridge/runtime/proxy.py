"""A web server in front of ours: what it says of the request is believed, what anybody else says is not."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING

from werkzeug.middleware.proxy_fix import ProxyFix

if TYPE_CHECKING:
    from _typeshed.wsgi import StartResponse, WSGIApplication, WSGIEnvironment


def behind(address: str, application: WSGIApplication) -> WSGIApplication:
    """*application*, told by the headers of the proxy at *address* who asks, by which name, and whether over HTTPS."""
    fixed = ProxyFix(application, x_for=1, x_proto=1, x_host=1)

    def answer(environ: WSGIEnvironment, start_response: StartResponse) -> Iterable[bytes]:
        through = environ.get("REMOTE_ADDR") == address
        return (fixed if through else application)(environ, start_response)

    return answer
