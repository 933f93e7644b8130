"""Who is asking: the one photographer of an installation without accounts, else whoever is signed in."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from typing import Literal
from uuid import UUID

from flask import current_app, g
from werkzeug.exceptions import Unauthorized

from lucid_ridge.app.database import LOCAL_PHOTOGRAPHER

Role = Literal["owner", "photographer", "viewer"]


@dataclass(frozen=True)
class Who:
    """Somebody who asks: the photographer whose records are looked at, and what they may do.

    ``sign_in`` is the device they are signed in on; None where there are no accounts.
    """

    id: UUID
    name: str
    role: Role
    sign_in: UUID | None = None


_LOCAL = Who(LOCAL_PHOTOGRAPHER, "", "owner")


def has_accounts() -> bool:
    """Whether people sign in here."""
    return bool(current_app.config["ACCOUNTS"])


def recognised() -> Who | None:
    """Who is asking; None where nobody is signed in."""
    known: Who | None = g.get("who")
    return known if has_accounts() else known or _LOCAL


def who() -> Who:
    """Who is asking.

    Raises
    ------
    Unauthorized
        If nobody is signed in where people sign in.

    """
    found = recognised()
    if found is None:
        raise Unauthorized("Sign in first.")
    return found


@contextmanager
def acting_for(photographer: UUID) -> Iterator[None]:
    """Look at another photographer's records, who allowed it, until the end of the block."""
    before = g.get("who")
    g.who = replace(who(), id=photographer)
    try:
        yield
    finally:
        g.who = before
