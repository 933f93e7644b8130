"""What can be done with archives."""

from __future__ import annotations

import shutil
import zipfile
from pathlib import Path
from typing import BinaryIO
from uuid import uuid4

from lucid_ridge.app.files import share
from lucid_ridge.app.jobs import operations as jobs
from lucid_ridge.app.jobs.schemas import JobOut
from lucid_ridge.app.problems import Refused

LARGEST_BYTES = 2 * 1024**3


def export_everything() -> JobOut:
    """Have everything that the asker owns written into one file."""
    jobs.folder()
    return jobs.begin("export", "Everything you own", {})


def import_archive(sent: BinaryIO) -> JobOut:
    """Keep an archive that is sent, without holding it in memory, and have it taken in.

    Raises
    ------
    Refused
        If it is no zip at all, or was cut off on its way.

    """
    job = uuid4()
    path = jobs.folder() / f"{job.hex}.sent.zip"
    try:
        with path.open("wb") as out:
            shutil.copyfileobj(sent, out)
        _check_zip(path)
        share(path, f"jobs/{path.name}")
        return jobs.begin("import", "An archive", {"file": path.name}, job)
    except BaseException:
        path.unlink(missing_ok=True)
        raise


def _check_zip(path: Path) -> None:
    if not zipfile.is_zipfile(path):
        raise Refused("/file", "This is no archive that Lucid Ridge wrote, or only a part of one.")
