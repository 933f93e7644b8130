"""Close-up stacks: depth of one frame, steps of rail and ring, positions and time.

Lengths in millimetres.

References
----------
.. [1] S. F. Ray, Applied Photographic Optics, 3rd ed., 2002: total depth of field close up.
.. [2] M. Born and E. Wolf, Principles of Optics: depth along the axis within a quarter wave, n lambda/NA^2.

"""

from __future__ import annotations

import math
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray

from lucid_ridge.core.optics.depth_of_field import WAVELENGTH_MM
from lucid_ridge.core.records import record

Array = NDArray[np.float64]

StackMeans = Literal["rail", "ring", "sway"]

MOST_FRAMES = 400
DIFFRACTION_FROM = 0.5
"""Magnification from which the wave term counts."""


def close_up_depth_mm(
    f_number: ArrayLike, allowance_mm: ArrayLike, magnification: ArrayLike, pupil_magnification: ArrayLike = 1.0
) -> Array:
    """Depth of one frame in front of and behind the plane together, ``2 N c' (1 + m/p)/m^2`` [1]_."""
    m = np.asarray(magnification, dtype=float)
    working = np.asarray(f_number, dtype=float) * (1.0 + m / np.asarray(pupil_magnification, dtype=float))
    return np.asarray(2.0 * working * np.asarray(allowance_mm, dtype=float) / (m * m))


def numerical_aperture(f_number: ArrayLike, magnification: ArrayLike, pupil_magnification: ArrayLike = 1.0) -> Array:
    """Numerical aperture on the subject's side, ``m/(2 N (1 + m/p))`` [2]_."""
    m = np.asarray(magnification, dtype=float)
    return np.asarray(m / (2.0 * np.asarray(f_number) * (1.0 + m / np.asarray(pupil_magnification, dtype=float))))


def diffraction_depth_mm(f_number: ArrayLike, magnification: ArrayLike, pupil_magnification: ArrayLike = 1.0) -> Array:
    """Depth that the wave nature of light gives by itself, ``lambda/NA^2`` [2]_."""
    return np.asarray(WAVELENGTH_MM / numerical_aperture(f_number, magnification, pupil_magnification) ** 2)


def frames_for_depth(subject_mm: float, depth_mm: float, step_mm: float) -> int:
    """Fewest frames, each sharp over *depth_mm*, that cover a subject in even steps.

    Raises
    ------
    ValueError
        If the step is not above zero, or over 400 frames would be needed.

    """
    if step_mm <= 0:
        raise ValueError("no depth is left for a step: open the aperture or choose a larger circle of confusion")
    # Rounding must not add a frame where the fit is exact.
    count = max(0, math.ceil((subject_mm - depth_mm) / step_mm - 1e-9)) + 1
    if count > MOST_FRAMES:
        raise ValueError(f"{count} frames would be needed; {MOST_FRAMES} is the most")
    return count


def positions_mm(subject_mm: float, depth_mm: float, step_mm: float) -> Array:
    """Planes of focus behind the front of a subject, from front to back, shape (frames,).

    The first lies half a depth behind the front, so that the front is just sharp; steps are even.
    """
    count = frames_for_depth(subject_mm, depth_mm, step_mm)
    return np.asarray(min(depth_mm, subject_mm) / 2 + step_mm * np.arange(count))


def ring_step_mm(rail_step_mm: float, magnification: float) -> float:
    """Image-side step with the same effect as a step of the subject's plane, ``m^2 x step`` [1]_."""
    return magnification**2 * rail_step_mm


def ring_step_dioptres(rail_step_mm: float, subject_mm: float) -> float:
    """The step as a change of 1/distance at the lens, dioptres."""
    near, far = subject_mm / 1000, (subject_mm + rail_step_mm) / 1000
    return 1 / near - 1 / far


@record
class StackTime:
    """Seconds a stack takes, and what sets the pace."""

    seconds: float
    pace: Literal["shutter", "settle", "recycle", "burst", "buffer"]
    frames_before_buffer: int


def burst_seconds(frames: int, per_second: float, buffer_frames: int, write_per_second: float) -> StackTime:
    """Time of a burst whose buffer fills: full rate until it is full, then as fast as the card writes."""
    if frames <= buffer_frames or write_per_second >= per_second:
        return StackTime(seconds=frames / per_second, pace="burst", frames_before_buffer=frames)
    # While shooting, frames leave the buffer too.
    until_full = min(frames, math.floor(buffer_frames / (1 - write_per_second / per_second)))
    seconds = until_full / per_second + (frames - until_full) / write_per_second
    pace: Literal["burst", "buffer"] = "buffer" if frames > until_full else "burst"
    return StackTime(seconds=seconds, pace=pace, frames_before_buffer=until_full)


def stepped_seconds(frames: int, shutter_s: float, move_s: float, settle_s: float, recycle_s: float = 0.0) -> StackTime:
    """Time of a stack frame by frame: move, settle, expose; a flash that recycles may be what is waited for."""
    still = move_s + settle_s
    pace: Literal["shutter", "settle", "recycle"] = (
        "recycle" if recycle_s > still + shutter_s else "settle" if still > shutter_s else "shutter"
    )
    # The flash recycles while the rail moves, from one exposure to the next.
    between = max(still, recycle_s - shutter_s)
    seconds = frames * shutter_s + still + (frames - 1) * between
    return StackTime(seconds=seconds, pace=pace, frames_before_buffer=frames)
