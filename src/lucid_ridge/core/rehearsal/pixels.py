"""Blurring and filling pictures: the few operations that rendering is made of."""

from __future__ import annotations

import math
from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float32]

# One process renders beside others that answer people.
cv2.setNumThreads(1)

FINER = 4
_SUB = 16
_HALF_FROM, _QUARTER_FROM, _EIGHTH_FROM = 14.0, 36.0, 88.0
_LEAST_BLUR = 0.12
_SMALLEST_DISK, _COARSE_UNTIL = 1.9, 9.0


def filled(polygons: list[NDArray[np.float64]], rows: int, columns: int) -> Array:
    """How much of each pixel polygons (K, 2) cover, 0..1, (rows, columns): filled four times as fine and averaged."""
    canvas = np.zeros((rows * FINER, columns * FINER), dtype=np.uint8)
    for one in polygons:
        # A pixel's middle is at a half here, and at nought there.
        fine = np.round((one * FINER - 0.5) * _SUB).clip(-(2**30), 2**30).astype(np.int32)
        cv2.fillPoly(canvas, [fine], 255, lineType=cv2.LINE_8, shift=4)
    small = cv2.resize(canvas, (columns, rows), interpolation=cv2.INTER_AREA)
    return np.asarray(small.astype(np.float32) / np.float32(255))


def _disk(diameter: float) -> NDArray[np.float64]:
    """A disk of this diameter on pixels, each as much as it covers, sum 1."""
    half = max(1, math.ceil(diameter / 2 + 0.5))
    axis = (np.arange((2 * half + 1) * _SUB) + 0.5) / _SUB - half - 0.5
    inside = axis[:, None] ** 2 + axis[None, :] ** 2 <= (diameter / 2) ** 2
    made = inside.reshape(2 * half + 1, _SUB, 2 * half + 1, _SUB).mean(axis=(1, 3))
    return np.asarray(made / made.sum())


def _as_wide_as(diameter: float) -> NDArray[np.float64]:
    """A disk on pixels with the variance of one of this diameter."""
    own = math.sqrt(diameter**2 - 16 / 12)
    made = _disk(own)
    for _ in range(4 if diameter < _COARSE_UNTIL else 0):
        axis = np.arange(made.shape[0]) - made.shape[0] // 2
        own *= math.sqrt(diameter**2 / 16 / float((made.sum(axis=0) * axis**2).sum()))
        made = _disk(own)
    return made


def _three_taps(variance: float) -> NDArray[np.float64]:
    taps = np.array([variance / 2, 1 - variance, variance / 2])
    return np.outer(taps, taps)


def _gaussian(sigma: float) -> NDArray[np.float64]:
    if sigma**2 < 0.25:
        return _three_taps(sigma**2)
    half = math.ceil(3.5 * sigma)
    taps = np.exp(-0.5 * (np.arange(-half, half + 1) / sigma) ** 2)
    return np.asarray(np.outer(taps, taps) / taps.sum() ** 2)


@lru_cache(maxsize=256)
def kernel(diameter_px: float, sigma_px: float) -> Array:
    """What a point becomes: a blur disk spread by diffraction's Gaussian, on pixels, sum 1.

    A disk on pixels is wider than itself by about what a pixel is wide; that is taken off, so that its variance on each axis
    is a disk's, a sixteenth of its diameter squared.
    """
    made = _as_wide_as(diameter_px) if diameter_px > _SMALLEST_DISK else _three_taps(diameter_px**2 / 16)
    if sigma_px > _LEAST_BLUR:
        spread = _gaussian(sigma_px)
        half = spread.shape[0] // 2
        made = np.asarray(
            cv2.filter2D(np.pad(made, half), cv2.CV_64F, spread, borderType=cv2.BORDER_CONSTANT), dtype=float
        )
    return np.asarray(made / made.sum(), dtype=np.float32)


def blurred(picture: Array, diameter_px: float, sigma_px: float) -> Array:
    """A picture (rows, columns[, channels]) blurred by a disk and diffraction; large disks at a half, a quarter or an eighth."""
    if diameter_px < 2 * _LEAST_BLUR and sigma_px < _LEAST_BLUR:
        return picture
    smaller = (
        8 if diameter_px > _EIGHTH_FROM else 4 if diameter_px > _QUARTER_FROM else 2 if diameter_px > _HALF_FROM else 1
    )
    if smaller == 1:
        return _convolved(picture, kernel(_marked(diameter_px), _marked(sigma_px)))
    rows, columns = picture.shape[:2]
    size = (max(1, math.ceil(columns / smaller)), max(1, math.ceil(rows / smaller)))
    # A whole number of small pixels, so that nothing is shifted.
    whole = cv2.copyMakeBorder(
        picture, 0, size[1] * smaller - rows, 0, size[0] * smaller - columns, cv2.BORDER_REPLICATE
    )
    small = cv2.resize(whole, size, interpolation=cv2.INTER_AREA)
    own = math.sqrt(diameter_px**2 - 16 * ((smaller**2 - 1) / 12 + smaller**2 / 6)) / smaller
    small = _convolved(np.asarray(small), kernel(_marked(own), _marked(sigma_px / smaller)))
    large = cv2.resize(small, (size[0] * smaller, size[1] * smaller), interpolation=cv2.INTER_LINEAR)
    return np.asarray(large[:rows, :columns], dtype=np.float32)


def _marked(value: float) -> float:
    """Rounded to a hundredth or 1 %, so that kernels are found again."""
    return 0.0 if value < 0.01 else round(value, max(2, 2 - math.floor(math.log10(value))))


def _convolved(picture: Array, with_kernel: Array) -> Array:
    return np.asarray(cv2.filter2D(picture, -1, with_kernel, borderType=cv2.BORDER_REPLICATE), dtype=np.float32)


def line_kernel(dx: float, dy: float) -> Array | None:
    """What a point becomes that moves evenly by so many pixels; None where it hardly moves."""
    length = math.hypot(dx, dy)
    if length < 0.3:
        return None
    count = max(2, math.ceil(length * 4))
    return points_kernel(np.linspace(-0.5, 0.5, count) * dx, np.linspace(-0.5, 0.5, count) * dy)


def points_kernel(dx: NDArray[np.float64], dy: NDArray[np.float64]) -> Array:
    """What a point becomes that is at each of these places equally long, pixels; shared out between four pixels each."""
    half_x, half_y = (math.ceil(float(np.abs(one).max())) + 1 for one in (dx, dy))
    made = np.zeros((2 * half_y + 1, 2 * half_x + 1))
    x, y = dx + half_x, dy + half_y
    x0, y0 = np.floor(x).astype(int), np.floor(y).astype(int)
    fx, fy = x - x0, y - y0
    for ox, oy, share in ((0, 0, (1 - fx) * (1 - fy)), (1, 0, fx * (1 - fy)), (0, 1, (1 - fx) * fy), (1, 1, fx * fy)):
        np.add.at(made, (y0 + oy, x0 + ox), share)
    return np.asarray(made / made.sum(), dtype=np.float32)


def convolved(picture: Array, with_kernel: Array | None) -> Array:
    """A picture spread by a kernel; as it is where there is none."""
    # The filter correlates: turned round it convolves.
    return picture if with_kernel is None else _convolved(picture, np.ascontiguousarray(with_kernel[::-1, ::-1]))
