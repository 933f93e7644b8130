"""Close-up geometry of the thin lens: magnification, distances, extension, close-up lenses and factors.

Magnification is image size over subject size, on the sensor. Image-side lengths and close-up distances in
millimetres. All functions take scalars or arrays that broadcast.

References
----------
.. [1] S. F. Ray, Applied Photographic Optics, 3rd ed., Focal Press, 2002: close-up photography.
.. [2] Common practice with bellows and view cameras: the factor is (extension/focal length) squared.

"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]


def _array(value: ArrayLike) -> Array:
    return np.asarray(value, dtype=float)


def magnification_of_width(sensor_mm: ArrayLike, framed_mm: ArrayLike) -> Array:
    """Magnification at which *framed_mm* of a subject fills *sensor_mm*: a photographed ruler gives it."""
    return np.asarray(_array(sensor_mm) / _array(framed_mm))


def subject_from_lens_mm(focal_length_mm: ArrayLike, magnification: ArrayLike) -> Array:
    """Subject to principal plane, ``f (1 + 1/m)`` [1]_; infinite at magnification 0."""
    with np.errstate(divide="ignore"):
        return np.asarray(_array(focal_length_mm) * (1.0 + 1.0 / _array(magnification)))


def subject_from_sensor_mm(focal_length_mm: ArrayLike, magnification: ArrayLike) -> Array:
    """Subject to sensor, ``f (2 + m + 1/m)`` [1]_, the principal planes taken as one."""
    with np.errstate(divide="ignore"):
        return np.asarray(_array(focal_length_mm) * (2.0 + _array(magnification) + 1.0 / _array(magnification)))


def magnification_at_distance(focal_length_mm: ArrayLike, from_sensor_mm: ArrayLike) -> Array:
    """Magnification, at most 1, with the subject so far from the sensor; nan within four focal lengths.

    The smaller root of ``m + 1/m = d/f - 2``; the other is its reciprocal, the lens and the subject
    having changed places.
    """
    half = _array(from_sensor_mm) / _array(focal_length_mm) / 2.0 - 1.0
    with np.errstate(invalid="ignore"):
        # The product of the roots is one: dividing keeps the small root exact far away.
        return np.asarray(1.0 / (half + np.sqrt(half * half - 1.0)))


def focal_length_from(from_sensor_mm: ArrayLike, magnification: ArrayLike) -> Array:
    """Focal length that gives a magnification at a distance from the sensor, ``d/(2 + m + 1/m)``."""
    m = _array(magnification)
    return np.asarray(_array(from_sensor_mm) / (2.0 + m + 1.0 / m))


def extension_for_mm(focal_length_mm: ArrayLike, magnification: ArrayLike) -> Array:
    """Extension beyond the infinity setting, ``m f`` [1]_."""
    return np.asarray(_array(focal_length_mm) * _array(magnification))


def close_up_lens_focal_mm(focal_length_mm: ArrayLike, dioptres: ArrayLike) -> Array:
    """Focal length of a lens with a thin close-up lens in contact, ``f/(1 + f D/1000)`` [1]_."""
    f = _array(focal_length_mm)
    return np.asarray(f / (1.0 + f * _array(dioptres) / 1000.0))


# --- the three usual ways to a bellows factor, in stops --------------------------------------------


def factor_from_extension(image_mm: ArrayLike, focal_length_mm: ArrayLike) -> Array:
    """Stops lost from the measured distance of lens to sensor, ``2 log2(v/f)`` [2]_."""
    return np.asarray(2.0 * np.log2(_array(image_mm) / _array(focal_length_mm)))


def factor_from_f_numbers(image_mm: ArrayLike, focal_length_mm: ArrayLike) -> Array:
    """Stops lost, counting focal length and extension as if both were f-numbers [2]_.

    A 150 mm lens at 210 mm is counted from f/15 to f/21: one stop. Exact f-numbers are 2^(k/2) for whole
    stops k, so the difference of both counts is the same as `factor_from_extension`.
    """
    return np.asarray(2.0 * np.log2(_array(image_mm) / 10.0) - 2.0 * np.log2(_array(focal_length_mm) / 10.0))


def factor_from_target(target_mm: ArrayLike, image_of_target_mm: ArrayLike) -> Array:
    """Stops lost from a target of known size seen on the ground glass, ``2 log2(1 + m)`` [2]_."""
    return np.asarray(2.0 * np.log2(1.0 + _array(image_of_target_mm) / _array(target_mm)))


# --- what a choice of lens does at one framed width ------------------------------------------------


def size_ratio(subject_mm: ArrayLike, depth_mm: ArrayLike) -> Array:
    """How much larger the near side of a subject is drawn than its far side, ``1 + depth/distance`` from the pupil."""
    return np.asarray(1.0 + _array(depth_mm) / _array(subject_mm))


def subject_from_pupil_mm(
    focal_length_mm: ArrayLike, magnification: ArrayLike, pupil_magnification: ArrayLike = 1.0
) -> Array:
    """Subject to entrance pupil, ``f (1/m + 1/p)``, see `pupils`; infinite at magnification 0."""
    with np.errstate(divide="ignore"):
        return np.asarray(_array(focal_length_mm) * (1.0 / _array(magnification) + 1.0 / _array(pupil_magnification)))


def background_width_mm(
    sensor_mm: ArrayLike, magnification: ArrayLike, from_pupil_mm: ArrayLike, behind_mm: ArrayLike
) -> Array:
    """Width of background taken in, that far behind the plane of focus, seen from the entrance pupil."""
    widening = 1.0 + _array(behind_mm) / _array(from_pupil_mm)
    return np.asarray(_array(sensor_mm) / _array(magnification) * widening)


def background_disk_mm(
    focal_length_mm: ArrayLike,
    f_number: ArrayLike,
    magnification: ArrayLike,
    behind_mm: ArrayLike,
    pupil_magnification: ArrayLike = 1.0,
) -> Array:
    """Blur disk on the sensor of a point so far behind the plane of focus, ``(f/N) m b/(s' + b)`` [1]_.

    s' runs from the plane of focus to the entrance pupil. The disk tends to ``f m/N``, the picture of the entrance
    pupil in the plane of focus, for a far background.
    """
    s = subject_from_pupil_mm(focal_length_mm, magnification, pupil_magnification)
    b = _array(behind_mm)
    with np.errstate(invalid="ignore"):
        share = np.where(np.isinf(b), 1.0, b / (s + b))
    return np.asarray(_array(focal_length_mm) / _array(f_number) * _array(magnification) * share)
