"""A picture that somebody uploads, refused in the application's words where it cannot be used."""

from __future__ import annotations

from lucid_ridge.app.problems import Refused
from lucid_ridge.formats.aside import read_aside
from lucid_ridge.formats.photographs import (
    ENDINGS,
    LARGEST_BYTES,
    MEDIA_TYPES,
    MOST_PIXELS,
    RAW_TYPE,
    Photograph,
    PhotographError,
)

__all__ = ["ENDINGS", "KINDS", "LARGEST_BYTES", "MEDIA_TYPES", "MOST_PIXELS", "RAW_TYPE", "Photograph", "read_picture"]

KINDS = (*ENDINGS, "image/heif", "image/x-adobe-dng", "application/octet-stream")
"""Media types under which browsers send photographs; raw files come without one of their own."""


def read_picture(data: bytes) -> Photograph:
    """A picture from the bytes of a file; see `read_aside`.

    Raises
    ------
    Refused
        If it cannot be used.

    """
    try:
        return read_aside(data)
    except PhotographError as error:
        raise Refused("/file", str(error)) from None
