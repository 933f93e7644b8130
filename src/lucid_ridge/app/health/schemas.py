"""What is told of the server's health."""

from __future__ import annotations

from pydantic import BaseModel


class HealthOut(BaseModel):
    """That a server answers, which version it is, and the revision of the tables in its database."""

    version: str
    revision: str | None = None
