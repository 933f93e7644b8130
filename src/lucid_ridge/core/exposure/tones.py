"""How bright each thing is at the moment: as read, or as its own light and its reflectance let expect.

Reflectances are common practice; a mid-tone gives back 18 per cent. A reading is brought to the moment by the light on
the thing itself, so that what faces a low sun, what lies in shade and the sky each change at their own rate.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from lucid_ridge.core.daylight.lighting import Lighting
from lucid_ridge.core.exposure.closing import Metered
from lucid_ridge.core.light.illuminance import predicted_ev100
from lucid_ridge.core.model.scene import Element, Scene

MID_TONE = 0.18
REFLECTANCE: dict[str, float] = {
    "ridge": 0.15, "hill": 0.12, "boulder": 0.14, "boathouse": 0.12, "wall": 0.18, "water": 0.10, "beck": 0.16,
    "stones": 0.18, "meadow": 0.14, "reeds": 0.18, "heather": 0.08, "leaf": 0.16, "dew": 0.35, "post": 0.10,
    "cloud": 0.70, "flowers": 0.30, "trunk": 0.12, "bloom": 0.45, "animal": 0.15,
}  # fmt: skip
CLEAR_DOUBT, CLOUD_DOUBT, NIGHT_DOUBT = 1.0, 1.5, 1.5
"""How far a prediction may be off, stops: two clear-sky models differ by a third of a stop, what a thing gives back and
how its faces really stand by more."""


@dataclass(frozen=True)
class Tone:
    """EV at ISO 100 of an element at the moment; ``doubt_stops`` above nought where it is predicted.

    ``polarised_stops`` is what a polariser takes from it beyond what it takes from everything, below nought where it
    takes less.
    """

    ev100: float
    doubt_stops: float
    polarised_stops: float = 0.0

    @property
    def predicted(self) -> bool:
        """Whether nobody has read it."""
        return self.doubt_stops > 0


def doubt_stops(scene: Scene, sun_altitude_deg: float) -> float:
    """How far a prediction may be off here, stops."""
    if sun_altitude_deg < -12:
        return NIGHT_DOUBT
    return CLEAR_DOUBT if scene.composition.cloud_stops < 1 else CLOUD_DOUBT


def _read_at(scene: Scene, unix_s: float) -> float:
    """When spot readings were taken: with the meter reading, or at the moment."""
    reading = scene.composition.reading
    return unix_s if reading is None else reading.taken_at_utc.timestamp()


def reflectance_of(element: Element) -> float:
    """Share of light that an element gives back: as told, or what is usual."""
    return element.reflectance if element.reflectance is not None else REFLECTANCE.get(element.silhouette, MID_TONE)


def tone_of(scene: Scene, index: int, metered: Metered, lighting: Lighting, unix_s: float, doubt: float) -> Tone | None:
    """How bright an element is at the moment; None where neither a reading nor a prediction tells.

    A prediction needs the light itself: the sky's, or an incident reading; or a reflectance that was given.
    """
    element, reading = scene.composition.elements[index], scene.composition.reading
    if element.reading_ev100 is not None:
        return Tone(element.reading_ev100 + lighting.stops(index, _read_at(scene, unix_s), unix_s), 0.0)
    known_light = metered.predicted or (reading is not None and reading.incident)
    if not known_light and element.reflectance is None:
        return None
    # By how much the light that was read is more than the clear sky's own.
    more = metered.now_ev100 - float(predicted_ev100(lighting.lux(lighting.target, unix_s)))
    falls = float(predicted_ev100(lighting.lux(index, unix_s))) + more
    if element.role == "sky":
        # What the sky sends to level ground is what it shines with: a white card of it stands over a mid-tone.
        return Tone(falls - math.log2(MID_TONE), doubt)
    return Tone(falls + math.log2(reflectance_of(element) / MID_TONE), doubt)
