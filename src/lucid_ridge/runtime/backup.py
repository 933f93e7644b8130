"""Backups: one file with the database and every attached file, made while it is served, and brought back whole.

A backup is a zip: ``manifest.json`` (form, program's version, database's revision, every part with its size and SHA-256),
``database.dump`` (PostgreSQL's own custom form) and the files under ``files/``.
"""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import stat
import subprocess
import tempfile
import zipfile
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import UTC, date, datetime
from pathlib import Path, PurePosixPath
from typing import IO, Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, ValidationError
from sqlalchemy.engine import make_url

from lucid_ridge.runtime.cluster import server_programs

FORM = "lucid-ridge-backup"
VERSION = 1
SUFFIX = ".lucidridge.zip"
_MANIFEST, _DUMP, _FILES = "manifest.json", "database.dump", "files/"
_PASSING = (".part", ".given", ".tiles")
_CHUNK = 1024 * 1024
_LARGEST_MANIFEST = 64 * 1024 * 1024
_MOST_PARTS = 1_000_000
_FIXED = (1980, 1, 1, 0, 0, 0)


class BackupError(RuntimeError):
    """A backup that cannot be made, read or brought back; says why."""


class Part(BaseModel):
    """One part of a backup."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    path: Annotated[str, Field(min_length=1, max_length=1000)]
    size: Annotated[int, Field(ge=0)]
    sha256: Annotated[str, Field(pattern="^[0-9a-f]{64}$")]


class Manifest(BaseModel):
    """What a backup holds, and what made it."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    form: str
    version: int
    made_at: datetime
    program: str
    revision: str
    parts: Annotated[list[Part], Field(max_length=_MOST_PARTS)]


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
        raise BackupError(f"{program} failed: {done.stderr.strip()[-800:]}")


def _read_through(source: IO[bytes], target: IO[bytes] | None, most: int | None = None) -> tuple[int, str]:
    """Copy a stream; its size and SHA-256. Stops with an error past *most* bytes."""
    size, digest = 0, hashlib.sha256()
    while chunk := source.read(_CHUNK):
        size += len(chunk)
        if most is not None and size > most:
            raise BackupError("it is larger than its manifest says")
        digest.update(chunk)
        if target is not None:
            target.write(chunk)
    return size, digest.hexdigest()


def _attached(folder: Path) -> Iterator[Path]:
    """Every attached file, in order; half-written ones, and tiles that are drawn again when they are asked for, left out."""
    if not folder.is_dir():
        return
    for path in sorted(folder.rglob("*")):
        inside = path.relative_to(folder)
        if path.is_file() and not path.is_symlink() and not any(part.startswith(_PASSING) for part in inside.parts):
            yield path


def write_backup(database_url: str, files: Path, revision: str, program: str, target: Path) -> Manifest:
    """Write a backup, whole or not at all.

    The database is read in one snapshot, then the files: they are only ever added, so none that it names is missing.

    Raises
    ------
    BackupError
        If the database cannot be read, or the file cannot be written.

    """
    half = target.with_name(f".{target.name}.part")
    parts: list[Part] = []
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryDirectory(dir=target.parent, prefix=".dump-") as aside:
            dump = Path(aside) / _DUMP
            _postgres("pg_dump", database_url, "-Fc", "--no-owner", "--no-privileges", "-f", str(dump))
            with zipfile.ZipFile(half, "w", zipfile.ZIP_STORED) as archive:
                named = [
                    (_DUMP, dump),
                    *((_FILES + one.relative_to(files).as_posix(), one) for one in _attached(files)),
                ]
                for name, path in named:
                    info = zipfile.ZipInfo(name, _FIXED)
                    info.external_attr = 0o600 << 16
                    with path.open("rb") as source, archive.open(info, "w", force_zip64=True) as into:
                        size, digest = _read_through(source, into)
                    parts.append(Part(path=name, size=size, sha256=digest))
                manifest = Manifest(
                    form=FORM,
                    version=VERSION,
                    made_at=datetime.now(UTC),
                    program=program,
                    revision=revision,
                    parts=parts,
                )
                archive.writestr(zipfile.ZipInfo(_MANIFEST, _FIXED), manifest.model_dump_json(indent=1))
        with half.open("rb+") as written:
            os.fsync(written.fileno())
        half.rename(target)
    except OSError as error:
        raise BackupError(f"{target} cannot be written: {error.strerror or error}.") from error
    finally:
        half.unlink(missing_ok=True)
    return manifest


def _safe(name: str) -> bool:
    path = PurePosixPath(name)
    plain = not path.is_absolute() and ".." not in path.parts and "\\" not in name and name.isprintable()
    return plain and str(path) == name and (name == _DUMP or (name.startswith(_FILES) and len(path.parts) > 1))


def _manifest_of(archive: zipfile.ZipFile, what: str) -> Manifest:
    try:
        told = archive.getinfo(_MANIFEST)
    except KeyError:
        raise BackupError(f"{what} is no backup of Lucid Ridge: it has no {_MANIFEST}.") from None
    if told.file_size > _LARGEST_MANIFEST:
        raise BackupError(f"{what} has a manifest larger than any real one.")
    with archive.open(told) as file:
        text = file.read(_LARGEST_MANIFEST + 1)
    try:
        raw: Any = json.loads(text)
        if isinstance(raw, dict) and isinstance(raw.get("version"), int) and raw["version"] > VERSION:
            raise BackupError(
                f"{what} was made by a newer Lucid Ridge ({raw.get('program')}). Use that one to bring it back."
            )
        manifest = Manifest.model_validate_json(text)
    except (ValueError, RecursionError, ValidationError):
        raise BackupError(f"{what} has a manifest that cannot be read.") from None
    if manifest.form != FORM:
        raise BackupError(f"{what} is no backup of Lucid Ridge.")
    return manifest


def _opened(path: Path) -> zipfile.ZipFile:
    try:
        return zipfile.ZipFile(path)
    except FileNotFoundError:
        raise BackupError(f"There is no file {path}.") from None
    except (zipfile.BadZipFile, OSError, NotImplementedError, ValueError) as error:
        raise BackupError(f"{path.name} is no backup, or is damaged: {error}.") from None


def verify_backup(path: Path, into: Path | None = None) -> Manifest:
    """Read a backup through and check every part against its manifest; write the parts below *into* where it is given.

    Raises
    ------
    BackupError
        Naming the part at fault. What was written below *into* by then is of no use.

    """
    with _opened(path) as archive:
        manifest = _manifest_of(archive, path.name)
        expected = {part.path: part for part in manifest.parts}
        names = [info.filename for info in archive.infolist()]
        if len(set(names)) != len(names) or len(expected) != len(manifest.parts):
            raise BackupError(f"{path.name} holds a part twice.")
        if set(names) != {*expected, _MANIFEST} or _DUMP not in expected:
            odd = sorted(set(names).symmetric_difference({*expected, _MANIFEST, _DUMP}))
            raise BackupError(f"{path.name} does not hold what its manifest says: {', '.join(odd[:3])}.")
        for name, part in expected.items():
            info = archive.getinfo(name)
            link = stat.S_ISLNK(info.external_attr >> 16)
            if not _safe(name) or link or info.is_dir() or info.flag_bits & 0x1:
                raise BackupError(f"{path.name} holds a part that no backup has: {name!r}.")
            try:
                with archive.open(info) as source:
                    found = _take(source, part, None if into is None else into / name)
            except (zipfile.BadZipFile, EOFError, OSError, NotImplementedError, ValueError, BackupError) as error:
                raise BackupError(f"{path.name} is damaged in {name}: {error}.") from None
            if found != (part.size, part.sha256):
                raise BackupError(f"{path.name} is damaged: {name} is not what was written.")
        return manifest


def _take(source: IO[bytes], part: Part, target: Path | None) -> tuple[int, str]:
    if target is None:
        return _read_through(source, None, part.size)
    target.parent.mkdir(parents=True, exist_ok=True)
    with target.open("xb") as into:
        found = _read_through(source, into, part.size)
        into.flush()
        os.fsync(into.fileno())
    return found


def restore_backup(path: Path, database_url: str, files: Path) -> Manifest:
    """Bring a backup back into an empty database and a folder that is not there yet.

    The database is filled in one transaction, after every part was verified. A backup holds statements that are run by the
    database's own user: bring back only what your own Lucid Ridge wrote.

    Raises
    ------
    BackupError
        If the backup is damaged, or it does not go in; nothing is left behind then.

    """
    if files.exists() and any(files.iterdir()):
        raise BackupError(f"{files} is not empty. Bring a backup back into a new folder.")
    files.parent.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=files.parent, prefix=".restore-") as aside:
        manifest = verify_backup(path, Path(aside))
        _postgres(
            "pg_restore", database_url, "--single-transaction", "--exit-on-error", "--no-owner", "--no-privileges",
            str(Path(aside) / _DUMP),
        )  # fmt: skip
        brought = Path(aside) / "files"
        brought.mkdir(exist_ok=True)
        if files.exists():
            files.rmdir()
        shutil.move(brought, files)
    return manifest


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
    """Take away the daily backups that are no longer kept; those that were taken away. Other files stay."""
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
