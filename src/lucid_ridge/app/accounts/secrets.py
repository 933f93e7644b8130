"""Passwords and tokens: made here, and kept only as hashes."""

from __future__ import annotations

import hashlib
import secrets
import unicodedata
from functools import cache

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError

SHORTEST_PASSWORD = 10
LONGEST_PASSWORD = 200
_FEWEST_CHARACTERS = 5
_hasher = PasswordHasher()
"""Argon2id with the second choice of RFC 9106, section 4 (64 MiB, 3 passes, 4 lanes): its library's own default."""


def fresh_token() -> str:
    """A secret that nobody guesses: 256 bits, for an address or a cookie."""
    return secrets.token_urlsafe(32)


def token_hash(token: str) -> bytes:
    """What is kept of a token. It is long and random: one round of SHA-256 is enough, unlike for a password."""
    return hashlib.sha256(token.encode("utf-8", "replace")).digest()


def name_key(name: str) -> str:
    """A name as it is compared: two that look the same are one."""
    return " ".join(unicodedata.normalize("NFKC", name).casefold().split())


def hash_password(password: str) -> str:
    """What is kept of a password."""
    return _hasher.hash(password)


def verify_password(kept: str | None, password: str) -> bool:
    """Whether a password is the one. Without one to compare with it takes as long, so that nobody learns which names there are."""
    try:
        return _hasher.verify(kept or _nobodys(), password) and kept is not None
    except (VerificationError, InvalidHashError):
        return False


@cache
def _nobodys() -> str:
    return _hasher.hash(secrets.token_urlsafe(16))


def weakness(password: str, name: str) -> str | None:
    """What makes a password easy to guess, said to its owner; None where nothing does.

    Length counts, no mixture of signs is demanded (NIST SP 800-63B, section 5.1.1.2; from memory).
    """
    if len(password) < SHORTEST_PASSWORD:
        return f"Take at least {SHORTEST_PASSWORD} characters; a few words that nobody else would put together do well."
    if len(set(password)) < _FEWEST_CHARACTERS:
        return "This repeats a few characters. A few words that nobody else would put together do well."
    plain = name_key(password)
    if len(name) > 3 and name_key(name) in plain:
        return "Leave your name out of the password."
    return None
