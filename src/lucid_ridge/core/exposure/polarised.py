"""What a polariser does to each thing: by its angle from the sun, or by the angle at which its sheen is seen.

The light of a thing is partly polarised, by a degree P. A polariser turned by an angle from where it darkens that thing
most passes ``1 - P cos(2 angle)`` of what it passes of light that is not polarised (Malus). What it takes from everything
stands in the account; here is what comes on top for each thing. Each is taken as if the filter were turned for it: sky
and water at once may ask for different turns.
"""

from __future__ import annotations

import math
from dataclasses import replace

from lucid_ridge.core.camera.geometry import Geometry
from lucid_ridge.core.daylight.surfaces import CLOUD_WITHOUT_SHADOWS
from lucid_ridge.core.exposure.closing import filters_in_use
from lucid_ridge.core.exposure.tones import Tone, reflectance_of
from lucid_ridge.core.framing.silhouettes import LYING
from lucid_ridge.core.light.polarisation import angle_between_deg, mirrored_shares, sky_polarisation
from lucid_ridge.core.light.refraction import seen_altitude_deg
from lucid_ridge.core.model.scene import Scene

_LOWEST_SUN_DEG = -6.0
WATER_BODY = 0.03
"""Share of the light that comes up out of the water itself (common practice: 0.02 to 0.05)."""
_LEAST_PASSED = 0.02
"""However polarised, something scattered is left: six stops at most."""


def incidence_deg(scene: Scene, geometry: Geometry, index: int) -> float | None:
    """Angle from upright at which the middle of something level is seen, degrees; None from below, or out of frame."""
    if not geometry.seen(index):
        return None
    near, far = (max(float(v) - geometry.pupil_ahead_m, 1e-3) for v in (geometry.near_m[index], geometry.far_m[index]))
    drop = geometry.camera.position_m[2] - scene.composition.elements[index].base_m
    if drop <= 0:
        return None
    # The middle of what is seen of it, in the picture and not on the ground.
    return 90.0 - math.degrees((math.atan2(drop, near) + math.atan2(drop, far)) / 2)


def degree_of(scene: Scene, geometry: Geometry, index: int, sun: tuple[float, float]) -> float:
    """Degree of polarisation 0..1 of an element's light. *sun* is azimuth and airless altitude.

    Of the sky by Rayleigh, less where cloud covers it; of water and of what is wet the share of sheen in its light by
    Fresnel, times the sheen's own degree; of the rest none.
    """
    element = scene.composition.elements[index]
    azimuth, altitude = sun
    clear = max(1 - scene.composition.cloud_stops / CLOUD_WITHOUT_SHADOWS, 0.0)
    if element.role == "sky":
        if element.motion == "cloud":
            # A cloud's own light is not polarised.
            return 0.0
        if altitude < _LOWEST_SUN_DEG:
            return 0.0
        bearing, top = geometry.top_of(index)
        foot = math.degrees(
            math.atan2(
                float(geometry.corners_m[index][:, 2].min()) - geometry.camera.position_m[2],
                max(geometry.away(index)[0], 0.01),
            )
        )
        seen = seen_altitude_deg(altitude, scene.place.elevation_m)
        return float(sky_polarisation(angle_between_deg(bearing, (top + foot) / 2, azimuth, seen))) * clear
    water = element.role == "water" or element.silhouette in ("water", "beck")
    if not water and not element.wet:
        return 0.0
    incidence = incidence_deg(scene, geometry, index)
    if incidence is None:
        return 0.0
    across, along = (float(v) for v in mirrored_shares(incidence))
    body = WATER_BODY if water and element.silhouette in (*LYING, "water") else reflectance_of(element)
    sheen = (across + along) / 2
    return (across - along) / (across + along) * sheen / (sheen + body) if across + along > 0 else 0.0


def passed_stops(degree: float, strength: float) -> float:
    """Stops that a polariser takes from a thing beyond its common loss, at 0..1 of the way from its least to its most."""
    passes = 1 + degree * math.cos(math.pi * strength)
    return -math.log2(max(passes, _LEAST_PASSED))


def polarised(scene: Scene, geometry: Geometry, index: int, tone: Tone | None, sun: tuple[float, float]) -> Tone | None:
    """A tone with what the polarisers in use do to it."""
    turned = [use.strength for owned, use in filters_in_use(scene) if owned.kind == "polariser"]
    if tone is None or not turned:
        return tone
    degree = degree_of(scene, geometry, index, sun)
    return replace(tone, polarised_stops=sum(passed_stops(degree, one) for one in turned)) if degree else tone
