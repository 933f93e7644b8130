"""A pinhole camera at the entrance pupil, in local east-north-up metres.

Normalised image coordinates run 0..1 across the full frame, x to the right and y down. Azimuths
are degrees clockwise from true north; pitch is positive upwards; roll is positive when the camera
leans to the right (clockwise seen from behind).

References
----------
.. [1] R. Hartley and A. Zisserman, Multiple View Geometry in Computer Vision, 2nd ed., 2004.

"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]

EARTH_RADIUS_M = 6_371_000.0
REFRACTION_K = 0.13
NEAREST_DRAWN_M = 0.005


def earth_drop_m(distance_m: ArrayLike) -> Array:
    """How far curvature less refraction lowers a point: ``d^2 (1 - k) / (2 R)``, k = 0.13."""
    d = np.asarray(distance_m, dtype=float)
    return np.asarray(d * d * (1.0 - REFRACTION_K) / (2.0 * EARTH_RADIUS_M))


def field_of_view_deg(frame_mm: ArrayLike, image_distance_mm: ArrayLike) -> Array:
    """Angle taken in along one side of the frame, ``2 atan(w / (2 v))``."""
    w, v = np.asarray(frame_mm, dtype=float), np.asarray(image_distance_mm, dtype=float)
    return np.asarray(np.degrees(2.0 * np.arctan(w / (2.0 * v))))


def frame_sides_mm(sensor_width_mm: float, sensor_height_mm: float, upright: bool) -> tuple[float, float]:
    """Width and height of the frame as the camera is held."""
    short, long = sorted((sensor_width_mm, sensor_height_mm))
    return (short, long) if upright else (long, short)


def view_of_equivalent_deg(equivalent_mm: float, aspect: float) -> float:
    """Angle across a picture by its 35 mm equivalent focal length, which compares diagonals (Exif 2.3).

    *aspect* is the picture's width over its height; the full frame's diagonal is 43.27 mm.
    """
    across = math.hypot(36.0, 24.0) * aspect / math.hypot(aspect, 1.0)
    return math.degrees(2.0 * math.atan(across / (2.0 * equivalent_mm)))


@dataclass(frozen=True)
class Camera:
    """Where the lens is, where it points and what it takes in.

    Parameters
    ----------
    position_m
        East, north and height of the entrance pupil.
    azimuth_deg, pitch_deg, roll_deg
        Aim of the lens axis.
    image_distance_mm
        Distance of the image plane, the focal length for focus at infinity.
    frame_width_mm, frame_height_mm
        Sides of the frame as held (already swapped when upright).

    """

    position_m: tuple[float, float, float]
    azimuth_deg: float
    pitch_deg: float
    roll_deg: float
    image_distance_mm: float
    frame_width_mm: float
    frame_height_mm: float

    @cached_property
    def axes(self) -> Array:
        """Rows: right, down and forward unit vectors in east-north-up."""
        az, p, r = (math.radians(a) for a in (self.azimuth_deg, self.pitch_deg, self.roll_deg))
        forward = np.array([math.sin(az) * math.cos(p), math.cos(az) * math.cos(p), math.sin(p)])
        level_right = np.array([math.cos(az), -math.sin(az), 0.0])
        level_up = np.array([-math.sin(az) * math.sin(p), -math.cos(az) * math.sin(p), math.cos(p)])
        right = math.cos(r) * level_right - math.sin(r) * level_up
        up = math.sin(r) * level_right + math.cos(r) * level_up
        return np.array([right, -up, forward])

    @property
    def half_tangents(self) -> tuple[float, float]:
        """Tangents of half the horizontal and half the vertical field of view."""
        return (
            self.frame_width_mm / (2 * self.image_distance_mm),
            self.frame_height_mm / (2 * self.image_distance_mm),
        )

    def to_camera(self, points_m: ArrayLike) -> Array:
        """Right, down and depth in metres of points (..., 3) given in east-north-up."""
        offset = np.asarray(points_m, dtype=float) - np.asarray(self.position_m)
        return np.asarray(offset @ self.axes.T)

    def to_frame(self, camera_points: Array) -> Array:
        """Normalised image coordinates (..., 2) of points in camera axes, depth above zero."""
        half_x, half_y = self.half_tangents
        depth = camera_points[..., 2]
        x = 0.5 + camera_points[..., 0] / depth / (2 * half_x)
        y = 0.5 + camera_points[..., 1] / depth / (2 * half_y)
        return np.stack([x, y], axis=-1)

    def project(self, points_m: ArrayLike) -> Array:
        """Normalised image coordinates (..., 2) of points in front of the camera; NaN behind it."""
        seen = self.to_camera(points_m)
        # What stands beside the lens itself is seen nowhere, and would be infinitely far outside the frame.
        behind = seen[..., 2] <= 1e-9
        safe = np.where(behind[..., None], np.array([0.0, 0.0, 1.0]), seen)
        return np.where(behind[..., None], np.nan, self.to_frame(safe))

    def project_direction(self, azimuth_deg: ArrayLike, altitude_deg: ArrayLike) -> Array:
        """Normalised image coordinates of directions at infinity (sun, horizon); NaN behind."""
        az, alt = np.radians(azimuth_deg), np.radians(altitude_deg)
        directions = np.stack(
            [np.sin(az) * np.cos(alt), np.cos(az) * np.cos(alt), np.sin(alt) * np.ones_like(az)],
            axis=-1,
        )
        return self.project(np.asarray(self.position_m) + directions)

    def directions(self, x: ArrayLike, y: ArrayLike) -> tuple[Array, Array]:
        """Azimuths 0..360 and altitudes in degrees that normalised image coordinates look towards."""
        half_x, half_y = self.half_tangents
        across, down = np.asarray(x, dtype=float), np.asarray(y, dtype=float)
        seen = np.stack([(across - 0.5) * 2 * half_x, (down - 0.5) * 2 * half_y, np.ones_like(across + down)], axis=-1)
        east, north, up = np.moveaxis(seen @ self.axes, -1, 0)
        return np.degrees(np.arctan2(east, north)) % 360, np.degrees(np.arctan2(up, np.hypot(east, north)))

    def horizon_y(self) -> tuple[float, float] | None:
        """Height in the frame of the level horizon at the left and right edge, None if unseen."""
        sides = self.project_direction(np.array([self.azimuth_deg - 20, self.azimuth_deg + 20]), np.zeros(2))
        if np.isnan(sides).any():
            return None
        (x0, y0), (x1, y1) = sides
        if abs(x1 - x0) < 1e-9:
            return None
        slope = (y1 - y0) / (x1 - x0)
        left, right = y0 - slope * x0, y0 + slope * (1 - x0)
        if min(left, right) > 1 or max(left, right) < 0:
            return None
        return float(left), float(right)
