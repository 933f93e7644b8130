"""Answers about backups."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field


class BackupOut(BaseModel):
    """A backup that is kept on the server's disk."""

    name: str
    made_at: datetime
    size_bytes: int


class BackupsOut(BaseModel):
    """The backups that are kept, the latest first; ``offered`` tells whether this server keeps any."""

    offered: bool
    backups: list[BackupOut]


class BackupPath(BaseModel):
    """The name of one backup."""

    name: Annotated[str, Field(pattern=r"^[A-Za-z0-9-]{1,80}\.lucidridge\.zip$")]
