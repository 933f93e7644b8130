"""Depth of field: hyperfocal distance, limits, and blur at any distance.

Focal length, aperture and blur diameters in millimetres on the sensor; distances in metres from
the principal plane. All functions take scalars or arrays that broadcast.

References
----------
.. [1] S. F. Ray, Applied Photographic Optics, 3rd ed., Focal Press, 2002, depth of field.
.. [2] M. Born and E. Wolf, Principles of Optics: Airy disk diameter 2.44 lambda N.

"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]

WAVELENGTH_MM = 550e-6
"""Middle of the visible spectrum, used for the Airy disk."""


def hyperfocal_m(focal_length_mm: ArrayLike, f_number: ArrayLike, blur_mm: ArrayLike) -> Array:
    """Hyperfocal distance ``H = f^2/(N c) + f`` in metres [1]_."""
    f = np.asarray(focal_length_mm, dtype=float)
    return np.asarray((f * f / (np.asarray(f_number) * np.asarray(blur_mm)) + f) / 1000.0)


def near_limit_m(focal_length_mm: ArrayLike, hyperfocal: ArrayLike, focus_m: ArrayLike) -> Array:
    """Near limit ``s (H - f) / (H + s - 2 f)`` in metres; H/2 at the hyperfocal, H at infinity."""
    f = np.asarray(focal_length_mm, dtype=float) / 1000.0
    h, s = np.asarray(hyperfocal, dtype=float), np.asarray(focus_m, dtype=float)
    with np.errstate(invalid="ignore"):
        finite = s * (h - f) / (h + s - 2 * f)
    return np.asarray(np.where(np.isinf(s), h - f, finite))


def far_limit_m(focal_length_mm: ArrayLike, hyperfocal: ArrayLike, focus_m: ArrayLike) -> Array:
    """Far limit ``s (H - f) / (H - s)`` in metres; infinite from the hyperfocal on."""
    f = np.asarray(focal_length_mm, dtype=float) / 1000.0
    h, s = np.asarray(hyperfocal, dtype=float), np.asarray(focus_m, dtype=float)
    with np.errstate(divide="ignore", invalid="ignore"):
        finite = s * (h - f) / (h - s)
    # Within a billionth of the hyperfocal the limit is infinite to any reader.
    return np.asarray(np.where(s >= h * (1 - 1e-9), np.inf, finite))


def defocus_blur_mm(
    focal_length_mm: ArrayLike, f_number: ArrayLike, focus_m: ArrayLike, distance_m: ArrayLike
) -> Array:
    """Blur diameter of a point at *distance_m* with focus at *focus_m*, on the sensor in mm.

    ``c = (f^2/N) |D - s| / (D (s - f))`` [1]_, written in reciprocals so that both distances may be
    infinite.
    """
    f = np.asarray(focal_length_mm, dtype=float)
    with np.errstate(divide="ignore"):
        focus = 1.0 / (np.asarray(focus_m, dtype=float) * 1000.0)
        point = 1.0 / (np.asarray(distance_m, dtype=float) * 1000.0)
    return np.asarray(f * f / np.asarray(f_number) * np.abs(focus - point) / (1.0 - f * focus))


def airy_disk_mm(working_f_number: ArrayLike) -> Array:
    """Diameter of the Airy disk ``2.44 lambda N`` in mm [2]_, N the working f-number."""
    return np.asarray(2.44 * WAVELENGTH_MM * np.asarray(working_f_number, dtype=float))


def total_blur_mm(defocus_mm: ArrayLike, airy_mm: ArrayLike) -> Array:
    """Defocus and diffraction together, added in squares."""
    return np.asarray(np.hypot(defocus_mm, airy_mm))


def defocus_allowance_mm(circle_of_confusion_mm: float, airy_mm: float) -> float:
    """What a circle of confusion leaves for defocus, ``sqrt(c^2 - airy^2)``; zero if diffraction takes all."""
    return math.sqrt(max(circle_of_confusion_mm**2 - airy_mm**2, 0.0))


def widest_diffraction_aperture(circle_of_confusion_mm: float, extension_factor: float = 1.0) -> float:
    """Largest f-number whose Airy disk stays within the circle of confusion, the lens extended by 1 + m/p."""
    return circle_of_confusion_mm / (2.44 * WAVELENGTH_MM * extension_factor)


def best_aperture(focus_spread_mm: ArrayLike) -> Array:
    """f-number at which defocus and diffraction together blur least, ``sqrt(375 dv)``.

    *focus_spread_mm* is the image-side distance dv between the foci of the nearest and the farthest element. Focused half way, each
    is blurred by ``dv / (2 N)``; the Airy disk is ``N / 750`` mm (2.44 times 546 nm times N). The sum of their squares is least where
    ``N^4 = (750 dv / 2)^2``. (The argument is P. K. Hansma's, Photo Techniques, March/April 1996.)
    """
    return np.asarray(np.sqrt(375.0 * np.asarray(focus_spread_mm, dtype=float)))
