"""Laws of exposure that the evaluation of one composition and the search over many share, over arrays of any shape."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from lucid_ridge.core.exposure.tolerances import MARK, MARK_STOPS
from lucid_ridge.core.model.kit import LONGEST_S, SHORTEST_S, Body
from lucid_ridge.core.stops.film import gathered_s, held_open_s

Array = NDArray[np.float64]


class LayerExposure(NamedTuple):
    """Shutter times in seconds and ISO of a layer, and by how many stops it fails (0 where it does not); shapes alike."""

    shutter_s: Array
    iso: Array
    fails: Array


def set_times(body: Body, exact_s: ArrayLike) -> Array:
    """Shutter times as they can be set: on a third where the body times them, as they are where a hand does.

    Parameters
    ----------
    body
        Its shortest time, and the longest that it counts itself.
    exact_s
        Times in seconds that the account asks for.

    """
    exact = np.clip(np.asarray(exact_s, dtype=float), SHORTEST_S, LONGEST_S)
    marks = np.maximum(2 ** (np.round(3 * np.log2(exact)) / 3), body.shortest_shutter_s)
    return np.asarray(np.where(exact <= body.longest_timed_s * MARK, marks, exact))


def doublings_above(value: ArrayLike, allowed: float, slack: float) -> Array:
    """By how many doublings something exceeds what is allowed; 0 within a slack in doublings."""
    found = np.asarray(value, dtype=float)
    if not math.isfinite(allowed):
        return np.zeros_like(found)
    with np.errstate(divide="ignore"):
        over = np.log2(np.maximum(found, 1e-300) / max(allowed, 1e-300))
    return np.asarray(np.where(over > slack + 1e-9, over, 0.0))


def layer_exposure(
    body: Body, most_iso: float, product: ArrayLike, base_s: ArrayLike, slowest_s: float
) -> LayerExposure:
    """The lowest ISO at which a layer is as bright as the base frame and no slower than that, and its shutter time.

    Parameters
    ----------
    body
        Its ISO and times.
    most_iso
        The highest ISO that is allowed.
    product
        Light to gather: the base frame's seconds before the film's correction, times its ISO, without its density.
    base_s
        Shutter times of the base frame, seconds: a layer is no slower.
    slowest_s
        The longest time that freezes what the layer is for, seconds.

    """
    power = body.reciprocity_p
    light = np.asarray(product, dtype=float)
    longest = gathered_s(np.minimum(slowest_s * MARK, base_s), power)
    lowest = round(3 * math.log2(body.base_iso / 100))
    index = np.maximum(np.ceil(3 * np.log2(light / longest / 100) - 1e-6), lowest)
    iso = 100 * 2 ** (index / 3)
    shutter = 2 ** (np.round(3 * np.log2(held_open_s(light / iso, power))) / 3)
    slow = doublings_above(shutter, float(slowest_s) * MARK, MARK_STOPS)
    fast = np.where(shutter < body.shortest_shutter_s / MARK, 1.0, 0.0)
    dear = doublings_above(iso, min(most_iso, body.highest_iso), MARK_STOPS)
    return LayerExposure(np.asarray(shutter), np.asarray(iso), np.maximum(dear, np.maximum(slow, fast)))
