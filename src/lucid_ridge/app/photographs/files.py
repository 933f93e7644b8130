"""Where pictures lie: a folder of ordinary files that any program opens."""

from __future__ import annotations

import os
import re
import tempfile
from pathlib import Path
from uuid import UUID

from flask import current_app

from lucid_ridge.app.photographs.pictures import ENDINGS
from lucid_ridge.app.problems import Refused

_UNSAFE = re.compile(r"[^A-Za-z0-9 ._()-]+")


def folder() -> Path:
    """The folder of reference photographs, made if need be.

    Raises
    ------
    Refused
        If this server was started without a folder for files.

    """
    root: Path | None = current_app.extensions["files_folder"]
    if root is None:
        raise Refused("/file", "This server keeps no files; start it with a folder for them.")
    found = root / "reference photographs"
    found.mkdir(parents=True, exist_ok=True)
    return found


def file_name(photograph_id: UUID, given: str, media_type: str) -> str:
    """The name a picture is kept under: the given one, made safe, with the id's start so that it is its own."""
    stem = _UNSAFE.sub("_", Path(given.replace("\\", "/")).name).rsplit(".", 1)[0].strip(" .") or "photograph"
    return f"{stem[:80]} {photograph_id.hex}{ENDINGS[media_type]}"


def shown_name(photograph_id: UUID) -> str:
    """The name of the small copy for the screen."""
    return f".shown {photograph_id.hex}.jpg"


def write(name: str, data: bytes) -> None:
    """Write a file whole or not at all."""
    target = folder() / name
    handle, made = tempfile.mkstemp(dir=target.parent, prefix=".part")
    try:
        with os.fdopen(handle, "wb") as out:
            out.write(data)
            out.flush()
            os.fsync(out.fileno())
        Path(made).replace(target)
    except BaseException:
        Path(made).unlink(missing_ok=True)
        raise


def read(name: str) -> bytes | None:
    """A file's bytes; None where somebody took it away."""
    try:
        return (folder() / name).read_bytes()
    except FileNotFoundError:
        return None
