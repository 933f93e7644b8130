"""Pictures brought in from a folder on the server's own disk, as many as there are; begun anew it goes on where it was."""

from __future__ import annotations

import os
import stat
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path
from uuid import UUID

from lucid_ridge.app.pictures import sidecars
from lucid_ridge.app.pictures.operations import id_of, keep
from lucid_ridge.app.problems import Refused
from lucid_ridge.formats.photographs import LARGEST_BYTES
from lucid_ridge.formats.sidecars import LARGEST_BYTES as LARGEST_SIDECAR

ENDINGS = frozenset(
    [
        ".jpg",
        ".jpeg",
        ".png",
        ".webp",
        ".tif",
        ".tiff",
        ".heic",
        ".heif",
        ".dng",
        ".nef",
        ".cr2",
        ".cr3",
        ".arw",
        ".raf",
        ".orf",
        ".rw2",
        ".pef",
        ".srw",
    ]
)
"""Of files that are taken for pictures; whether they are is seen when they are read."""

Told = Callable[[int, int], None]


@dataclass
class BroughtFolder:
    """How many pictures came in, were here already, how many sidecars were read, and what could not be used, each with why."""

    fresh: int = 0
    known: int = 0
    judged: int = 0
    refused: list[tuple[Path, str]] = field(default_factory=list)


def _found(root: Path) -> Iterator[tuple[list[Path], list[Path]]]:
    """The pictures and the sidecars of each folder below; what is hidden is left out, and no link is followed."""
    for folder, below, names in os.walk(root):
        below[:] = sorted(one for one in below if not one.startswith("."))
        files = [Path(folder) / one for one in sorted(names) if not one.startswith(".")]
        pictures = [one for one in files if one.suffix.lower() in ENDINGS]
        beside = [one for one in files if one.suffix.lower() == sidecars.ENDING]
        if pictures or beside:
            yield pictures, beside


def _bytes_of(path: Path, largest: int) -> bytes:
    """What a file holds.

    Raises
    ------
    Refused
        If it is a link, no file at all, too large, or not to be read.

    """
    try:
        # Nothing that it links to: that may lie anywhere on this machine.
        with os.fdopen(os.open(path, os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK), "rb") as opened:
            told = os.fstat(opened.fileno())
            if not stat.S_ISREG(told.st_mode):
                raise Refused("", "It is no file.")
            if told.st_size > largest:
                raise Refused("", f"A file may have up to {largest // 1024 // 1024} MB here.")
            return opened.read(largest + 1)
    except OSError as error:
        why = (
            "It is a link; bring in what it leads to." if path.is_symlink() else f"It cannot be read: {error.strerror}."
        )
        raise Refused("", why) from None


def bring_folder(root: Path, told: Told = lambda done, whole: None) -> BroughtFolder:
    """Bring in all pictures below a folder, then what their sidecars say. The files stay as they are.

    Parameters
    ----------
    root
        The folder.
    told
        Told how many files are done, and of how many.

    Raises
    ------
    Refused
        If there is no such folder, or no picture in it.

    """
    if not root.is_dir():
        raise Refused("", f"{root} is no folder here.")
    folders = list(_found(root))
    whole, done = sum(len(pictures) + len(beside) for pictures, beside in folders), 0
    if whole == 0:
        raise Refused("", f"There is no picture in {root}.")
    made = BroughtFolder()
    for pictures, beside in folders:
        here: set[UUID] = set()
        for path in (*pictures, *beside):
            try:
                if path.suffix.lower() == sidecars.ENDING:
                    sidecars.take_in(path.name, _bytes_of(path, LARGEST_SIDECAR), here)
                    made.judged += 1
                else:
                    data = _bytes_of(path, LARGEST_BYTES)
                    # The same id each time: two that bring in the same folder at once keep each picture once.
                    picture, is_new = keep(id_of(data), path.name, data)
                    here.add(picture.id)
                    made.fresh += is_new
                    made.known += not is_new
            except Refused as error:
                made.refused.append((path, error.message))
            done += 1
            told(done, whole)
    return made
