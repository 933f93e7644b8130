"""Where terrain models are kept."""

from __future__ import annotations

import os
import shutil
import threading
from pathlib import Path
from uuid import UUID

from lucid_ridge.app.files import files_folder


def folder() -> Path:
    """The folder of terrain models; see `files_folder` for errors."""
    return files_folder("terrain")


def kept(terrain_id: UUID) -> Path:
    """The GeoTIFF that is kept."""
    return folder() / f"{terrain_id.hex}.tif"


def forget_given(terrain_id: UUID) -> None:
    """Take away what imports of versions before there were jobs left of their files."""
    for left in folder().glob(f".given {terrain_id.hex}*"):
        left.unlink(missing_ok=True)


def tile(key: str, z: int, x: int, y: int) -> Path:
    """Where a tile of the map is kept, under what it was drawn from."""
    return folder() / ".tiles" / key / f"{z} {x} {y}.png"


def keep_tile(path: Path, data: bytes) -> None:
    """Keep a tile, whole or not at all; those drawn from what is no more go first."""
    if not path.parent.exists():
        for old in path.parent.parent.glob("*"):
            shutil.rmtree(old, ignore_errors=True)
        path.parent.mkdir(parents=True, exist_ok=True)
    part = path.with_name(f".part {os.getpid()} {threading.get_ident()} {path.name}")
    try:
        part.write_bytes(data)
        part.replace(path)
    except FileNotFoundError:
        # Another change of the terrains took the folder away meanwhile; the tile is drawn again when it is asked for.
        part.unlink(missing_ok=True)
