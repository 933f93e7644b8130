"""The sky behind everything: brighter and paler towards the horizon and the sun (its colours are invented)."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.framing.camera import Camera
from lucid_ridge.core.rehearsal.tints import LUMINANCE, balanced
from lucid_ridge.core.rehearsal.window import Window

Array = NDArray[np.float32]

_GRID = (24, 32)
_GLOW_DEG = 22.0


def sky_colour(camera: Camera, window: Window, sun: tuple[float, float], cloud_stops: float) -> Array:
    """Colour (rows, columns, 3) of the sky, of luminance about 1. *sun* is azimuth and altitude."""
    rows = np.linspace(window.rows[0], window.rows[-1], _GRID[0])
    columns = np.linspace(window.columns[0], window.columns[-1], _GRID[1])
    azimuth, altitude = camera.directions(*np.meshgrid(columns, rows))
    high = np.clip(altitude / 45, 0, 1)[..., None] ** 0.7
    sun_azimuth, sun_altitude = sun
    low_sun = float(np.interp(sun_altitude, [-14, -5, 1, 10], [0.0, 0.9, 1.0, 0.0]))
    day, dusk = balanced((0.62, 0.95, 1.9)), balanced((0.55, 0.8, 2.0))
    top = day + (dusk - day) * float(np.interp(sun_altitude, [-8, 4], [1, 0]))
    pale = balanced((0.94, 1.0, 1.14)) + low_sun * (balanced((1.5, 0.95, 0.62)) - balanced((0.94, 1.0, 1.14)))
    away = np.hypot((azimuth - sun_azimuth + 180) % 360 - 180, (altitude - max(sun_altitude, 0.0)) * 1.3)[..., None]
    glow = np.exp(-((away / _GLOW_DEG) ** 1.2)) * float(np.interp(sun_altitude, [-9, -2, 3], [0.0, 0.8, 1.0]))
    clear = max(0.0, 1 - cloud_stops / 2)
    colour = pale + (top - pale) * high
    grey = balanced((0.97, 1.0, 1.06))
    colour = grey + (colour - grey) * (0.25 + 0.75 * clear)
    bright = (1.18 - 0.4 * high * (0.3 + 0.7 * clear)) * (1 + 0.9 * glow * clear)
    colour = colour / (colour @ LUMINANCE)[..., None] * bright
    warm = balanced((1.35, 0.98, 0.72))
    colour = colour + glow * clear * 0.5 * low_sun * (warm * bright - colour)
    return np.asarray(
        cv2.resize(colour.astype(np.float32), (window.across, window.down), interpolation=cv2.INTER_CUBIC)
    )
