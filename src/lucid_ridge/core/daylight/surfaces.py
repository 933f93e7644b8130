"""The light on each thing itself: how its face stands to sun, moon and sky, and whether the ground shades it.

Level ground, water and whatever lies face up; what stands is taken as upright, facing as its near face does; a
ridgeline faces the camera. A surface gets the beam times the cosine of its angle of incidence where the skyline lets
it through, and of the sky's light the share that it sees: all of it face up, half of it upright.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from lucid_ridge.core.camera.geometry import Geometry
from lucid_ridge.core.framing.silhouettes import LYING
from lucid_ridge.core.light.clear_sky import SkyLight, clouded, split
from lucid_ridge.core.light.ephemeris import LAST_UNIX, moon_phase, moon_place, sun_place
from lucid_ridge.core.light.horizon import Horizon
from lucid_ridge.core.light.moonlight import moonbeam_lux, moonlit_sky_lux
from lucid_ridge.core.model.place import Place
from lucid_ridge.core.model.scene import Scene

Array = NDArray[np.float64]
SurfaceKind = Literal["level", "upright", "sky"]

CLOUD_WITHOUT_SHADOWS = 2.0
"""Stops of cloud that take the shadows away (common practice)."""
UPRIGHT_SKY = 0.5
"""Share of the sky that an upright face sees."""
_HOUR_S = 3600.0
_SAMPLES_S = np.arange(0.0, _HOUR_S, 20.0)
_MOON_COUNTS_BELOW_DEG = 0.0
"""With the sun higher than this the Moon's light is a thousandth of it."""


@dataclass(frozen=True)
class Surface:
    """How something lies to the light: level, upright and facing an azimuth, or the sky itself."""

    kind: SurfaceKind
    faces_deg: float = 0.0


LEVEL, SKY = Surface("level"), Surface("sky")


class Sky(NamedTuple):
    """Sun and Moon at instants (T,): airless altitudes and azimuths in degrees; lux of the Moon's beam and its sky."""

    sun_altitude_deg: Array
    sun_azimuth_deg: Array
    moon_altitude_deg: Array
    moon_azimuth_deg: Array
    moonbeam_lux: Array
    moonlit_sky_lux: Array


def sky_of(place: Place, unix_s: ArrayLike) -> Sky:
    """Sun and Moon over a place; the Moon where it counts, else below the horizon."""
    at = np.atleast_1d(np.minimum(np.asarray(unix_s, dtype=float), LAST_UNIX))
    sun = sun_place(at, place.latitude_deg, place.longitude_deg)
    dark = sun.altitude_deg < _MOON_COUNTS_BELOW_DEG
    altitude, azimuth = np.full(at.shape, -90.0), np.zeros(at.shape)
    beam, glow = np.zeros(at.shape), np.zeros(at.shape)
    if dark.any():
        moon = moon_place(at[dark], place.latitude_deg, place.longitude_deg)
        altitude[dark], azimuth[dark] = moon.altitude_deg, moon.azimuth_deg
        lit = moon_phase(at[dark]).lit
        beam[dark] = moonbeam_lux(moon.altitude_deg, lit, moon.distance_au)
        glow[dark] = moonlit_sky_lux(moon.altitude_deg, lit, moon.distance_au)
    return Sky(sun.altitude_deg, sun.azimuth_deg, altitude, azimuth, beam, glow)


@lru_cache(maxsize=256)
def sky_at(place: Place, unix_s: float) -> Sky:
    """The same at one instant, remembered: every element asks for it."""
    return sky_of(place, unix_s)


def _incidence(surface: Surface, altitude_deg: Array, azimuth_deg: Array) -> Array:
    """Cosine of the angle of incidence of a beam on a surface; 0 from behind it."""
    h = np.radians(np.maximum(altitude_deg, 0.0))
    if surface.kind == "level":
        return np.asarray(np.sin(h))
    if surface.kind == "sky":
        return np.zeros_like(h)
    return np.asarray(np.maximum(np.cos(h) * np.cos(np.radians(azimuth_deg - surface.faces_deg)), 0.0))


def light_of(sky: Sky, cloud_stops: float) -> tuple[SkyLight, SkyLight]:
    """Beam and sky of the Sun and of the Moon, lux, under cloud that takes so many stops from level ground."""
    day = clouded(split(sky.sun_altitude_deg), sky.sun_altitude_deg, cloud_stops, CLOUD_WITHOUT_SHADOWS)
    moon = SkyLight(sky.moonbeam_lux, sky.moonlit_sky_lux)
    return day, clouded(moon, sky.moon_altitude_deg, cloud_stops, CLOUD_WITHOUT_SHADOWS)


@lru_cache(maxsize=256)
def light_at(place: Place, unix_s: float, cloud_stops: float) -> tuple[SkyLight, SkyLight]:
    """The same at one instant, remembered: every element asks for it."""
    return light_of(sky_at(place, unix_s), cloud_stops)


def lux_on(
    surface: Surface,
    sky: Sky,
    sunlit: NDArray[np.bool_] | bool,
    moonlit: NDArray[np.bool_] | bool,
    light: tuple[SkyLight, SkyLight],
) -> Array:
    """Illuminance of a surface in lux, shape (T,).

    Parameters
    ----------
    surface
        How it lies.
    sky
        Sun and Moon.
    sunlit, moonlit
        Whether the skyline lets their beams through.
    light
        Of the Sun and of the Moon, from `light_of`.

    """
    day, moon = light
    seen = UPRIGHT_SKY if surface.kind == "upright" else 1.0
    beam = day.beam * _incidence(surface, sky.sun_altitude_deg, sky.sun_azimuth_deg) * np.asarray(sunlit)
    beam = beam + moon.beam * _incidence(surface, sky.moon_altitude_deg, sky.moon_azimuth_deg) * np.asarray(moonlit)
    return np.asarray(beam + (day.sky + moon.sky) * seen)


def surface_of(scene: Scene, geometry: Geometry, index: int | None) -> Surface:
    """How an element lies to the light; the level ground about the standpoint for None."""
    if index is None:
        return LEVEL
    element = scene.composition.elements[index]
    if element.role == "sky":
        return SKY
    if len(element.ridgeline) > 1:
        return Surface("upright", (geometry.away(index)[1] + 180.0) % 360.0)
    if element.silhouette in LYING:
        return LEVEL
    return Surface("upright", (element.turned_deg + 180.0) % 360.0)


@dataclass(frozen=True)
class LitSurface:
    """A surface in its place, with the skyline before it: its light at any time."""

    place: Place
    surface: Surface
    horizon: Horizon
    cloud_stops: float

    def lux(self, unix_s: ArrayLike) -> Array:
        """Illuminance in lux at instants, any shape."""
        at = np.asarray(unix_s, dtype=float)
        sky = sky_of(self.place, at.ravel())
        sunlit = self.horizon.clears(sky.sun_azimuth_deg, sky.sun_altitude_deg)
        moonlit = self.horizon.clears(sky.moon_azimuth_deg, sky.moon_altitude_deg)
        return lux_on(self.surface, sky, sunlit, moonlit, light_of(sky, self.cloud_stops)).reshape(at.shape)


class LightCurve:
    """The light on a surface, sampled once and read between samples: for many exposures that follow each other.

    Linear between samples of twenty seconds; twilight, which changes fastest, bends by less than 5e-4 in that time.
    """

    def __init__(self, surface: LitSurface) -> None:
        self._surface = surface
        self._hours: dict[int, Array] = {}

    def exact(self, unix_s: Array) -> Array:
        """The same, worked out at each instant; what remembers its answers can go by this curve."""
        return self._surface.lux(unix_s)

    def __call__(self, unix_s: Array) -> Array:
        """Illuminance in lux at instants (T,), unix seconds."""
        hours = range(int(unix_s.min() // _HOUR_S), int(unix_s.max() // _HOUR_S) + 2)
        missing = [hour for hour in hours if hour not in self._hours]
        if missing:
            lux = self._surface.lux(np.array(missing)[:, None] * _HOUR_S + _SAMPLES_S)
            self._hours.update(zip(missing, lux, strict=True))
        at = (np.array(hours)[:, None] * _HOUR_S + _SAMPLES_S).ravel()
        return np.asarray(np.interp(unix_s, at, np.concatenate([self._hours[hour] for hour in hours])))


@lru_cache(maxsize=16)
def light_curve(surface: LitSurface) -> LightCurve:
    """The curve of a surface, kept for the states that changes of the settings lead to."""
    return LightCurve(surface)


def light_target(scene: Scene) -> int | None:
    """The element whose light the exposure goes by: what was metered, without a reading the subject; None for all."""
    composition = scene.composition
    if composition.reading is not None:
        return next((i for i, e in enumerate(composition.elements) if e.id == composition.reading.element_id), None)
    return next((i for i, e in enumerate(composition.elements) if e.role == "subject"), None)


def stops_of(lux: float) -> float:
    """Illuminance as stops, for differences."""
    return math.log2(max(lux, 1e-9))
