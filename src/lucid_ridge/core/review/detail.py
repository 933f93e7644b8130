"""How much fine detail each element holds: little where it is out of focus, shaken, or behind mist.

By how much that is depends on what the element is made of far more than on the lens, so that it says nothing by itself: it is compared
with what the same element held in earlier takes of the same composition.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.records import record
from lucid_ridge.core.review.tiles import Grey

_FINE_PX, _COARSE_PX, _SHADING_PX = 1.0, 4.0, 8.0
_BESIDE_PX = 12
"""What lies so near an edge belongs to both sides of it."""
_STEP_PX, _LEAST_PLACES = 6, 40
_WINDOW_PX = 25
_LEAST_DETAIL = 1.0
_QUIET = 5.0
LEAST_TAKES = 3
_LEAST_STOPS, _DEVIATIONS = 0.5, 4.0
_MAD_OF_NORMAL = 1.4826
_SAME_STOPS = 0.25


@record
class Detail:
    """How much fine detail an element holds against coarse, stops; how far away it is, metres."""

    element: str
    stops: float
    away_m: float


@dataclass(frozen=True)
class Usual:
    """What an element held in earlier takes: in the middle, and how far they differ (one standard deviation), stops."""

    stops: float
    spread: float
    takes: int


def _energy(part: Grey) -> Grey:
    return np.asarray(cv2.blur(part * part, (_WINDOW_PX, _WINDOW_PX)))


def detail_of(grey: Grey, labels: NDArray[np.int16], names: Mapping[int, tuple[str, float]]) -> tuple[Detail, ...]:
    """What each element of a picture holds.

    Parameters
    ----------
    grey
        The picture (rows, columns).
    labels
        Which element is seen where, at any size; those that are not asked for are below nought.
    names
        Of each label the element's id, and how far away it is.

    Returns
    -------
    tuple
        Elements of which enough is seen.

    """
    fine = grey - cv2.GaussianBlur(grey, (0, 0), _FINE_PX)
    coarse = cv2.GaussianBlur(grey, (0, 0), _COARSE_PX) - cv2.GaussianBlur(grey, (0, 0), _SHADING_PX)
    small, large = _energy(np.asarray(fine, dtype=np.float32)), _energy(np.asarray(coarse, dtype=np.float32))
    # The quietest places hold little but noise, which is about even as it is encoded.
    noise = float(np.percentile(small[::_STEP_PX, ::_STEP_PX], _QUIET))
    there = cv2.resize(labels, (grey.shape[1], grey.shape[0]), interpolation=cv2.INTER_NEAREST)
    kernel = np.ones((2 * _BESIDE_PX + 1,) * 2, np.uint8)
    found = []
    for label, (element, away_m) in names.items():
        inside = cv2.erode((there == label).astype(np.uint8), kernel)[::_STEP_PX, ::_STEP_PX] > 0
        inside &= large[::_STEP_PX, ::_STEP_PX] > _LEAST_DETAIL**2
        if inside.sum() < _LEAST_PLACES:
            continue
        left = np.maximum(small[::_STEP_PX, ::_STEP_PX][inside] - noise, 0.02 * noise + 1e-6)
        stops = float(np.median(np.log2(left / large[::_STEP_PX, ::_STEP_PX][inside]))) / 2
        found.append(Detail(element=element, stops=stops, away_m=away_m))
    return tuple(found)


def sharpest(frames: Sequence[tuple[Detail, ...]]) -> dict[str, Detail]:
    """Of each element the frame that holds most of it."""
    best: dict[str, Detail] = {}
    for one in (detail for frame in frames for detail in frame):
        if one.element not in best or one.stops > best[one.element].stops:
            best[one.element] = one
    return best


def usual_of(earlier: Sequence[Mapping[str, Detail]]) -> dict[str, Usual]:
    """What elements held in earlier takes; those of too few takes are left out."""
    made = {}
    for element in {name for one in earlier for name in one}:
        held = np.array([one[element].stops for one in earlier if element in one])
        if len(held) < LEAST_TAKES:
            continue
        middle = float(np.median(held))
        spread = _MAD_OF_NORMAL * float(np.median(np.abs(held - middle)))
        made[element] = Usual(middle, spread, len(held))
    return made


@dataclass(frozen=True)
class Softer:
    """Elements that hold less than they used to, by how many stops the one that lost most; and what the others say of the focus.

    ``focused`` is ``near`` where only far things lost, so that it lay too near, ``far`` the other way round, and None where all of
    them lost alike, or nobody can tell.
    """

    elements: tuple[str, ...]
    stops: float
    takes: int
    focused: Literal["near", "far"] | None


def softer(now: Mapping[str, Detail], usual: Mapping[str, Usual]) -> Softer | None:
    """What holds less detail than it used to; None where nothing does."""
    lost = {name: usual[name].stops - one.stops for name, one in now.items() if name in usual}
    soft = [name for name, stops in lost.items() if stops > max(_LEAST_STOPS, _DEVIATIONS * usual[name].spread)]
    if not soft:
        return None
    kept = [name for name, stops in lost.items() if stops < _SAME_STOPS]
    far = [math.log(now[name].away_m) for name in soft]
    others = [math.log(now[name].away_m) for name in kept]
    focused: Literal["near", "far"] | None = None
    if others and min(far) > max(others):
        focused = "near"
    elif others and max(far) < min(others):
        focused = "far"
    worst = max(soft, key=lambda name: lost[name])
    ordered = tuple(sorted(soft, key=lambda name: -lost[name]))
    return Softer(ordered, lost[worst], usual[worst].takes, focused)
