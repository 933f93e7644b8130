"""The folder that a running Lucid Ridge keeps everything in: who may use it, and who uses it now."""

from __future__ import annotations

import fcntl
import json
import os
import pwd
import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from lucid_ridge.runtime.processes import Identity

ROOT = Path(__file__).resolve().parents[3]
STATE = ROOT / ".state"
_EARLIEST = datetime(2026, 11, 1, tzinfo=UTC)
"""No clock of a machine that runs this can be right before it was written."""
_LEAST_FREE = 100 * 1024 * 1024


class FolderError(RuntimeError):
    """The folder cannot be used; says what to do."""


@dataclass(frozen=True)
class Folder:
    """Where the database, the attached files, the log and the backups are."""

    root: Path
    cluster: Path
    files: Path
    log: Path
    backups: Path
    lock: Path

    @classmethod
    def of(cls, root: Path) -> Folder:
        """A folder for real use."""
        return cls(root, root / "database", root / "files", root / "server.log", root / "backups", root / "lock")

    @classmethod
    def of_demo(cls, kept: str) -> Folder:
        """The folder of the demo, or of an empty start, inside this copy of the program."""
        return cls(
            STATE,
            STATE / kept,
            STATE / f"{kept}-files",
            STATE / "server.log",
            STATE / "backups",
            STATE / f"{kept}.lock",
        )

    @property
    def is_new(self) -> bool:
        """Whether nothing was ever kept here."""
        return not self.cluster.exists() and not self.files.exists()

    def disk_is_full(self) -> bool:
        """Whether too little room is left for a database to work."""
        return shutil.disk_usage(self.root).free < _LEAST_FREE

    def check(self, whose: bool = True) -> None:
        """Make the folder if need be, and see that it can be used; *whose* asks too whether it belongs to this user.

        Raises
        ------
        FolderError
            If it cannot be written, belongs to somebody else, the disk is full, or the machine's clock is wrong.

        """
        try:
            self.root.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise FolderError(
                f"{self.root} cannot be made: {error.strerror}. Choose another folder with --data."
            ) from error
        # Root reads and writes anything, and would leave files behind that the folder's owner can no longer use.
        owner = self.root.stat().st_uid
        if whose and owner != os.geteuid():
            raise FolderError(
                f"{self.root} belongs to {_name(owner)}, and this was started by {_name(os.geteuid())}. "
                f"Start it as {_name(owner)}, or choose another folder with --data."
            )
        if not os.access(self.root, os.W_OK | os.X_OK):
            raise FolderError(f"{self.root} cannot be written. Make it writable, or choose another folder with --data.")
        if self.disk_is_full():
            raise FolderError(f"The disk of {self.root} is full. Free some room, then start again; nothing is lost.")
        if datetime.now(UTC) < _EARLIEST:
            raise FolderError(
                f"The clock of this machine says {datetime.now(UTC):%d %B %Y}. Set it first: light and times hang on it."
            )

    @contextmanager
    def held(self) -> Iterator[Lock]:
        """Hold the folder for this process alone, and end what a killed one left running.

        Raises
        ------
        FolderError
            If another process holds it; names its address.

        """
        self.lock.parent.mkdir(parents=True, exist_ok=True)
        with self.lock.open("a+") as file:
            try:
                fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except OSError:
                told = running(self)
                where = f" It is at {told['address']}." if told.get("address") else ""
                raise FolderError(
                    f"Lucid Ridge already runs in {self.root}, as process {told.get('pid', 'unknown')}.{where} "
                    "Use that one, or stop it first."
                ) from None
            left = running(self).get("server")
            if isinstance(left, list) and len(left) == 2:
                Identity(int(left[0]), int(left[1])).end()
            held = Lock(self)
            held.tell(pid=os.getpid())
            try:
                yield held
            finally:
                held.tell()


class Lock:
    """A folder that this process holds; what it tells of itself there."""

    def __init__(self, folder: Folder) -> None:
        self._folder = folder
        self._told: dict[str, Any] = {}

    def tell(self, **facts: object) -> None:
        """Say more of what runs here; nothing to say that nothing runs any more."""
        self._told = {**self._told, **facts} if facts else {}
        # Written over the same file: the lock is on it, and a new one would be another's to take.
        with self._folder.lock.open("r+") as file:
            file.write(json.dumps(self._told))
            file.truncate()


def running(folder: Folder) -> dict[str, Any]:
    """What the process that holds a folder told of itself; empty if nothing, or nothing that can be read."""
    try:
        told = json.loads(folder.lock.read_text())
    except (OSError, ValueError):
        return {}
    return told if isinstance(told, dict) else {}


def _name(uid: int) -> str:
    try:
        return pwd.getpwuid(uid).pw_name
    except KeyError:
        return f"user {uid}"
