"""Bringing a kept database up to this version: never without a backup, never one that a newer version wrote."""

from __future__ import annotations

import re
from datetime import UTC, datetime
from pathlib import Path

import psycopg

from lucid_ridge import VERSION
from lucid_ridge.runtime.asking import connected, has_table
from lucid_ridge.runtime.backup import SUFFIX, write_backup
from lucid_ridge.runtime.folder import ROOT

_SCRIPTS = ROOT / "migrations" / "versions"


class UpgradeError(RuntimeError):
    """A database that this version cannot bring up to date; says what to do."""


def program() -> str:
    """Name and version of this program, as backups tell it."""
    return f"Lucid Ridge {VERSION}"


def revisions(folder: Path = _SCRIPTS) -> list[str]:
    """Every revision of the tables, oldest first, as their files tell them; read without loading them."""
    found = (re.search(r'^revision = "(\w+)"', one.read_text(), re.MULTILINE) for one in sorted(folder.glob("*.py")))
    return [one[1] for one in found if one]


def revision_of(database_url: str) -> str | None:
    """The revision of a database's tables; None where there are none.

    Raises
    ------
    UpgradeError
        If the database does not answer.

    """
    try:
        with connected(database_url) as connection:
            if not has_table(connection, "alembic_version"):
                return None
            row = connection.execute("SELECT version_num FROM alembic_version").fetchone()
            return None if row is None else str(row[0])
    except psycopg.Error as error:
        raise UpgradeError(f"The database does not answer. Start it, or mend its address: {error}") from error


def prepare_upgrade(database_url: str, files: Path, backups: Path, object_store: str | None = None) -> Path | None:
    """See that this version can bring a database up to date, and take a backup where it is going to change it.

    Returns the backup, None where none was needed.

    Raises
    ------
    UpgradeError
        If a newer version wrote the database.
    SealedError
        If the backup cannot be written: nothing is changed then.

    """
    known, current = revisions(), revision_of(database_url)
    if current is None or current == known[-1]:
        return None
    if current not in known:
        raise UpgradeError(
            f"This database was kept by a newer Lucid Ridge (its tables are at {current}, this one knows them up to "
            f"{known[-1]}). Start the newer one, or bring a backup back into another folder."
        )
    target = backups / f"before-{known[-1]}-{datetime.now(UTC):%Y%m%dT%H%M%S}{SUFFIX}"
    write_backup(database_url, files, current, program(), target, object_store)
    return target
