"""Changes of what is metered: the reading, and spot readings of elements, as a meter shows them.

A meter names the marks of its scales, so that 1/125 stands for 1/128; what lies between marks is taken as it is.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from lucid_ridge.core.model.kit import Aperture, Iso, ShutterSeconds
from lucid_ridge.core.model.scene import Composition, Reading
from lucid_ridge.core.records import Identifier, record
from lucid_ridge.core.stops.scales import as_read, exposure_value

_DARKEST_EV, _BRIGHTEST_EV = -20.0, 30.0


@record
class ReadMeter:
    """What the meter shows now, of aperture, shutter and ISO; what is None stays as it was read.

    Without a reading before, it is one through the lens at the composition's moment, on the whole.
    """

    kind: Literal["meter"] = "meter"
    aperture_n: Aperture | None = None
    shutter_s: ShutterSeconds | None = None
    iso: Iso | None = None


@record
class ReadSpot:
    """A spot reading of an element as the meter shows it: aperture, shutter time and ISO."""

    kind: Literal["spot"] = "spot"
    element_id: Identifier
    aperture_n: Aperture
    shutter_s: ShutterSeconds
    iso: Iso


def metered(composition: Composition, change: ReadMeter) -> Composition:
    """The composition with its reading as the meter shows it."""
    settings = composition.settings
    now = composition.reading or Reading(
        aperture_n=settings.aperture_n,
        shutter_s=settings.shutter_s,
        iso=settings.iso,
        taken_at_utc=composition.moment_utc,
    )
    reading = replace(
        now,
        aperture_n=now.aperture_n if change.aperture_n is None else as_read(change.aperture_n, "aperture"),
        shutter_s=now.shutter_s if change.shutter_s is None else as_read(change.shutter_s, "shutter"),
        iso=now.iso if change.iso is None else as_read(change.iso, "iso"),
    )
    return replace(composition, reading=reading)


def spot_read(composition: Composition, change: ReadSpot) -> Composition:
    """The composition with an element's brightness as the meter shows it."""
    n, t, iso = (
        as_read(change.aperture_n, "aperture"),
        as_read(change.shutter_s, "shutter"),
        as_read(change.iso, "iso"),
    )
    read = min(max(float(exposure_value(n, t, iso)), _DARKEST_EV), _BRIGHTEST_EV)
    elements = tuple(replace(e, reading_ev100=read) if e.id == change.element_id else e for e in composition.elements)
    return replace(composition, elements=elements)
