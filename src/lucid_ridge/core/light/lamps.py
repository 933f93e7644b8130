"""Flash and lamps for close subjects, in stops beside the light that is there.

References
----------
.. [1] ISO 1230 / common practice: guide number = distance x f-number, at ISO 100 and full power, in metres.
.. [2] Common practice: charge, and with it the wait, goes with the power that was taken.

"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]


def flash_stops(
    guide_number_m: ArrayLike,
    power: ArrayLike,
    distance_m: ArrayLike,
    working_f_number: ArrayLike,
    iso: ArrayLike,
    filter_stops: ArrayLike = 0.0,
) -> Array:
    """How far a flash alone exposes above (+) or below a mid-tone, stops [1]_.

    ``2 log2(GN / (d N')) + log2(power) + log2(ISO/100) - filters``, N' the working f-number: the lens's
    extension takes from a flash what it takes from any light.
    """
    aperture = 2.0 * np.log2(np.asarray(guide_number_m, dtype=float) / (np.asarray(distance_m) * working_f_number))
    return np.asarray(
        aperture + np.log2(power) + np.log2(np.asarray(iso, dtype=float) / 100.0) - np.asarray(filter_stops)
    )


def power_for_stops(
    guide_number_m: float, distance_m: float, working_f_number: float, iso: float, stops: float
) -> float:
    """Share of full power that exposes so many stops above a mid-tone; above 1 it cannot be had."""
    full = float(flash_stops(guide_number_m, 1.0, distance_m, working_f_number, iso))
    return float(2.0 ** (stops - full))


def recycle_s(full_recycle_s: ArrayLike, power: ArrayLike) -> Array:
    """Wait after a flash, in proportion to its power [2]_."""
    return np.asarray(np.asarray(full_recycle_s, dtype=float) * power)


def flash_duration_s(full_duration_s: ArrayLike, power: ArrayLike) -> Array:
    """How long the flash lights, in proportion to its power (common practice for flashes that cut off)."""
    return np.asarray(np.asarray(full_duration_s, dtype=float) * power)


def lamp_stops(
    ev100_at_1_m: ArrayLike, distance_m: ArrayLike, f_number: ArrayLike, shutter_s: ArrayLike, iso: ArrayLike
) -> Array:
    """How far a lamp alone exposes above a mid-tone, stops; its light falls with the square of distance.

    *f_number* is the working one. The lamp is known by a meter's reading of it, EV at ISO 100 from 1 m.
    """
    needed = np.log2(np.asarray(f_number, dtype=float) ** 2 / shutter_s) - np.log2(np.asarray(iso) / 100.0)
    return np.asarray(np.asarray(ev100_at_1_m) - 2.0 * np.log2(distance_m) - needed)


def together_stops(stops: ArrayLike) -> float:
    """Several lights on one subject: their sum, in stops above a mid-tone; -inf for none."""
    given = np.asarray(stops, dtype=float)
    return float(np.log2(np.sum(2.0**given))) if given.size else float("-inf")
