"""Backups: one file with the database and every attached file, made while it is served, and brought back whole.

A backup is a sealed archive: ``database.dump`` (PostgreSQL's own custom form) and the files under ``files/``.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import tempfile
import time
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import date
from pathlib import Path
from typing import Any

from sqlalchemy.engine import make_url

from lucid_ridge.app.objects import bring_all, send_all
from lucid_ridge.app.problems import StoreTrouble
from lucid_ridge.formats.sealed import Form, Manifest, SealedError, sealed, verify
from lucid_ridge.runtime.asking import connected, has_table
from lucid_ridge.runtime.cluster import server_programs

SUFFIX = ".lucidridge.zip"
_DUMP, _FILES = "database.dump", "files/"
FORM = Form("lucid-ridge-backup", 1, "backup", frozenset({_DUMP}), (_FILES,))
_PASSING = (".part", ".given", ".tiles", ".turns")
_LEFT_S = 24 * 3600.0
"""A backup that was cut off so long ago is not being written any more."""
_OF_JOBS = "jobs"


def _postgres(program: str, url: str, *arguments: str) -> None:
    """Run one of PostgreSQL's programs against a database; its password goes by the environment, not by the list of processes."""
    address = make_url(url)
    environment = os.environ | {"PGPASSWORD": address.password or "", "PGCONNECT_TIMEOUT": "10"}
    where = [
        "-h",
        str(address.host),
        "-p",
        str(address.port or 5432),
        "-U",
        str(address.username),
        "-d",
        str(address.database),
    ]
    command = [str(server_programs() / program), *where, *arguments]
    done = subprocess.run(command, env=environment, capture_output=True, text=True, check=False)
    if done.returncode != 0:
        raise SealedError(f"{program} failed: {done.stderr.strip()[-800:]}")


def _attached(folder: Path) -> Iterator[Path]:
    """Every attached file, in order; half-written ones, what waits for a job or came of one, and tiles left out."""
    if not folder.is_dir():
        return
    for path in sorted(folder.rglob("*")):
        inside = path.relative_to(folder)
        passing = inside.parts[0] == _OF_JOBS or any(part.startswith(_PASSING) for part in inside.parts)
        if path.is_file() and not path.is_symlink() and not passing:
            yield path


@contextmanager
def _of_the_store() -> Iterator[None]:
    try:
        yield
    except StoreTrouble as error:
        raise SealedError(f"The store of files does not answer: {error}") from None


def write_backup(
    database_url: str, files: Path, revision: str, program: str, target: Path, object_store: str | None = None
) -> Manifest:
    """Write a backup, whole or not at all; what lies in an object store is fetched first, and is in it.

    The database is read in one snapshot, then the files: but for what was deleted months ago they are only ever added, so
    none that it names is missing.

    Raises
    ------
    SealedError
        If the database cannot be read, the object store does not answer, or the file cannot be written.

    """
    with _of_the_store():
        bring_all(object_store, files)
    with (
        sealed(target, FORM, program, revision) as archive,
        tempfile.TemporaryDirectory(dir=target.parent, prefix=".dump-") as aside,
    ):
        dump = Path(aside) / _DUMP
        _postgres("pg_dump", database_url, "-Fc", "--no-owner", "--no-privileges", "-f", str(dump))
        archive.file(_DUMP, dump)
        for one in _attached(files):
            archive.file(_FILES + one.relative_to(files).as_posix(), one)
    assert archive.manifest is not None
    return archive.manifest


def verify_backup(path: Path, into: Path | None = None) -> Manifest:
    """Read a backup through, and write its parts below *into* where it is given; see `formats.sealed.verify`."""
    return verify(path, FORM, into)


def restore_backup(path: Path, database_url: str, files: Path, object_store: str | None = None) -> Manifest:
    """Bring a backup back into an empty database and a folder that is not there yet.

    The database is filled in one transaction, after every part was verified. A backup holds statements that are run by the
    database's own user: bring back only what your own Lucid Ridge wrote.

    Raises
    ------
    SealedError
        If the backup is damaged, or it does not go in; nothing is left behind then.

    """
    if files.exists() and any(files.iterdir()):
        raise SealedError(f"{files} is not empty. Bring a backup back into a new folder.")
    files.parent.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=files.parent, prefix=".restore-") as aside:
        manifest = verify_backup(path, Path(aside))
        _postgres(
            "pg_restore", database_url, "--single-transaction", "--exit-on-error", "--no-owner", "--no-privileges",
            str(Path(aside) / _DUMP),
        )  # fmt: skip
        _leave_that_moment(database_url)
        brought = Path(aside) / "files"
        brought.mkdir(exist_ok=True)
        if files.exists():
            files.rmdir()
        shutil.move(brought, files)
    with _of_the_store():
        send_all(object_store, files)
    return manifest


def _leave_that_moment(database_url: str) -> None:
    """Whoever was signed in when a backup was made signs in anew: what was signed out since then stays so."""
    with connected(database_url) as connection:
        if has_table(connection, "sign_ins"):
            connection.execute("DELETE FROM sign_ins")
            # A link that was used after the backup would be good once more.
            connection.execute("DELETE FROM invitations WHERE used_at IS NULL")
        if has_table(connection, "jobs"):
            # The backup that was being written is this one: it would be written anew otherwise.
            connection.execute("DELETE FROM jobs WHERE kind = 'backup' AND state IN ('waiting', 'running')")


@dataclass(frozen=True)
class Kept:
    """How many backups are kept: the last of each of so many days, weeks and months."""

    days: int = 7
    weeks: int = 4
    months: int = 12


def to_keep(dates: Iterable[date], kept: Kept | None = None) -> set[date]:
    """Which of the days on which backups were made are kept: the newest of each of the last days, weeks and months."""
    kept = kept or Kept()
    newest_first = sorted(set(dates), reverse=True)
    found: set[date] = set()
    for most, of in (
        (kept.days, lambda d: d),
        (kept.weeks, lambda d: d.isocalendar()[:2]),
        (kept.months, lambda d: (d.year, d.month)),
    ):
        newest: dict[Any, date] = {}
        for day in newest_first:
            newest.setdefault(of(day), day)
        found |= set(list(newest.values())[:most])
    return found


def daily_name(day: date) -> str:
    """Name of the backup of a day."""
    return f"{day:%Y-%m-%d}{SUFFIX}"


def rotate(folder: Path) -> list[Path]:
    """Take away the daily backups that are no longer kept; those that were taken away. Other files stay.

    What backups that were cut off left behind goes as well, a day later.
    """
    for left in (*folder.glob(f".*{SUFFIX}.part"), *folder.glob(".dump-*")):
        if time.time() - left.stat().st_mtime > _LEFT_S:
            shutil.rmtree(left) if left.is_dir() else left.unlink(missing_ok=True)
    made: dict[date, Path] = {}
    for path in folder.glob(f"*{SUFFIX}"):
        try:
            made[date.fromisoformat(path.name.removesuffix(SUFFIX))] = path
        except ValueError:
            continue
    keep = to_keep(made)
    gone = [path for day, path in sorted(made.items()) if day not in keep]
    for path in gone:
        path.unlink()
    return gone
