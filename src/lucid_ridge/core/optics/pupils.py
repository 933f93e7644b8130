"""A lens with pupils: the one model that blur, depth, slices, light and field of view share.

A thick lens of focal length f takes in light through an entrance pupil of diameter A = f/N. With the pupil
magnification p (exit pupil over entrance pupil) the entrance pupil stands ``f (1 - 1/p)`` in front of the front
principal plane [1]_, from which all distances count. For a focus at magnification m,

    s  = f (1 + 1/m)          focused plane to the principal plane,
    s' = f (1/m + 1/p)        focused plane to the entrance pupil,
    v' = m s' = f (1 + m/p)   what the perspective from the pupil is drawn with,
    c  = m A |d' - s'| / d'   blur on the sensor of a point at d' from the pupil,
    N (1 + m/p)               f-number that light and diffraction see.

Written out, c is that of a thin lens of focal length f/p and f-number N/p^2 which stands at the entrance pupil.
So every relation of the thin lens holds from there; p = 1 is the thin lens itself.

References
----------
.. [1] S. F. Ray, Applied Photographic Optics, 3rd ed., Focal Press, 2002: pupils and their magnification.

"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from lucid_ridge.core.optics.depth_of_field import airy_disk_mm, defocus_allowance_mm, defocus_blur_mm

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Optics:
    """A lens as light sees it: focal length in mm, f-number f/A, and pupil magnification."""

    focal_length_mm: float
    f_number: float
    pupil_magnification: float = 1.0

    @property
    def pupil_ahead_m(self) -> float:
        """How far the entrance pupil stands in front of the principal plane, metres; behind it below zero."""
        return self.focal_length_mm * (1.0 - 1.0 / self.pupil_magnification) / 1000.0

    @property
    def thin_focal_mm(self) -> float:
        """Focal length of the thin lens at the entrance pupil that blurs alike, ``f/p``."""
        return self.focal_length_mm / self.pupil_magnification

    @property
    def thin_f_number(self) -> float:
        """f-number of that thin lens, ``N/p^2``."""
        return self.f_number / self.pupil_magnification**2

    def at_aperture(self, f_number: float) -> Optics:
        """The same lens at another f-number."""
        return Optics(self.focal_length_mm, f_number, self.pupil_magnification)

    def magnification(self, focus_m: float) -> float:
        """Magnification with the focus so far from the principal plane, ``f/(s - f)``; 0 at infinity."""
        return self.focal_length_mm / (focus_m * 1000.0 - self.focal_length_mm) if math.isfinite(focus_m) else 0.0

    def working_f_number(self, magnification: float) -> float:
        """f-number that light and diffraction see, ``N (1 + m/p)``."""
        return self.f_number * (1.0 + magnification / self.pupil_magnification)

    def perspective_mm(self, magnification: float) -> float:
        """Image distance that the picture is drawn with from the entrance pupil, ``f (1 + m/p)``."""
        return self.focal_length_mm * (1.0 + magnification / self.pupil_magnification)

    def airy_mm(self, magnification: float) -> float:
        """Diameter of the Airy disk on the sensor at a magnification."""
        return float(airy_disk_mm(self.working_f_number(magnification)))

    def defocus_mm(self, focus_m: ArrayLike, distance_m: ArrayLike) -> Array:
        """Blur on the sensor of a point, both distances from the principal plane; shapes broadcast, inf allowed."""
        ahead = self.pupil_ahead_m
        return defocus_blur_mm(
            self.thin_focal_mm,
            self.thin_f_number,
            np.asarray(focus_m, dtype=float) - ahead,
            np.asarray(distance_m, dtype=float) - ahead,
        )


@dataclass(frozen=True)
class Sharpness:
    """How much blur counts as sharp: a diameter on the sensor, with diffraction counted against it or not."""

    circle_mm: float
    diffraction: bool = True

    def allowance_mm(self, optics: Optics, focus_m: float) -> float:
        """What is left for defocus in a frame focused so far, ``sqrt(c^2 - airy^2)``; 0 where nothing is."""
        if not self.diffraction:
            return self.circle_mm
        return defocus_allowance_mm(self.circle_mm, optics.airy_mm(optics.magnification(focus_m)))
