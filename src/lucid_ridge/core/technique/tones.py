"""How bright each thing is: as read, or as its place, light and reflectance let expect.

Reflectances and the sky's brightness are common practice; a mid-tone gives back 18 per cent.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from lucid_ridge.core.technique.exposure import Metered
from lucid_ridge.core.technique.scene import Element, Scene

MID_TONE = 0.18
REFLECTANCE: dict[str, float] = {
    "ridge": 0.15, "hill": 0.12, "boulder": 0.14, "boathouse": 0.12, "wall": 0.18, "water": 0.10, "beck": 0.16,
    "stones": 0.18, "meadow": 0.14, "reeds": 0.18, "heather": 0.08, "leaf": 0.16, "dew": 0.35, "post": 0.10,
    "cloud": 0.70, "flowers": 0.30,
}  # fmt: skip
SKY_STOPS = 1.7
"""A clear sky away from the sun above the mid-tone of what it lights."""
CLEAR_DOUBT, CLOUD_DOUBT = 1.0, 1.5
"""How far a prediction may be off, stops."""


@dataclass(frozen=True)
class Tone:
    """EV at ISO 100 of an element; ``doubt_stops`` above nought where it is predicted."""

    ev100: float
    doubt_stops: float

    @property
    def predicted(self) -> bool:
        """Whether nobody has read it."""
        return self.doubt_stops > 0


def doubt_stops(scene: Scene) -> float:
    """How far a prediction may be off here, stops."""
    return CLEAR_DOUBT if scene.composition.cloud_stops < 1 else CLOUD_DOUBT


def tone_of(scene: Scene, element: Element, metered: Metered) -> Tone | None:
    """How bright an element is; None where neither a reading nor a prediction tells.

    A prediction needs the light itself: the sun's height, or an incident reading; or a reflectance that was given.
    """
    if element.reading_ev100 is not None:
        return Tone(element.reading_ev100, 0.0)
    reading = scene.composition.reading
    known_light = metered.predicted or (reading is not None and reading.incident)
    if not known_light and element.reflectance is None:
        return None
    if element.role == "sky":
        return Tone(metered.scene_ev100 + SKY_STOPS, doubt_stops(scene))
    share = element.reflectance if element.reflectance is not None else REFLECTANCE.get(element.silhouette, MID_TONE)
    return Tone(metered.scene_ev100 + math.log2(share / MID_TONE), doubt_stops(scene))
