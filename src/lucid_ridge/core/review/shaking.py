"""Shake: fine detail that is lost along one direction and kept across it."""

from __future__ import annotations

import math
from dataclasses import dataclass

import cv2
import numpy as np

from lucid_ridge.core.review.tiles import Floats, Grey, corners_of, cut, usable

LEAST_TILES = 40
MOST_MOVING = 0.15
"""The share of a tile that may move by itself."""
_SHAKEN = 0.09
_FINE, _COARSE = 0.7, 3.0


@dataclass(frozen=True)
class Shake:
    """How much less fine detail there is along a direction than across it, 0 to 1; the direction in degrees from the frame's width, downwards."""

    amount: float
    direction_deg: float
    tiles: int

    @property
    def shaken(self) -> bool:
        """Whether that is more than scenes have of themselves."""
        return self.tiles >= LEAST_TILES and self.amount > _SHAKEN


def _uneven(grey: Grey, sigma: float) -> Floats:
    """How uneven the slopes of each place are, as a vector of twice the direction with its weight, (3, rows, columns)."""
    smooth = cv2.GaussianBlur(grey, (0, 0), sigma)
    gx, gy = cv2.Sobel(smooth, cv2.CV_32F, 1, 0), cv2.Sobel(smooth, cv2.CV_32F, 0, 1)
    return np.stack([gx * gx - gy * gy, 2 * gx * gy, gx * gx + gy * gy])


def shake_of(grey: Grey, moving: Grey | None = None) -> Shake:
    """What a frame (rows, columns) shows of shake, where *moving* (rows, columns) says that nothing moves by itself.

    Edges of the scene have directions of their own, in fine and coarse detail alike: what fine detail has beyond that is shake.
    """
    corners = corners_of(grey.shape)
    if moving is not None and len(corners):
        corners = corners[cut(moving, corners).mean(axis=(1, 2)) < MOST_MOVING]
    good = corners[usable(grey, corners)]
    if len(good) < LEAST_TILES:
        return Shake(0.0, 0.0, len(good))
    parts = []
    for sigma in (_FINE, _COARSE):
        x, y, weight = _uneven(grey, sigma)
        tiles = [cut(np.asarray(one, dtype=np.float32), good).sum(axis=(1, 2)) for one in (x, y, weight)]
        parts.append((tiles[0] / np.maximum(tiles[2], 1e-9), tiles[1] / np.maximum(tiles[2], 1e-9)))
    (fine_x, fine_y), (coarse_x, coarse_y) = parts
    x, y = float(np.median(fine_x - coarse_x)), float(np.median(fine_y - coarse_y))
    # Slopes are left across the shake: it runs at right angles to them.
    return Shake(math.hypot(x, y), (math.degrees(math.atan2(y, x)) / 2 + 90) % 180, len(good))
