"""How far a picture is focused, from what its camera's maker wrote into it, where the standard's own tags do not tell.

ExifTool reads it, by far the most complete there is; it runs as nobody, in a process of its own that is ended where it takes too
long. Whatever goes wrong with a file, nothing is told of it.

References
----------
.. [1] CIPA DC-008, Exif version 2.32, tag 0x9206 (SubjectDistance) and tag 0x927C (MakerNote).
.. [2] ISO 16684-1, XMP; the property aux:ApproximateFocusDistance.

"""

from __future__ import annotations

import math
import os
import resource
import shutil
import sys
import tempfile
import threading
from collections.abc import Sequence
from contextlib import suppress
from pathlib import Path
from typing import Annotated, Any

from exiftool import ExifToolHelper
from pydantic import Field, TypeAdapter, ValidationError

from lucid_ridge.formats.framed import NOBODY, receive, send
from lucid_ridge.formats.own_process import OwnProcess

PROGRAM = "exiftool"
_TAGS = (
    "FocusDistance", "FocusDistance2", "SubjectDistance", "ApproximateFocusDistance", "ObjectDistance", "FocusDistanceLower",
    "FocusDistanceUpper",
)  # fmt: skip
_NEAREST_M, _FARTHEST_M = 0.02, 100_000.0
_MOST_SAID = 64 * 1024
_MOST_MEMORY = 1024**3
_LARGEST_FILE = 128 * 1024 * 1024
_START_S, _EACH_S = 20.0, 5.0

Told = TypeAdapter(list[Annotated[float, Field(ge=_NEAREST_M, le=_FARTHEST_M)] | None])
_READER, _LOCK = OwnProcess(__name__), threading.Lock()


def focus_of(pictures: Sequence[bytes]) -> list[float | None]:
    """How far pictures are focused, metres; None where nothing tells.

    Parameters
    ----------
    pictures
        The bytes of files. All of them are held twice: no more at once than there is memory for.

    """
    if not pictures or shutil.which(PROGRAM) is None:
        return [None] * len(pictures)
    try:
        told = Told.validate_json(_asked(pictures))
    except (EOFError, ValidationError):
        told = []
    if len(told) == len(pictures):
        return told
    if len(pictures) == 1:
        return [None]
    # One of them is to blame: each by itself tells of the others.
    return [found for one in pictures for found in focus_of([one])]


def _asked(pictures: Sequence[bytes]) -> bytes:
    with _LOCK:
        pipes = _READER.ready()
        watch = threading.Timer(_START_S + _EACH_S * len(pictures), _READER.kill)
        watch.start()
        try:
            send(pipes.hears, str(len(pictures)).encode(), *pictures)
            return receive(pipes.tells, _MOST_SAID)
        except (OSError, EOFError):
            _READER.end()
            raise EOFError from None
        finally:
            watch.cancel()


def _number(value: Any) -> float | None:
    """A distance in metres; nought and what is no number stand for unknown or infinite."""
    try:
        metres = float(value)
    except (TypeError, ValueError):
        return None
    return metres if math.isfinite(metres) and _NEAREST_M <= metres <= _FARTHEST_M else None


def distance_in(tags: dict[str, Any]) -> float | None:
    """How far a picture is focused by its tags, whatever group they are in, metres: as told, or between the limits told."""
    found = {name.rsplit(":", 1)[-1]: _number(value) for name, value in tags.items()}
    for name in _TAGS[:-2]:
        if found.get(name) is not None:
            return found[name]
    low, high = found.get("FocusDistanceLower"), found.get("FocusDistanceUpper")
    return math.sqrt(low * high) if low and high else None


def _give_up_rights() -> None:
    resource.setrlimit(resource.RLIMIT_DATA, (_MOST_MEMORY, _MOST_MEMORY))
    resource.setrlimit(resource.RLIMIT_FSIZE, (_LARGEST_FILE, _LARGEST_FILE))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    if os.geteuid() == 0:
        os.setgroups([])
        os.setgid(NOBODY)
        os.setuid(NOBODY)


def _answered(tool: ExifToolHelper, folder: Path, pictures: list[bytes]) -> list[float | None]:
    files = [folder / f"{k}" for k in range(len(pictures))]
    try:
        for file, data in zip(files, pictures, strict=True):
            file.write_bytes(data)
        told = tool.execute_json("-n", "-G", *(f"-{tag}" for tag in _TAGS), *map(str, files))
        found = {Path(one["SourceFile"]).name: distance_in(one) for one in told}
        return [found.get(file.name) for file in files]
    finally:
        for file in files:
            file.unlink(missing_ok=True)


def main() -> None:
    """Read pictures from standard input for as long as somebody sends any."""
    os.nice(5)
    _give_up_rights()
    with (
        tempfile.TemporaryDirectory(prefix="lucid-ridge-") as folder,
        ExifToolHelper(common_args=[], check_execute=False) as tool,
        suppress(EOFError),
    ):
        while True:
            count = int(receive(sys.stdin.buffer, 8))
            pictures = [receive(sys.stdin.buffer, sys.maxsize) for _ in range(count)]
            send(sys.stdout.buffer, Told.dump_json(_answered(tool, Path(folder), pictures)))


if __name__ == "__main__":
    main()
