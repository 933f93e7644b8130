"""The sensor: what light it holds, its noise, and the picture that is developed from it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.exposure.tones import MID_TONE
from lucid_ridge.core.model.kit import Body
from lucid_ridge.core.range.brackets import usable_range_stops
from lucid_ridge.core.rehearsal.tints import LUMINANCE

Array = NDArray[np.float32]
Picture = NDArray[np.uint8]

BINS = 64
_ELECTRONS_UM2 = 1500.0
"""Electrons that a square micrometre of sensor holds at its base ISO (common practice: 1,000 to 2,500)."""
_NOISE_TILE = 512
_CURVE = 4096


@dataclass(frozen=True)
class Sensor:
    """A body's sensor at an ISO. Light is linear with a mid-tone at 0.18; ``full`` is what it just holds.

    ``lowest`` is the darkest that still shows detail; ``electrons`` how many a sensor pixel holds when full; ``merged`` how many of
    them one rendered pixel is made of.
    """

    full: float
    lowest: float
    electrons: float
    merged: float

    def read_noise(self) -> float:
        """Electrons by which every pixel is off in the dark: as many as leave the darkest detail as bright as its noise."""
        dark = self.lowest / self.full * self.electrons
        return float(np.sqrt(max(dark * dark - dark, 1.0)))

    def noise(self, light: Array) -> Array:
        """Deviation of light (any shape) as it is read out."""
        # Of light L it is the root of (L full / electrons + (full / electrons)^2 read^2) over the pixels merged.
        step = self.full / self.electrons
        made = np.clip(light, 0, self.full)
        made *= np.float32(step / self.merged)
        made += np.float32(step**2 * self.read_noise() ** 2 / self.merged)
        return np.asarray(np.sqrt(made, out=made), dtype=np.float32)


def sensor_of(body: Body, iso: float, pixel_mm: float) -> Sensor:
    """A body's sensor at an ISO, rendered with pixels of this width."""
    own_mm = body.sensor_width_mm / body.pixels_across
    usable = usable_range_stops(body.usable_range_stops, iso, body.base_iso)
    headroom = min(body.headroom_stops, usable)
    full = MID_TONE * 2.0**headroom
    electrons = _ELECTRONS_UM2 * (own_mm * 1000) ** 2 * body.base_iso / max(iso, body.base_iso)
    return Sensor(full, full * 2.0**-usable, electrons, max(1.0, (pixel_mm / own_mm) ** 2))


@lru_cache(maxsize=2)
def _noise_tile() -> Array:
    return np.random.default_rng(20).standard_normal((_NOISE_TILE, _NOISE_TILE, 3), dtype=np.float32)


def read_out(light: Array, sensor: Sensor, seed: tuple[int, ...]) -> Array:
    """Light (rows, columns, 3) as the sensor gives it: with noise, and no brighter than full.

    Noise is laid from one tile, moved and mirrored by the seed.
    """
    rng = np.random.default_rng(seed)
    rows, columns = light.shape[:2]
    tile = np.roll(_noise_tile(), tuple(rng.integers(0, _NOISE_TILE, 2)), axis=(0, 1))
    tile = tile[:: rng.choice([-1, 1]), :: rng.choice([-1, 1]), rng.permutation(3)]
    noise = np.tile(tile, (-(-rows // _NOISE_TILE), -(-columns // _NOISE_TILE), 1))[:rows, :columns]
    made = sensor.noise(light)
    made *= noise
    made += light
    return np.asarray(np.minimum(made, np.float32(sensor.full), out=made))


def curve(full: float) -> Array:
    """Shares of white (0..1) for linear light from 0 to full, in even steps of its square root.

    Light is rolled off towards full (the extended operator of Reinhard et al., Photographic Tone Reproduction for Digital
    Images, 2002), then encoded as sRGB is (IEC 61966-2-1). A mid-tone comes out 0.44, hardly darker than without.
    """
    light = np.linspace(0, 1, _CURVE) ** 2 * full
    rolled = light * (1 + light / full**2) / (1 + light)
    return np.asarray(
        np.where(rolled <= 0.0031308, 12.92 * rolled, 1.055 * rolled ** (1 / 2.4) - 0.055), dtype=np.float32
    )


@lru_cache(maxsize=16)
def _bytes(full: float) -> Picture:
    made = curve(full)
    return np.asarray(np.round(made / made[-1] * 255), dtype=np.uint8)


def developed(light: Array, sensor: Sensor) -> Picture:
    """The picture (rows, columns, 3) of what was read out; full in a channel is 255 there."""
    at = np.clip(light, 0, np.float32(sensor.full))
    at *= np.float32(1 / sensor.full)
    np.sqrt(at, out=at)
    at *= np.float32(_CURVE - 1)
    return np.asarray(np.take(_bytes(sensor.full), at.astype(np.intp)))


def clipped(light: Array, sensor: Sensor) -> NDArray[np.bool_]:
    """Where at least one channel is full, (rows, columns)."""
    red, green, blue = (light[..., channel] >= np.float32(sensor.full * 0.999) for channel in range(3))
    return np.asarray(red | green | blue)


def blocked(light: Array, sensor: Sensor) -> NDArray[np.bool_]:
    """Where it is too dark for detail, (rows, columns)."""
    luminance = cv2.transform(np.ascontiguousarray(light, dtype=np.float32), LUMINANCE[None].astype(np.float64))
    return np.asarray(luminance < sensor.lowest)


def histogram(picture: Picture) -> NDArray[np.int64]:
    """How many pixels lie in each of 64 steps of brightness, (3, 64) for red, green and blue."""
    counted = [cv2.calcHist([picture], [channel], None, [BINS], [0, 256]).ravel() for channel in range(3)]
    return np.stack(counted).astype(np.int64)
