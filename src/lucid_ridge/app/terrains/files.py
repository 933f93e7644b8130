"""Where terrain models are kept."""

from __future__ import annotations

from pathlib import Path
from uuid import UUID

from lucid_ridge.app.files import files_folder


def folder() -> Path:
    """The folder of terrain models; see `files_folder` for errors."""
    return files_folder("terrain")


def kept(terrain_id: UUID) -> Path:
    """The GeoTIFF that is kept."""
    return folder() / f"{terrain_id.hex}.tif"


def given(terrain_id: UUID) -> Path:
    """The file as it was given, while it is imported."""
    return folder() / f".given {terrain_id.hex}"
