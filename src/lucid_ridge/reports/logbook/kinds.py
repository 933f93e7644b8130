"""What a take was, as one number: a hundred thousand of them are summed by it while somebody waits."""

from __future__ import annotations

import bisect
from typing import NamedTuple

DIRECTIONS_DEG = (45.0, 135.0)
"""How far off the way one looks the sun stands, where names change (common practice: back, side and front light)."""
HEIGHTS_DEG = (-6.0, -0.833, 6.0, 20.0)
"""The sun's altitude where names change: civil twilight, rising and setting, golden light, high."""
SHUTTERS_S = (1 / 60, 1 / 8, 0.25, 0.5, 1.0, 2.0, 8.0, 30.0)
"""Shutter times between which water is told apart."""
LOOKS = ("freeze", "texture", "soft", "glass")
WAYS = ("one frame", "stack", "bracket", "panels", "layers")


class Kind(NamedTuple):
    """A take's year, and the spans it belongs to; None where nobody knows.

    ``direction``, ``height`` and ``shutter`` count the edges of `DIRECTIONS_DEG`, `HEIGHTS_DEG` and `SHUTTERS_S` that are reached;
    the direction is told while the sun is up.
    """

    year: int
    direction: int | None
    height: int | None
    look: str | None
    shutter: int | None
    way: str | None


def kind_of(
    year: int,
    sun_off_deg: float | None,
    sun_height_deg: float | None,
    water_look: str | None,
    shutter_s: float | None,
    way: str | None,
) -> Kind:
    """What a take was, of what is kept of it: degrees and seconds."""

    def reached(edges: tuple[float, ...], value: float | None) -> int | None:
        return None if value is None else bisect.bisect_right(edges, value)

    up = sun_height_deg is not None and sun_height_deg > HEIGHTS_DEG[1]
    return Kind(
        year=year,
        direction=reached(DIRECTIONS_DEG, sun_off_deg) if up else None,
        height=reached(HEIGHTS_DEG, sun_height_deg),
        look=water_look,
        shutter=reached(SHUTTERS_S, shutter_s),
        way=way,
    )


def number_of(kind: Kind) -> int:
    """The year, and a digit each for direction, height, look, shutter and way: one more than the span it is, 0 for None.

    Takes keep it: when an edge or an order above changes, a migration has it worked out anew.
    """
    digits = (
        0 if kind.direction is None else kind.direction + 1,
        0 if kind.height is None else kind.height + 1,
        0 if kind.look is None else LOOKS.index(kind.look) + 1,
        0 if kind.shutter is None else kind.shutter + 1,
        0 if kind.way is None else WAYS.index(kind.way) + 1,
    )
    number = kind.year
    for digit in digits:
        number = number * 10 + digit
    return number


def kind_from(number: int) -> Kind:
    """The kind that `number_of` made a number of."""
    year, digits = divmod(number, 10**5)
    direction, height, look, shutter, way = (int(one) for one in f"{digits:05d}")
    return Kind(
        year=year,
        direction=direction - 1 if direction else None,
        height=height - 1 if height else None,
        look=LOOKS[look - 1] if look else None,
        shutter=shutter - 1 if shutter else None,
        way=WAYS[way - 1] if way else None,
    )
