"""Focus slices: the smallest set of frames that leaves no gap between near and far.

For the thin lens at the entrance pupil (see `pupils`), with pupil diameter A and a defocus allowance c', a focus at
image distance v0 is sharp for image distances from v0/(1 + k) to v0/(1 - k), k = c'/A. Slices are therefore about
equally wide in the logarithm of the image distance. Not quite: the closer a frame is focused, the larger its Airy
disk and the less is left for defocus, so every slice has an allowance of its own.
"""

from __future__ import annotations

import math
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.optics.depth_of_field import WAVELENGTH_MM, total_blur_mm
from lucid_ridge.core.optics.pupils import Optics, Sharpness
from lucid_ridge.core.records import record

Array = NDArray[np.float64]

MOST_SLICES = 400
# Distances differ by rounding where the image distance is close to the focal length.
ROUNDING = 1e-6
_SETTLED = 1e-13
_MOST_STEPS = 60


@record
class Slice:
    """One frame of a stack: focus and the limits of what it keeps sharp, metres from the lens (inf allowed)."""

    focus_m: float
    near_m: float
    far_m: float


class TooMuchDiffraction(ValueError):
    """Diffraction alone exceeds what counts as sharp; ``times`` the f-number it would just not."""

    def __init__(self, times: float) -> None:
        super().__init__("diffraction alone exceeds the circle of confusion: open the aperture")
        self.times = times


class LeastBlur(NamedTuple):
    """Blur at each distance in the frame of several that is sharpest there, mm on the sensor; shapes alike."""

    defocus_mm: Array
    airy_mm: Array
    total_mm: Array


class _ImageSpace:
    """A lens and what counts as sharp, in logarithms of the thin lens's image distance."""

    def __init__(self, optics: Optics, sharp: Sharpness) -> None:
        self.optics, self.sharp = optics, sharp
        self.f = optics.thin_focal_mm
        self.ahead_m = optics.pupil_ahead_m
        self._pupil_mm = self.f / optics.thin_f_number
        # The Airy disk grows with the image distance: 2.44 lambda N (1 + m/p), 1 + m/p = v/f.
        self._airy_rate = 2.44 * WAVELENGTH_MM * optics.f_number / self.f if sharp.diffraction else 0.0

    def log_image(self, distance_m: float) -> float:
        """Logarithm of the image distance of a point so far from the principal plane."""
        s = (distance_m - self.ahead_m) * 1000.0
        if s <= self.f:
            raise ValueError("the subject must be farther away than the focal length")
        return math.log(self.f) - math.log1p(-self.f / s)

    def distance_m(self, log_image: float) -> float:
        """The distance from the principal plane that is focused on; inf from the focal length on."""
        v = math.exp(log_image)
        return math.inf if v <= self.f * (1 + 1e-12) else self.f * v / (v - self.f) / 1000.0 + self.ahead_m

    def share(self, log_image: float) -> float:
        """Defocus allowance over the pupil's diameter for a focus there; 0 where diffraction leaves nothing."""
        airy, circle = self._airy_rate * math.exp(log_image), self.sharp.circle_mm
        return math.sqrt(max(circle * circle - airy * airy, 0.0)) / self._pupil_mm

    def airy_over_circle(self, log_image: float) -> float:
        """The Airy disk there over what counts as sharp."""
        return self._airy_rate * math.exp(log_image) / self.sharp.circle_mm

    def beginning_at(self, log_begin: float) -> tuple[float, float]:
        """Focus of the slice whose near limit lies there, and its allowance's share."""
        at = log_begin
        share = self.share(at)
        for _ in range(_MOST_STEPS):
            if share >= 1:
                break
            before, at = at, log_begin + math.log1p(-share)
            share = self.share(at)
            if abs(at - before) < _SETTLED:
                break
        return at, share

    def slice_at(self, log_focus: float) -> Slice:
        """What a frame focused there keeps sharp."""
        share = self.share(log_focus)
        near = self.distance_m(log_focus - math.log1p(-share)) if share < 1 else 0.0
        end = log_focus - math.log1p(share)
        far = math.inf if end <= math.log(self.f) + 1e-9 else self.distance_m(end)
        return Slice(focus_m=self.distance_m(log_focus), near_m=near, far_m=far)


def slice_at(optics: Optics, sharp: Sharpness, focus_m: float) -> Slice:
    """What a frame focused at *focus_m* from the lens keeps sharp."""
    return _ImageSpace(optics, sharp).slice_at(_ImageSpace(optics, sharp).log_image(focus_m))


def _checked(optics: Optics, sharp: Sharpness, near_m: float, far_m: float) -> _ImageSpace:
    if near_m > far_m:
        raise ValueError("the nearest distance must not be beyond the farthest")
    space = _ImageSpace(optics, sharp)
    over = space.airy_over_circle(space.log_image(near_m)) if sharp.circle_mm > 0 else math.inf
    if over >= 1:
        raise TooMuchDiffraction(1 / over)
    return space


def _chain(space: _ImageSpace, start: float, end: float, overlap: float, count: int) -> tuple[list[float], float]:
    """Foci from a near limit on, each lapping over the one before, until the far end or the count is reached.

    Also how far the last one falls short of the end (below zero: reaches beyond it), in logarithms.
    """
    foci: list[float] = []
    begin, reached = start, start
    while len(foci) < count and (not foci or reached > end + 1e-12):
        at, share = space.beginning_at(begin)
        if share >= 1:
            return [*foci, at], -math.inf
        foci.append(at)
        width = math.log1p(share) - math.log1p(-share)
        reached = begin - width
        if width <= 0:
            break
        begin = reached + overlap * width
    return foci, reached - end


def gapless_count(optics: Optics, sharp: Sharpness, near_m: float, far_m: float, overlap: float = 0.0) -> int:
    """How many slices `gapless_slices` takes, however many that is; see there for parameters and errors."""
    space = _checked(optics, sharp, near_m, far_m)
    start, end = space.log_image(near_m), space.log_image(far_m)
    _, share = space.beginning_at(start)
    if share >= 1:
        return 1
    width = math.log1p(share) - math.log1p(-share)
    # At least so many by the widest slices there are; far more than can be taken are not laid out.
    widest = space.share(end)
    least = math.ceil(((start - end) / (2 * math.atanh(widest)) - 1) / (1 - overlap)) + 1 if widest < 1 else 1
    if least > 2 * MOST_SLICES:
        return max(least, math.ceil(((start - end) / width - 1) / (1 - overlap)) + 1)
    return len(_chain(space, start, end, overlap, 4 * MOST_SLICES)[0])


@lru_cache(maxsize=1024)
def gapless_slices(
    optics: Optics, sharp: Sharpness, near_m: float, far_m: float, overlap: float = 0.0
) -> tuple[Slice, ...]:
    """The fewest slices that keep everything from *near_m* to *far_m* sharp, nearest first.

    Parameters
    ----------
    optics
        The lens.
    sharp
        How much blur counts as sharp.
    near_m, far_m
        Distances from the principal plane in metres; *far_m* may be infinite.
    overlap
        Share of a slice, 0 to below 1, that the next one covers again.

    Notes
    -----
    The nearest slice begins exactly at *near_m* and the farthest ends at *far_m*; all lap over one another by the
    same share, at least the one asked for.

    Raises
    ------
    ValueError
        If nothing is left for defocus (`TooMuchDiffraction`), if near is beyond far or inside the focal length, or
        if more than 400 slices would be needed.

    """
    count = gapless_count(optics, sharp, near_m, far_m, overlap)
    if count > MOST_SLICES:
        raise ValueError(f"{count} slices would be needed; {MOST_SLICES} is the most")
    space = _checked(optics, sharp, near_m, far_m)
    start, end = space.log_image(near_m), space.log_image(far_m)
    if count == 1:
        return (space.slice_at(_alone(space, start, end)),)
    return tuple(space.slice_at(at) for at in _evenly(space, start, end, overlap, count))


def _alone(space: _ImageSpace, start: float, end: float) -> float:
    """Focus of a single slice that reaches as far beyond one end as beyond the other."""
    if space.share(start) >= 1:
        return start
    at = (start + end) / 2
    for _ in range(_MOST_STEPS):
        share = min(space.share(at), 1 - 1e-9)
        before, at = at, (start + math.log1p(-share) + end + math.log1p(share)) / 2
        if abs(at - before) < _SETTLED:
            break
    return at


def _evenly(space: _ImageSpace, start: float, end: float, overlap: float, count: int) -> list[float]:
    """Foci of so many slices that reach exactly from end to end, all lapping over by the same share."""

    def miss(lap: float) -> tuple[list[float], float]:
        foci, _ = _chain(space, start, -math.inf, lap, count)
        share = space.share(foci[-1])
        return foci, foci[-1] - math.log1p(share) - end if share < 1 else -math.inf

    low, (foci, below) = overlap, miss(overlap)
    high, above = 1.0, float(start - end)
    for _ in range(_MOST_STEPS):
        if abs(below) < _SETTLED or math.isinf(below) or high - low < 1e-15:
            break
        # The end moves nearly in proportion to the overlap, so a line through both sides settles at once.
        guess = low - below * (high - low) / (above - below)
        guess = min(max(guess, low), high)
        tried, found = miss(guess)
        if abs(found) < _SETTLED:
            return tried
        if found < 0:
            low, below, foci = guess, found, tried
        else:
            high, above = guess, found
    return foci


@lru_cache(maxsize=1024)
def slices_over(
    optics: Optics, sharp: Sharpness, spans_m: tuple[tuple[float, float], ...], overlap: float = 0.0
) -> tuple[Slice, ...]:
    """The fewest slices that keep several spans of distance sharp, and nothing else by intent, nearest first.

    Each span is near and far in metres from the lens. A slice begins at the nearest point that none before it holds;
    within a span it covers again a share *overlap* of the one before. Without overlap no set is smaller: any set must
    hold that point, and no slice that holds it reaches farther.

    Raises
    ------
    ValueError
        As `gapless_slices`.

    """
    near, far = min(a for a, _ in spans_m), max(b for _, b in spans_m)
    space = _checked(optics, sharp, near, far)
    if space.share(space.log_image(near)) >= 1:
        return gapless_slices(optics, sharp, near, far, overlap)
    farthest = min(space.log_image(end) for _, end in spans_m)
    last, last_share = _ending_at(space, farthest)
    latest = last - math.log1p(-last_share) if last_share < 1 else math.inf
    made: list[float] = []
    reached, lapped = math.inf, math.inf
    for start, end in sorted(((space.log_image(a), space.log_image(b)) for a, b in spans_m), reverse=True):
        while reached > end + 1e-12 or (reached > start and not made):
            # A new span may begin anywhere; a span that goes on is lapped over.
            begin = start if start < reached else min(start, lapped)
            # The last slice need not reach beyond the farthest point: what is over becomes overlap.
            begin = max(begin, latest)
            at, share = space.beginning_at(begin)
            made.append(at)
            width = math.log1p(share) - math.log1p(-share)
            reached, lapped = begin - width, begin - width * (1 - overlap)
            if len(made) > MOST_SLICES:
                raise ValueError(f"more than {MOST_SLICES} slices would be needed")
    return tuple(space.slice_at(at) for at in made)


def _ending_at(space: _ImageSpace, log_end: float) -> tuple[float, float]:
    """Focus of the slice whose far limit lies there, and its allowance's share."""
    at, share = log_end, space.share(log_end)
    for _ in range(_MOST_STEPS):
        before, at = at, log_end + math.log1p(share)
        share = space.share(at)
        if abs(at - before) < _SETTLED:
            break
    return at, share


def least_blur(optics: Optics, foci_m: Array, distance_m: Array, moved_m: Array | None = None) -> LeastBlur:
    """Blur at each distance in the sharpest of several frames.

    Parameters
    ----------
    optics
        The lens.
    foci_m
        (frames,): what each frame is focused on, from where the lens then stands; finite.
    distance_m
        (points,): from where the lens stands at first.
    moved_m
        (frames,): how far the camera went forward for each frame; what it has passed counts as just before it.

    """
    ahead = optics.pupil_ahead_m
    foci = np.asarray(foci_m, dtype=float)[:, None] - ahead
    away = np.asarray(distance_m, dtype=float)[None, :]
    if moved_m is not None:
        away = away - np.asarray(moved_m, dtype=float)[:, None]
    away = np.maximum(away - ahead, optics.thin_focal_mm / 1000.0)
    f = optics.thin_focal_mm / 1000.0
    with np.errstate(divide="ignore"):
        defocus = np.abs(1.0 / foci - 1.0 / away) / (1.0 - f / foci) * (f * optics.thin_focal_mm / optics.thin_f_number)
    airy = 2.44 * WAVELENGTH_MM * optics.f_number / (1.0 - f / foci) * np.ones_like(defocus)
    total = total_blur_mm(defocus, airy)
    best = total.argmin(axis=0)
    points = np.arange(total.shape[1])
    return LeastBlur(defocus[best, points], airy[best, points], total[best, points])
