"""Requests and answers about accounts."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field, StringConstraints

from lucid_ridge.app.accounts.secrets import LONGEST_PASSWORD
from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.app.identity import Role

Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
Password = Annotated[str, Field(min_length=1, max_length=LONGEST_PASSWORD)]
Token = Annotated[str, Field(min_length=1, max_length=100)]


class SignInBody(JsonBody):
    """Who wants to sign in."""

    name: Name
    password: Password


class PasswordBody(JsonBody):
    """A new password, and the one it replaces."""

    old: Password
    new: Password


class TokenBody(JsonBody):
    """The secret of an invitation's link."""

    token: Token


class JoinBody(TokenBody):
    """Whoever was invited: how they want to be called, and their password."""

    name: Name
    password: Password


class InviteBody(JsonBody):
    """Whom to invite: somebody new in a role, or the owner of an account who lost the password."""

    role: Role = "photographer"
    account_id: UUID | None = None


class PersonBody(JsonBody):
    """What somebody may do from now on."""

    role: Role
    open: bool
    """Whether they can sign in. What they own is kept either way."""


class WhoOut(BaseModel):
    """Who is asking. Without accounts here there is one photographer, who needs no name."""

    accounts: bool
    id: UUID | None
    name: str
    role: Role | None
    """None while nobody is signed in."""


class DeviceOut(BaseModel):
    """A device that the asker is signed in on."""

    id: UUID
    device: str
    made_at: datetime
    seen_at: datetime
    this: bool


class DevicesOut(BaseModel):
    """Where the asker is signed in, the latest first."""

    devices: list[DeviceOut]


class InvitedOut(BaseModel):
    """What a link invites to. ``name`` is that of the account it opens again; None for somebody new."""

    role: Role
    name: str | None
    ends_at: datetime


class InvitationOut(BaseModel):
    """An invitation that nobody has used yet."""

    id: UUID
    role: Role
    name: str | None
    ends_at: datetime


class LinkOut(BaseModel):
    """The link of an invitation, told this once. ``qr`` is its QR code: a row of 0 and 1 for each line, 1 is dark."""

    invitation: InvitationOut
    link: str
    qr: list[str]


class PairOut(BaseModel):
    """The link by which another device of the asker signs in, told this once; ``qr`` as of an invitation."""

    link: str
    qr: list[str]
    ends_at: datetime


class PersonOut(BaseModel):
    """Somebody with an account."""

    id: UUID
    name: str
    role: Role
    open: bool
    made_at: datetime
    seen_at: datetime | None


class PeopleOut(BaseModel):
    """Everybody with an account, and the invitations that are open."""

    people: list[PersonOut]
    invitations: list[InvitationOut]
