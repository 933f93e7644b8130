"""Numbers as a person reads them: value, text with unit, and the key that explains it."""

from __future__ import annotations

import math
from datetime import datetime, tzinfo

from lucid_ridge.core.model.scene import Units
from lucid_ridge.core.records import record
from lucid_ridge.core.stops.scales import nominal

FEET_PER_METRE = 1 / 0.3048
_SIXTHS = {0: "", 1: "⅙", 2: "⅓", 3: "½", 4: "⅔", 5: "⅚"}


@record
class Readout:
    """A shown number.

    ``value`` is None where the quantity is infinite or does not exist; ``text`` always says
    something; ``explain`` is the key to ask for formula, inputs and source ("" when the
    number is an input and explains itself).
    """

    value: float | None
    text: str
    explain: str = ""


def significant(value: float, digits: int = 2) -> str:
    """*value* with so many significant digits and no exponent."""
    if value == 0 or not math.isfinite(value):
        return "0" if value == 0 else "∞"
    places = digits - 1 - math.floor(math.log10(abs(value)))
    rounded = round(value, places)
    return f"{rounded:.{max(places, 0)}f}"


def distance_text(distance_m: float, units: Units = "metric") -> str:
    """A distance as a photographer says it: 12 mm, 0.62 m, 148 m, 3.9 km; or ft and in."""
    if not math.isfinite(distance_m):
        return "∞"
    size = abs(distance_m)
    if units == "feet":
        feet = distance_m * FEET_PER_METRE
        if abs(feet) < 1:
            return f"{significant(feet * 12, 3)} in"
        if abs(feet) < 20:
            whole, inches = divmod(round(feet * 12), 12)
            return f"{whole} ft {inches} in" if inches else f"{whole} ft"
        return f"{significant(feet, 3)} ft" if abs(feet) < 5280 else f"{significant(feet / 5280, 2)} mi"
    if size < 0.5:
        return f"{significant(distance_m * 1000, 3)} mm"
    if size < 10:
        return f"{distance_m:.2f} m"
    if size < 1000:
        return f"{distance_m:.0f} m" if size >= 100 else f"{distance_m:.1f} m"
    return f"{significant(distance_m / 1000, 2 if size < 10000 else 3)} km"


def micrometres_text(size_mm: float) -> str:
    """A size on the sensor in micrometres."""
    size_um = size_mm * 1000
    if size_um >= 9950:
        return f"{significant(size_mm, 2)} mm"
    return f"{size_um:.0f} µm" if size_um >= 9.95 else f"{size_um:.1f} µm"


def stops_text(stops: float, signed: bool = True) -> str:
    """Stops with the fractions the trade uses (sixths), else two decimals. True minus sign."""
    if not math.isfinite(stops):
        return "∞"
    sixths = round(stops * 6)
    if abs(stops * 6 - sixths) < 0.03:
        whole, part = divmod(abs(sixths), 6)
        body = f"{whole if whole or not part else ''}{_SIXTHS[part]}"
        negative = sixths < 0
    else:
        body = f"{abs(stops):.2f}"
        negative = stops < 0
    if body == "0":
        return "0"
    if negative:
        return f"−{body}"
    return f"+{body}" if signed else body


def stops_words(stops: float) -> str:
    """An amount of stops with its word: ⅔ stop, 1 stop, 1⅓ stops."""
    return f"{stops_text(abs(stops), signed=False)} {'stop' if abs(stops) <= 1.01 else 'stops'}"


def degrees_text(angle_deg: float, digits: int = 0) -> str:
    """An angle with its sign where negative."""
    text = f"{abs(angle_deg):.{digits}f}°"
    return f"−{text}" if angle_deg < 0 and float(f"{angle_deg:.{digits}f}") != 0 else text


def stops_change_text(stops: float) -> str:
    """A change of light to the tenth of a stop, with its sign: +0.3, −1.2, 0."""
    return "0" if abs(stops) < 0.05 else f"{'+' if stops > 0 else '−'}{abs(stops):.1f}"


def clock_text(unix_s: float, zone: tzinfo) -> str:
    """Hours and minutes at an instant, by a zone's clock."""
    return datetime.fromtimestamp(round(unix_s / 60) * 60, zone).strftime("%H:%M")


def minutes_text(seconds: float) -> str:
    """A stretch of time to the minute: 13 min, 1 h 05 min; below a minute as `duration_text`."""
    return f"{seconds / 60:.0f} min" if 60 <= seconds < 3570 else duration_text(seconds)


def duration_text(seconds: float) -> str:
    """A stretch of time: 40 s, 2 min 08 s, 1 h 05 min."""
    if not math.isfinite(seconds):
        return "∞"
    if seconds < 10:
        return f"{significant(seconds, 2)} s"
    whole = round(seconds)
    if whole < 60:
        return f"{whole} s"
    if whole < 3600:
        return f"{whole // 60} min {whole % 60:02d} s"
    return f"{whole // 3600} h {whole % 3600 // 60:02d} min"


def aperture_text(aperture_n: float) -> str:
    """f/11 for the exact 11.31; a decimal for an aperture between the marks."""
    return f"f/{nominal(aperture_n, 'aperture') or f'{aperture_n:.3g}'}"


def iso_text(iso: float) -> str:
    """The nominal ISO, without the word."""
    return nominal(iso, "iso") or f"{iso:.0f}"


def shutter_text(shutter_s: float) -> str:
    """1/125 s, 0.4 s, 30 s by their nominal names; beyond 30 s minutes and seconds."""
    name = nominal(shutter_s, "shutter")
    if name is not None:
        return f"{name} s"
    return f"1/{1 / shutter_s:.0f} s" if shutter_s < 0.35 else duration_text(shutter_s)
