"""Explanations of framing and light."""

from __future__ import annotations

import math

from lucid_ridge.core.figures import degrees_text
from lucid_ridge.core.technique.compose import separation
from lucid_ridge.core.technique.explain.parts import (
    JANICZEK,
    JPL,
    PINHOLE,
    PRACTICE,
    Explanation,
    distance_of,
    index_of,
    made,
)
from lucid_ridge.core.technique.reports.framing import framing_report
from lucid_ridge.core.technique.reports.light import light_report
from lucid_ridge.core.technique.state import State


def framing(state: State, what: str, of: str) -> Explanation | None:
    """The explanation of one framing figure, None for an unknown key."""
    camera, composition = state.geometry.camera, state.scene.composition
    report = framing_report(state)
    if what == "view":
        return made(
            "Field of view",
            "2 atan(w / 2v)",
            {
                "w, frame": f"{camera.frame_width_mm:g} × {camera.frame_height_mm:g} mm",
                "v, image distance at this focus": f"{camera.image_distance_mm:.2f} mm",
            },
            f"{report.horizontal_view.text} × {report.vertical_view.text}",
            PINHOLE,
            "Focused close, the lens moves out and takes in less.",
        )
    if what == "separation":
        return made(
            "Separation in the frame",
            "least distance between projected outlines; overlapping, the least shift that parts them",
            {
                "counts as apart from": "1.5 % of the frame's height",
                "a skyline cuts": "where it passes behind a subject's middle, above a tenth of its height",
            },
            "; ".join(one.sentence for one in separation(state)) or "everything stands clear",
            PINHOLE,
            "Silhouettes are drawn to fill the boxes you gave: measure those well.",
        )
    if what == "equivalent":
        body = state.scene.kit.body
        return made(
            "Full-frame equivalent focal length",
            "f × 43.27 mm / diagonal",
            {
                "f": f"{composition.settings.focal_length_mm:g} mm",
                "diagonal": f"{math.hypot(body.sensor_width_mm, body.sensor_height_mm):.2f} mm",
            },
            report.equivalent.text,
            PRACTICE,
        )
    if what == "pixels":
        body = state.scene.kit.body
        return made(
            "Pixels left after the crop",
            "across × down × share of width × share of height",
            {
                "sensor": f"{body.pixels_across} × {body.pixels_down}",
                "crop": f"{report.crop[2]:.1%} × {report.crop[3]:.1%}",
            },
            report.cropped_pixels.text,
            "geometry",
        )
    if what in ("distance", "bearing"):
        _, element = index_of(state, of)
        east, north = element.east_m - composition.east_m, element.north_m - composition.north_m
        offset = {"east of the standpoint": f"{east:.2f} m", "north of the standpoint": f"{north:.2f} m"}
        if what == "distance":
            result = distance_of(state, math.hypot(east, north))
            return made(f"Distance of the {element.name}", "√(east² + north²), level", offset, result, "geometry")
        result = degrees_text(math.degrees(math.atan2(east, north)) % 360)
        return made(f"Bearing of the {element.name}", "atan2(east, north) from true north", offset, result, "geometry")
    return None


def light(state: State, what: str, _: str) -> Explanation | None:
    """The explanation of one light figure, None for an unknown key."""
    report, place = light_report(state), state.scene.place
    where = {
        "place": f"{place.latitude_deg:.4f}° N, {place.longitude_deg:.4f}° E, {place.elevation_m:g} m",
        "moment": f"{state.scene.composition.moment_utc:%Y-%m-%d %H:%M:%S} UTC",
    }
    airless = {"h, airless altitude": degrees_text(state.sun_altitude_deg, 2)}
    table = {
        "altitude": (
            "Altitude of the sun", "place of the sun, lifted by refraction: 1.02′ / tan(h + 10.3 / (h + 5.11))",
            {**where, **airless}, report.altitude.text,
            f"{JPL}; refraction by Saemundsson, Sky and Telescope 72, 1986", "Over a level horizon; no terrain yet.",
        ),
        "azimuth": (
            "Azimuth of the sun", "from true north, clockwise", where, report.azimuth.text, JPL,
            "A compass needs the local declination added.",
        ),
        "direction": (
            "Direction of light on the view", "sun azimuth − lens axis; front within 45° of behind you, back within 45° of the axis",
            {"sun azimuth": report.azimuth.text, "lens axis": degrees_text(state.scene.composition.azimuth_deg)},
            f"{report.relative.text}: {report.side_text}", PRACTICE, "",
        ),
        "illuminance": (
            "Illuminance", "log₁₀ E = l₀ + l₁x + l₂x² + l₃x³, x = h/90", airless, report.illuminance.text, JANICZEK,
            "Cloud is a number of stops you state, never hidden in this.",
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
    return made(*table[what]) if what in table else None
