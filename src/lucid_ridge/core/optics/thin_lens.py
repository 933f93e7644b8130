"""The thin lens: image distance, magnification, working f-number.

Image-side lengths in millimetres, subject distances in metres from the principal plane.

References
----------
.. [1] S. F. Ray, Applied Photographic Optics, 3rd ed., Focal Press, 2002.

"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]


def image_distance_mm(focal_length_mm: ArrayLike, subject_distance_m: ArrayLike) -> Array:
    """Image distance ``v = f s / (s - f)`` in millimetres; the focal length for infinity.

    Raises
    ------
    ValueError
        If a subject stands at or inside the focal length, where no real image forms.

    """
    f = np.asarray(focal_length_mm, dtype=float)
    s = np.asarray(subject_distance_m, dtype=float) * 1000.0
    if np.any(s <= f):
        raise ValueError("the subject must be farther away than the focal length")
    return np.asarray(f / (1.0 - f / s))


def subject_distance_m(focal_length_mm: ArrayLike, image_mm: ArrayLike) -> Array:
    """Distance focused on, in metres, with the lens at image distance *image_mm*; inf at v = f."""
    f = np.asarray(focal_length_mm, dtype=float)
    v = np.asarray(image_mm, dtype=float)
    with np.errstate(divide="ignore"):
        return np.asarray(np.where(v > f, f * v / np.where(v > f, v - f, 1.0), np.inf) / 1000.0)


def magnification(focal_length_mm: ArrayLike, subject_distance_m: ArrayLike) -> Array:
    """Image size over subject size, ``m = f / (s - f)``; zero at infinity."""
    f = np.asarray(focal_length_mm, dtype=float)
    return np.asarray(image_distance_mm(f, subject_distance_m) / f - 1.0)


def working_f_number(f_number: ArrayLike, magnification: ArrayLike, pupil_magnification: float = 1.0) -> Array:
    """f-number that the light and the Airy disk see, ``N (1 + m/p)`` [1]_."""
    n = np.asarray(f_number, dtype=float)
    return np.asarray(n * (1.0 + np.asarray(magnification, dtype=float) / pupil_magnification))


def close_up_loss_stops(magnification: ArrayLike, pupil_magnification: float = 1.0) -> Array:
    """Stops lost to the lens's extension, ``2 log2(1 + m/p)``; a meter in the camera has seen them."""
    return np.asarray(2.0 * np.log2(1.0 + np.asarray(magnification, dtype=float) / pupil_magnification))


def nearest_subject_m(focal_length_mm: float, minimum_focus_m: float) -> float:
    """Nearest distance from the principal plane for a minimum focus measured from the sensor.

    Solves ``s + v = d`` for the far root; where the thin lens cannot reach (d < 4 f, a lens that
    shortens its focal length close up) the life-size distance ``2 f`` is returned.
    """
    f = focal_length_mm / 1000.0
    d = minimum_focus_m
    under_root = d * d / 4.0 - d * f
    return d / 2.0 + float(np.sqrt(under_root)) if under_root > 0 else 2.0 * f
