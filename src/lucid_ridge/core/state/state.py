"""What follows from a scene: the quantities that reports, tensions and explanations read.

Building a state is the cheap half of an evaluation; mends are tried by building the state of the
changed scene.
"""

from __future__ import annotations

import math
from collections.abc import Hashable
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.camera.geometry import Geometry, build_geometry, focus_distance
from lucid_ridge.core.camera.mounted_lens import optics_of
from lucid_ridge.core.camera.moving_support import Sway, sway_of, together_s
from lucid_ridge.core.daylight.lighting import Lighting
from lucid_ridge.core.daylight.skyline import element_horizon, standpoint_horizon
from lucid_ridge.core.daylight.surfaces import CLOUD_WITHOUT_SHADOWS, LightCurve, LitSurface, light_curve
from lucid_ridge.core.exposure.closing import Exposure, close_exposure, metered_exposure
from lucid_ridge.core.exposure.polarised import polarised
from lucid_ridge.core.exposure.tones import Tone, doubt_stops, tone_of
from lucid_ridge.core.light.ephemeris import LAST_UNIX, sun_at
from lucid_ridge.core.light.horizon import Horizon
from lucid_ridge.core.light.refraction import seen_altitude_deg
from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.motion.travel import equivalent_focal_length_mm, hand_held_limit_s
from lucid_ridge.core.state.depth import Depth, depth_of
from lucid_ridge.core.state.tonal_range import Range, range_of

Array = NDArray[np.float64]


@dataclass(frozen=True)
class State:
    """A scene with everything that follows from it. ``scene`` carries the closed settings.

    ``shading`` is azimuth and refracted altitude of a sun that casts shadows, None where there is none.
    """

    scene: Scene
    unix_s: float
    terrain: Terrain | None
    horizon: Horizon
    sun_altitude_deg: float
    sun_azimuth_deg: float
    shading: tuple[float, float] | None
    geometry: Geometry
    exposure: Exposure
    depth: Depth
    range: Range
    equivalent_mm: float
    hand_held_limit_s: float
    stabiliser_stops: float
    sway: Sway
    lighting: Lighting
    tones: tuple[Tone | None, ...]
    """How bright each element is at the moment, None where nothing tells."""
    shadows: dict[str, dict[int, Array]] = field(default_factory=dict, compare=False, repr=False)
    """Cast shadows by element under "rings", once they are asked for."""
    tried: dict[Hashable, State] = field(default_factory=dict, compare=False, repr=False)
    """States that changes of this one led to, by the changes."""

    def horizon_of(self, index: int | None) -> Horizon:
        """The skyline at an element, or where the camera stands (None)."""
        if index is None:
            return self.horizon
        return element_horizon(self.scene, self.geometry.elements[index], self.geometry.middle_m[index], self.terrain)

    @cached_property
    def metered_light(self) -> LitSurface:
        """The light on what the exposure goes by, at any time."""
        return self.lighting.lit_surface(self.lighting.target)

    @cached_property
    def light_curve(self) -> LightCurve:
        """The same, sampled once for the many frames of a sequence."""
        return light_curve(self.metered_light)

    @property
    def steady(self) -> bool:
        """Whether the camera stands on something."""
        return not self.scene.composition.hand_held and self.scene.kit.support.kind != "hand"

    @property
    def steadiness_s(self) -> float:
        """Longest shutter time that the hand, and what one stands on, let stay sharp; inf on firm ground."""
        return together_s(math.inf if self.steady else self.hand_held_limit_s, self.sway.limit_s)

    @property
    def offsets(self) -> tuple[float, ...]:
        """Exposure offsets of the frames at one focus, stops."""
        return self.range.bracket.offsets_stops if self.range.bracket else (0.0,)


def _shading_sun(scene: Scene, horizon: Horizon, azimuth_deg: float, altitude_deg: float) -> tuple[float, float] | None:
    """Azimuth and refracted altitude of a sun that casts shadows; None where it is down or behind hill or cloud.

    Two stops of cloud take the shadows away (common practice).
    """
    seen = seen_altitude_deg(altitude_deg, scene.place.elevation_m)
    clear = scene.composition.cloud_stops < CLOUD_WITHOUT_SHADOWS
    return (azimuth_deg, seen) if seen > 0 and clear and bool(horizon.clears(azimuth_deg, altitude_deg)) else None


# Long: one record, field by field, in the order in which they hang on each other.
def build_state(scene: Scene, earlier: State | None = None, terrain: Terrain | None = None) -> State:
    """Everything that follows from a checked scene. *terrain* is the place's, where it has one.

    *earlier* is the state of the scene from which this one was made by a change of settings,
    technique or wants; its metered exposure is used again where it still holds.
    """
    composition, body = scene.composition, scene.kit.body
    unix_s = min(composition.moment_utc.timestamp(), LAST_UNIX)
    altitude, azimuth = sun_at(unix_s, scene.place.latitude_deg, scene.place.longitude_deg)
    horizon = standpoint_horizon(scene, terrain)
    sun = _shading_sun(scene, horizon, azimuth, altitude)
    geometry = build_geometry(scene, sun)
    lighting = Lighting(scene, geometry, terrain)
    same_light = (
        earlier is not None
        and earlier.unix_s == unix_s
        and earlier.horizon is horizon
        and earlier.scene.composition.reading is composition.reading
        and earlier.scene.composition.elements is composition.elements
        and earlier.scene.composition.panorama == composition.panorama
        and earlier.scene.composition.cloud_stops == composition.cloud_stops
    )
    metered = earlier.exposure.metered if earlier and same_light else metered_exposure(scene, lighting, unix_s)
    magnification = optics_of(scene.kit.lens, composition.settings).magnification(focus_distance(scene))
    element_y = {
        e.id: float(geometry.middle_y[i])
        for i, e in enumerate(composition.elements)
        if not math.isnan(geometry.near_m[i])
    }
    exposure = close_exposure(scene, metered, magnification, element_y)
    scene = replace(scene, composition=replace(composition, settings=exposure.settings))
    depth = depth_of(scene, geometry)
    doubt = doubt_stops(scene, altitude)
    same_tones = (
        same_light
        and earlier is not None
        and earlier.geometry is geometry
        and earlier.scene.composition.settings.filters == composition.settings.filters
    )
    tones = (
        earlier.tones
        if earlier and same_tones
        else tuple(
            polarised(scene, geometry, i, tone_of(scene, i, metered, lighting, unix_s, doubt), (azimuth, altitude))
            for i in range(len(composition.elements))
        )
    )
    equivalent = float(
        equivalent_focal_length_mm(composition.settings.focal_length_mm, body.sensor_width_mm, body.sensor_height_mm)
    )
    stabiliser = max(body.stabiliser_stops, scene.kit.lens.stabiliser_stops)
    diagonal = math.hypot(body.sensor_width_mm, body.sensor_height_mm)
    by_hand = float(
        hand_held_limit_s(
            equivalent,
            stabiliser,
            magnification,
            depth.circle_of_confusion_mm / diagonal,
            composition.wants.hand_held_factor,
        )
    )
    return State(
        scene=scene,
        unix_s=unix_s,
        terrain=terrain,
        horizon=horizon,
        sun_altitude_deg=altitude,
        sun_azimuth_deg=azimuth,
        shading=sun,
        geometry=geometry,
        exposure=exposure,
        depth=depth,
        range=range_of(scene, geometry, exposure, len(depth.slices), tones),
        lighting=lighting,
        tones=tones,
        equivalent_mm=equivalent,
        hand_held_limit_s=by_hand,
        stabiliser_stops=stabiliser,
        sway=sway_of(scene.kit.support, geometry, depth.circle_of_confusion_mm, stabiliser),
    )
