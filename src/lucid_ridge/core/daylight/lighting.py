"""Light on the things of a scene at instants: what reaches each, over the ground that stands before it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from lucid_ridge.core.camera.geometry import Geometry
from lucid_ridge.core.camera.panorama import brightest_reading
from lucid_ridge.core.daylight.skyline import clears_at, element_horizon, standpoint_horizon
from lucid_ridge.core.daylight.surfaces import (
    LitSurface,
    Surface,
    light_at,
    light_target,
    lux_on,
    sky_at,
    stops_of,
    surface_of,
)
from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.core.model.scene import Scene


@dataclass(frozen=True, eq=False)
class Lighting:
    """The light of a scene. An index is an element's position; None stands for the level ground at the standpoint."""

    scene: Scene
    geometry: Geometry
    terrain: Terrain | None

    @cached_property
    def target(self) -> int | None:
        """What the exposure goes by; a panorama's readings are of no one thing."""
        return None if brightest_reading(self.scene.composition) is not None else light_target(self.scene)

    def surface(self, index: int | None) -> Surface:
        """How an element lies to the light."""
        return surface_of(self.scene, self.geometry, index)

    def _clears(self, index: int | None, azimuth_deg: float, altitude_deg: float) -> bool:
        element = None if index is None else self.scene.composition.elements[index]
        middle = None if index is None else self.geometry.middle_m[index]
        return clears_at(self.scene, element, middle, self.terrain, azimuth_deg, altitude_deg)

    def sunlit(self, index: int | None, unix_s: float) -> bool:
        """Whether the sun, as far as the ground goes, shines on an element."""
        sky = sky_at(self.scene.place, unix_s)
        return self._clears(index, float(sky.sun_azimuth_deg[0]), float(sky.sun_altitude_deg[0]))

    def lux(self, index: int | None, unix_s: float, sunlit: bool | None = None) -> float:
        """Illuminance of an element in lux; *sunlit* where it is known better than by the ground."""
        sky = sky_at(self.scene.place, unix_s)
        surface = self.surface(index)
        if sunlit is None:
            sunlit = surface.kind != "sky" and self.sunlit(index, unix_s)
        moonlit = sky.moonbeam_lux[0] > 0 and self._clears(
            index, float(sky.moon_azimuth_deg[0]), float(sky.moon_altitude_deg[0])
        )
        light = light_at(self.scene.place, unix_s, self.scene.composition.cloud_stops)
        return float(lux_on(surface, sky, sunlit, moonlit, light)[0])

    def stops(self, index: int | None, from_unix_s: float, to_unix_s: float) -> float:
        """Stops of light that an element gains (+) from one instant to another."""
        if from_unix_s == to_unix_s:
            return 0.0
        return stops_of(self.lux(index, to_unix_s)) - stops_of(self.lux(index, from_unix_s))

    def since_reading(self, from_unix_s: float, to_unix_s: float) -> float:
        """Stops of light on what was metered since the reading, which may say that it was taken in sun or in shade.

        Shade that the ground does not explain, a tree's say, is taken to last.
        """
        reading = self.scene.composition.reading
        if reading is None or reading.light == "as_found":
            return self.stops(self.target, from_unix_s, to_unix_s)
        said = reading.light == "sun"
        then = self.sunlit(self.target, from_unix_s)
        now = self.sunlit(self.target, to_unix_s) if then == said else said
        before, after = self.lux(self.target, from_unix_s, said), self.lux(self.target, to_unix_s, now)
        return stops_of(after) - stops_of(before)

    def lit_surface(self, index: int | None) -> LitSurface:
        """An element with its whole skyline, for its light at many times."""
        scene = self.scene
        if index is None:
            horizon = standpoint_horizon(scene, self.terrain)
        else:
            element = scene.composition.elements[index]
            horizon = element_horizon(scene, element, np.asarray(self.geometry.middle_m[index]), self.terrain)
        return LitSurface(scene.place, self.surface(index), horizon, scene.composition.cloud_stops)
