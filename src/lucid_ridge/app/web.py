"""The built front end: hashed assets for ever, the page itself never cached, precompressed."""

from __future__ import annotations

from pathlib import Path

from flask import Blueprint, Response, abort, request, send_file

CONTENT_POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src 'self'; "
    "connect-src 'self'; frame-ancestors 'none'; base-uri 'none'; form-action 'self'"
)

PERMISSIONS = (
    "accelerometer=(self), camera=(self), geolocation=(self), gyroscope=(self), magnetometer=(self), "
    "screen-wake-lock=(self), microphone=(), payment=(), usb=()"
)
"""Which of a device's senses a page may ask for: those that measure on the spot."""


def make_blueprint(built: Path) -> Blueprint:
    """Serve the files under *built*, and its page for every other path outside the API."""
    blueprint = Blueprint("web", __name__)
    root = built.resolve()

    def file(path: Path, hashed: bool) -> Response:
        packed = path.with_name(path.name + ".gz")
        gzipped = packed.is_file() and "gzip" in request.headers.get("Accept-Encoding", "")
        response = send_file(packed if gzipped else path, mimetype=_MIME.get(path.suffix))
        if gzipped:
            response.headers["Content-Encoding"] = "gzip"
        response.headers["Vary"] = "Accept-Encoding"
        response.headers["Cache-Control"] = "public, max-age=31536000, immutable" if hashed else "no-cache"
        return response

    @blueprint.get("/", defaults={"path": ""})
    @blueprint.get("/<path:path>")
    def page(path: str) -> Response:
        if path.startswith("api/"):
            abort(404)
        wanted = _built(root, path)
        if wanted is not None:
            return file(wanted, hashed=path.startswith("assets/"))
        if path.startswith("assets/") or not (root / "index.html").is_file():
            abort(404)
        return file(root / "index.html", hashed=False)

    return blueprint


def _built(root: Path, path: str) -> Path | None:
    """The built file at a path; None where there is none, or none that is to be seen."""
    if any(part.startswith(".") for part in path.split("/")):
        return None
    try:
        wanted = (root / path).resolve()
        return wanted if path and wanted.is_relative_to(root) and wanted.is_file() else None
    except (OSError, ValueError):
        # A name that no file can have.
        return None


_MIME = {
    ".html": "text/html",
    ".js": "text/javascript",
    ".css": "text/css",
    ".svg": "image/svg+xml",
    ".woff2": "font/woff2",
    ".png": "image/png",
    ".json": "application/json",
    ".webmanifest": "application/manifest+json",
}
