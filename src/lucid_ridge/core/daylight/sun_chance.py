"""What a forecast says of direct sun."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.light.weather import LIKELY, sun_chance
from lucid_ridge.core.light.windows import stretches
from lucid_ridge.core.model.place import Forecast

Array = NDArray[np.float64]


def cloud_layers(forecast: Forecast) -> tuple[Array, Array, Array, Array]:
    """Unix seconds of a forecast's hours, and the shares 0..1 of low, middle and high cloud."""
    return (
        np.array([h.at_utc.timestamp() for h in forecast.hours]),
        np.array([h.cloud_low for h in forecast.hours]),
        np.array([h.cloud_middle for h in forecast.hours]),
        np.array([h.cloud_high for h in forecast.hours]),
    )


def chance_of_sun(forecast: Forecast, unix_s: Array) -> Array:
    """Chance 0..1 of direct sun at instants, by lines between the hours; NaN where nothing is forecast."""
    at, low, middle, high = cloud_layers(forecast)
    return np.asarray(np.interp(unix_s, at, sun_chance(low, middle, high), left=np.nan, right=np.nan))


def likely_spans(
    forecast: Forecast, first: float, last: float, lit: tuple[tuple[float, float], ...]
) -> tuple[tuple[float, float], ...]:
    """Parts of lit stretches (positions 0..1 of the day) in which the forecast lets the sun through."""
    at = np.arange(first, last, 300.0)
    position = (at - first) / (last - first)
    sunny = np.nan_to_num(chance_of_sun(forecast, at)) >= LIKELY
    under = np.zeros(len(at), dtype=bool)
    for a, b in lit:
        under |= (position >= a) & (position <= b)
    return tuple((float(position[i]), float(position[j])) for i, j in stretches(sunny & under).tolist())
