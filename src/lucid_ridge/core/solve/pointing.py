"""Where a press in the view points: along which sight, how far to level ground, and how far to the terrain."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from lucid_ridge.core.changes.view_moves import level_distance_m
from lucid_ridge.core.daylight.skyline import ground_m, grounds_m
from lucid_ridge.core.framing.camera import earth_drop_m
from lucid_ridge.core.state.state import State

_NEAREST_M, _FARTHEST_M = 8.0, 60_000.0
_STEP_SHARE = 0.004
"""Steps along a sight grow with the distance; each is a quarter of a degree wide or so."""


@dataclass(frozen=True)
class Sight:
    """Bearing and altitude of a press, degrees; level distances to flat ground and to the terrain, metres, None without."""

    bearing_deg: float
    altitude_deg: float
    level_m: float | None
    terrain_m: float | None


def sight(state: State, x: float, y: float) -> Sight:
    """The sight through a place in the frame, 0 to 1 from the left and the top."""
    camera = state.geometry.camera
    bearing, altitude = (float(v) for v in camera.directions(x, y))
    level = level_distance_m(camera, altitude, state.scene.composition.ground_m)
    return Sight(bearing, altitude, level, _terrain_distance_m(state, bearing, altitude))


def _terrain_distance_m(state: State, bearing_deg: float, altitude_deg: float) -> float | None:
    """Level distance at which a sight first meets the terrain, metres."""
    composition, place, terrain = state.scene.composition, state.scene.place, state.terrain
    here = ground_m(place, terrain, composition.east_m, composition.north_m)
    if terrain is None or here is None:
        return None
    steps = int(math.log(_FARTHEST_M / _NEAREST_M) / math.log1p(_STEP_SHARE))
    distance = np.asarray(_NEAREST_M * (1 + _STEP_SHARE) ** np.arange(steps), dtype=np.float64)
    b = math.radians(bearing_deg)
    ground = grounds_m(
        place, terrain, composition.east_m + distance * math.sin(b), composition.north_m + distance * math.cos(b)
    )
    height = here + composition.camera_height_m + distance * math.tan(math.radians(altitude_deg))
    met = np.flatnonzero(np.nan_to_num(ground - earth_drop_m(distance), nan=-np.inf) >= height)
    return float(distance[met[0]]) if len(met) and met[0] > 0 else None
