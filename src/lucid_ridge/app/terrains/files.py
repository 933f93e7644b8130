"""Where terrain models are kept."""

from __future__ import annotations

from pathlib import Path
from uuid import UUID

from flask import current_app

from lucid_ridge.app.problems import Refused


def folder() -> Path:
    """The folder of terrain models, made if need be.

    Raises
    ------
    Refused
        If this server was started without a folder for files.

    """
    root: Path | None = current_app.extensions["files_folder"]
    if root is None:
        raise Refused("/file", "This server keeps no files; start it with a folder for them.")
    found = root / "terrain"
    found.mkdir(parents=True, exist_ok=True)
    return found


def kept(terrain_id: UUID) -> Path:
    """The GeoTIFF that is kept."""
    return folder() / f"{terrain_id.hex}.tif"


def given(terrain_id: UUID) -> Path:
    """The file as it was given, while it is imported."""
    return folder() / f".given {terrain_id.hex}"
