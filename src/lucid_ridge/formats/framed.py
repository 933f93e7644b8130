"""Bytes sent between processes with their length before them, and what both sides of such a pipe agree on."""

from __future__ import annotations

import struct
from typing import IO

NOBODY = 65534
"""The user and group that own nothing."""
LENGTH = struct.Struct(">Q")


def send(out: IO[bytes], *parts: bytes) -> None:
    """Send parts, one after the other."""
    for part in parts:
        out.write(LENGTH.pack(len(part)))
        out.write(part)
    out.flush()


def receive(source: IO[bytes], most: int) -> bytes:
    """What was sent next.

    Raises
    ------
    EOFError
        If nothing comes any more, or more than there can be.

    """
    head = source.read(LENGTH.size)
    if len(head) < LENGTH.size:
        raise EOFError
    (length,) = LENGTH.unpack(head)
    if length > most:
        raise EOFError
    data = source.read(length)
    if len(data) < length:
        raise EOFError
    return data
