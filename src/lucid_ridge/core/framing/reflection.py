"""Still water as a mirror: each thing seen again at its mirror place below the water's level.

A ray from a point reflected by level water reaches the camera as if it came from the point's mirror
image; it is seen where that ray crosses the water. So the reflection is the mirrored outline cut to
the water's outline, less what stands in front of either.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.framing.camera import earth_drop_m
from lucid_ridge.core.framing.silhouettes import Paint

Array = NDArray[np.float64]


def mirrored(
    shapes: tuple[tuple[Paint, Array], ...], level_m: float, camera_m: tuple[float, float, float]
) -> tuple[tuple[Paint, Array], ...]:
    """Outlines (K, 3), already lowered by the Earth's curvature, mirrored in water at a level.

    What reaches below the water is cut off at its level before it is mirrored.
    """
    found = []
    for paint, points in shapes:
        away = np.hypot(points[:, 0] - camera_m[0], points[:, 1] - camera_m[1])
        drop = earth_drop_m(away)
        height = np.maximum(points[:, 2] + drop, level_m)
        image = points.copy()
        image[:, 2] = 2 * level_m - height - drop
        found.append((paint, image))
    return tuple(found)
