"""Focus slices: the smallest set of frames that leaves no gap between near and far.

With entrance pupil diameter A = f/N and a defocus allowance c', a focus at image distance v0 is
sharp for image distances from v0/(1 + c'/A) to v0/(1 - c'/A). Slices are therefore equally wide
in the logarithm of the image distance, and their number follows from the logarithm of the ratio.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.optics.thin_lens import image_distance_mm, subject_distance_m
from lucid_ridge.core.records import record

MOST_SLICES = 400
# Distances differ by rounding where the image distance is close to the focal length.
ROUNDING = 1e-6


@record
class Slice:
    """One frame of a stack: focus and the limits of what it keeps sharp, metres (inf allowed)."""

    focus_m: float
    near_m: float
    far_m: float


@record
class Gap:
    """A stretch that no slice keeps sharp, and the blur in its worst place."""

    near_m: float
    far_m: float
    worst_blur_mm: float


def _blur_share(focal_length_mm: float, f_number: float, allowance_mm: float) -> float:
    return allowance_mm * f_number / focal_length_mm


def slice_at(focal_length_mm: float, f_number: float, allowance_mm: float, focus_m: float) -> Slice:
    """What a frame focused at *focus_m* keeps sharp within a defocus allowance."""
    share = _blur_share(focal_length_mm, f_number, allowance_mm)
    v0 = float(image_distance_mm(focal_length_mm, focus_m))
    near = float(subject_distance_m(focal_length_mm, v0 / (1 - share))) if share < 1 else 0.0
    far = float(subject_distance_m(focal_length_mm, v0 / (1 + share)))
    if v0 / (1 + share) <= focal_length_mm * (1 + 1e-9):
        far = math.inf
    return Slice(focus_m=focus_m, near_m=near, far_m=far)


def gapless_count(
    focal_length_mm: float,
    f_number: float,
    allowance_mm: float,
    near_m: float,
    far_m: float,
    overlap: float = 0.0,
) -> int:
    """How many slices `gapless_slices` takes, however many that is; see there for parameters and errors."""
    if allowance_mm <= 0:
        raise ValueError("diffraction alone exceeds the criterion: open the aperture")
    if near_m > far_m:
        raise ValueError("the nearest distance must not be beyond the farthest")
    share = _blur_share(focal_length_mm, f_number, allowance_mm)
    if share >= 1:
        return 1
    v_near = float(image_distance_mm(focal_length_mm, near_m))
    v_far = float(image_distance_mm(focal_length_mm, far_m))
    need = math.log(v_near / v_far) / math.log((1 + share) / (1 - share))
    # The small allowance keeps rounding from adding a slice where the fit is exact.
    return max(1, math.ceil((need - 1) / (1 - overlap) - 1e-9) + 1)


def gapless_slices(
    focal_length_mm: float,
    f_number: float,
    allowance_mm: float,
    near_m: float,
    far_m: float,
    overlap: float = 0.0,
) -> tuple[Slice, ...]:
    """The fewest slices that keep everything from *near_m* to *far_m* sharp, nearest first.

    Parameters
    ----------
    focal_length_mm, f_number
        Of the lens.
    allowance_mm
        Defocus blur allowed on the sensor.
    near_m, far_m
        Distances from the principal plane in metres; *far_m* may be infinite.
    overlap
        Share of a slice, 0 to below 1, that the next one covers again.

    Notes
    -----
    The farthest slice ends exactly at *far_m* and the nearest at *near_m*; those between stand at
    even ratios of image distance, so that what the set covers beyond the need becomes overlap.

    Raises
    ------
    ValueError
        If nothing is left for defocus, if near is beyond far or inside the focal length, or if
        more than 400 slices would be needed.

    """
    count = gapless_count(focal_length_mm, f_number, allowance_mm, near_m, far_m, overlap)
    share = _blur_share(focal_length_mm, f_number, allowance_mm)
    if share >= 1:
        return (slice_at(focal_length_mm, f_number, allowance_mm, near_m),)
    v_near = float(image_distance_mm(focal_length_mm, near_m))
    v_far = float(image_distance_mm(focal_length_mm, far_m))
    if count > MOST_SLICES:
        raise ValueError(f"{count} slices would be needed; {MOST_SLICES} is the most")
    ends = math.log(v_far * (1 + share)), math.log(v_near * (1 - share))
    foci = np.exp(np.linspace(*ends, count) if count > 1 else [sum(ends) / 2])
    return tuple(
        slice_at(
            focal_length_mm,
            f_number,
            allowance_mm,
            float(subject_distance_m(focal_length_mm, v)),
        )
        for v in foci[::-1]
    )


def slices_over(
    focal_length_mm: float,
    f_number: float,
    allowance_mm: float,
    spans_m: list[tuple[float, float]],
    overlap: float = 0.0,
) -> tuple[Slice, ...]:
    """The fewest slices that keep several spans of distance sharp, and nothing else by intent, nearest first.

    Each span is near and far in metres. A slice begins at the nearest point that none before it holds; within
    a span it covers again a share *overlap* of the one before. Without overlap no set is smaller: any set must
    hold that point, and no slice that holds it reaches farther.

    Raises
    ------
    ValueError
        As `gapless_slices`.

    """
    share = _blur_share(focal_length_mm, f_number, allowance_mm)
    if allowance_mm <= 0 or share >= 1:
        near, far = min(a for a, _ in spans_m), max(b for _, b in spans_m)
        return gapless_slices(focal_length_mm, f_number, allowance_mm, near, far, overlap)

    def images(distance_m: float) -> float:
        return math.log(float(image_distance_mm(focal_length_mm, distance_m)))

    width = math.log((1 + share) / (1 - share))
    farthest = min(images(end) for _, end in spans_m)
    made: list[float] = []
    reached, lapped = math.inf, math.inf
    for start, end in sorted(((images(a), images(b)) for a, b in spans_m), reverse=True):
        while reached > end + 1e-12 or (reached > start and not made):
            # A new span may begin anywhere; a span that goes on is lapped over.
            begin = start if start < reached else min(start, lapped)
            # The last slice need not reach beyond the farthest point: what is over becomes overlap.
            begin = max(begin, farthest + width)
            made.append(begin)
            reached, lapped = begin - width, begin - width * (1 - overlap)
            if len(made) > MOST_SLICES:
                raise ValueError(f"more than {MOST_SLICES} slices would be needed")
    foci = [float(subject_distance_m(focal_length_mm, math.exp(begin) * (1 - share))) for begin in made]
    return tuple(slice_at(focal_length_mm, f_number, allowance_mm, one) for one in foci)


def least_blur_mm(
    focal_length_mm: float,
    f_number: float,
    foci_m: NDArray[np.float64],
    distance_m: NDArray[np.float64],
    moved_m: NDArray[np.float64] | None = None,
) -> NDArray[np.float64]:
    """Defocus blur at each distance in the best of several frames; shape of *distance_m*.

    *moved_m* is how far the camera went forward for each frame; what it has passed counts as just before it.
    """
    inverse_focus = 1.0 / (np.asarray(foci_m, dtype=float)[:, None] * 1000.0)
    away = np.asarray(distance_m, dtype=float)[None, :]
    if moved_m is not None:
        away = np.maximum(away - np.asarray(moved_m, dtype=float)[:, None], focal_length_mm / 1000.0)
    inverse_point = 1.0 / (away * 1000.0)
    blur = np.abs(inverse_focus - inverse_point) / (1.0 - focal_length_mm * inverse_focus)
    return np.asarray(blur.min(axis=0) * focal_length_mm**2 / f_number)


def gaps(
    focal_length_mm: float,
    f_number: float,
    allowance_mm: float,
    foci_m: list[float],
    near_m: float,
    far_m: float,
) -> tuple[Gap, ...]:
    """The stretches between *near_m* and *far_m* that a hand-chosen set of foci leaves soft.

    Nearest first. The worst blur of a gap between two frames lies where both blur equally; of a
    gap at an end, at that end.
    """
    found: list[Gap] = []
    reach = near_m
    slices = sorted((slice_at(focal_length_mm, f_number, allowance_mm, s) for s in foci_m), key=lambda s: s.near_m)
    foci = np.asarray(sorted(foci_m))

    def worst(start_m: float, end_m: float) -> float:
        # Even steps in 1/distance: equal steps of blur.
        inverse = np.linspace(1 / start_m, 0.0 if math.isinf(end_m) else 1 / end_m, 65)
        with np.errstate(divide="ignore"):
            points = 1.0 / inverse
        return float(least_blur_mm(focal_length_mm, f_number, foci, points).max())

    for one in slices:
        if one.near_m > reach * (1 + ROUNDING) and reach < far_m:
            end = min(one.near_m, far_m)
            found.append(Gap(near_m=reach, far_m=end, worst_blur_mm=worst(reach, end)))
        reach = max(reach, one.far_m)
    if reach < far_m * (1 - ROUNDING):
        found.append(Gap(near_m=reach, far_m=far_m, worst_blur_mm=worst(reach, far_m)))
    return tuple(found)
