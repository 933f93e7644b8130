"""The frames of one aim merged: exposures first, then slices, as it is done at the desk afterwards.

Slices are merged by a pyramid of local contrast, which takes at each size of detail the frame that shows most of it
(Burt and Kolczynski, Enhanced image capture through fusion, 1993). It errs within a few pixels of edges in depth, as
such merging does. Exposures are fused by OpenCV's method of Mertens, Kautz and Van Reeth (2007).
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float32]
Picture = NDArray[np.uint8]

_LEVELS = 6
_SHARES = np.array([[0.2126, 0.7152, 0.0722]])
"""Of red, green and blue in luminance (ITU-R BT.709)."""


def fused(exposures: list[Picture]) -> Picture:
    """One picture of several exposures."""
    if len(exposures) == 1:
        return exposures[0]
    made = cv2.createMergeMertens(1.0, 0.6, 1.0).process(exposures)
    return np.asarray(np.clip(made * 255 + 0.5, 0, 255).astype(np.uint8))


def _energy(level: Array) -> Array:
    """How much detail there is around each pixel, (rows, columns)."""
    return np.asarray(cv2.GaussianBlur(np.abs(cv2.transform(level, _SHARES)), (0, 0), 1.2), dtype=np.float32)


def _pyramid(picture: Array) -> list[Array]:
    """Differences between sizes, finest first, and what is left at the end."""
    made, now = [], picture
    for _ in range(_LEVELS):
        if min(now.shape[:2]) < 8:
            break
        small = cv2.pyrDown(now)
        made.append(np.asarray(now - cv2.pyrUp(small, dstsize=now.shape[1::-1])))
        now = np.asarray(small)
    return [*made, now]


class Merging:
    """Slices merged one after the other, so that no more than one of them is held."""

    def __init__(self) -> None:
        self._best: list[Array] = []
        self._energy: list[Array] = []
        self._coarse: list[Array] = []

    def add(self, picture: Picture) -> None:
        """Put in a slice."""
        levels: list[Array] = _pyramid(picture.astype(np.float32))
        energies = [_energy(one) for one in levels[:-1]]
        if not self._best:
            self._best, self._energy = levels[:-1], energies
        else:
            for k, (level, energy) in enumerate(zip(levels[:-1], energies, strict=True)):
                cv2.copyTo(level, np.asarray(cv2.compare(energy, self._energy[k], cv2.CMP_GT)), self._best[k])
                cv2.max(energy, self._energy[k], self._energy[k])
        self._coarse.append(levels[-1])

    def picture(self) -> Picture:
        """What comes of it."""
        made = np.asarray(np.mean(self._coarse, axis=0, dtype=np.float32))
        for level in reversed(self._best):
            made = np.asarray(cv2.pyrUp(made, dstsize=level.shape[1::-1]) + level)
        return np.asarray(np.clip(made + 0.5, 0, 255).astype(np.uint8))
