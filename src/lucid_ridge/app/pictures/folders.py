"""Pictures brought in from a folder on the server's own disk, as many as there are; begun anew it goes on where it was."""

from __future__ import annotations

import os
import stat
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from uuid import UUID

from flask import current_app
from werkzeug.exceptions import Forbidden

from lucid_ridge.app.editing import database
from lucid_ridge.app.files import files_folder, share
from lucid_ridge.app.identity import who
from lucid_ridge.app.jobs import operations as jobs
from lucid_ridge.app.jobs.running import Running
from lucid_ridge.app.jobs.schemas import JobOut
from lucid_ridge.app.pictures import sidecars
from lucid_ridge.app.pictures.bringing import MOST_AT_ONCE, MOST_BYTES_AT_ONCE, Told, keep_many, make_copies
from lucid_ridge.app.pictures.schemas import InboxOut
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


@dataclass
class BroughtFolder:
    """How many pictures came in, were here already, how many sidecars were read, and what could not be used, each with why."""

    fresh: int = 0
    known: int = 0
    judged: int = 0
    refused: list[tuple[Path, str]] = field(default_factory=list)

    @property
    def text(self) -> str:
        """All that in a sentence."""
        told = [f"{self.fresh} brought in"]
        told += [f"{self.judged} sidecar{'s' * (self.judged != 1)} read"] * (self.judged > 0)
        told += [f"{self.known} were here already"] * (self.known > 0)
        told += [f"{len(self.refused)} could not be used"] * bool(self.refused)
        return f"{', '.join(told)}."


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


def _batches(paths: list[Path], refused: list[tuple[Path, str]]) -> Iterator[list[tuple[Path, bytes]]]:
    """Files as many together as there may be; what cannot be read is noted as refused."""
    batch: list[tuple[Path, bytes]] = []
    size = 0
    for path in paths:
        try:
            data = _bytes_of(path, LARGEST_BYTES)
        except Refused as error:
            refused.append((path, error.message))
            continue
        if batch and (len(batch) == MOST_AT_ONCE or size + len(data) > MOST_BYTES_AT_ONCE):
            yield batch
            batch, size = [], 0
        batch.append((path, data))
        size += len(data)
    if batch:
        yield batch


def bring_folder(root: Path, told: Told = lambda doing, done, whole: None) -> BroughtFolder:
    """Bring in all pictures below a folder, then what their sidecars say. The files stay as they are.

    Parameters
    ----------
    root
        The folder.
    told
        Told what is being done, how many files are done, and of how many.

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
    came: dict[UUID, tuple[Path, bool]] = {}
    for pictures, beside in folders:
        here: set[UUID] = set()
        for batch in _batches(pictures, made.refused):
            for (path, _), kept in zip(batch, keep_many([(path.name, data) for path, data in batch]), strict=True):
                if kept.picture_id is None:
                    made.refused.append((path, kept.why))
                    continue
                here.add(kept.picture_id)
                came.setdefault(kept.picture_id, (path, kept.is_new))
                made.fresh += kept.is_new
                made.known += not kept.is_new
            done += len(batch)
            told("bringing pictures in", done, whole)
        for path in beside:
            _judge_by(path, here, made)
        done += len(beside)
    for picture_id, (name, why) in make_copies(told).items():
        # One that was left over from what was cut off may have been among these, or not.
        path, is_new = came.get(picture_id, (Path(name), None))
        made.fresh -= is_new is True
        made.known -= is_new is False
        made.refused.append((path, why))
    return made


def _judge_by(path: Path, here: set[UUID], made: BroughtFolder) -> None:
    try:
        sidecars.take_in(path.name, _bytes_of(path, LARGEST_SIDECAR), here)
        made.judged += 1
    except Refused as error:
        made.refused.append((path, error.message))


INBOX = "inbox"
_MOST_COUNTED = 20_000


def _inbox() -> Path:
    """The folder of this installation that pictures may be laid into, for whoever runs it: it is not divided by people."""
    if who().role != "owner":
        raise Forbidden("Only whoever runs this installation can do that.")
    return files_folder(INBOX)


def inbox() -> InboxOut:
    """The folder that pictures may be laid into, and how many files are in it."""
    if who().role != "owner" or current_app.extensions["files_folder"] is None:
        return InboxOut(offered=False, folder="", files=0)
    root, count = _inbox(), 0
    for pictures, beside in _found(root):
        count += len(pictures) + len(beside)
        if count >= _MOST_COUNTED:
            break
    return InboxOut(offered=True, folder=str(root), files=count)


def begin_bringing() -> JobOut:
    """Have what lies in the folder brought in, in the background.

    Raises
    ------
    Forbidden, Refused
        If that is not the asker's to do, or nothing lies in it.

    """
    root = _inbox()
    if next(_found(root), None) is None:
        raise Refused("/folder", f"There is no picture in {root}. Lay some into it first.")
    return jobs.under_way("bring", {}) or jobs.begin("bring", INBOX, {})


def carry_out_bring(job: Running) -> None:
    """Bring in what lies in the folder; a list of what cannot be used is left as the job's file."""
    root = files_folder(INBOX)
    made = bring_folder(root, job.tell)
    result: dict[str, Any] = {"text": made.text}
    if made.refused:
        name = f"{job.id.hex}.txt"
        lines = "".join(
            f"{path.relative_to(root) if path.is_absolute() else path}: {why}\n" for path, why in made.refused
        )
        (jobs.folder() / name).write_text(lines, encoding="utf-8")
        share(jobs.folder() / name, f"jobs/{name}")
        result |= {"file": name, "name": "what could not be used.txt"}
    with database().transaction() as session:
        job.finish(session, result)
