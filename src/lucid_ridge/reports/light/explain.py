"""Explanations of the light."""

from __future__ import annotations

from zoneinfo import ZoneInfo

from lucid_ridge.core.daylight.skyline import ground_m
from lucid_ridge.core.daylight.surfaces import sky_at
from lucid_ridge.core.light.clear_sky import split
from lucid_ridge.core.light.polarisation import BANDED, brewster_deg
from lucid_ridge.core.light_windows.now import light_today
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.explanation import CLEAR_SKY, JANICZEK, JPL, MOON, PRACTICE, Explanation, Inputs, made
from lucid_ridge.reports.figures import Readout, clock_text, degrees_text
from lucid_ridge.reports.light.report import LightReport, light_report
from lucid_ridge.reports.light.skyline import arrivals
from lucid_ridge.reports.light.words import condition_words

_HORIZON_TEXT = {
    "flat": "level horizon, sunrise at −0.833°",
    "sea": "the sea's horizon, lowered by 1.76′ √height",
    "measured": "the skyline measured at the place",
    "terrain": "the terrain model, with curvature and refraction (k = 0.13)",
}
_TERRAIN = "highest angle along each azimuth of the place's own terrain model"


def _where(state: State) -> Inputs:
    place = state.scene.place
    return {
        "place": f"{place.latitude_deg:.4f}° N, {place.longitude_deg:.4f}° E, {place.elevation_m:g} m",
        "moment": f"{state.scene.composition.moment_utc:%Y-%m-%d %H:%M:%S} UTC",
    }


def _polariser(report: LightReport, of: str) -> Explanation | None:
    found = report.polariser
    if found is None:
        return None
    figures: dict[str, Readout | None] = {
        "left": found.left, "middle": found.middle, "right": found.right, "most": found.most, "glare": found.glare,
    }  # fmt: skip
    figure = figures.get(of)
    if figure is None:
        return None
    if of == "glare":
        incidence = found.glare_angle.text if found.glare_angle else ""
        return made(
            "Glare that a polariser takes off the water", "1 − 2 Rp / (Rs + Rp), Fresnel, n = 1.333",
            {"angle of incidence": incidence, "Brewster's angle": degrees_text(brewster_deg(), 1)}, figure.text,
            "Born and Wolf, Principles of Optics", "At the middle of the water in the frame, turned for the best effect.",
        )  # fmt: skip
    return made(
        f"Polarised share of the sky, {of} of the frame" if of != "most" else "Most polarised sky in the frame",
        "sin² γ / (1 + cos² γ), γ from the sun", {"sun": f"{report.azimuth.text}, {report.altitude.text} high"}, figure.text,
        "Rayleigh scattering; Bohren and Huffman, 1983",
        f"Near the top of the frame, clear sky. A spread of more than {BANDED:.0%} shows as a band ({PRACTICE}).",
    )  # fmt: skip


def _conditions(report: LightReport, what: str) -> Explanation | None:
    tide, forecast = report.ribbon.tide, report.ribbon.forecast
    if what == "tide" and tide is not None:
        return made(
            "Height of the tide", "z + Σ f H cos(V + u − g)", {"station": tide.station, "datum": tide.datum}, tide.now.text,
            "Pugh and Woodworth, Sea-Level Science, 2014, chapter 4",
            "Without weather: wind and air pressure move it by tenths of a metre. Follow the local tide table.",
        )  # fmt: skip
    if forecast is None:
        return None
    source = {"source": forecast.text}
    note = "Simulated for practice: nobody forecast this." if forecast.simulated else ""
    table = {
        "cloud": (
            "Cloud, with forecast", "1 − (1 − low)(1 − middle)(1 − ½ high)", source, forecast.cloud.text, PRACTICE, note,
        ),
        "cloud_stops": (
            "What cloud takes, with forecast", "−log₂(1 − 0.75 C^3.4)", {"C, covered": forecast.cloud.text},
            forecast.cloud_stops.text, "Kasten and Czeplak, Solar Energy 24, 1980 (from memory)",
            "Not counted until you enter it: predicted readings use the stops you state.",
        ),
        "wind": ("Wind, with forecast", "between the hours forecast, by a line", source, forecast.wind.text, "the forecast", note),
    }  # fmt: skip
    return made(*table[what]) if what in table else None


def _on_a_thing(state: State, index: int | None) -> Explanation:
    """The light on an element, or on the level ground at the standpoint."""
    surface, sky = state.lighting.surface(index), split(state.sun_altitude_deg)
    moon = sky_at(state.scene.place, state.unix_s)
    how = {"level": "level: all of the sky", "upright": "upright: half of the sky", "sky": "the sky itself"}[
        surface.kind
    ]
    inputs = {
        "beam of the sun": f"{float(sky.beam):.4g} lx on a face turned to it",
        "light of the sky": f"{float(sky.sky):.4g} lx on level ground",
        "lies": how, "sun, airless": f"{degrees_text(state.sun_altitude_deg, 1)} high, {degrees_text(state.sun_azimuth_deg)}",
        "the land lets the sun through": "yes" if state.lighting.sunlit(index, state.unix_s) else "no",
        "cloud": f"{state.scene.composition.cloud_stops:g} stops",
    }  # fmt: skip
    if surface.kind == "upright":
        inputs["faces"] = degrees_text(surface.faces_deg)
    if float(moon.moonbeam_lux[0]) > 0:
        inputs["beam of the Moon"] = f"{float(moon.moonbeam_lux[0]):.3g} lx"
    return made(
        "Light on it", "beam × cos(angle of incidence) where it shines + sky × share of the sky that is seen", inputs, "",
        f"{CLEAR_SKY}; {MOON}", light_report(state).doubt_text,
    )  # fmt: skip


# Long: one row for each number that is explained.
def light(state: State, what: str, of: str) -> Explanation | None:
    """The explanation of one light figure, None for an unknown key."""
    report = light_report(state)
    place = state.scene.place
    if what == "polariser":
        return _polariser(report, of)
    if what in ("tide", "cloud", "cloud_stops", "wind"):
        return _conditions(report, what)
    if what in ("on", "against"):
        index = next((i for i, e in enumerate(state.scene.composition.elements) if e.id == of), None)
        return _on_a_thing(state, index)
    airless = {"h, airless altitude": degrees_text(state.sun_altitude_deg, 2)}
    horizon = {"horizon": _HORIZON_TEXT[place.horizon]}
    if what == "arrival":
        found = next((one for one in arrivals(state) if (one.id or "") == of), None)
        return None if found is None else made(
            f"When the sun reaches the {found.name}", "upper limb of the sun above the skyline seen from there",
            {**_where(state), **horizon}, f"{found.first.text} ({found.text})", f"{JPL}; {_TERRAIN}",
            "Clear sky. Trees and walls that the terrain model does not hold are not counted.",
        )  # fmt: skip
    if what == "drift":
        figure = next((one.stops for one in report.drift if str(one.minutes) == of), None)
        return None if figure is None else made(
            f"Change of the light in {of} min", "log₂(E then / E now)", airless, figure.text, JANICZEK,
            "Under a sky that stays as it is.",
        )  # fmt: skip
    if what == "ground":
        height = ground_m(place, state.terrain, state.scene.composition.east_m, state.scene.composition.north_m)
        return None if height is None else made(
            "Ground at the standpoint", "four heights of the terrain around it, by lines between them",
            {"by the place's record": f"{place.elevation_m:g} m"}, f"{height:.0f} m", "the place's own terrain model", "",
        )  # fmt: skip
    table = {
        "altitude": (
            "Altitude of the sun", "place of the sun, lifted by refraction: 1.02′ / tan(h + 10.3 / (h + 5.11))",
            {**_where(state), **airless}, report.altitude.text,
            f"{JPL}; refraction by Saemundsson, Sky and Telescope 72, 1986", "Above level, whatever the skyline.",
        ),
        "azimuth": (
            "Azimuth of the sun", "from true north, clockwise", _where(state), report.azimuth.text, JPL,
            "A compass needs the local declination added.",
        ),
        "moon_altitude": (
            "Altitude of the moon", "place of the moon with its parallax, lifted by refraction", _where(state),
            report.moon_altitude.text, JPL, "",
        ),
        "moon_azimuth": (
            "Azimuth of the moon", "from true north, clockwise", _where(state), report.moon_azimuth.text, JPL, "",
        ),
        "direction": (
            "Direction of light on the view", "sun azimuth − lens axis; front within 45° of behind you, back within 45° of the axis",
            {"sun azimuth": report.azimuth.text, "lens axis": degrees_text(state.scene.composition.azimuth_deg)},
            f"{report.relative.text}: {report.side_text}", PRACTICE, "",
        ),
        "skyline": (
            "Skyline under the sun", "altitude of what stands before the sky in the sun's direction",
            {"sun azimuth": report.azimuth.text, **horizon}, report.skyline.text,
            _TERRAIN if place.horizon == "terrain" else "as entered with the place", report.horizon_note,
        ),
        "illuminance": (
            "Illuminance of level ground", "log₁₀ E = l₀ + l₁x + l₂x² + l₃x³, x = h/90; by night the Moon and a dark sky of 1 mlx", airless,
            report.illuminance.text, f"{JANICZEK}; {MOON}", "Cloud and the terrain's shade are not hidden in this.",
        ),
        "below_noon": (
            "Light below the day's brightest", "log₂(E max / E)", {"E now": report.illuminance.text}, report.below_noon.text,
            JANICZEK, "",
        ),
        "rate": (
            "Time in which the light changes a stop", "1 / (d log₂ E / dt), over two minutes", airless,
            report.minutes_per_stop.text, JANICZEK, "An exposure metered this long ago is a stop wrong.",
        ),
        "shadow": (
            "Length of a shadow on level ground", "height / tan(altitude)", {"altitude": report.altitude.text},
            report.shadow.text, "geometry", "",
        ),
    }  # fmt: skip
    if what == "wish" and (today := light_today(state)) is not None:
        zone = ZoneInfo(place.time_zone)
        windows = "; ".join(f"{clock_text(a, zone)} to {clock_text(b, zone)}" for a, b in today.windows)
        return made(
            "The light that is wanted, that day", "all conditions hold, for as long as is wanted, minute by minute",
            {"lacking now": ", ".join(condition_words(state, one) for one in today.lacking) or "nothing"}, windows or "not that day", JPL, "Counts a clear sky.",
        )  # fmt: skip
    if what == "glare_angle" and report.polariser and report.polariser.glare_angle:
        return made(
            "Angle at which you see the water", "90° − depression of the sight to the middle of the water",
            {"Brewster's angle": degrees_text(brewster_deg(), 1)}, report.polariser.glare_angle.text, "geometry",
            "Nearest 53° a polariser takes off most.",
        )  # fmt: skip
    return made(*table[what]) if what in table else None
