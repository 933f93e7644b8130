"""Invented colours: a muted landscape. Each is so bright that it changes no element's luminance."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.model.scene import Element
from lucid_ridge.core.rehearsal.textures import Grain

Array = NDArray[np.float32]

LUMINANCE = np.array([0.2126, 0.7152, 0.0722], dtype=np.float32)
"""Shares of red, green and blue in luminance (ITU-R BT.709)."""


@dataclass(frozen=True)
class Tint:
    """Colour of a thing, its grain, and how much that stands out, 0..1. ``round`` by how much a solid's side is bent away."""

    rgb: tuple[float, float, float]
    grain: Grain
    contrast: float
    round: float = 0.0
    rough: float = 0.0


_TINTS: dict[str, Tint] = {
    "ridge": Tint((0.78, 0.98, 1.28), "stone", 0.15, 0.0, 0.004),
    "hill": Tint((0.96, 1.02, 0.88), "turf", 0.2, 0.15, 0.003),
    "boulder": Tint((1.04, 1.0, 0.95), "stone", 0.3, 0.85, 0.012),
    "boathouse": Tint((1.12, 0.98, 0.84), "smooth", 0.16),
    "wall": Tint((1.04, 1.0, 0.96), "stone", 0.3, 0.2, 0.006),
    "water": Tint((0.82, 1.0, 1.22), "water", 0.16),
    "beck": Tint((0.92, 1.0, 1.1), "water", 0.55, 0.0, 0.01),
    "stones": Tint((1.02, 1.0, 0.98), "stone", 0.3, 0.7, 0.02),
    "meadow": Tint((1.02, 1.03, 0.68), "turf", 0.3, 0.0, 0.006),
    "reeds": Tint((1.22, 1.0, 0.62), "grass", 0.25),
    "heather": Tint((1.3, 0.9, 1.15), "leaf", 0.25),
    "leaf": Tint((1.2, 0.98, 0.6), "leaf", 0.3, 0.6),
    "dew": Tint((0.98, 1.0, 1.05), "smooth", 0.2, 0.8),
    "post": Tint((1.08, 1.0, 0.86), "grass", 0.22, 0.3),
    "cloud": Tint((1.0, 1.0, 1.0), "cloud", 0.2, 0.1, 0.02),
    "flowers": Tint((1.1, 0.94, 1.3), "leaf", 0.25),
    "trunk": Tint((1.12, 0.98, 0.86), "grass", 0.4, 0.9, 0.004),
    "bloom": Tint((1.2, 0.96, 0.9), "leaf", 0.15, 0.4),
    "animal": Tint((1.16, 0.98, 0.78), "grass", 0.25, 0.6),
}
GROUND = Tint((1.04, 1.02, 0.74), "turf", 0.28)
SKY = Tint((0.8, 0.99, 1.45), "cloud", 0.05)
_WARM = (2.6, 0.62, 0.3)
_PAINTED: dict[str, tuple[float, float]] = {
    "body": (0.0, 1.0),
    "light": (0.7, 1.6),
    "opening": (0.2, 0.35),
}
"""For each paint how far its colour goes to white, and how bright it is against the body (invented)."""


def tint_of(element: Element) -> Tint:
    """Colour and grain of an element; a warm one is saturated, as its record says."""
    tint = _TINTS.get(element.silhouette, GROUND)
    if not element.warm:
        return tint
    return Tint(_WARM, tint.grain, tint.contrast, tint.round, tint.rough)


def balanced(rgb: tuple[float, float, float]) -> Array:
    """A colour (3,) with the luminance 1."""
    made = np.array(rgb, dtype=np.float32)
    return np.asarray(made / float(made @ LUMINANCE), dtype=np.float32)


def painted(tint: Tint, paint: str, warm: bool) -> Array:
    """Colour (3,) of one paint of an element; of a warm thing the bright parts are what is warm."""
    white, bright = _PAINTED.get(paint, (0.0, 1.0))
    own = balanced(tint.rgb)
    return np.asarray(bright * (own if warm else own + white * (1 - own)), dtype=np.float32)


def light_rgb(sun_altitude_deg: float) -> Array:
    """Colour (3,) of the light with the white balance left at daylight: warm with a low sun, blue after it (invented)."""
    stops = float(np.interp(sun_altitude_deg, [-12, -6, -2, 0, 4, 12, 30], [-0.45, -0.4, 0.0, 0.45, 0.4, 0.16, 0.0]))
    return balanced((2.0 ** (stops * 0.55), 1.0, 2.0 ** (-stops * 0.8)))
