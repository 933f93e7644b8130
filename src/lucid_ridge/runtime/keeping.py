"""What is done with a folder by command, on the database that is served now or on one started for this."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from lucid_ridge.formats.sealed import Manifest, SealedError
from lucid_ridge.runtime.backup import restore_backup, write_backup
from lucid_ridge.runtime.cluster import Cluster
from lucid_ridge.runtime.folder import FolderError, running
from lucid_ridge.runtime.people import PeopleError, has_accounts, make_link
from lucid_ridge.runtime.processes import Identity
from lucid_ridge.runtime.serve import Plan, database_of, plan_of
from lucid_ridge.runtime.settings import Settings
from lucid_ridge.runtime.upgrade import program, revision_of


@contextmanager
def database_in_use(plan: Plan) -> Iterator[str]:
    """The database of a folder: the one that is served now, else one started for this."""
    told = running(plan.folder)
    if plan.database_url is None and told.get("database_port") and _lives(told):
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
        return write_backup(url, plan.folder.files, revision, program(), target.absolute())


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
                return restore_backup(source, url, plan.folder.files)
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
