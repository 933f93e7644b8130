"""The folder for files that people bring, and files in it."""

from __future__ import annotations

import os
from pathlib import Path

from flask import current_app

from lucid_ridge.app.objects import Objects
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


def _objects() -> Objects | None:
    found: Objects | None = current_app.extensions["objects"]
    return found


def _name(path: Path) -> str:
    """The name of a file below the folder of files."""
    root: Path = current_app.extensions["files_folder"]
    return path.relative_to(root).as_posix()


def keep(part: Path, target: Path) -> None:
    """Give a whole file its name once the disk has it; and into the object store, where there is one.

    Raises
    ------
    StoreTrouble
        If the object store does not take it; it is not kept then.

    """
    with part.open("rb") as written:
        os.fsync(written.fileno())
    share(part, _name(target))
    part.replace(target)


def share(path: Path, name: str) -> None:
    """Put a file into the object store, where there is one."""
    objects = _objects()
    if objects is not None:
        objects.send(path, name)


def fetched(path: Path) -> Path:
    """A file that is kept, a copy of it where it lies in an object store.

    Raises
    ------
    FileNotFoundError, StoreTrouble
        If it is not there, or cannot be asked for.

    """
    objects = _objects()
    if objects is not None:
        objects.bring(_name(path), path)
    elif not path.is_file():
        raise FileNotFoundError(path)
    return path


def drop(path: Path) -> None:
    """Take a file away, out of the object store too."""
    objects = _objects()
    if objects is not None:
        objects.drop(_name(path))
    path.unlink(missing_ok=True)
