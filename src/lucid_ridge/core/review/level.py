"""Whether the horizon lies in the picture as it was planned: the longest edge about where it was to be."""

from __future__ import annotations

import math

import cv2
import numpy as np

from lucid_ridge.core.review.tiles import Floats, Grey

_AROUND = 0.12
"""How far from its place the horizon is looked for, of the picture's height."""
_STEP_PX, _SMOOTH_PX = 4, 1.6
_CLEAR = 4.0
"""An edge is so many times as steep as what is usual in its column."""
_WITHIN_PX = 1.2
_LEAST_SHARE, _LEAST_SPAN = 0.5, 0.6
_STEEPEST_DEG = 6.0
_TRIES, _SEED = 300, 5


def _edges(grey: Grey, planned: tuple[float, float]) -> Floats:
    """The steepest edge of each column about the planned line: middles and rows, (n, 2); none where nothing stands out."""
    high, wide = grey.shape
    smooth = cv2.GaussianBlur(grey, (0, 0), _SMOOTH_PX)
    steep = np.abs(cv2.Sobel(smooth, cv2.CV_32F, 0, 1))
    columns = np.arange(_STEP_PX // 2, wide, _STEP_PX)
    reach = round(_AROUND * high)
    found = []
    for column in columns:
        middle = round((planned[0] + (planned[1] - planned[0]) * column / wide) * high)
        top, end = max(middle - reach, 1), min(middle + reach, high - 1)
        if end - top < reach:
            continue
        part = steep[top:end, column]
        at = int(part.argmax())
        if 0 < at < len(part) - 1 and part[at] > _CLEAR * max(float(np.median(part)), 0.5):
            before, here, after = (float(one) for one in part[at - 1 : at + 2])
            bend = before - 2 * here + after
            found.append((column, top + at + (0.5 * (before - after) / bend if bend else 0.0)))
    return np.asarray(found, dtype=float).reshape(-1, 2)


def off_level_deg(grey: Grey, planned: tuple[float, float]) -> float | None:
    """By how much the horizon is turned against the planned one, degrees, clockwise being positive.

    Parameters
    ----------
    grey
        The picture (rows, columns).
    planned
        How far down the horizon was to be at the left and at the right edge, of the picture's height.

    Returns
    -------
    float or None
        None where no straight edge runs through most of the picture about there.

    References
    ----------
    .. [1] Fischler and Bolles, Random sample consensus, 1981.

    """
    high, wide = grey.shape
    points = _edges(grey, planned)
    columns = math.ceil(wide / _STEP_PX)
    if len(points) < _LEAST_SHARE * columns:
        return None
    x, y = points.T
    rng = np.random.default_rng(_SEED)
    best = np.zeros(len(x), dtype=bool)
    for a, b in rng.integers(0, len(x), (_TRIES, 2)):
        if abs(x[a] - x[b]) < wide / 8:
            continue
        slope = (y[b] - y[a]) / (x[b] - x[a])
        good = np.abs(y - y[a] - slope * (x - x[a])) < _WITHIN_PX
        if good.sum() > best.sum():
            best = good
    if best.sum() < _LEAST_SHARE * columns or np.ptp(x[best]) < _LEAST_SPAN * wide:
        return None
    slope = float(np.polyfit(x[best], y[best], 1)[0])
    meant = (planned[1] - planned[0]) * high / wide
    off = math.degrees(math.atan(slope) - math.atan(meant))
    return off if abs(off) < _STEEPEST_DEG else None
