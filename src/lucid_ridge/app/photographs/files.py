"""Where pictures lie: folders of ordinary files that any program opens."""

from __future__ import annotations

import os
import re
import tempfile
from dataclasses import dataclass
from pathlib import Path
from uuid import UUID

from lucid_ridge.app.files import fetched, files_folder, keep
from lucid_ridge.app.photographs.pictures import ENDINGS, Photograph

_UNSAFE = re.compile(r"[^A-Za-z0-9 ._()-]+")


def file_name(record_id: UUID, given: str, media_type: str) -> str:
    """The name a picture is kept under: the given one, made safe, with the id's start so that it is its own."""
    stem = _UNSAFE.sub("_", Path(given.replace("\\", "/")).name).rsplit(".", 1)[0].strip(" .") or "photograph"
    return f"{stem[:80]} {record_id.hex}{ENDINGS[media_type]}"


def shown_name(record_id: UUID) -> str:
    """The name of the small copy for the screen."""
    return f".shown {record_id.hex}.jpg"


@dataclass(frozen=True)
class PictureFolder:
    """A folder of pictures by its name."""

    name: str

    def path(self) -> Path:
        """Where it lies; see `files_folder` for errors."""
        return files_folder(self.name)

    def write(self, name: str, data: bytes) -> None:
        """Write a file whole or not at all."""
        target = self.path() / name
        handle, made = tempfile.mkstemp(dir=target.parent, prefix=".part")
        try:
            with os.fdopen(handle, "wb") as out:
                out.write(data)
            keep(Path(made), target)
        except BaseException:
            Path(made).unlink(missing_ok=True)
            raise

    def store(self, record_id: UUID, given: str, data: bytes, picture: Photograph) -> str:
        """Keep a picture as it came, and its small copy; the name that it is kept under."""
        kept_as = file_name(record_id, given, picture.media_type)
        self.write(kept_as, data)
        self.write(shown_name(record_id), picture.shown)
        return kept_as

    def paths(self, record_id: UUID, kept_as: str) -> list[Path]:
        """The files of a record: the picture and its small copy."""
        return [self.path() / kept_as, self.path() / shown_name(record_id)]

    def read(self, name: str) -> bytes | None:
        """A file's bytes; None where somebody took it away."""
        try:
            return fetched(self.path() / name).read_bytes()
        except FileNotFoundError:
            return None


REFERENCE = PictureFolder("reference photographs")
"""Photographs that are attached to a composition."""
CAME_BACK = PictureFolder("pictures")
"""Pictures that came back from the camera."""
