"""A backup put in the place of what is kept, asked for from a page: whole or not at all, with what was there kept in another backup.

Everything is made ready beside what is kept; then files and database change places. A mark tells a start that comes after a crash
in between which of the two holds.
"""

from __future__ import annotations

import shutil
from datetime import UTC, datetime
from pathlib import Path

import psycopg

from lucid_ridge.app.backups.wishes import answer, in_hand, wished_for
from lucid_ridge.formats.sealed import SealedError
from lucid_ridge.runtime.backup import SUFFIX, restore_backup, verify_backup, write_backup
from lucid_ridge.runtime.cluster import USER, Cluster
from lucid_ridge.runtime.folder import Folder
from lucid_ridge.runtime.upgrade import program, revision_of, revisions

_BROUGHT, _BEFORE = "brought_back", "before_that"


def _beside(folder: Folder, what: str) -> Path:
    return folder.files.with_name(f".{folder.files.name}.{what}")


def _run(cluster: Cluster, *statements: str) -> None:
    """Statements about whole databases, all of them or none where they may stand in one transaction."""
    with psycopg.connect(cluster.url("postgres").replace("+psycopg", ""), autocommit=True) as connection:
        for statement in statements:
            connection.execute(statement)


def _databases(cluster: Cluster) -> set[str]:
    with psycopg.connect(cluster.url("postgres").replace("+psycopg", "")) as connection:
        return {str(row[0]) for row in connection.execute("SELECT datname FROM pg_database")}


def tidy(folder: Folder, cluster: Cluster) -> None:
    """After a start: finish what a crash cut off in the middle of changing places, or take it back."""
    aside, before = _beside(folder, _BROUGHT), _beside(folder, _BEFORE)
    there = _databases(cluster)
    name, done = in_hand(folder.backups), _BEFORE in there and _BROUGHT not in there
    if before.exists() and _BROUGHT in there:
        # The files had changed places already, the databases had not: what was kept holds.
        if folder.files.exists():
            shutil.rmtree(folder.files)
        before.rename(folder.files)
    for path in (aside, before):
        shutil.rmtree(path, ignore_errors=True)
    _run(cluster, *(f'DROP DATABASE "{one}" WITH (FORCE)' for one in (_BROUGHT, _BEFORE) if one in there))
    if name is not None:
        answer(folder.backups, name, "It was brought back." if done else "It was cut off; everything is as it was.")


def asked(folder: Folder) -> str | None:
    """The backup that somebody who runs the installation asked for, once it was read through; None without one.

    What is damaged is told to them, and nothing else happens.
    """
    name = wished_for(folder.backups)
    if name is None:
        return None
    try:
        revision = verify_backup(folder.backups / name).revision
        wrong = "" if revision in revisions() else "It was made by a newer Lucid Ridge."
    except SealedError as error:
        wrong = str(error)
    if wrong:
        answer(folder.backups, name, f"It was not brought back. {wrong}")
        return None
    return name


def bring_back(folder: Folder, cluster: Cluster, name: str, object_store: str | None) -> None:
    """Put a backup in the place of what is kept. Nothing else may use the database meanwhile.

    Raises
    ------
    SealedError
        If it does not go in; everything is as it was then.

    """
    aside, before = _beside(folder, _BROUGHT), _beside(folder, _BEFORE)
    kept = folder.backups / f"before-bringing-back-{datetime.now(UTC):%Y%m%dT%H%M%S}{SUFFIX}"
    try:
        write_backup(cluster.url(), folder.files, revision_of(cluster.url()) or "", program(), kept, object_store)
        _run(cluster, f'CREATE DATABASE "{_BROUGHT}"')
        restore_backup(folder.backups / name, cluster.url(_BROUGHT), aside, object_store)
        if folder.files.exists():
            folder.files.rename(before)
        else:
            before.mkdir()
        aside.rename(folder.files)
        _change_places(cluster)
    except (SealedError, psycopg.Error, OSError) as error:
        tidy(folder, cluster)
        answer(folder.backups, name, f"It was not brought back. {error}")
        raise SealedError(str(error)) from error
    tidy(folder, cluster)
    answer(folder.backups, name, f"It was brought back. What was here before is kept in {kept.name}.")


def _change_places(cluster: Cluster) -> None:
    """Give the database that was brought the name of the one that is kept: both, or neither."""
    with psycopg.connect(cluster.url("postgres").replace("+psycopg", ""), autocommit=True) as connection:
        connection.execute(
            "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = ANY(%s)", ([USER, _BROUGHT],)
        )
        with connection.transaction():
            connection.execute(f'ALTER DATABASE "{USER}" RENAME TO "{_BEFORE}"')
            connection.execute(f'ALTER DATABASE "{_BROUGHT}" RENAME TO "{USER}"')
