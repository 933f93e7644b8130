"""Grain laid over things: anchored in metres, its coarse waves as large in the picture near and far.

Tiles are laid in sizes a factor of four apart, and fade into one another with distance, so that what is farther shows
smaller features, and neither a seam nor a repeat.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.rehearsal.textures import Grain, sampled, tile

Array = NDArray[np.float32]

_TILE_SHARE = 0.25
"""How much of the frame's width a tile spans at its distance."""
_FINER = 12.7
_FINE_SEEN = 1 / 36
_STEPS = 4.0
_WEIGHTY = 0.9999
_TURN = (math.cos(0.65), math.sin(0.65))
_LIFE_S = 1.6
"""How long a wave keeps its form (common practice: about the time in which it runs once its own length)."""


@dataclass(frozen=True)
class Surface:
    """Where the pixels of a layer lie on it, metres right and down; how far away, and how wide a pixel is there.

    Arrays (rows, columns); one number for the distance where all of it is equally far.
    """

    u: Array
    v: Array
    depth_m: float | Array
    frame_width: float
    """Width of the frame at a metre's distance."""
    pixel: float
    """Width of a pixel at a metre's distance."""


@dataclass(frozen=True)
class Drift:
    """How what is on a surface moves: metres a second right and down, while it is looked at, since its start."""

    right_m_s: float
    down_m_s: float
    during_s: float
    before_s: float

    @property
    def contrast(self) -> float:
        """What is left of it beside the box filter: waves do not keep their form."""
        return 1 / math.sqrt(1 + self.during_s / _LIFE_S) if self.right_m_s or self.down_m_s else 1.0


_AT_REST = Drift(0.0, 0.0, 0.0, 0.0)


def grain_over(grain: Grain, surface: Surface, drift: Drift = _AT_REST) -> Array:
    """The grain of a surface, mean nought and deviation about one before it is averaged; (rows, columns)."""
    if not isinstance(surface.depth_m, np.ndarray):
        size = _TILE_SHARE * surface.frame_width * surface.depth_m
        return _at_size(grain, surface, size, surface.pixel * surface.depth_m, drift)
    made = np.zeros(surface.u.shape, dtype=np.float32)
    steps = np.log(surface.depth_m) / np.float32(math.log(_STEPS))
    least, most = steps.min(axis=1), steps.max(axis=1)
    for step in range(math.floor(float(least.min())), math.ceil(float(most.max())) + 1):
        rows = np.flatnonzero((most > step - _WEIGHTY) & (least < step + _WEIGHTY))
        if not len(rows):
            continue
        some = slice(int(rows[0]), int(rows[-1]) + 1)
        # A square root keeps the deviation where two sizes meet.
        weight = np.sqrt(np.maximum(np.float32(0), 1 - np.abs(steps[some] - np.float32(step))))
        part = Surface(surface.u[some], surface.v[some], surface.depth_m[some], surface.frame_width, surface.pixel)
        depth = _STEPS**step
        size = _TILE_SHARE * surface.frame_width * depth
        made[some] += weight * _at_size(grain, part, size, surface.pixel * depth, drift)
    return made


def _at_size(grain: Grain, surface: Surface, size_m: float, pixel_m: float, drift: Drift) -> Array:
    made = np.float32(0.8) * _laid(grain, False, surface.u, surface.v, size_m, pixel_m, drift)
    fine_m = size_m / _FINER
    if pixel_m < fine_m * _FINE_SEEN:
        u = surface.u * np.float32(_TURN[0]) - surface.v * np.float32(_TURN[1])
        v = surface.u * np.float32(_TURN[1]) + surface.v * np.float32(_TURN[0])
        turned = Drift(
            drift.right_m_s * _TURN[0] - drift.down_m_s * _TURN[1],
            drift.right_m_s * _TURN[1] + drift.down_m_s * _TURN[0],
            drift.during_s,
            drift.before_s,
        )
        made = made + np.float32(0.6) * _laid(grain, True, u, v, fine_m, pixel_m, turned)
    return np.asarray(made * np.float32(drift.contrast), dtype=np.float32)


def _laid(grain: Grain, fine: bool, u: Array, v: Array, size_m: float, pixel_m: float, drift: Drift) -> Array:
    """One tile, moved on and averaged over its way. Lengths are rounded so that tiles are found again."""
    way, by = (
        (_rounded(drift.right_m_s * seconds / size_m), _rounded(drift.down_m_s * seconds / size_m))
        for seconds in (drift.during_s, drift.before_s)
    )
    # What has moved on is the same tile looked up elsewhere: the frames of a sequence share it.
    right, down = (one / np.float32(size_m) - np.float32(moved % 1.0) for one, moved in zip((u, v), by, strict=True))
    return sampled(tile(grain, fine, way), right, down, pixel_m / size_m)


def _rounded(tiles: float) -> float:
    return round(tiles, 3) if abs(tiles) < 8 else float(round(tiles))
