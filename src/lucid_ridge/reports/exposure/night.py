"""The night: exposures for land under Moon and stars, and how long stars stay points."""

from __future__ import annotations

import math

import numpy as np

from lucid_ridge.core.daylight.surfaces import sky_at
from lucid_ridge.core.exposure.closing import set_shutter_s
from lucid_ridge.core.light.ephemeris import moon_phase
from lucid_ridge.core.light.illuminance import DARK_SKY_LUX, predicted_ev100
from lucid_ridge.core.light.stars import declination_deg, longest_s
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import Readout, degrees_text, shutter_text, significant, stops_change_text

FROM_DEG = -6.0
"""With the sun lower than this the night is told of: blue hour runs into it."""
_DECLINATIONS = (0.0, 30.0, 60.0, 80.0)
_OVER_FRAME = 9


@record
class StarRow:
    """The longest time in which stars at a declination stay points; ``where`` says which they are."""

    where: str
    declination: Readout
    longest: Readout


@record
class NightStudy:
    """Land by moonlight and starlight, and stars as points.

    ``land`` is the shutter time for a mid-tone on level ground at the aperture and ISO in use; ``light_text`` says what
    lights it.
    """

    land: Readout
    light: Readout
    light_text: str
    stars: tuple[StarRow, ...]


def _pitch_mm(state: State) -> float:
    body = state.scene.kit.body
    return body.sensor_width_mm / body.pixels_across


def star_longest_s(state: State, declination: float) -> float:
    """Longest time before stars at a declination trail over the pixels that the photographer allows, seconds."""
    pixels = state.scene.composition.wants.star_trail_px
    return float(longest_s(state.depth.image_distance_mm, _pitch_mm(state), pixels, declination))


def frame_declinations(state: State) -> tuple[float, float, float] | None:
    """Declination in the middle of the sky that the frame takes in, the nearest to the equator, and the nearest to a pole.

    None where the frame takes in no sky.
    """
    x, y = np.meshgrid(np.linspace(0, 1, _OVER_FRAME), np.linspace(0, 1, _OVER_FRAME))
    azimuth, altitude = state.geometry.camera.directions(x.ravel(), y.ravel())
    sky = altitude > 0
    if not sky.any():
        return None
    found = declination_deg(azimuth[sky], altitude[sky], state.scene.place.latitude_deg)
    middle = float(found[np.argsort(found)[len(found) // 2]])
    crosses = found.min() <= 0 <= found.max()
    return middle, 0.0 if crosses else float(found[np.abs(found).argmin()]), float(found[np.abs(found).argmax()])


def _star_row(state: State, where: str, declination: float) -> StarRow:
    longest = star_longest_s(state, declination)
    return StarRow(
        where=where,
        declination=Readout(value=declination, text=degrees_text(declination)),
        longest=Readout(
            value=longest if math.isfinite(longest) else None,
            text=f"{significant(longest, 2)} s" if math.isfinite(longest) else "any",
            explain=f"exposure.stars:{declination:.4f}",
        ),
    )


def night_study(state: State) -> NightStudy | None:
    """The night's exposures; None by day."""
    if state.sun_altitude_deg > FROM_DEG:
        return None
    lux = state.lighting.lux(None, state.unix_s)
    sky, settings = sky_at(state.scene.place, state.unix_s), state.exposure.settings
    shutter = settings.aperture_n**2 * 100 / settings.iso / 2 ** float(predicted_ev100(lux))
    moon_up = float(sky.moonbeam_lux[0]) > 0
    lit = float(moon_phase(state.unix_s).lit)
    light = (
        "Moon down: starlight and airglow"
        if not moon_up
        else f"Moon {lit:.0%} lit, {degrees_text(float(sky.moon_altitude_deg[0]))} high"
    )
    if state.sun_altitude_deg > -18:
        light = f"twilight, {light[0].lower()}{light[1:]}" if not moon_up else f"twilight and {light}"
    over = math.log2(lux / DARK_SKY_LUX)
    rows, found = [], frame_declinations(state)
    if found is not None:
        middle, worst, slowest = found
        rows = [
            _star_row(state, "fastest in this frame", worst),
            _star_row(state, "middle of this frame's sky", middle),
            _star_row(state, "slowest in this frame", slowest),
        ]
    rows += [_star_row(state, "anywhere at this declination", one) for one in _DECLINATIONS]
    held = set_shutter_s(state.scene.kit.body, shutter)
    return NightStudy(
        land=Readout(value=held, text=shutter_text(held), explain="exposure.night"),
        light=Readout(
            value=over, text=f"{stops_change_text(over)} stops above a moonless sky", explain="exposure.night_light"
        ),
        light_text=light,
        stars=tuple(rows),
    )
