"""Answers about jobs."""

from __future__ import annotations

from datetime import datetime
from typing import Literal
from uuid import UUID

from pydantic import BaseModel

JobKind = Literal["export", "import", "terrain", "backup", "look", "demo", "bring"]
JobState = Literal["waiting", "running", "done", "failed", "stopped"]


class JobOut(BaseModel):
    """A piece of background work.

    ``doing`` says what it is at, ``done`` of ``whole`` how far. ``text`` says how it ended. ``has_file`` tells that a file
    came of it, ``may_stop`` and ``may_retry`` what can be asked of it.
    """

    id: UUID
    kind: JobKind
    name: str
    state: JobState
    doing: str
    done: int
    whole: int
    text: str
    has_file: bool
    may_stop: bool
    may_retry: bool
    created_at: datetime
    ended_at: datetime | None


class JobsOut(BaseModel):
    """The latest jobs, the newest first."""

    jobs: list[JobOut]
