"""What can be done with one's own account."""

from __future__ import annotations

from datetime import timedelta
from uuid import UUID

from sqlalchemy import delete as remove
from sqlalchemy import select
from sqlalchemy.orm import Session

from lucid_ridge.app.accounts.attempts import count_attempt, forget_attempts
from lucid_ridge.app.accounts.schemas import (
    DeviceOut,
    DevicesOut,
    InvitedOut,
    JoinBody,
    PasswordBody,
    SignInBody,
    WhoOut,
)
from lucid_ridge.app.accounts.secrets import (
    fresh_token,
    hash_password,
    name_key,
    token_hash,
    verify_password,
    weakness,
)
from lucid_ridge.app.accounts.tables import AccountRow, InvitationRow, SignInRow
from lucid_ridge.app.database import LOCAL_PHOTOGRAPHER, Photographer, now
from lucid_ridge.app.editing import database
from lucid_ridge.app.identity import Who, has_accounts, recognised, who
from lucid_ridge.app.problems import NotFound, Refused

UNUSED = timedelta(days=30)
LONGEST = timedelta(days=365)
"""A device that is not used for so long, or has been signed in for so long, signs in again."""
_TELL_SEEN = timedelta(minutes=5)
"""How exactly it is known when a device was last seen: not every request is worth a write."""


def check_accounts() -> None:
    """Refuse what only makes sense where people sign in."""
    if not has_accounts():
        raise Refused("", "Nobody signs in here: this installation is for one person, on this machine.")


def recognise(token: str) -> Who | None:
    """Who holds a token; None where it is nobody's, or no longer."""
    at = now()
    with database().transaction() as session:
        found = session.execute(
            select(SignInRow, AccountRow)
            .join(AccountRow, AccountRow.id == SignInRow.account_id)
            .where(SignInRow.token_hash == token_hash(token), AccountRow.stopped_at.is_(None))
        ).one_or_none()
        if found is None:
            return None
        device, account = found
        if device.seen_at < at - UNUSED or device.made_at < at - LONGEST:
            session.delete(device)
            return None
        if device.seen_at < at - _TELL_SEEN:
            device.seen_at = at
        return Who(account.id, account.name, account.role, device.id)  # type: ignore[arg-type]


def whoever() -> WhoOut:
    """Who is asking."""
    found = recognised()
    if found is None:
        return WhoOut(accounts=True, id=None, name="", role=None)
    return WhoOut(accounts=has_accounts(), id=found.id, name=found.name, role=found.role)


def _signed_in(session: Session, account: AccountRow, device: str) -> str:
    token = fresh_token()
    old = now()
    session.execute(remove(SignInRow).where(SignInRow.account_id == account.id, SignInRow.seen_at < old - UNUSED))
    session.add(SignInRow(account_id=account.id, token_hash=token_hash(token), device=device[:80]))
    return token


def sign_in(sent: SignInBody, address: str, device: str) -> str:
    """A token for somebody who knows the password.

    Raises
    ------
    Refused, TooOften
        If name or password is another, without saying which; if it was tried too often.

    """
    check_accounts()
    key = name_key(sent.name)
    count_attempt(key, address)
    with database().transaction() as session:
        found = session.scalars(select(AccountRow).where(AccountRow.name_key == key)).one_or_none()
        kept = None if found is None or found.stopped_at is not None else found.password_hash
    # Outside of any transaction: it takes long on purpose.
    if not verify_password(kept, sent.password):
        raise Refused("", "Name or password is not right. Try again, or ask whoever runs this for a new link.")
    assert found is not None
    forget_attempts(key, address)
    with database().transaction() as session:
        return _signed_in(session, found, device)


def sign_out(everywhere: bool) -> None:
    """Sign out here, or on every device."""
    asker = who()
    here = SignInRow.account_id == asker.id if everywhere else SignInRow.id == asker.sign_in
    with database().transaction() as session:
        session.execute(remove(SignInRow).where(here))


def devices() -> DevicesOut:
    """Where the asker is signed in."""
    check_accounts()
    asker = who()
    with database().transaction() as session:
        rows = session.scalars(
            select(SignInRow).where(SignInRow.account_id == asker.id).order_by(SignInRow.seen_at.desc())
        ).all()
    return DevicesOut(
        devices=[
            DeviceOut(id=r.id, device=r.device, made_at=r.made_at, seen_at=r.seen_at, this=r.id == asker.sign_in)
            for r in rows
        ]
    )


def sign_out_device(device: UUID) -> None:
    """Sign out on one device."""
    with database().transaction() as session:
        row = session.scalars(
            select(SignInRow).where(SignInRow.id == device, SignInRow.account_id == who().id)
        ).one_or_none()
        if row is None:
            raise NotFound("device")
        session.delete(row)


def change_password(sent: PasswordBody, address: str) -> None:
    """Choose another password; every other device signs in again."""
    check_accounts()
    asker = who()
    key = name_key(asker.name)
    count_attempt(key, address)
    with database().transaction() as session:
        kept = session.get_one(AccountRow, asker.id).password_hash
    if not verify_password(kept, sent.old):
        raise Refused("/old", "This is not the password that holds now.")
    forget_attempts(key, address)
    weak = weakness(sent.new, asker.name)
    if weak is not None:
        raise Refused("/new", weak)
    fresh = hash_password(sent.new)
    with database().transaction() as session:
        session.get_one(AccountRow, asker.id).password_hash = fresh
        session.execute(remove(SignInRow).where(SignInRow.account_id == asker.id, SignInRow.id != asker.sign_in))


def _invitation(session: Session, token: str, pairs: bool = False) -> tuple[InvitationRow, AccountRow | None]:
    """The open invitation of a link, nobody else's until the transaction ends."""
    row = session.scalars(
        select(InvitationRow)
        .where(InvitationRow.token_hash == token_hash(token), InvitationRow.pairs.is_(pairs))
        .with_for_update()
    ).one_or_none()
    if row is None or row.used_at is not None or row.ends_at < now():
        raise Refused("/token", "This link was used already, or is too old. Ask for a new one.")
    return row, session.get(AccountRow, row.account_id) if row.account_id else None


def pair(token: str, device: str) -> str:
    """Sign another device in by the link that one of the same person made. A token that signs in.

    Raises
    ------
    Refused
        If the link was used, or is too old.

    """
    check_accounts()
    with database().transaction() as session:
        row, account = _invitation(session, token, pairs=True)
        if account is None or account.stopped_at is not None:
            raise Refused("/token", "This account is closed. Ask whoever runs this installation.")
        row.used_at = now()
        session.flush()
        return _signed_in(session, account, device)


def invited(token: str) -> InvitedOut:
    """What a link invites to."""
    check_accounts()
    with database().transaction() as session:
        row, account = _invitation(session, token)
        return InvitedOut.model_validate(
            {"role": row.role, "name": account.name if account else None, "ends_at": row.ends_at}
        )


def join(sent: JoinBody, device: str) -> str:
    """Take an invitation: a new account, or a new password for the one it names. A token that signs in.

    Raises
    ------
    Refused
        If the link holds no more, the name is taken, or the password is easily guessed.

    """
    check_accounts()
    with database().transaction() as session:
        _, account = _invitation(session, sent.token)
    weak = weakness(sent.password, account.name if account else sent.name)
    if weak is not None:
        raise Refused("/password", weak)
    fresh = hash_password(sent.password)
    with database().transaction() as session:
        row, account = _invitation(session, sent.token)
        row.used_at = now()
        if account is None:
            account = _new_account(session, sent.name, row.role, fresh)
        else:
            account.password_hash = fresh
            session.execute(remove(SignInRow).where(SignInRow.account_id == account.id))
        session.flush()
        return _signed_in(session, account, device)


def _new_account(session: Session, name: str, role: str, password_hash: str) -> AccountRow:
    """A new account. The first one takes over what was made here before there were accounts."""
    key = name_key(name)
    if session.scalar(select(AccountRow.id).where(AccountRow.name_key == key)) is not None:
        raise Refused("/name", "Somebody here is called so already. Take another name.")
    first = session.get(AccountRow, LOCAL_PHOTOGRAPHER) is None and role == "owner"
    photographer = session.get(Photographer, LOCAL_PHOTOGRAPHER) if first else None
    if photographer is None:
        photographer = Photographer(name=name, **({"id": LOCAL_PHOTOGRAPHER} if first else {}))
        session.add(photographer)
    photographer.name = name
    session.flush()
    account = AccountRow(id=photographer.id, name=name, name_key=key, role=role, password_hash=password_hash)
    session.add(account)
    return account
