"""Accounts, the devices they are signed in on, invitations, and attempts to sign in."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID, uuid4

from sqlalchemy import BigInteger, CheckConstraint, ForeignKey, Identity, Index, LargeBinary, String, false
from sqlalchemy.orm import Mapped, mapped_column

from lucid_ridge.app.database import Base, now

_ROLES = "role IN ('owner', 'photographer', 'viewer')"


class AccountRow(Base):
    """Somebody who can sign in. What they own hangs on the photographer of the same id."""

    __tablename__ = "accounts"
    __table_args__ = (CheckConstraint(_ROLES, name="role"),)

    id: Mapped[UUID] = mapped_column(ForeignKey("photographers.id"), primary_key=True)
    name: Mapped[str] = mapped_column(String(80))
    name_key: Mapped[str] = mapped_column(String(320), unique=True)
    """The name as it is compared: without regard to capitals and to ways of writing one letter."""
    password_hash: Mapped[str] = mapped_column(String(200))
    role: Mapped[str] = mapped_column(String(16))
    made_at: Mapped[datetime] = mapped_column(default=now)
    stopped_at: Mapped[datetime | None] = mapped_column(default=None)
    """When it was closed; what it owns is kept."""


class SignInRow(Base):
    """A device that somebody is signed in on. Only a hash of its token is kept."""

    __tablename__ = "sign_ins"

    id: Mapped[UUID] = mapped_column(primary_key=True, default=uuid4)
    account_id: Mapped[UUID] = mapped_column(ForeignKey("accounts.id", ondelete="CASCADE"), index=True)
    token_hash: Mapped[bytes] = mapped_column(LargeBinary, unique=True)
    device: Mapped[str] = mapped_column(String(80))
    made_at: Mapped[datetime] = mapped_column(default=now)
    seen_at: Mapped[datetime] = mapped_column(default=now)


class InvitationRow(Base):
    """A link by which one person may join, or may choose a new password for the account that is named.

    One that ``pairs`` signs another device of that account in, once.
    """

    __tablename__ = "invitations"
    __table_args__ = (CheckConstraint(_ROLES, name="role"),)

    id: Mapped[UUID] = mapped_column(primary_key=True, default=uuid4)
    token_hash: Mapped[bytes] = mapped_column(LargeBinary, unique=True)
    role: Mapped[str] = mapped_column(String(16))
    account_id: Mapped[UUID | None] = mapped_column(ForeignKey("accounts.id", ondelete="CASCADE"), index=True)
    made_at: Mapped[datetime] = mapped_column(default=now)
    ends_at: Mapped[datetime]
    used_at: Mapped[datetime | None] = mapped_column(default=None)
    pairs: Mapped[bool] = mapped_column(default=False, server_default=false())


class AttemptRow(Base):
    """An attempt to sign in that has not succeeded, under a hash of who it was for and where it came from."""

    __tablename__ = "attempts"
    __table_args__ = (Index("ix_attempts_key_at", "key", "at"),)

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    key: Mapped[bytes] = mapped_column(LargeBinary)
    at: Mapped[datetime] = mapped_column(default=now, index=True)
