"""What can be done with backups from a page."""

from __future__ import annotations

from datetime import UTC, datetime
from pathlib import Path

from flask import current_app
from werkzeug.exceptions import Forbidden

from lucid_ridge.app.backups.schemas import BackupOut, BackupsOut
from lucid_ridge.app.backups.wishes import answered, is_wished_for, wish_for
from lucid_ridge.app.identity import who
from lucid_ridge.app.jobs import operations as jobs
from lucid_ridge.app.jobs.schemas import JobOut
from lucid_ridge.app.problems import NotFound, Refused

ENDING = ".lucidridge.zip"


def _folder() -> Path | None:
    """Where backups are kept, for whoever runs the installation: they hold everybody's."""
    if who().role != "owner":
        raise Forbidden("Only whoever runs this installation can do that.")
    found: Path | None = current_app.extensions["backups_folder"]
    return found


def backups() -> BackupsOut:
    """The backups that are kept."""
    folder = _folder()
    if folder is None:
        return BackupsOut(offered=False, may_bring_back=False, bringing_back=False, brought_back=None, backups=[])
    found = []
    for path in folder.glob(f"*{ENDING}"):
        told = path.stat()
        made = datetime.fromtimestamp(told.st_mtime, UTC)
        found.append(BackupOut(name=path.name, made_at=made, size_bytes=told.st_size))
    return BackupsOut(
        offered=True,
        may_bring_back=current_app.extensions["brings_back"],
        bringing_back=is_wished_for(folder),
        brought_back=answered(folder),
        backups=sorted(found, key=lambda one: one.made_at, reverse=True),
    )


def make() -> JobOut:
    """Have a backup made now, and read through.

    Raises
    ------
    Forbidden, Refused
        If it is not the asker's to do, or this server keeps none.

    """
    if _folder() is None:
        raise Refused("", "This server keeps no backups of its own. Make one with ./ridge backup where it runs.")
    return jobs.begin("backup", "A backup", {})


def file(name: str) -> Path:
    """A backup, to be kept elsewhere too."""
    folder = _folder()
    path = None if folder is None else folder / name
    if path is None or not path.is_file():
        raise NotFound("backup")
    return path


def bring_back(name: str) -> BackupsOut:
    """Have a backup put in the place of everything that is kept, once it was read through.

    Raises
    ------
    Forbidden, NotFound, Refused
        If it is not the asker's to do, there is no such backup, or this server cannot.

    """
    path = file(name)
    if not current_app.extensions["brings_back"]:
        raise Refused("", "It can be brought back where the server runs alone: ./ridge restore FILE --data FOLDER.")
    wish_for(path.parent, path.name)
    return backups()
