"""Sealed archives: a zip whose manifest names every part with its size and SHA-256, read through before anything is used."""

from __future__ import annotations

import hashlib
import json
import os
import stat
import struct
import zipfile
import zlib
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path, PurePosixPath
from typing import IO, Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, ValidationError

MANIFEST = "manifest.json"
_CHUNK = 1024 * 1024
_LARGEST_MANIFEST = 64 * 1024 * 1024
_MOST_PARTS = 1_000_000
_FIXED = (1980, 1, 1, 0, 0, 0)
_PACKINGS = (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED)
_BROKEN = (zipfile.BadZipFile, zlib.error, struct.error, EOFError, OSError, NotImplementedError, ValueError)
"""What reading a damaged zip may raise."""


class SealedError(RuntimeError):
    """An archive that cannot be made, read or used; says why."""


class Part(BaseModel):
    """One part of an archive."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    path: Annotated[str, Field(min_length=1, max_length=1000)]
    size: Annotated[int, Field(ge=0)]
    sha256: Annotated[str, Field(pattern="^[0-9a-f]{64}$")]


class Manifest(BaseModel):
    """What an archive holds, and what made it; ``revision`` is that of the tables its records come from."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    form: str
    version: int
    made_at: datetime
    program: str
    revision: str
    parts: Annotated[list[Part], Field(max_length=_MOST_PARTS)]


@dataclass(frozen=True)
class Form:
    """A kind of archive.

    ``what`` is what people call it; ``needed`` are the parts that each one has, ``optional`` those that some have, ``folders``
    those below which it may have others. ``largest`` bounds all of it together, in bytes once unpacked.
    """

    name: str
    version: int
    what: str
    needed: frozenset[str]
    folders: tuple[str, ...]
    largest: int | None = None
    optional: frozenset[str] = frozenset()


class Writer:
    """An archive that is being written."""

    def __init__(self, archive: zipfile.ZipFile, packed: bool) -> None:
        self._archive = archive
        self._packing = zipfile.ZIP_DEFLATED if packed else zipfile.ZIP_STORED
        self.parts: list[Part] = []
        self.manifest: Manifest | None = None
        """What it holds, once it is whole."""

    def _info(self, name: str, packed: bool) -> zipfile.ZipInfo:
        info = zipfile.ZipInfo(name, _FIXED)
        info.external_attr = 0o600 << 16
        info.compress_type = self._packing if packed else zipfile.ZIP_STORED
        return info

    def file(self, name: str, path: Path) -> None:
        """Put a file in, as it is."""
        with path.open("rb") as source, self._archive.open(self._info(name, False), "w", force_zip64=True) as into:
            size, digest = _read_through(source, into)
        self.parts.append(Part(path=name, size=size, sha256=digest))

    def pieces(self, name: str, pieces: Iterator[bytes]) -> None:
        """Put a part in whose bytes come piece by piece."""
        size, digest = 0, hashlib.sha256()
        with self._archive.open(self._info(name, True), "w", force_zip64=True) as into:
            for piece in pieces:
                size += len(piece)
                digest.update(piece)
                into.write(piece)
        self.parts.append(Part(path=name, size=size, sha256=digest.hexdigest()))


def _read_through(source: IO[bytes], target: IO[bytes] | None, most: int | None = None) -> tuple[int, str]:
    """Copy a stream; its size and SHA-256. Stops with an error past *most* bytes."""
    size, digest = 0, hashlib.sha256()
    while chunk := source.read(_CHUNK):
        size += len(chunk)
        if most is not None and size > most:
            raise SealedError("it is larger than its manifest says")
        digest.update(chunk)
        if target is not None:
            target.write(chunk)
    return size, digest.hexdigest()


@contextmanager
def sealed(target: Path, form: Form, program: str, revision: str, packed: bool = False) -> Iterator[Writer]:
    """Write an archive, whole or not at all: what is put in within the block, then its manifest. Only its owner may read it.

    Raises
    ------
    SealedError
        If the file cannot be written.

    """
    half = target.with_name(f".{target.name}.part")
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        opened = os.open(half, os.O_RDWR | os.O_CREAT | os.O_TRUNC, 0o600)
        with os.fdopen(opened, "w+b") as file, zipfile.ZipFile(file, "w") as archive:
            writer = Writer(archive, packed)
            yield writer
            writer.manifest = Manifest(
                form=form.name, version=form.version, made_at=datetime.now(UTC), program=program, revision=revision,
                parts=writer.parts,
            )  # fmt: skip
            archive.writestr(zipfile.ZipInfo(MANIFEST, _FIXED), writer.manifest.model_dump_json(indent=1))
        with half.open("rb+") as written:
            os.fsync(written.fileno())
        half.rename(target)
    except OSError as error:
        raise SealedError(f"{target} cannot be written: {error.strerror or error}.") from error
    finally:
        half.unlink(missing_ok=True)


def _safe(name: str, form: Form) -> bool:
    path = PurePosixPath(name)
    plain = not path.is_absolute() and ".." not in path.parts and "\\" not in name and name.isprintable()
    inside = any(name.startswith(folder) for folder in form.folders) and len(path.parts) > 1
    return plain and str(path) == name and (name in form.needed | form.optional or inside)


def _manifest_of(archive: zipfile.ZipFile, what: str, form: Form) -> Manifest:
    try:
        told = archive.getinfo(MANIFEST)
    except KeyError:
        raise SealedError(f"{what} is no {form.what} of Lucid Ridge: it has no {MANIFEST}.") from None
    if told.file_size > _LARGEST_MANIFEST:
        raise SealedError(f"{what} has a manifest larger than any real one.")
    try:
        with archive.open(told) as file:
            text = file.read(_LARGEST_MANIFEST + 1)
        raw: Any = json.loads(text)
        if isinstance(raw, dict) and isinstance(raw.get("version"), int) and raw["version"] > form.version:
            raise SealedError(
                f"{what} was made by a newer Lucid Ridge ({raw.get('program')}). Use that one to bring it back."
            )
        manifest = Manifest.model_validate_json(text)
    except (*_BROKEN, RecursionError, ValidationError):
        raise SealedError(f"{what} has a manifest that cannot be read.") from None
    if manifest.form != form.name:
        raise SealedError(f"{what} is no {form.what} of Lucid Ridge.")
    return manifest


def _opened(path: Path, form: Form, called: str) -> zipfile.ZipFile:
    try:
        return zipfile.ZipFile(path)
    except FileNotFoundError:
        raise SealedError(f"There is no file {path}.") from None
    except _BROKEN as error:
        raise SealedError(f"{called} is no {form.what}, or is damaged: {error}.") from None


def verify(
    path: Path,
    form: Form,
    into: Path | None = None,
    told: Callable[[float], None] | None = None,
    called: str | None = None,
) -> Manifest:
    """Read an archive through and check every part against its manifest; write the parts below *into* where it is given.

    *told* is called with the share that is done, now and then. *called* is what people know the file as.

    Raises
    ------
    SealedError
        Naming the part at fault. What was written below *into* by then is of no use.

    """
    called = called or path.name
    with _opened(path, form, called) as archive:
        manifest = _manifest_of(archive, called, form)
        expected = {part.path: part for part in manifest.parts}
        names = [info.filename for info in archive.infolist()]
        if len(set(names)) != len(names) or len(expected) != len(manifest.parts):
            raise SealedError(f"{called} holds a part twice.")
        if set(names) != {*expected, MANIFEST} or not form.needed <= expected.keys():
            odd = sorted(set(names).symmetric_difference({*expected, MANIFEST, *form.needed}))
            raise SealedError(f"{called} does not hold what its manifest says: {', '.join(odd[:3])}.")
        whole = sum(part.size for part in manifest.parts)
        if form.largest is not None and whole > form.largest:
            raise SealedError(f"{called} holds {whole / 1e9:.1f} GB; up to {form.largest / 1e9:.1f} GB are taken.")
        done = 0
        for name, part in expected.items():
            info = archive.getinfo(name)
            link = stat.S_ISLNK(info.external_attr >> 16)
            alien = link or info.is_dir() or info.flag_bits & 0x1 or info.compress_type not in _PACKINGS
            if alien or not _safe(name, form):
                raise SealedError(f"{called} holds a part that no {form.what} has: {name!r}.")
            try:
                with archive.open(info) as source:
                    found = _take(source, part, None if into is None else into / name)
            except (*_BROKEN, SealedError) as error:
                raise SealedError(f"{called} is damaged in {name}: {error}.") from None
            if found != (part.size, part.sha256):
                raise SealedError(f"{called} is damaged: {name} is not what was written.")
            done += part.size
            if told is not None:
                told(done / max(whole, 1))
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
