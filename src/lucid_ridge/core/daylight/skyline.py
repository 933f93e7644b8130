"""What stands before the sky at the standpoint and at each element, by the place's own horizon."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.light.horizon import (
    Horizon,
    flat_horizon,
    measured_horizon,
    sea_horizon,
    terrain_horizon,
    terrain_threshold_deg,
)
from lucid_ridge.core.light.remembered import remembered_by_terrain
from lucid_ridge.core.light.terrain import Lie, Terrain, lie_of
from lucid_ridge.core.model.place import Place
from lucid_ridge.core.model.scene import Element, Scene

Array = NDArray[np.float64]

# Positions are told apart by a metre, heights by ten centimetres: finer than any terrain model.
_POSITION_M = 1.0
_HEIGHT_M = 0.1
_GROUND = ("ridge", "hill")
MOST_ELEMENTS = 24
"""Elements of which it is told when the sun reaches them, each with a skyline of its own."""


@remembered_by_terrain(most=64)
def _lie(terrain: Terrain, latitude_deg: float, longitude_deg: float) -> Lie:
    return lie_of(terrain, latitude_deg, longitude_deg)


@remembered_by_terrain(most=256)
def _terrain_horizon(
    terrain: Terrain, lie: Lie, east_m: float, north_m: float, above_ground_m: float
) -> Horizon | None:
    """None where the terrain does not reach the point."""
    east, north = (float(v) for v in lie.to_grid(east_m, north_m))
    ground = float(terrain.height_at(east, north))
    if math.isnan(ground):
        return None
    return terrain_horizon(terrain, east, north, ground + above_ground_m, lie.turn_deg)


@lru_cache(maxsize=32)
def _given_horizon(place: Place) -> Horizon:
    if place.horizon == "measured" and place.skyline:
        return measured_horizon(
            [p.azimuth_deg for p in place.skyline], [p.altitude_deg for p in place.skyline], place.elevation_m
        )
    return sea_horizon(place.elevation_m) if place.horizon == "sea" else flat_horizon()


def ground_m(place: Place, terrain: Terrain | None, east_m: float, north_m: float) -> float | None:
    """Ground above sea level at a point, by the terrain; None where it is not known."""
    if terrain is None:
        return None
    east, north = _lie(terrain, place.latitude_deg, place.longitude_deg).to_grid(east_m, north_m)
    found = float(terrain.height_at(east, north))
    return found if math.isfinite(found) else None


def grounds_m(place: Place, terrain: Terrain, east_m: Array, north_m: Array) -> Array:
    """Ground above sea level at points (K,), by the terrain; NaN where it is not known."""
    return terrain.height_at(*_lie(terrain, place.latitude_deg, place.longitude_deg).to_grid(east_m, north_m))


def _horizon_at(place: Place, terrain: Terrain | None, east_m: float, north_m: float, above_ground_m: float) -> Horizon:
    if place.horizon != "terrain" or terrain is None:
        return _given_horizon(place)
    found = _terrain_horizon(
        terrain,
        _lie(terrain, place.latitude_deg, place.longitude_deg),
        round(east_m / _POSITION_M) * _POSITION_M,
        round(north_m / _POSITION_M) * _POSITION_M,
        round(above_ground_m / _HEIGHT_M) * _HEIGHT_M,
    )
    return _given_horizon(place) if found is None else found


def standpoint_horizon(scene: Scene, terrain: Terrain | None) -> Horizon:
    """The skyline at the camera."""
    composition = scene.composition
    return _horizon_at(scene.place, terrain, composition.east_m, composition.north_m, composition.camera_height_m)


def element_horizon(scene: Scene, element: Element, middle_m: Array, terrain: Terrain | None) -> Horizon:
    """The skyline at the middle of an element; of a ridge or hill, which is the terrain itself, on the ground."""
    return _horizon_at(scene.place, terrain, float(middle_m[0]), float(middle_m[1]), _eye_above_m(element))


@remembered_by_terrain(most=8192)
def _terrain_threshold(
    terrain: Terrain, lie: Lie, east_m: float, north_m: float, above_ground_m: float, azimuth_deg: float
) -> float | None:
    """None where the terrain does not reach the point."""
    east, north = (float(v) for v in lie.to_grid(east_m, north_m))
    ground = float(terrain.height_at(east, north))
    if math.isnan(ground):
        return None
    return terrain_threshold_deg(terrain, east, north, ground + above_ground_m, azimuth_deg, lie.turn_deg)


def clears_at(
    scene: Scene,
    element: Element | None,
    middle_m: Array | None,
    terrain: Terrain | None,
    azimuth_deg: float,
    altitude_deg: float,
) -> bool:
    """Whether a body at an airless altitude stands above the skyline of an element, or of the camera (None).

    By one sight alone: a whole skyline is worked out only where many times are asked about.
    """
    place, composition = scene.place, scene.composition
    if place.horizon == "terrain" and terrain is not None:
        if element is None or middle_m is None:
            east, north, above = composition.east_m, composition.north_m, composition.camera_height_m
        else:
            east, north, above = float(middle_m[0]), float(middle_m[1]), _eye_above_m(element)
        threshold = _terrain_threshold(
            terrain,
            _lie(terrain, place.latitude_deg, place.longitude_deg),
            round(east / _POSITION_M) * _POSITION_M,
            round(north / _POSITION_M) * _POSITION_M,
            round(above / _HEIGHT_M) * _HEIGHT_M,
            round(azimuth_deg, 2),
        )
        if threshold is not None:
            return altitude_deg >= threshold
    return bool(_given_horizon(place).clears(azimuth_deg, altitude_deg))


def _eye_above_m(element: Element) -> float:
    """How far above the ground the middle of an element is; a ridge or hill is the ground itself."""
    return 0.0 if element.ridgeline or element.silhouette in _GROUND else element.height_m / 2


def told_elements(scene: Scene) -> list[int]:
    """Elements of which direct sun is told: what stands or lies on the ground, the subject first."""
    order = {"subject": 0, "foreground": 1, "middle": 2, "water": 3, "background": 4}
    found = [i for i, e in enumerate(scene.composition.elements) if e.role in order]
    found.sort(key=lambda i: order[scene.composition.elements[i].role])
    return sorted(found[:MOST_ELEMENTS])
