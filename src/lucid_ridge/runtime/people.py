"""Links by which people come in, made on the machine that serves: the first owner's, and one for a lost password."""

from __future__ import annotations

import subprocess
import sys

import segno

from lucid_ridge.runtime.asking import connected, has_table


class PeopleError(RuntimeError):
    """A link cannot be made; says what to do."""


def _count(url: str, where: str) -> int:
    with connected(url) as connection:
        if not has_table(connection, "accounts"):
            return 0
        found = connection.execute(f"SELECT count(*) FROM accounts WHERE {where}").fetchone()
        return int(found[0]) if found else 0


def has_accounts(url: str) -> bool:
    """Whether anybody has an account in a database."""
    return _count(url, "true") > 0


def has_owner(url: str) -> bool:
    """Whether somebody who can sign in runs the installation."""
    return _count(url, "role = 'owner' AND stopped_at IS NULL") > 0


def make_link(url: str, address: str, role: str, name: str | None = None) -> str:
    """The link of a new invitation, or of one by which somebody who is named chooses a new password.

    Raises
    ------
    PeopleError
        If nobody is called so, or their account is closed.

    """
    from sqlalchemy import select

    from lucid_ridge.app.accounts.people import link_of, new_invitation
    from lucid_ridge.app.accounts.secrets import name_key
    from lucid_ridge.app.accounts.tables import AccountRow
    from lucid_ridge.app.database import Database

    database = Database(url)
    try:
        with database.transaction() as session:
            account = None
            if name is not None:
                account = session.scalars(select(AccountRow).where(AccountRow.name_key == name_key(name))).one_or_none()
                if account is None:
                    raise PeopleError(f"Nobody here is called {name}.")
                if account.stopped_at is not None:
                    raise PeopleError(f"The account of {account.name} is closed. Open it again in Settings first.")
            token = new_invitation(session, account.role if account else role, account.id if account else None)[1]
    finally:
        database.dispose()
    return link_of(address, token)


def show_link(link: str, what: str) -> None:
    """Print a link, and its QR code where somebody looks at it."""
    print(f"{what} Open this link within three days; it is good once:\n{link}", flush=True)
    if sys.stdout.isatty():
        segno.make(link, error="m", micro=False).terminal(compact=True)


def invite_owner(url: str, address: str) -> None:
    """Print the link by which the first owner comes in. A process of its own: what it needs is needed this once."""
    subprocess.run(
        [sys.executable, "-c", _FIRST, address],
        input=url, text=True, check=False,
    )  # fmt: skip


_FIRST = """
import sys
from lucid_ridge.runtime.people import make_link, show_link
show_link(make_link(sys.stdin.read(), sys.argv[1], "owner"), "Nobody has an account yet.")
"""
"""The database's address may hold a password, and what stands on a command line is seen by everybody."""
