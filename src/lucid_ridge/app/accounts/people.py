"""What the owner of an installation does for the others: invite, let in again, close."""

from __future__ import annotations

from datetime import timedelta
from uuid import UUID

import segno
from sqlalchemy import delete as remove
from sqlalchemy import func, select
from sqlalchemy.orm import Session
from werkzeug.exceptions import Forbidden

from lucid_ridge.app.accounts.operations import check_accounts
from lucid_ridge.app.accounts.schemas import (
    InvitationOut,
    InviteBody,
    LinkOut,
    PairOut,
    PeopleOut,
    PersonBody,
    PersonOut,
)
from lucid_ridge.app.accounts.secrets import fresh_token, token_hash
from lucid_ridge.app.accounts.tables import AccountRow, InvitationRow, SignInRow
from lucid_ridge.app.database import now
from lucid_ridge.app.editing import database
from lucid_ridge.app.identity import who
from lucid_ridge.app.problems import NotFound, Refused

HOLDS = timedelta(days=3)
PAIRS_WITHIN = timedelta(minutes=10)


def check_owner() -> None:
    """Refuse what only the owner of the installation may do."""
    check_accounts()
    if who().role != "owner":
        raise Forbidden("Only whoever runs this installation can do that.")


def link_of(origin: str, token: str) -> str:
    """The address that an invitation is given away as. What is behind # is never sent to a server, nor kept in a log."""
    return f"{origin.rstrip('/')}/join#{token}"


def dark_squares(link: str) -> list[str]:
    """The QR code of a link, a row of 0 and 1 for each line; without the margin that it needs around it."""
    return ["".join("1" if dark else "0" for dark in row) for row in segno.make(link, error="m", micro=False).matrix]


def new_invitation(session: Session, role: str, account_id: UUID | None = None) -> tuple[InvitationRow, str]:
    """An invitation and its secret, which is kept nowhere else."""
    token = fresh_token()
    row = InvitationRow(token_hash=token_hash(token), role=role, account_id=account_id, ends_at=now() + HOLDS)
    session.add(row)
    session.flush()
    return row, token


def pairing(origin: str) -> PairOut:
    """A link by which another device of whoever asks signs in: once, and within ten minutes."""
    check_accounts()
    asker = who()
    with database().transaction() as session:
        assert asker.role is not None
        row, token = new_invitation(session, asker.role, asker.id)
        row.pairs, row.ends_at = True, now() + PAIRS_WITHIN
        session.flush()
        link = f"{origin.rstrip('/')}/pair#{token}"
        return PairOut(link=link, qr=dark_squares(link), ends_at=row.ends_at)


def _present(row: InvitationRow, name: str | None) -> InvitationOut:
    return InvitationOut.model_validate({"id": row.id, "role": row.role, "name": name, "ends_at": row.ends_at})


def invite(sent: InviteBody, origin: str) -> LinkOut:
    """Invite somebody new, or let somebody choose a new password."""
    check_owner()
    with database().transaction() as session:
        account = None
        if sent.account_id is not None:
            account = session.get(AccountRow, sent.account_id)
            if account is None or account.stopped_at is not None:
                raise NotFound("person")
        row, token = new_invitation(session, account.role if account else sent.role, sent.account_id)
        link = link_of(origin, token)
        return LinkOut(invitation=_present(row, account.name if account else None), link=link, qr=dark_squares(link))


def take_back(invitation: UUID) -> None:
    """Make the link of an invitation useless."""
    check_owner()
    with database().transaction() as session:
        row = session.get(InvitationRow, invitation)
        if row is None or row.used_at is not None:
            raise NotFound("invitation")
        session.delete(row)


def people() -> PeopleOut:
    """Everybody with an account, and the invitations that are open."""
    check_owner()
    with database().transaction() as session:
        seen = select(func.max(SignInRow.seen_at)).where(SignInRow.account_id == AccountRow.id).scalar_subquery()
        rows = session.execute(select(AccountRow, seen).order_by(AccountRow.name_key)).all()
        names = {row.id: row.name for row, _ in rows}
        waiting = session.scalars(
            select(InvitationRow)
            .where(InvitationRow.used_at.is_(None), InvitationRow.ends_at > now(), InvitationRow.pairs.is_(False))
            .order_by(InvitationRow.made_at.desc())
        ).all()
        return PeopleOut(
            people=[_person(row, at) for row, at in rows],
            invitations=[_present(row, names.get(row.account_id) if row.account_id else None) for row in waiting],
        )


def _person(row: AccountRow, seen: object) -> PersonOut:
    return PersonOut.model_validate(
        {
            "id": row.id,
            "name": row.name,
            "role": row.role,
            "open": row.stopped_at is None,
            "made_at": row.made_at,
            "seen_at": seen,
        }
    )


def change_person(person: UUID, sent: PersonBody) -> PersonOut:
    """Say what somebody may do from now on. An installation keeps at least one owner who can sign in.

    Raises
    ------
    NotFound, Refused
        If there is no such person; if nobody would be left who runs the installation.

    """
    check_owner()
    with database().transaction() as session:
        # All of them, always in one order: two owners who close each other at the same moment come one after the other.
        rows = session.scalars(select(AccountRow).order_by(AccountRow.id).with_for_update()).all()
        row = next((one for one in rows if one.id == person), None)
        if row is None:
            raise NotFound("person")
        others = [one for one in rows if one.id != person and one.role == "owner" and one.stopped_at is None]
        if not others and (sent.role != "owner" or not sent.open):
            raise Refused("/role", "Somebody has to run this installation: make somebody else owner first.")
        row.role = sent.role
        row.stopped_at = None if sent.open else row.stopped_at or now()
        if not sent.open:
            session.execute(remove(SignInRow).where(SignInRow.account_id == person))
            session.execute(remove(InvitationRow).where(InvitationRow.account_id == person))
        session.flush()
        seen = session.scalar(select(func.max(SignInRow.seen_at)).where(SignInRow.account_id == person))
        return _person(row, seen)
