"""Words that several reports share."""

from __future__ import annotations

from lucid_ridge.core.daylight.surfaces import CLOUD_WITHOUT_SHADOWS
from lucid_ridge.core.light.direction import SUN_UP_DEG, relative_azimuth_deg
from lucid_ridge.core.state.state import State


def light_words(state: State, index: int | None) -> str:
    """What light reaches something at the moment: sun, its own shade, the ground's shade, cloud, twilight, night."""
    surface, clear = state.lighting.surface(index), state.scene.composition.cloud_stops < CLOUD_WITHOUT_SHADOWS
    altitude = state.sun_altitude_deg
    if altitude < -12:
        return "at night"
    if altitude < SUN_UP_DEG:
        return "in twilight"
    if not clear:
        return "under cloud"
    if surface.kind == "sky":
        return "clear"
    if not state.lighting.sunlit(index, state.unix_s):
        return "in the shade of the land"
    off = abs(float(relative_azimuth_deg(state.sun_azimuth_deg, surface.faces_deg)))
    return "in its own shade" if surface.kind == "upright" and off >= 90 else "in the sun"
