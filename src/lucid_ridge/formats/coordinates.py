"""Positions as people write or paste them: decimal degrees, degrees and minutes, geo addresses.

References
----------
.. [1] RFC 5870, A Uniform Resource Identifier for Geographic Locations ('geo' URI), 2010.
.. [2] ISO 6709, Standard representation of geographic point location by coordinates.

"""

from __future__ import annotations

import re
from dataclasses import dataclass

_GEO = re.compile(r"^geo:(-?\d+(?:\.\d+)?),(-?\d+(?:\.\d+)?)(?:,-?\d+(?:\.\d+)?)?(?:;.*)?$", re.IGNORECASE)
_ISO_6709 = re.compile(r"^([+-]\d{2}(?:\.\d+)?)([+-]\d{3}(?:\.\d+)?)(?:[+-]\d+(?:\.\d+)?)?(?:CRS\w+)?/?$")
_NUMBER = re.compile(r"\d+(?:\.\d+)?")
_ODD_SIGNS = str.maketrans(
    {"−": "-", "–": "-", "º": "°", "˚": "°", "’": "'", "′": "'", "‘": "'", "”": '"', "″": '"', "“": '"'}
)
_HELP = "Write it such as 54.1021, -2.4033 or 54° 06.13' N 2° 24.20' W."


@dataclass(frozen=True)
class Position:
    """Degrees on the WGS 84 ellipsoid, north and east positive."""

    latitude_deg: float
    longitude_deg: float


class PositionError(ValueError):
    """What is written is no position; the message says what to do."""


def _checked(latitude: float, longitude: float) -> Position:
    if abs(latitude) > 90:
        raise PositionError(f"A latitude lies between -90 and 90 degrees, not {latitude:g}. {_HELP}")
    if abs(longitude) > 180:
        raise PositionError(f"A longitude lies between -180 and 180 degrees, not {longitude:g}. {_HELP}")
    return Position(latitude, longitude)


def _degrees(part: str) -> float:
    """Degrees of one half of a position: up to degrees, minutes and seconds, without its letter."""
    numbers = [float(n) for n in _NUMBER.findall(part)]
    if not 1 <= len(numbers) <= 3:
        raise PositionError(f"'{part.strip()}' is no angle. {_HELP}")
    if any(n >= 60 for n in numbers[1:]):
        raise PositionError(f"Minutes and seconds stay below 60 in '{part.strip()}'. {_HELP}")
    if any(n % 1 for n in numbers[:-1]):
        raise PositionError(f"Only the last number of '{part.strip()}' may have decimals. {_HELP}")
    size = sum(n / 60.0**i for i, n in enumerate(numbers))
    return -size if part.strip().startswith("-") else size


def _by_letters(text: str) -> Position | None:
    """A position told by N or S and E or W, before or after their numbers, in either order."""
    letters = [(m.start(), m.group().upper()) for m in re.finditer(r"(?<![A-Za-z])[NSEWnsew](?![A-Za-z])", text)]
    if len(letters) != 2:
        return None
    (first_at, first), (second_at, second) = letters
    kinds = {first in "NS", second in "NS"}
    if kinds != {True, False}:
        raise PositionError(f"Give one latitude (N or S) and one longitude (E or W). {_HELP}")
    leading = not _NUMBER.search(text[:first_at])
    parts = (
        (text[first_at + 1 : second_at], text[second_at + 1 :])
        if leading
        else (text[:first_at], text[first_at + 1 : second_at])
    )
    found = {}
    for letter, part in zip((first, second), parts, strict=True):
        size = _degrees(part.strip(" ,;"))
        if size < 0:
            raise PositionError(f"Write either a minus sign or a letter, not both. {_HELP}")
        found["latitude" if letter in "NS" else "longitude"] = -size if letter in "SW" else size
    return _checked(found["latitude"], found["longitude"])


def read_position(text: str) -> Position:
    """The position in a text.

    Decimal degrees with latitude first; degrees, minutes and seconds with or without their signs;
    letters N, S, E, W before or after; decimal commas where a semicolon or space parts the halves;
    geo addresses [1]_ and ISO 6709 strings in degrees [2]_.

    Raises
    ------
    PositionError
        If it is none of these, or lies off the Earth.

    """
    tidy = " ".join(text.translate(_ODD_SIGNS).split())
    for pattern in (_GEO, _ISO_6709):
        match = pattern.match(tidy)
        if match:
            return _checked(float(match[1]), float(match[2]))
    # A comma between digits is a decimal one where another sign parts the halves, or where there are two such.
    if ";" in tidy or len(re.findall(r"\d,\d", tidy)) == 2:
        tidy = re.sub(r"(?<=\d),(?=\d)", ".", tidy)
    by_letters = _by_letters(tidy)
    if by_letters is not None:
        return by_letters
    if re.search(r"[A-Za-z]", tidy):
        raise PositionError(f"This is no position. {_HELP}")
    halves = [half for half in re.split(r"[,;]", tidy) if half.strip()]
    if len(halves) != 2:
        words = tidy.replace(",", " ").split()
        if len(words) in (2, 4, 6) and all(re.fullmatch(r"-?\d+(?:\.\d+)?[°'\"]*", w) for w in words):
            middle = len(words) // 2
            halves = [" ".join(words[:middle]), " ".join(words[middle:])]
        else:
            raise PositionError(f"A position has a latitude and a longitude. {_HELP}")
    return _checked(_degrees(halves[0]), _degrees(halves[1]))
