"""Answers about backups."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from lucid_ridge.app.backups.wishes import BroughtBack


class BackupOut(BaseModel):
    """A backup that is kept on the server's disk."""

    name: str
    made_at: datetime
    size_bytes: int


class BackupsOut(BaseModel):
    """The backups that are kept, the latest first; ``offered`` tells whether this server keeps any.

    ``may_bring_back`` tells whether one can be put in the place of what is kept from here, ``bringing_back`` that it is about to
    be, and ``brought_back`` what became of it the last time.
    """

    offered: bool
    may_bring_back: bool
    bringing_back: bool
    brought_back: BroughtBack | None
    backups: list[BackupOut]


class BackupPath(BaseModel):
    """The name of one backup."""

    name: Annotated[str, Field(pattern=r"^[A-Za-z0-9-]{1,80}\.lucidridge\.zip$")]
