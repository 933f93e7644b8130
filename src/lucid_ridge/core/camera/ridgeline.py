"""Ridgelines as measured: bearing, distance and height of each point from where it was measured."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.model.scene import Element

Array = NDArray[np.float64]


def ridge_points_m(element: Element) -> Array | None:
    """Points (K, 3) of a ridgeline in east-north-up metres, not lowered by curvature; None for a box."""
    if len(element.ridgeline) < 2:
        return None
    table = np.array([(p.bearing_deg, p.distance_m, p.height_m) for p in element.ridgeline], dtype=float)
    bearing = np.radians(table[:, 0])
    east = element.east_m + table[:, 1] * np.sin(bearing)
    north = element.north_m + table[:, 1] * np.cos(bearing)
    return np.stack([east, north, table[:, 2]], axis=1)
