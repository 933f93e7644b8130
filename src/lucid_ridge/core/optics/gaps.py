"""The stretches that a hand-chosen set of foci leaves soft."""

from __future__ import annotations

import math

import numpy as np

from lucid_ridge.core.optics.pupils import Optics, Sharpness
from lucid_ridge.core.optics.slices import ROUNDING, least_blur, slice_at
from lucid_ridge.core.records import record


@record
class Gap:
    """A stretch that no slice keeps sharp, and the blur by defocus in its worst place."""

    near_m: float
    far_m: float
    worst_blur_mm: float


def gaps(optics: Optics, sharp: Sharpness, foci_m: list[float], near_m: float, far_m: float) -> tuple[Gap, ...]:
    """The stretches between *near_m* and *far_m* that a hand-chosen set of foci leaves soft.

    Nearest first. The worst blur of a gap between two frames lies where both blur equally; of a
    gap at an end, at that end.
    """
    found: list[Gap] = []
    reach = near_m
    slices = sorted((slice_at(optics, sharp, s) for s in foci_m), key=lambda s: s.near_m)
    foci = np.asarray(sorted(foci_m))

    def worst(start_m: float, end_m: float) -> float:
        # Even steps in 1/distance: equal steps of blur.
        inverse = np.linspace(1 / start_m, 0.0 if math.isinf(end_m) else 1 / end_m, 65)
        with np.errstate(divide="ignore"):
            points = 1.0 / inverse
        return float(least_blur(optics, foci, points).defocus_mm.max())

    for one in slices:
        if one.near_m > reach * (1 + ROUNDING) and reach < far_m:
            end = min(one.near_m, far_m)
            found.append(Gap(near_m=reach, far_m=end, worst_blur_mm=worst(reach, end)))
        reach = max(reach, one.far_m)
    if reach < far_m * (1 - ROUNDING):
        found.append(Gap(near_m=reach, far_m=far_m, worst_blur_mm=worst(reach, far_m)))
    return tuple(found)
