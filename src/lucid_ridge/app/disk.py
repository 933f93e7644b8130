"""Trouble with the disk, in words."""

from __future__ import annotations

import errno

_FULL = (errno.ENOSPC, errno.EDQUOT)
_BARRED = (errno.EROFS, errno.EACCES, errno.EPERM)


def disk_trouble(error: OSError) -> str | None:
    """What is wrong with the disk, and what to do; None where it is not the disk."""
    if error.errno in _FULL:
        return "The server's disk is full. Nothing of this was saved; free some room there, then try again."
    if error.errno in _BARRED:
        return "The server may not write to its folder of files. Nothing of this was saved; see to who owns it, then try again."
    if error.errno == errno.EIO:
        return "The server's disk cannot be read or written. Nothing of this was saved; look at the disk first of all."
    return None
