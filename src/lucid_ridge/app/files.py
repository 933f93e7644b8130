"""The folder for files that people bring, and files in it."""

from __future__ import annotations

import os
from pathlib import Path

from flask import current_app

from lucid_ridge.app.problems import Refused


def files_folder(name: str) -> Path:
    """A folder of files by its name, made if need be.

    Raises
    ------
    Refused
        If this server was started without a folder for files.

    """
    root: Path | None = current_app.extensions["files_folder"]
    if root is None:
        raise Refused("/file", "This server keeps no files; start it with a folder for them.")
    found = root / name
    found.mkdir(parents=True, exist_ok=True)
    return found


def put_in_place(part: Path, target: Path) -> None:
    """Give a whole file its name once the disk has it."""
    with part.open("rb") as written:
        os.fsync(written.fileno())
    part.replace(target)
