"""That a backup is to be brought back, told to what watches over the server, and what became of it: two small files."""

from __future__ import annotations

import json
import secrets
from datetime import UTC, datetime
from pathlib import Path

from pydantic import BaseModel, ValidationError

_WISH, _IN_HAND, _ANSWER = ".bring-back", ".bringing-back", ".brought-back"


class BroughtBack(BaseModel):
    """What became of bringing a backup back."""

    name: str
    said: str
    at: datetime


def _write(path: Path, text: str) -> None:
    part = path.with_name(f"{path.name}.{secrets.token_hex(4)}")
    part.write_text(text)
    part.chmod(0o600)
    part.replace(path)


def wish_for(folder: Path, name: str) -> None:
    """Ask for a backup to be brought back."""
    _write(folder / _WISH, json.dumps({"name": name}))


def wished_for(folder: Path) -> str | None:
    """The backup that is to be brought back, told once: it is in hand then, until there is an `answer`."""
    try:
        (folder / _WISH).replace(folder / _IN_HAND)
    except FileNotFoundError:
        return None
    name = in_hand(folder)
    if name is None:
        (folder / _IN_HAND).unlink(missing_ok=True)
    return name


def in_hand(folder: Path) -> str | None:
    """The backup that is being brought back; None where none is, or its name leads elsewhere."""
    try:
        name = json.loads((folder / _IN_HAND).read_text())["name"]
    except (ValueError, KeyError, TypeError, OSError):
        return None
    return name if isinstance(name, str) and Path(name).name == name else None


def is_wished_for(folder: Path) -> bool:
    """Whether something waits to be brought back, or is being."""
    return (folder / _WISH).exists() or (folder / _IN_HAND).exists()


def answer(folder: Path, name: str, said: str) -> None:
    """Tell what became of a wish."""
    _write(folder / _ANSWER, BroughtBack(name=name, said=said, at=datetime.now(UTC)).model_dump_json())
    (folder / _IN_HAND).unlink(missing_ok=True)


def answered(folder: Path) -> BroughtBack | None:
    """What became of the last wish; None where there was none."""
    try:
        return BroughtBack.model_validate_json((folder / _ANSWER).read_text())
    except (OSError, ValidationError):
        return None
