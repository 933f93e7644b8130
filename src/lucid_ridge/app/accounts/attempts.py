"""How often somebody may try to sign in. Counted in the database, so that every web process counts the same."""

from __future__ import annotations

import hashlib
import ipaddress
from datetime import timedelta

from sqlalchemy import delete, func, select

from lucid_ridge.app.accounts.tables import AttemptRow
from lucid_ridge.app.database import now
from lucid_ridge.app.editing import database
from lucid_ridge.app.problems import TooOften

WITHIN = timedelta(minutes=15)
FROM_ONE_ADDRESS_FOR_ONE_NAME = 10
FROM_ONE_ADDRESS = 50
FOR_ONE_NAME = 200
"""Over all addresses: so many that nobody locks somebody else out by hand."""


def _network(address: str) -> str:
    """Whom an address belongs to: for IPv6 the first 64 bits, since each subscriber has as many addresses as they like."""
    try:
        found = ipaddress.ip_address(address)
    except ValueError:
        return address
    if found.version == 6:
        return str(ipaddress.ip_network((found, 64), strict=False))
    return str(found)


def _key(*parts: str) -> bytes:
    return hashlib.sha256("\0".join(parts).encode("utf-8", "replace")).digest()


def _limits(name: str, address: str) -> dict[bytes, int]:
    network = _network(address)
    return {
        _key("both", name, network): FROM_ONE_ADDRESS_FOR_ONE_NAME,
        _key("address", network): FROM_ONE_ADDRESS,
        _key("name", name): FOR_ONE_NAME,
    }


def count_attempt(name: str, address: str) -> None:
    """Count an attempt before it is looked at: ten at the same moment count as ten.

    Raises
    ------
    TooOften
        If there were too many; says how long to wait.

    """
    limits = _limits(name, address)
    with database().transaction() as session:
        session.execute(delete(AttemptRow).where(AttemptRow.at < now() - WITHIN))
        for key in sorted(limits):
            session.execute(select(func.pg_advisory_xact_lock(int.from_bytes(key[:8], "big", signed=True))))
        for key, most in limits.items():
            count, first = session.execute(
                select(func.count(), func.min(AttemptRow.at)).where(AttemptRow.key == key)
            ).one()
            if count >= most:
                raise TooOften((first + WITHIN - now()).total_seconds())
        session.add_all([AttemptRow(key=key) for key in limits])


def forget_attempts(name: str, address: str) -> None:
    """It was them: their attempts from there count no more."""
    with database().transaction() as session:
        session.execute(delete(AttemptRow).where(AttemptRow.key.in_(list(_limits(name, address)))))
