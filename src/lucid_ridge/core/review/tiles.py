"""Pictures cut into tiles, and how far a tile lies off in another picture."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy import fft

Picture = NDArray[np.uint8]
Grey = NDArray[np.float32]
Floats = NDArray[np.float64]

LONGEST_PX = 1500
"""The longer side at which pictures are looked at."""
TILE_PX, STEP_PX = 128, 64
_LOWEST, _HIGHEST = 0.015, 0.2
"""Cycles a pixel between which detail is trusted: below is shading, above is noise and sharpening."""
_FULL, _DARK = 250.0, 6.0
_MOST_OUT = 0.25
_LEAST_DETAIL = 1.2
_SHADING_PX = 8
_CLEAR = 1.35
_BESIDE_PX = 6


def fitted(picture: Picture) -> Picture:
    """A picture (rows, columns, 3) no longer than `LONGEST_PX`."""
    longest = max(picture.shape[:2])
    if longest <= LONGEST_PX:
        return picture
    share = LONGEST_PX / longest
    size = (round(picture.shape[1] * share), round(picture.shape[0] * share))
    return np.asarray(cv2.resize(picture, size, interpolation=cv2.INTER_AREA), dtype=np.uint8)


def grey_of(picture: Picture) -> Grey:
    """How light it is, (rows, columns), 0 to 255, as it is encoded: noise is about even over it."""
    return np.asarray(cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY), dtype=np.float32)


@dataclass(frozen=True)
class Offsets:
    """How far tiles lie off: middles (n, 2) and offsets (n, 2) in pixels, right and down; only tiles with a clear answer."""

    middles: Floats
    offsets: Floats

    def only(self, these: NDArray[np.bool_]) -> Offsets:
        """Some of the tiles."""
        return Offsets(self.middles[these], self.offsets[these])


_NONE = Offsets(np.zeros((0, 2)), np.zeros((0, 2)))


def corners_of(shape: tuple[int, ...], margin: int = 0) -> NDArray[np.int64]:
    """Upper left corners (n, 2) of tiles, row and column."""
    rows = np.arange(margin, shape[0] - TILE_PX - margin + 1, STEP_PX)
    columns = np.arange(margin, shape[1] - TILE_PX - margin + 1, STEP_PX)
    return np.array([(r, c) for r in rows for c in columns], dtype=np.int64).reshape(-1, 2)


def cut(grey: Grey, corners: NDArray[np.int64]) -> Grey:
    """Tiles (n, TILE_PX, TILE_PX) at corners."""
    return np.asarray([grey[r : r + TILE_PX, c : c + TILE_PX] for r, c in corners], dtype=np.float32)


def usable(grey: Grey, corners: NDArray[np.int64]) -> NDArray[np.bool_]:
    """Which tiles hold detail and are not mostly full or black."""
    if not len(corners):
        return np.zeros(0, dtype=bool)
    out = ((grey > _FULL) | (grey < _DARK)).astype(np.float32)
    fine = grey - cv2.GaussianBlur(grey, (0, 0), _SHADING_PX)
    row, column = (corners + TILE_PX // 2).T
    size = (TILE_PX, TILE_PX)
    spread = np.sqrt(np.maximum(cv2.blur(fine * fine, size) - cv2.blur(fine, size) ** 2, 0))
    return np.asarray((cv2.blur(out, size)[row, column] < _MOST_OUT) & (spread[row, column] > _LEAST_DETAIL))


def _window() -> Grey:
    hann = np.hanning(TILE_PX).astype(np.float32)
    return np.outer(hann, hann)


def _band() -> Grey:
    fy, fx = np.fft.fftfreq(TILE_PX)[:, None], np.fft.rfftfreq(TILE_PX)[None, :]
    size = np.hypot(fy, fx)
    band = np.clip((size - _LOWEST) / 0.01, 0, 1) * np.exp(-((size / _HIGHEST) ** 2))
    return np.asarray(band, dtype=np.float32)


def _spectra(tiles: Grey) -> NDArray[np.complex64]:
    flat = tiles - tiles.mean(axis=(1, 2), keepdims=True)
    return np.asarray(fft.rfft2(flat * _window(), workers=1))


def whole_shift(one: Grey, other: Grey) -> tuple[int, int]:
    """About how far the other picture lies off as a whole, pixels right and down."""
    small = [cv2.resize(g, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA) for g in (one, other)]
    sharp = [g - cv2.GaussianBlur(g, (0, 0), 6) for g in small]
    sharp = [np.clip(g / max(float(g.std()), 1e-6), -3, 3).astype(np.float32) for g in sharp]
    window = cv2.createHanningWindow(sharp[0].shape[::-1], cv2.CV_32F)
    (x, y), _ = cv2.phaseCorrelate(sharp[0], sharp[1], window)
    reach = min(one.shape) // 4
    if max(abs(x), abs(y)) * 4 > reach:
        return 0, 0
    return round(x * 4), round(y * 4)


def offsets_between(one: Grey, other: Grey) -> Offsets:
    """How far tiles of a picture lie off in another one of the same size.

    Each pair is correlated by phase alone within a band, so that a difference of exposure or of blur moves nothing.

    References
    ----------
    .. [1] Kuglin and Hines, The phase correlation image alignment method, 1975.

    """
    right, down = whole_shift(one, other)
    corners = corners_of(one.shape, max(abs(right), abs(down)))
    if not len(corners):
        return _NONE
    there = np.array([down, right])
    corners = corners[usable(one, corners) & usable(other, corners + there)]
    if not len(corners):
        return _NONE
    first, second = cut(one, corners), cut(other, corners + there)
    cross = np.conj(_spectra(first)) * _spectra(second)
    # Half whitened: what is blurred in one of them is noise there, and weighs less than what both show.
    surface = fft.irfft2(
        cross / np.maximum(np.abs(cross), np.float32(1e-9)) ** np.float32(0.8) * _band(),
        s=(TILE_PX, TILE_PX),
        workers=1,
    )
    found, clear = _peaks(surface)
    middles = corners[:, ::-1] + (TILE_PX - 1) / 2
    return Offsets(middles[clear].astype(float), found[clear] + there[::-1])


def _peaks(surface: Grey) -> tuple[Floats, NDArray[np.bool_]]:
    """Where each surface (n, TILE_PX, TILE_PX) is highest, right and down to a part of a pixel, and whether that is clear."""
    count, size = surface.shape[0], surface.shape[1]
    flat = surface.reshape(count, -1)
    at = flat.argmax(axis=1)
    row, column = np.divmod(at, size)
    each = np.arange(count)
    height = flat[each, at]

    def part(before: Grey, after: Grey) -> Floats:
        bend = before - 2 * height + after
        return np.where(np.abs(bend) > 1e-12, 0.5 * (before - after) / np.where(bend == 0, 1, bend), 0.0)

    right = part(surface[each, row, (column - 1) % size], surface[each, row, (column + 1) % size])
    down = part(surface[each, (row - 1) % size, column], surface[each, (row + 1) % size, column])
    apart_r = np.abs((np.arange(size)[None, :] - row[:, None] + size // 2) % size - size // 2)
    apart_c = np.abs((np.arange(size)[None, :] - column[:, None] + size // 2) % size - size // 2)
    away = (apart_r[:, :, None] > _BESIDE_PX) | (apart_c[:, None, :] > _BESIDE_PX)
    other = np.where(away, surface, -np.inf).max(axis=(1, 2))
    half = size // 2
    found = np.stack([(column + half) % size - half + right, (row + half) % size - half + down], axis=1)
    return found, (height > _CLEAR * np.maximum(other, 1e-12)) & (np.abs(found).max(axis=1) < size / 3)
