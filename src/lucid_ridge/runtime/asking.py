"""Asking a database something without the application, which takes long to load."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import psycopg


def address_of(database_url: str) -> str:
    """The address of a database as PostgreSQL's own library takes it."""
    return database_url.replace("+psycopg", "")


@contextmanager
def connected(database_url: str) -> Iterator[psycopg.Connection[Any]]:
    """A connection for a question or two, committed at the end."""
    with psycopg.connect(address_of(database_url), connect_timeout=10) as connection:
        yield connection


def has_table(connection: psycopg.Connection[Any], name: str) -> bool:
    """Whether a database has a table; an older one may not have it yet."""
    return connection.execute("SELECT to_regclass(%s)", (f"public.{name}",)).fetchone() != (None,)
