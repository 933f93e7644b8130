"""Light on the view at the moment, how it changes, and what a polariser would do."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from datetime import datetime
from functools import lru_cache
from typing import Literal

import numpy as np

from lucid_ridge.core.camera.geometry import Geometry
from lucid_ridge.core.daylight.day import day_of
from lucid_ridge.core.daylight.skyline import told_elements
from lucid_ridge.core.exposure.polarised import incidence_deg
from lucid_ridge.core.exposure.tones import doubt_stops
from lucid_ridge.core.light.day import LightDay, minutes_per_stop
from lucid_ridge.core.light.definitions import GoldenHour
from lucid_ridge.core.light.direction import SIDES, LightSide, light_side, relative_azimuth_deg
from lucid_ridge.core.light.ephemeris import FIRST_UNIX, LAST_UNIX, moon_place
from lucid_ridge.core.light.horizon import Horizon
from lucid_ridge.core.light.polarisation import BANDED, angle_between_deg, glare_removed, sky_polarisation
from lucid_ridge.core.light.refraction import seen_altitude_deg
from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.core.model.place import Forecast, Place
from lucid_ridge.core.model.scene import Units
from lucid_ridge.core.records import FieldProblem, SceneError, record
from lucid_ridge.core.sequence.timing import light_stops
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import Readout, degrees_text, distance_text, significant, stops_change_text
from lucid_ridge.reports.light.ribbon import Ribbon, day_ribbon
from lucid_ridge.reports.light.words import SIDE_TEXT, light_words, moon_words, why_not_terrain

_STEADY_MINUTES = 240.0
_MOST_THINGS = 12
_DRIFT_MIN = (-30, -15, -5, 5, 15, 30, 60)


@record
class Drift:
    """How much the light changes from the moment to so many minutes later (or, below zero, earlier)."""

    minutes: int
    stops: Readout


@record
class PolariserReport:
    """What a polariser does across the picture's sky: shares of polarisation at left, middle and right edge.

    ``banded`` warns where they differ so much that the sky darkens unevenly. ``glare`` is the share of what
    water mirrors that it takes off there, None without water in the frame.
    """

    left: Readout
    middle: Readout
    right: Readout
    most: Readout
    banded: bool
    glare: Readout | None
    glare_angle: Readout | None
    text: str


@record
class ThingLight:
    """The light on a thing at the moment: lux, stops against level ground in the open, and where it comes from."""

    id: str | None
    name: str
    lux: Readout
    against: Readout
    text: str


@record
class LightReport:
    """The light on the view at the moment. ``direct`` says whether the sun reaches the standpoint."""

    altitude: Readout
    azimuth: Readout
    relative: Readout
    side: LightSide
    side_text: str
    direct: bool
    skyline: Readout
    horizon_note: str
    illuminance: Readout
    below_noon: Readout
    minutes_per_stop: Readout
    rising: bool
    shadow: Readout
    drift: tuple[Drift, ...]
    things: tuple[ThingLight, ...]
    doubt_text: str
    polariser: PolariserReport | None
    moon_altitude: Readout
    moon_azimuth: Readout
    moon_text: str
    ribbon: Ribbon


def _rate_text(rate: float) -> tuple[str, str]:
    if abs(rate) > _STEADY_MINUTES:
        return "steady light", "steady"
    minutes = significant(abs(rate), 2)
    return f"one stop in {minutes} min", f"{minutes} min"


def _drift(state: State, day: LightDay) -> tuple[Drift, ...]:
    """Of what was metered, within the day; towards an end of it, what is left of the table."""
    first, last = max(day.unix_s[0], FIRST_UNIX), min(day.unix_s[-1], LAST_UNIX)
    known = [m for m in _DRIFT_MIN if first <= state.unix_s + m * 60 <= last]
    stops = light_stops(state, np.array(known) * 60.0)
    return tuple(
        Drift(
            minutes=minutes,
            stops=Readout(value=float(v), text=stops_change_text(float(v)), explain=f"light.drift:{minutes}"),
        )
        for minutes, v in zip(known, stops, strict=True)
    )


def drift_between(state: State, minutes: float) -> Readout:
    """How much the light on what was metered changes from the moment to so many minutes later (or earlier).

    Raises
    ------
    SceneError
        If that lies outside the years the ephemeris covers.

    """
    then = state.unix_s + minutes * 60
    if not FIRST_UNIX <= then <= LAST_UNIX:
        raise SceneError([FieldProblem(pointer="/minutes", message="The sun is known for the years 1900 to 2050.")])
    stops = float(light_stops(state, minutes * 60))
    return Readout(value=stops, text=stops_change_text(stops))


def _water_incidence(state: State) -> float | None:
    """Angle of incidence of the sight to the middle of the nearest water in the frame."""
    water = [i for i, e in enumerate(state.scene.composition.elements) if e.role == "water" and state.geometry.seen(i)]
    for i in sorted(water, key=lambda i: float(state.geometry.near_m[i])):
        if (found := incidence_deg(state.scene, state.geometry, i)) is not None:
            return found
    return None


def _polariser(state: State, altitude: float) -> PolariserReport | None:
    """For a sun that is up, or not far below; None at night."""
    if altitude < -6:
        return None
    x = np.linspace(0.0, 1.0, 11)
    azimuths, altitudes = state.geometry.camera.directions(x, np.full_like(x, 0.08))
    shares = sky_polarisation(angle_between_deg(azimuths, altitudes, state.sun_azimuth_deg, altitude))
    sky = bool((altitudes > 0).any())
    spread = float(shares.max() - shares.min())
    incidence = _water_incidence(state)
    glare = None if incidence is None else float(glare_removed(incidence))

    def share(value: float, key: str) -> Readout:
        return Readout(value=value, text=f"{value:.0%}", explain=f"light.polariser:{key}")

    banded = sky and spread > BANDED
    if not sky:
        text = "No sky in the top of the frame."
    elif banded:
        text = f"Uneven: {shares.min():.0%} to {shares.max():.0%} across the frame. A wide sky will show a dark band."
    else:
        text = "Even across the frame."
    return PolariserReport(
        left=share(float(shares[0]), "left"),
        middle=share(float(shares[5]), "middle"),
        right=share(float(shares[-1]), "right"),
        most=share(float(shares.max()), "most"),
        banded=banded,
        glare=None if glare is None else share(glare, "glare"),
        glare_angle=None
        if incidence is None
        else Readout(value=incidence, text=degrees_text(incidence), explain="light.glare_angle"),
        text=text,
    )


def _things(state: State, level_lux: float) -> tuple[ThingLight, ...]:
    """The light on the ground at the standpoint and on what is told of, the sky too."""
    elements = state.scene.composition.elements
    sky = [i for i, e in enumerate(elements) if e.role == "sky"][:1]
    made = []
    for i in (None, *told_elements(state.scene)[:_MOST_THINGS], *sky):
        lux = state.lighting.lux(i, state.unix_s)
        identity, name = (None, "ground where you stand") if i is None else (elements[i].id, elements[i].name)
        stops = math.log2(lux / level_lux)
        made.append(
            ThingLight(
                id=identity,
                name=name,
                lux=Readout(value=lux, text=_lux_text(lux), explain=f"light.on:{identity or ''}"),
                against=Readout(value=stops, text=stops_change_text(stops), explain=f"light.against:{identity or ''}"),
                text=light_words(state, i),
            )
        )
    return tuple(made)


@dataclass(frozen=True)
class _Asked:
    """All that the report hangs on; the state comes along for the parts of it."""

    place: Place
    forecast: Forecast | None
    moment: datetime
    cloud_stops: float
    golden_hour: GoldenHour
    geometry: Geometry
    horizon: Horizon
    terrain: Terrain | None
    units: Units
    state: State = field(compare=False)


def light_report(state: State) -> LightReport:
    """Light on the view at the moment, and the ribbon of its day."""
    scene = state.scene
    return _light_report(
        _Asked(
            place=scene.place,
            forecast=scene.forecast,
            moment=scene.composition.moment_utc,
            cloud_stops=scene.composition.cloud_stops,
            golden_hour=scene.composition.golden_hour,
            geometry=state.geometry,
            horizon=state.horizon,
            terrain=state.terrain,
            units=scene.units,
            state=state,
        )
    )


@lru_cache(maxsize=6)
def _light_report(asked: _Asked) -> LightReport:
    """Remembered: no setting but the focal length changes it, and that is in the geometry."""
    state = asked.state
    place = state.scene.place
    day, _, _ = day_of(state.scene)
    altitude, azimuth = state.sun_altitude_deg, state.sun_azimuth_deg
    axis = state.scene.composition.azimuth_deg
    relative = float(relative_azimuth_deg(azimuth, axis))
    side = SIDES[int(light_side(azimuth, altitude, axis))]
    lux = 10 ** float(np.interp(state.unix_s, day.unix_s, day.log10_lux))
    below = (math.log10(lux) - float(day.log10_lux.max())) / math.log10(2)
    rate = minutes_per_stop(day, state.unix_s)
    apparent = seen_altitude_deg(altitude, place.elevation_m)
    shadow = 1 / math.tan(math.radians(apparent)) if apparent > 0.1 else math.inf
    hand: Literal["left", "right"] = "left" if relative < 0 else "right"
    direct = bool(state.horizon.clears(azimuth, altitude))
    skyline = float(state.horizon.at(azimuth))
    moon = moon_place(state.unix_s, place.latitude_deg, place.longitude_deg)
    moon_altitude, moon_azimuth = float(moon.altitude_deg), float(moon.azimuth_deg)
    moon_seen = seen_altitude_deg(moon_altitude, place.elevation_m)
    hidden = side != "none" and not direct
    return LightReport(
        altitude=Readout(value=apparent, text=degrees_text(apparent, 1), explain="light.altitude"),
        azimuth=Readout(value=azimuth, text=degrees_text(azimuth), explain="light.azimuth"),
        relative=Readout(value=relative, text=f"{abs(relative):.0f}° {hand} of the axis", explain="light.direction"),
        side=side,
        side_text=f"{SIDE_TEXT[side]}, behind the skyline" if hidden else SIDE_TEXT[side],
        direct=direct,
        skyline=Readout(value=skyline, text=_skyline_text(state, azimuth), explain="light.skyline"),
        horizon_note=why_not_terrain(state.scene, state.terrain),
        illuminance=Readout(value=lux, text=_lux_text(lux), explain="light.illuminance"),
        below_noon=Readout(value=below, text=f"{abs(below):.1f} stops", explain="light.below_noon"),
        minutes_per_stop=Readout(
            value=abs(rate) if math.isfinite(rate) else None, text=_rate_text(rate)[1], explain="light.rate"
        ),
        rising=rate > 0,
        shadow=Readout(
            value=shadow if math.isfinite(shadow) else None,
            text=f"{significant(shadow, 2)} × height" if math.isfinite(shadow) else "none",
            explain="light.shadow",
        ),
        drift=_drift(state, day),
        things=_things(state, lux),
        doubt_text=(
            f"Clear sky, smooth ground: ±{doubt_stops(state.scene, altitude):g} stops. Trees, walls and what the ground "
            "throws back are not counted."
        ),
        polariser=_polariser(state, altitude),
        moon_altitude=Readout(value=moon_seen, text=degrees_text(moon_seen, 1), explain="light.moon_altitude"),
        moon_azimuth=Readout(value=moon_azimuth, text=degrees_text(moon_azimuth), explain="light.moon_azimuth"),
        moon_text=moon_words(day),
        ribbon=ribbon_report(state),
    )


def ribbon_report(state: State) -> Ribbon:
    """The day of the moment as a ribbon."""
    day, _, _ = day_of(state.scene)
    seen = seen_altitude_deg(state.sun_altitude_deg, state.scene.place.elevation_m)
    return day_ribbon(state, f"{degrees_text(seen, 1)} {_rate_text(minutes_per_stop(day, state.unix_s))[0]}")


def _skyline_text(state: State, azimuth_deg: float) -> str:
    """Altitude of the skyline, and how far it is where that is known."""
    away = state.horizon.distance_at(azimuth_deg)
    height = degrees_text(float(state.horizon.at(azimuth_deg)), 1)
    return height if math.isnan(away) else f"{height}, {distance_text(away, state.scene.units)}"


def _lux_text(lux: float) -> str:
    if lux >= 1000:
        return f"{significant(lux / 1000, 2)} klx"
    return f"{significant(lux, 2)} lx" if lux >= 0.1 else f"{significant(lux * 1000, 2)} mlx"
