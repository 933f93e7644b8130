"""Invented texture: tiles of noise that repeat without a seam, anchored in metres, averaged over time where they move.

A tile's mean is nought and its deviation one, so that it changes no element's brightness. Its mean over the time of an
exposure, while it moves along, is the tile box-filtered by the way it moves: done in the tile's spectrum, where it is
exact for any length (a rectangle's transform is a sinc).
"""

from __future__ import annotations

from functools import lru_cache
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float32]
Grain = Literal["stone", "grass", "water", "cloud", "leaf", "smooth", "turf"]

TEXELS = 512
_LEVELS = 8
# Steepness of the spectrum, and how much longer features are across than upright.
_GRAINS: dict[Grain, tuple[float, float]] = {
    "stone": (0.95, 1.2),
    "grass": (1.05, 0.45),
    "water": (1.35, 3.2),
    "cloud": (1.9, 1.8),
    "leaf": (1.5, 0.8),
    "smooth": (1.7, 1.0),
    "turf": (1.0, 2.6),
}
_FINE_FROM = 10.0
"""Waves a tile from which the fine tile begins: what is coarser is the other's."""


def _spectrum(grain: Grain, fine: bool) -> NDArray[np.complex128]:
    steep, across = _GRAINS[grain]
    rng = np.random.default_rng([list(_GRAINS).index(grain), int(fine)])
    fy = np.fft.fftfreq(TEXELS, 1 / TEXELS)[:, None]
    fx = np.fft.rfftfreq(TEXELS, 1 / TEXELS)[None, :]
    radius = np.hypot(fx * np.sqrt(across), fy / np.sqrt(across))
    radius[0, 0] = np.inf
    amplitude = np.maximum(radius, 1.0) ** -steep
    # The last waves before the tile's own pixels are left out: they would alias.
    amplitude *= np.exp(-((np.hypot(fx, fy) / (0.42 * TEXELS)) ** 4))
    amplitude = np.where(radius < (_FINE_FROM if fine else 2.0), 0.0, amplitude)
    return np.asarray(amplitude * np.exp(2j * np.pi * rng.random(amplitude.shape)))


@lru_cache(maxsize=16)
def _waves(grain: Grain, fine: bool) -> tuple[NDArray[np.complex128], float]:
    """A tile's spectrum and the deviation of the tile that it makes."""
    made = _spectrum(grain, fine)
    return made, float(np.fft.irfft2(made, s=(TEXELS, TEXELS)).std())


@lru_cache(maxsize=96)
def tile(grain: Grain, fine: bool = False, way: tuple[float, float] = (0.0, 0.0)) -> tuple[Array, ...]:
    """A tile averaged over a way, and its halved sizes down to a few pixels.

    Parameters
    ----------
    grain, fine
        Which tile.
    way
        How far it moves while it is looked at, in tiles, right and down.

    """
    waves, deviation = _waves(grain, fine)
    fy = np.fft.fftfreq(TEXELS, 1 / TEXELS)[:, None]
    fx = np.fft.rfftfreq(TEXELS, 1 / TEXELS)[None, :]
    if way != (0.0, 0.0):
        along = fx * way[0] + fy * way[1]
        waves = waves * np.sinc(along) * np.exp(-1j * np.pi * along)
    levels = [(np.fft.irfft2(waves, s=(TEXELS, TEXELS)) / deviation).astype(np.float32)]
    while len(levels) < _LEVELS:
        side = levels[-1].shape[0] // 2
        levels.append(levels[-1].reshape(side, 2, side, 2).mean(axis=(1, 3), dtype=np.float32))
    return tuple(levels)


def sampled(levels: tuple[Array, ...], u: Array, v: Array, footprint: float) -> Array:
    """A tile looked up at places in tiles, (rows, columns); *footprint* is how much of a tile a pixel takes in."""
    level = int(np.clip(round(np.log2(max(footprint * TEXELS, 1.0))), 0, _LEVELS - 1))
    pixels = levels[level]
    side = pixels.shape[0]
    # Wrapped by hand: the look-up holds no more than 32,767 of a side. A texel's middle lies half a texel in, behind a rim of one.
    x, y = (_wrapped(one, side) for one in (u, v))
    rimmed = cv2.copyMakeBorder(pixels, 1, 2, 1, 2, cv2.BORDER_WRAP)
    return np.asarray(cv2.remap(rimmed, x, y, cv2.INTER_LINEAR), dtype=np.float32)


def _wrapped(tiles: Array, side: int) -> Array:
    made = tiles - np.floor(tiles)
    made *= np.float32(side)
    made += np.float32(0.5)
    return made
