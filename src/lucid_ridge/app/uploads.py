"""Requests that are the bytes of a file: what is read, how large it may be, and what the document says of them."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from flask import request
from werkzeug.exceptions import RequestEntityTooLarge, UnsupportedMediaType

from lucid_ridge.app.problems import PROBLEM_TYPE
from lucid_ridge.app.responses import Answers

_PROBLEM = {PROBLEM_TYPE: {"schema": {"$ref": "#/components/schemas/Problem"}}}
UPLOAD: Answers = {
    "413": {"description": "Larger than allowed", "content": _PROBLEM},
    "415": {"description": "Not a media type that is read here", "content": _PROBLEM},
}


def bytes_body(kinds: Iterable[str]) -> dict[str, Any]:
    """What the OpenAPI document says of a request that is the bytes of a file."""
    binary = {"schema": {"type": "string", "format": "binary"}}
    return {"requestBody": {"required": True, "content": dict.fromkeys(kinds, binary)}}


def expect_file(kinds: Iterable[str], largest_bytes: int, what: str, advice: str) -> None:
    """Refuse a request whose file is of another kind than *what*, or larger than may be; before it is read.

    Raises
    ------
    UnsupportedMediaType, RequestEntityTooLarge
        Saying what to send instead; *advice* is what makes a file smaller.

    """
    if request.mimetype not in kinds:
        raise UnsupportedMediaType(f"Send {what}, with its media type: {', '.join(kinds)}.")
    # What is sent without its length is stopped by this while it is read.
    request.max_content_length = largest_bytes
    if (request.content_length or 0) > largest_bytes:
        raise RequestEntityTooLarge(f"A file may have up to {largest_bytes // 1024 // 1024} MB here; {advice}.")
