"""An object store: where files lie that several machines share, each with a folder of copies of its own.

By fsspec, which knows S3 (by s3fs; keys and address by the usual AWS_ variables), folders and others by their address.
"""

from __future__ import annotations

import os
import secrets
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from datetime import datetime
from pathlib import Path
from threading import Lock
from typing import Any

import fsspec

from lucid_ridge.app.problems import StoreTrouble


@contextmanager
def _told() -> Iterator[None]:
    """Whatever a store raises, its "no such file" aside, as one error."""
    try:
        yield
    except (FileNotFoundError, StoreTrouble):
        raise
    except Exception as error:
        # Each kind of store has errors of its own, of no common base.
        raise StoreTrouble(f"{type(error).__name__}: {error}"[:300]) from error


class Objects:
    """A store by its address, such as ``s3://bucket/prefix``; names are those of files below the folder of copies."""

    def __init__(self, address: str) -> None:
        self._address = address
        self._lock = Lock()
        self._made: tuple[int, Any, str] | None = None

    def _store(self) -> tuple[Any, str]:
        # Connections and the thread that serves them do not survive a fork.
        with self._lock:
            if self._made is None or self._made[0] != os.getpid():
                options = {"use_listings_cache": False, "skip_instance_cache": True}
                store, root = fsspec.core.url_to_fs(self._address, **options)
                self._made = os.getpid(), store, root.rstrip("/")
            return self._made[1], self._made[2]

    def send(self, path: Path, name: str) -> None:
        """Put a file into the store, whole.

        Raises
        ------
        StoreTrouble
            If it does not get there.

        """
        with _told():
            store, root = self._store()
            if "file" in store.protocol:
                # Elsewhere folders are parts of names; a bucket that is not there is a mistake, and is not made.
                store.makedirs(f"{root}/{name}".rpartition("/")[0], exist_ok=True)
            try:
                store.put_file(str(path), f"{root}/{name}")
            except FileNotFoundError as error:
                raise StoreTrouble(f"there is no {root}") from error
            # The copy here is as new as the one there.
            os.utime(path)

    def bring(self, name: str, path: Path) -> None:
        """Have a copy of a file at *path*, unless the one there is as large and no older.

        Raises
        ------
        FileNotFoundError, StoreTrouble
            If the store has none, or does not answer.

        """
        with _told():
            store, root = self._store()
            told = store.info(f"{root}/{name}")
            if path.is_file() and path.stat().st_size == told["size"] and path.stat().st_mtime >= _changed_at(told):
                return
            path.parent.mkdir(parents=True, exist_ok=True)
            part = path.with_name(f".part {secrets.token_hex(4)} {path.name}")
            try:
                store.get_file(f"{root}/{name}", str(part))
                part.replace(path)
            finally:
                part.unlink(missing_ok=True)

    def drop(self, name: str) -> None:
        """Take a file out of the store, where it is in it.

        Raises
        ------
        StoreTrouble
            If the store does not answer.

        """
        with _told():
            store, root = self._store()
            try:
                store.rm_file(f"{root}/{name}")
            except FileNotFoundError:
                return

    def names(self) -> list[str]:
        """The names of everything in the store.

        Raises
        ------
        StoreTrouble
            If it does not answer.

        """
        with _told():
            store, root = self._store()
            return sorted(found.removeprefix(f"{root}/") for found in store.find(root))


def bring_all(address: str | None, files: Path) -> None:
    """Have a copy of everything that is in a store below *files*: for a backup, say.

    Raises
    ------
    StoreTrouble
        If the store does not answer.

    """
    if address is None:
        return
    objects = Objects(address)
    for name in objects.names():
        # What is taken away meanwhile is missed by nobody.
        with suppress(FileNotFoundError):
            objects.bring(name, files / name)


def send_all(address: str | None, files: Path) -> None:
    """Put everything below *files* into a store: after a backup was brought back, say.

    Raises
    ------
    StoreTrouble
        If the store does not answer.

    """
    if address is None:
        return
    objects = Objects(address)
    for path in sorted(files.rglob("*")):
        if path.is_file() and not any(part.startswith(".part") for part in path.relative_to(files).parts):
            objects.send(path, path.relative_to(files).as_posix())


def _changed_at(told: dict[str, Any]) -> float:
    """When a file was put into a store, as far as it says; else so late that no copy is new enough."""
    moment = told.get("LastModified") or told.get("mtime") or told.get("created")
    if isinstance(moment, datetime):
        return moment.timestamp()
    return float(moment) if isinstance(moment, int | float) else float("inf")
