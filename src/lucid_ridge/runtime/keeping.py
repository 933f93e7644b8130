"""What is done with a folder by command, on the database that is served now or on one started for this."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING

from lucid_ridge.formats.sealed import Manifest, SealedError
from lucid_ridge.runtime.backup import restore_backup, write_backup
from lucid_ridge.runtime.cluster import Cluster
from lucid_ridge.runtime.folder import FolderError, running
from lucid_ridge.runtime.people import PeopleError, has_accounts, make_link
from lucid_ridge.runtime.processes import Identity
from lucid_ridge.runtime.serve import Plan, database_of, plan_of
from lucid_ridge.runtime.settings import Settings
from lucid_ridge.runtime.upgrade import program, revision_of, revisions
from lucid_ridge.runtime.web import ServeError, start_worker, stop_server

if TYPE_CHECKING:
    from lucid_ridge.app.pictures.folders import BroughtFolder

_TRY_AGAIN_S = 5.0


@contextmanager
def database_in_use(plan: Plan) -> Iterator[str]:
    """The database of a folder: the one that is served now, else one started for this."""
    if plan.database_url is not None:
        yield plan.database_url
        return
    told = running(plan.folder)
    if told.get("database_port") and _lives(told):
        cluster = Cluster(plan.folder.cluster)
        cluster.port = int(told["database_port"])
        yield cluster.url()
        return
    with plan.folder.held(), database_of(plan) as (url, _):
        yield url


def _lives(told: dict[str, object]) -> bool:
    pid = told.get("pid")
    return isinstance(pid, int) and Identity.of(pid) is not None


def back_up(settings: Settings, target: Path) -> Manifest:
    """Write everything that is kept in a folder into one file, while it is served or not.

    Raises
    ------
    FolderError, ClusterError, SealedError
        If there is nothing, or it cannot be read or written.

    """
    plan = plan_of(settings)
    if plan.folder.is_new and plan.database_url is None:
        raise FolderError(f"Nothing is kept in {plan.folder.root} yet. Name the folder that is served with --data.")
    if target.exists():
        raise SealedError(f"{target} is there already. Choose another name.")
    with database_in_use(plan) as url:
        revision = revision_of(url)
        if revision is None:
            raise SealedError("The database is empty; there is nothing to back up.")
        return write_backup(url, plan.folder.files, revision, program(), target.absolute(), plan.object_store)


def _see_that_it_is_empty(url: str) -> None:
    if revision_of(url) is not None:
        raise SealedError("The database is not empty. Bring a backup back into a new one.")


def bring_back(settings: Settings, source: Path) -> Manifest:
    """Bring a backup back into a folder in which nothing is kept yet.

    Raises
    ------
    FolderError, ClusterError, SealedError
        If something is kept there, or the backup is damaged; nothing is left behind then.

    """
    plan = plan_of(settings)
    if not plan.folder.is_new:
        raise FolderError(f"Something is kept in {plan.folder.root} already. Name a new folder with --data.")
    plan.folder.check()
    with plan.folder.held():
        try:
            with database_of(plan) as (url, _):
                _see_that_it_is_empty(url)
                return restore_backup(source, url, plan.folder.files, plan.object_store)
        except BaseException:
            if plan.database_url is None:
                Cluster(plan.folder.cluster).remove()
            raise


def invite(settings: Settings, role: str, name: str | None) -> str:
    """A link by which somebody new comes in, or by which somebody who is named chooses a new password.

    Raises
    ------
    FolderError, ClusterError, PeopleError
        If nothing is served in the folder, nobody signs in there, or nobody is called so.

    """
    plan = plan_of(settings)
    address = running(plan.folder).get("address")
    if not address or not _lives(running(plan.folder)):
        raise PeopleError("Start it first, with ./ridge serve: the link leads to where it is reached.")
    with database_in_use(plan) as url:
        if not has_accounts(url):
            raise PeopleError(
                "Nobody has an account here yet. Start it with --lan or --accounts: it prints a link then."
            )
        return make_link(url, str(address), role, name)


def run_worker(settings: Settings) -> int:
    """Carry out what goes on in the background until interrupted: one more worker, here or on another machine.

    Raises
    ------
    FolderError, PeopleError, ServeError
        If there is no database for it.

    """
    plan = plan_of(settings)
    told = running(plan.folder)
    if plan.database_url is None and not (told.get("database_port") and _lives(told)):
        raise ServeError(
            f"Nothing is served in {plan.folder.root}. Start ./ridge serve there first, or give the address of the database "
            "that the others use as database_url, and their folder of files with --data."
        )
    with database_in_use(plan) as url:
        print("A worker is started.   (Ctrl-C stops it)", flush=True)
        while True:
            process = start_worker(
                url, plan.folder.root / "worker.log", plan.folder.files, plan.folder.backups, plan.object_store
            )
            try:
                process.wait()
                # Its database may have gone, and may come back.
                print("The worker stopped by itself; it is started again.", file=sys.stderr, flush=True)
                time.sleep(_TRY_AGAIN_S)
            except KeyboardInterrupt:
                return 0
            finally:
                stop_server(process)


@contextmanager
def _photographer(settings: Settings, name: str | None) -> Iterator[None]:
    """The application on the database of a folder, for whoever is named; for the one there is where nobody signs in."""
    from flask import g
    from sqlalchemy import select

    from lucid_ridge.app.accounts.secrets import name_key
    from lucid_ridge.app.accounts.tables import AccountRow
    from lucid_ridge.app.database import LOCAL_PHOTOGRAPHER
    from lucid_ridge.app.editing import database
    from lucid_ridge.app.factory import Configuration, create_app
    from lucid_ridge.app.identity import Who

    plan = plan_of(settings)
    with database_in_use(plan) as url:
        if revision_of(url) != revisions()[-1]:
            raise SealedError(
                "The database is another version's. Start ./ridge serve there once: it brings it up to date."
            )
        app = create_app(Configuration(url, files_folder=plan.folder.files, object_store=plan.object_store))
        with app.app_context():
            with database().transaction() as session:
                people = {row.name_key: row.id for row in session.scalars(select(AccountRow))}
            if name is None and len(people) > 1:
                raise PeopleError("Several people have accounts here. Say whose it is with --of.")
            owner = next(iter(people.values()), LOCAL_PHOTOGRAPHER) if name is None else people.get(name_key(name))
            if owner is None:
                raise PeopleError(f"Nobody here is called {name}.")
            g.who = Who(owner, name or "", "owner")
            try:
                yield
            finally:
                database().dispose()


def export(settings: Settings, target: Path, name: str | None) -> Manifest:
    """Write everything that somebody owns into one file, while it is served or not.

    Raises
    ------
    FolderError, ClusterError, PeopleError, SealedError
        If there is nothing, nobody is called so, or the file cannot be written.

    """
    plan = plan_of(settings)
    if plan.folder.is_new and plan.database_url is None:
        raise FolderError(f"Nothing is kept in {plan.folder.root} yet. Name the folder that is served with --data.")
    if target.exists():
        raise SealedError(f"{target} is there already. Choose another name.")
    with _photographer(settings, name):
        from lucid_ridge.app.archives.export import write_archive

        return write_archive(target.absolute(), _quietly)


def take_in(settings: Settings, source: Path, name: str | None) -> tuple[int, int]:
    """Take an archive in beside what somebody has; how many records are new, and how many were there already.

    Raises
    ------
    FolderError, ClusterError, PeopleError, SealedError
        If nothing is kept in the folder yet, nobody is called so, or the archive cannot be used: nothing is changed then.

    """
    plan = plan_of(settings)
    if plan.folder.is_new and plan.database_url is None:
        raise FolderError(
            f"Nothing is kept in {plan.folder.root} yet. Start ./ridge serve there once, then take it in."
        )
    with _photographer(settings, name):
        from lucid_ridge.app.archives import importing

        taken = importing.take_in(source.absolute(), _quietly)
        return sum(taken.added.values()), sum(taken.known.values())


def bring(settings: Settings, source: Path, name: str | None, told: Callable[[str, int, int], None]) -> BroughtFolder:
    """Bring in the pictures of a folder on this machine, for somebody; begun anew it goes on where it was.

    Raises
    ------
    FolderError, ClusterError, PeopleError, Refused
        If nothing is kept in the data folder yet, nobody is called so, or there is no picture in the other.

    """
    plan = plan_of(settings)
    if plan.folder.is_new and plan.database_url is None:
        raise FolderError(
            f"Nothing is kept in {plan.folder.root} yet. Start ./ridge serve there once, then bring pictures in."
        )
    with _photographer(settings, name):
        from lucid_ridge.app.pictures.folders import bring_folder

        return bring_folder(source.absolute(), told)


def _quietly(doing: str, done: int, whole: int) -> None:
    """Nobody waits for single steps on the command line."""
