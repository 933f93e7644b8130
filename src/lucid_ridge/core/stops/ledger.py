"""The stop ledger: the account of every stop between the metered exposure and the shutter time.

Each entry says how much more (+) or less (-) light, or sensitivity, one thing brings. The
shutter time is the metered time times two to the minus sum of the entries that act on the whole
frame. An account that does not balance is a bug: `balance` is the difference, zero to rounding.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Literal

from lucid_ridge.core.records import record

EntryKind = Literal[
    "reading",
    "light",
    "polariser",
    "nd",
    "graduated",
    "aperture",
    "iso",
    "working",
    "choice",
    "rounding",
    "film",
    "seen",
]


@record
class LedgerEntry:
    """One line of the account.

    ``scope`` is "frame", or the id of the one element the line acts on. Only lines of the whole
    frame change the shutter time. ``filter_id`` is of the filter that the line is of.
    """

    kind: EntryKind
    stops: float
    scope: str = "frame"
    filter_id: str = ""


@record
class LedgerLine:
    """An entry with the shutter time carried down to it."""

    kind: EntryKind
    stops: float
    scope: str
    filter_id: str
    shutter_s: float


@record
class Ledger:
    """The account, closed."""

    metered_shutter_s: float
    lines: tuple[LedgerLine, ...]
    total_stops: float
    shutter_s: float

    @property
    def balance(self) -> float:
        """Stops by which the account fails to close; zero to rounding."""
        return self.total_stops + math.log2(self.shutter_s / self.metered_shutter_s)


def frame_stops(entries: Iterable[LedgerEntry]) -> float:
    """Exactly rounded sum of the entries that act on the whole frame."""
    return math.fsum(entry.stops for entry in entries if entry.scope == "frame")


def carried_shutter(metered_shutter_s: float, entries: Iterable[LedgerEntry]) -> float:
    """Shutter time in seconds that the entries lead to."""
    return metered_shutter_s * math.exp2(-frame_stops(entries))


def close_ledger(metered_shutter_s: float, entries: Iterable[LedgerEntry]) -> Ledger:
    """Carry the shutter time down the entries.

    Parameters
    ----------
    metered_shutter_s
        Shutter time of the meter reading, seconds, above zero.
    entries
        The lines below the reading, in the order in which light meets them.

    Raises
    ------
    ValueError
        If the metered time is not above zero.

    """
    if not metered_shutter_s > 0:
        raise ValueError("the metered shutter time must be above zero")
    entries = tuple(entries)
    lines = tuple(
        LedgerLine(
            kind=entry.kind,
            stops=entry.stops,
            scope=entry.scope,
            filter_id=entry.filter_id,
            shutter_s=carried_shutter(metered_shutter_s, entries[: i + 1]),
        )
        for i, entry in enumerate(entries)
    )
    return Ledger(
        metered_shutter_s=metered_shutter_s,
        lines=lines,
        total_stops=frame_stops(entries),
        shutter_s=carried_shutter(metered_shutter_s, entries),
    )
