"""How what moves is spread over the time of a frame, in pixels."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.camera.geometry import Geometry
from lucid_ridge.core.model.scene import Element
from lucid_ridge.core.motion.travel import travel_mm
from lucid_ridge.core.rehearsal.pixels import line_kernel, points_kernel
from lucid_ridge.core.rehearsal.shots import Shot
from lucid_ridge.core.rehearsal.surfaces import Drift

Array = NDArray[np.float32]

SWAYS_HZ = 0.9
"""How often leaves and stalks sway (common practice: once a second or so)."""
_WIND_WAY = (0.97, 0.12)
_MOST_SAMPLES = 2000


def pixels_per_s(geometry: Geometry, element: Element, distance_m: float, pixel_mm: float, gust: float = 1.0) -> float:
    """How fast an element goes through the picture, pixels a second: as the core's own travel says."""
    from_pupil = max(distance_m - geometry.pupil_ahead_m, 0.004)
    image = geometry.camera.image_distance_mm
    return float(travel_mm(element.speed_m_s * gust, 1.0, image, from_pupil)) / pixel_mm


def sway_kernel(speed_px_s: float, shot: Shot, phase: float) -> Array | None:
    """What a point of something that sways becomes: a sine whose fastest is *speed_px_s*, over the time of the frame.

    Where it stands moves from frame to frame with the time at which each begins.
    """
    turn = 2 * math.pi * SWAYS_HZ
    amplitude = speed_px_s / turn
    if amplitude < 0.15:
        return None
    samples = int(min(max(64, 64 * shot.shutter_s * SWAYS_HZ), _MOST_SAMPLES))
    at = shot.starts_after_s + np.linspace(0, shot.shutter_s, samples)
    # Two sines that do not go together: leaves never come back to where they were.
    place = amplitude * (0.75 * np.sin(turn * at + phase) + 0.25 * np.sin(1.7 * turn * at + 2 * phase))
    return points_kernel(place * _WIND_WAY[0], place * _WIND_WAY[1])


def run_kernel(speed_px_s: float, shot: Shot, way: tuple[float, float]) -> tuple[Array | None, tuple[float, float]]:
    """What a point of something that goes on becomes, and where its middle is by then, pixels right and down."""
    length = speed_px_s * shot.shutter_s
    middle = speed_px_s * (shot.starts_after_s + shot.shutter_s / 2)
    return line_kernel(length * way[0], length * way[1]), (middle * way[0], middle * way[1])


def water_drift(geometry: Geometry, element: Element, shot: Shot) -> Drift:
    """How water goes through the picture: along its bed, as fast there as the core's own travel says."""
    turned = math.radians(element.turned_deg - geometry.camera.azimuth_deg)
    return Drift(
        right_m_s=-element.speed_m_s * math.sin(turned),
        down_m_s=element.speed_m_s * math.cos(turned),
        during_s=shot.shutter_s,
        before_s=shot.starts_after_s,
    )
