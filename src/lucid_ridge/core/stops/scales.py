"""Aperture, shutter and ISO scales: exact values in thirds of a stop, and their nominal names.

Everything is computed with exact values (f-number 2^(k/6), time 2^(k/3) s, ISO 100 * 2^(k/3))
and shown with the nominal ones engraved on cameras (f/11, 1/125 s, ISO 100). Counting ten stops
from "1/8" therefore ends at exactly 128 s, not at 125 s.

References
----------
.. [1] CIPA DC-008 (Exif), Annex on APEX: Av = 2 log2 N, Tv = -log2 t, Sv, Bv, Ev.
.. [2] ISO 2720 and ISO 2721: preferred aperture and time markings.

"""

from __future__ import annotations

import math
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray

Scale = Literal["aperture", "shutter", "iso"]

_APERTURES = [
    "0.8",
    "0.9",
    "1",
    "1.1",
    "1.2",
    "1.4",
    "1.6",
    "1.8",
    "2",
    "2.2",
    "2.5",
    "2.8",
    "3.2",
    "3.5",
    "4",
    "4.5",
    "5",
    "5.6",
    "6.3",
    "7.1",
    "8",
    "9",
    "10",
    "11",
    "13",
    "14",
    "16",
    "18",
    "20",
    "22",
    "25",
    "29",
    "32",
    "36",
    "40",
    "45",
    "51",
    "57",
    "64",
    "72",
    "81",
    "90",
    "102",
    "114",
    "128",
]
_FIRST_APERTURE = -2

_SPEEDS = [
    "8000",
    "6400",
    "5000",
    "4000",
    "3200",
    "2500",
    "2000",
    "1600",
    "1250",
    "1000",
    "800",
    "640",
    "500",
    "400",
    "320",
    "250",
    "200",
    "160",
    "125",
    "100",
    "80",
    "60",
    "50",
    "40",
    "30",
    "25",
    "20",
    "15",
    "13",
    "10",
    "8",
    "6",
    "5",
    "4",
    "3",
]
_FIRST_SPEED = -39
_SECONDS = [
    "0.4",
    "0.5",
    "0.6",
    "0.8",
    "1",
    "1.3",
    "1.6",
    "2",
    "2.5",
    "3.2",
    "4",
    "5",
    "6",
    "8",
    "10",
    "13",
    "15",
    "20",
    "25",
    "30",
]
_FIRST_SECONDS = -4

_ISOS = [
    "25",
    "32",
    "40",
    "50",
    "64",
    "80",
    "100",
    "125",
    "160",
    "200",
    "250",
    "320",
    "400",
    "500",
    "640",
    "800",
    "1000",
    "1250",
    "1600",
    "2000",
    "2500",
    "3200",
    "4000",
    "5000",
    "6400",
    "8000",
    "10000",
    "12800",
    "16000",
    "20000",
    "25600",
    "32000",
    "40000",
    "51200",
    "64000",
    "80000",
    "102400",
]
_FIRST_ISO = -6

LONGEST_NAMED_SHUTTER_S = 32.0
"""The exact time behind the nominal 30 s; anything longer is a bulb time."""


def third_index(value: float, scale: Scale) -> float:
    """Position of *value* on the third-stop scale (a whole number on a mark).

    Raises
    ------
    ValueError
        If *value* is not a finite number above zero.

    """
    if not (math.isfinite(value) and value > 0):
        raise ValueError(f"{scale} must be a finite number above zero, not {value}")
    if scale == "aperture":
        return 6 * math.log2(value)
    return 3 * math.log2(value / 100 if scale == "iso" else value)


def on_third(index: float, scale: Scale) -> float:
    """The exact aperture, shutter time in seconds, or ISO at *index* thirds."""
    if scale == "aperture":
        return float(2 ** (index / 6))
    return float((100 if scale == "iso" else 1) * 2 ** (index / 3))


def nearest_third(value: float, scale: Scale) -> float:
    """The exact value of the third-stop mark nearest to *value*, which may be a nominal one."""
    return on_third(round(third_index(value, scale)), scale)


_NEAR_MARK = 0.35
"""Thirds of a stop by which a nominal value may be off its mark; half-stop marks lie half a third away."""


def as_read(value: float, scale: Scale) -> float:
    """What a scale's name stands for: the exact mark behind a nominal value, and between marks the value itself."""
    index = third_index(value, scale)
    return on_third(round(index), scale) if abs(index - round(index)) <= _NEAR_MARK else value


def nudge(value: float, thirds: int, scale: Scale) -> float:
    """The mark so many thirds of a stop further on the scale (larger value for positive)."""
    return on_third(round(third_index(value, scale)) + thirds, scale)


def exposure_value(aperture_n: ArrayLike, shutter_s: ArrayLike, iso: ArrayLike = 100.0) -> NDArray[np.float64]:
    """Scene exposure value at ISO 100, ``log2(N^2/t) - log2(ISO/100)`` [1]_.

    Parameters are the f-number, time in seconds and ISO, scalars or arrays that broadcast.
    """
    n, t, s = (np.asarray(x, dtype=float) for x in (aperture_n, shutter_s, iso))
    return np.asarray(np.log2(n**2 / t) - np.log2(s / 100))


def nominal(value: float, scale: Scale) -> str | None:
    """The name of a mark without its unit: "11" for 11.31, "1/125", "400"; None between the marks."""
    index = third_index(value, scale)
    mark = round(index)
    if abs(index - mark) >= 0.1:
        return None
    if scale == "shutter" and 0 <= mark - _FIRST_SPEED < len(_SPEEDS):
        return f"1/{_SPEEDS[mark - _FIRST_SPEED]}"
    names, first = {
        "aperture": (_APERTURES, _FIRST_APERTURE),
        "shutter": (_SECONDS, _FIRST_SECONDS),
        "iso": (_ISOS, _FIRST_ISO),
    }[scale]
    return names[mark - first] if 0 <= mark - first < len(names) else None
