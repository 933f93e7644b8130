"""How each shown number was got: formula, inputs and source."""

from __future__ import annotations

import math
from collections.abc import Callable

from lucid_ridge.core.figures import (
    degrees_text,
    distance_text,
    duration_text,
    micrometres_text,
    stops_text,
)
from lucid_ridge.core.motion.travel import LOOK_SECONDS, LOOK_TEXT
from lucid_ridge.core.optics.criteria import CRITERION_TEXT
from lucid_ridge.core.optics.focus_schools import SCHOOL_TEXT
from lucid_ridge.core.records import FieldProblem, SceneError, record
from lucid_ridge.core.stops.scales import aperture_text, iso_text, shutter_text
from lucid_ridge.core.technique import sequence as sequences
from lucid_ridge.core.technique.reports.depth import depth_report
from lucid_ridge.core.technique.reports.framing import framing_report
from lucid_ridge.core.technique.reports.light import light_report
from lucid_ridge.core.technique.scene import Element
from lucid_ridge.core.technique.state import State

RAY = "S. F. Ray, Applied Photographic Optics, 3rd ed., 2002"
BORN_WOLF = "M. Born and E. Wolf, Principles of Optics: Airy disk 2.44 λN at 550 nm"
PRACTICE = "common practice"
APEX = "CIPA DC-008 (Exif), Annex on APEX"
JANICZEK = "Janiczek and DeYoung, U.S. Naval Observatory Circular 171, 1987; clear sky, level ground"
JPL = "JPL ephemeris DE421 through Skyfield, interpolated from daily nodes"
PINHOLE = "pinhole camera; Hartley and Zisserman, Multiple View Geometry, 2nd ed., 2004"


@record
class Input:
    """One thing a formula was fed with."""

    name: str
    text: str


@record
class Explanation:
    """Formula, inputs, result and source of one number."""

    title: str
    formula: str
    inputs: tuple[Input, ...]
    result: str
    source: str
    note: str = ""


Inputs = dict[str, str]


def _made(title: str, formula: str, inputs: Inputs, result: str, source: str, note: str = "") -> Explanation:
    return Explanation(
        title=title,
        formula=formula,
        inputs=tuple(Input(name=k, text=v) for k, v in inputs.items()),
        result=result,
        source=source,
        note=note,
    )


def _distance(state: State, metres: float) -> str:
    return distance_text(metres, state.scene.units)


def _lens(state: State) -> Inputs:
    settings = state.scene.composition.settings
    exact = f"{aperture_text(settings.aperture_n)} (exactly {settings.aperture_n:.3f})"
    return {"f, focal length": f"{settings.focal_length_mm:g} mm", "N, aperture": exact}


def _index(state: State, element_id: str) -> tuple[int, Element]:
    for i, element in enumerate(state.scene.composition.elements):
        if element.id == element_id:
            return i, element
    raise SceneError([FieldProblem(pointer="/key", message=f"No element has the id '{element_id}'.")])


def _framing(state: State, what: str, of: str) -> Explanation | None:
    camera, composition = state.geometry.camera, state.scene.composition
    report = framing_report(state)
    if what == "view":
        return _made(
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
    if what == "equivalent":
        body = state.scene.kit.body
        return _made(
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
        return _made(
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
        _, element = _index(state, of)
        east, north = element.east_m - composition.east_m, element.north_m - composition.north_m
        offset = {"east of the standpoint": f"{east:.2f} m", "north of the standpoint": f"{north:.2f} m"}
        if what == "distance":
            result = _distance(state, math.hypot(east, north))
            return _made(f"Distance of the {element.name}", "√(east² + north²), level", offset, result, "geometry")
        result = degrees_text(math.degrees(math.atan2(east, north)) % 360)
        return _made(f"Bearing of the {element.name}", "atan2(east, north) from true north", offset, result, "geometry")
    return None


def _light(state: State, what: str, _: str) -> Explanation | None:
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
    return _made(*table[what]) if what in table else None


def _depth(state: State, what: str, of: str) -> Explanation | None:
    depth, report = state.depth, depth_report(state)
    allowance = {"c′, left for defocus": micrometres_text(depth.allowance_mm)}
    focus = {"s, focus": report.focus.text}
    if what in ("blur", "axial"):
        i, element = _index(state, of)
        row = report.elements[i]
        if what == "axial":
            return _made(
                f"Distance of the {element.name} along the lens axis",
                "nearest and farthest part inside the frame, measured along the axis",
                {
                    "lens axis": f"{degrees_text(state.scene.composition.azimuth_deg)}, pitch {degrees_text(state.scene.composition.pitch_deg)}"
                },
                f"{row.near.text} to {row.far.text}",
                PINHOLE,
                "A lens focuses on a plane, so what is off to the side counts as nearer than a tape says.",
            )
        foci = ", ".join(_distance(state, one.focus_m) for one in depth.slices)
        return _made(
            f"Blur of the {element.name}",
            "c = (f²/N) |D − s| / (D (s − f)), with the Airy disk added in squares",
            {
                **_lens(state),
                "s, focus": foci,
                "D, along the axis": f"{row.near.text} to {row.far.text}",
                "defocus, near and far": f"{micrometres_text(float(depth.blur_near_mm[i]))} and {micrometres_text(float(depth.blur_far_mm[i]))}",
                "Airy disk": report.airy.text,
            },
            f"{row.blur_near.text} near, {row.blur_far.text} far; {report.criterion.text} allowed",
            f"{RAY}; {BORN_WOLF}",
        )
    if what == "school":
        for school in report.schools:
            if school.school == of:
                return _made(
                    f"Focus {SCHOOL_TEXT[school.school]}",
                    {
                        "hyperfocal": "H = f² / (N c′) + f",
                        "third_in": "level ground seen a third of the way up the picture",
                        "subject": "nearest part of the subject",
                        "balanced": "2 n f / (n + f)",
                    }[school.school],
                    {
                        "nearest that must be sharp": _distance(state, depth.near_m),
                        "farthest": _distance(state, depth.far_m),
                        **allowance,
                    },
                    f"{school.focus.text}, worst blur {school.worst.text}",
                    RAY if school.school in ("hyperfocal", "balanced") else PRACTICE,
                )
        return None
    table = {
        "criterion": (
            "How much blur counts as sharp", {"print": "diagonal / 1500", "large_print": "acuity × viewing distance / enlargement", "pixel": "2 × pixel pitch"}[state.scene.composition.wants.criterion],
            {"school": CRITERION_TEXT[state.scene.composition.wants.criterion]}, report.criterion.text, PRACTICE, "",
        ),
        "airy": (
            "Diffraction", "2.44 λ N (1 + m/p)", {**_lens(state), "m, magnification": report.magnification.text,
            "p, pupil magnification": f"{state.scene.kit.lens.pupil_magnification:g}", "λ": "550 nm"}, report.airy.text, BORN_WOLF, "",
        ),
        "allowance": (
            "What diffraction leaves for defocus", "√(c² − airy²)",
            {"c, criterion": report.criterion.text, "Airy disk": report.airy.text}, report.allowance.text, BORN_WOLF, "",
        ),
        "hyperfocal": (
            "Hyperfocal distance", "H = f² / (N c′) + f", {**_lens(state), **allowance}, report.hyperfocal.text, RAY,
            "From the lens, not from the sensor.",
        ),
        "limits": (
            "Depth of field of one frame", "near s(H − f)/(H + s − 2f), far s(H − f)/(H − s)",
            {**_lens(state), **focus, "H": report.hyperfocal.text}, f"{report.near_limit.text} to {report.far_limit.text}", RAY, "",
        ),
        "magnification": ("Magnification", "m = f / (s − f)", {**_lens(state), **focus}, report.magnification.text, RAY, ""),
        "best_aperture": (
            "Best aperture for this depth in one frame", "N = √(375 Δv)",
            {"Δv": "image-side distance between the foci of nearest and farthest"}, report.best_aperture.text,
            "P. K. Hansma, Photo Techniques, March/April 1996; value from memory", "",
        ),
        "focus": ("Focus", "set by you, or by a mend", focus, report.focus.text, "setting", ""),
        "minimum_focus": (
            "Nearest focus from the lens", "s + f s/(s − f) = d, far root",
            {**_lens(state), "d, from the sensor": _distance(state, state.scene.kit.lens.minimum_focus_m)},
            report.nearest_focus.text, RAY, "",
        ),
        "slices": (
            "Slices", "n = ⌈(ln(v near / v far) / ln((1 + k)/(1 − k)) − 1) / (1 − overlap)⌉ + 1, k = c′N/f",
            {**_lens(state), **allowance, "from": _distance(state, depth.near_m), "to": _distance(state, depth.far_m),
             "overlap": f"{state.scene.composition.technique.overlap:.0%}"},
            f"{len(depth.slices)} frames", f"{RAY}; image-space derivation in the design notes", depth.slices_problem,
        ),
    }  # fmt: skip
    return _made(*table[what]) if what in table else None


def _exposure(state: State, what: str, of: str) -> Explanation | None:
    ledger, metered = state.exposure.ledger, state.exposure.metered
    shutter = shutter_text(ledger.shutter_s)
    sums = {line.label: stops_text(line.stops) for line in ledger.lines if line.scope == "frame"}
    base = {"metered shutter": f"{shutter_text(metered.shutter_s)} (exactly {metered.shutter_s:.6g} s)"}
    if what in ("shutter", "total"):
        result = shutter if what == "shutter" else f"{stops_text(ledger.total_stops)} stops"
        return _made(
            "Shutter time" if what == "shutter" else "Sum of the account",
            "metered shutter × 2^(−sum of stops)",
            {**base, **sums},
            f"{result} (exactly {ledger.shutter_s:.6g} s)",
            APEX,
            "Counted with exact times, so ten stops on the 1/8 s mark end at 128 s.",
        )
    if what == "reading":
        if metered.predicted:
            return _made(
                "Predicted exposure",
                "EV100 = log₂(E × 100 / 250) − cloud",
                {"E": light_report(state).illuminance.text, "cloud": f"{state.scene.composition.cloud_stops:g} stops"},
                f"EV {metered.ev100:.1f}: {shutter_text(metered.shutter_s)} at {aperture_text(metered.aperture_n)}",
                f"incident calibration C = 250 (ISO 2720); {JANICZEK}",
                "No reading yet. Meter in the field and enter it: this can be off by a stop or more.",
            )
        return _made(
            "Meter reading",
            "EV100 = log₂(N²/t) − log₂(ISO/100)",
            {**base, "aperture": aperture_text(metered.aperture_n), "ISO": iso_text(metered.iso)},
            f"EV {metered.ev100:.2f}",
            APEX,
        )
    if what == "line" and of.isdigit() and int(of) < len(ledger.lines):
        line = ledger.lines[int(of)]
        formulas = {
            "light": ("log₂(E now / E at the reading)", JANICZEK),
            "polariser": ("measured cost × how far it is turned", "your filter's record"),
            "nd": ("as marked: density / 0.301, or log₂ factor", "published filter handbooks"),
            "graduated": ("density × profile at the element's height in the frame", PRACTICE),
            "aperture": ("2 log₂(N metered / N set)", APEX),
            "iso": ("log₂(ISO set / ISO metered)", APEX),
            "working": ("−2 log₂(1 + m/p)", RAY),
            "choice": ("how much brighter or darker you want it", "your choice"),
            "rounding": ("nearest third-stop mark less the exact time", "the camera's scale"),
        }
        formula, source = formulas[line.kind]
        inputs = {"acts on": "the whole frame" if line.scope == "frame" else "one element, by where it stands"}
        return _made(line.label, formula, inputs, f"{stops_text(line.stops)} stops (exactly {line.stops:+.4f})", source)
    return None


def _range(state: State, what: str, of: str) -> Explanation | None:
    spread, body = state.range, state.scene.kit.body
    if what == "usable":
        return _made(
            "Usable range of one frame",
            "range at base ISO − log₂(ISO / base ISO)",
            {"at base": f"{body.usable_range_stops:g} stops", "ISO": iso_text(state.exposure.settings.iso)},
            f"{spread.usable:.1f} stops, {min(body.headroom_stops, spread.usable):g} of them above mid-tone",
            PRACTICE,
            "Your body's own figures from the kit page.",
        )
    if what in ("scene", "held"):
        return _made(
            "Scene range against what is held",
            "brightest − darkest reading that must hold detail; n frames hold usable + (n − 1) step",
            {
                "brightest": f"{stops_text(round(spread.brightest, 2))} from mid-tone",
                "darkest": f"{stops_text(round(spread.darkest, 2))} from mid-tone",
                "held": f"{spread.held.lowest:.1f} to {spread.held.highest:+.1f}",
                "frames": str(len(state.offsets)),
            },
            f"{spread.brightest - spread.darkest:.1f} stops",
            PRACTICE,
        )
    if what == "element":
        _, element = _index(state, of)
        stops = dict(spread.element_stops).get(of, 0.0)
        return _made(
            f"Where the {element.name} falls",
            "its reading − the metered EV + how much brighter you expose − graduated filters on it",
            {"its reading": f"EV {element.reading_ev100:g}", "metered": f"EV {state.exposure.metered.ev100:.2f}"},
            f"{stops:+.2f} stops from mid-tone",
            APEX,
        )
    return None


def _motion(state: State, what: str, of: str) -> Explanation | None:
    shutter = {"t, shutter": shutter_text(state.exposure.settings.shutter_s)}
    if what == "hand_held":
        return _made(
            "Hand-held limit",
            "2^stabiliser / (equivalent focal length × (1 + m))",
            {"equivalent": f"{state.equivalent_mm:.0f} mm", "m": f"{state.depth.magnification:.2f}"},
            shutter_text(state.hand_held_limit_s),
            PRACTICE,
        )
    if what == "look":
        look = state.scene.composition.wants.water_look
        low, high = LOOK_SECONDS[look]
        span = "any" if look == "any" else f"{duration_text(low) if low else '0'} to {duration_text(high)}"
        return _made(
            f"Water: {LOOK_TEXT[look]}", "shutter time, by the seconds school", {**shutter, "this look takes": span},
            shutter["t, shutter"], PRACTICE,
        )  # fmt: skip
    if what == "travel":
        i, element = _index(state, of)
        return _made(
            f"Travel of the {element.name}",
            "speed × t × v / D",
            {
                "speed": f"{element.speed_m_s:g} m/s across the view",
                **shutter,
                "v": f"{state.depth.image_distance_mm:.1f} mm",
                "D": _distance(state, float(state.geometry.near_m[i]))
                if not math.isnan(state.geometry.near_m[i])
                else "out of frame",
            },
            f"{micrometres_text(state.depth.criterion_mm)} counts as frozen",
            RAY,
        )
    return None


def _sequence(state: State, what: str, _: str) -> Explanation | None:
    built = sequences.build_sequence(state)
    if what == "total":
        return _made(
            "Time the sequence takes",
            "refocus + filters + settle + timer + exposure + dark frame, summed",
            {
                "frames": str(len(built.frames)),
                "refocus": duration_text(sequences.REFOCUS_S),
                "putting a filter on": duration_text(sequences.FILTER_S),
                "timer": duration_text(state.scene.composition.settings.timer_s),
                "dark frame": "as long as the exposure" if state.scene.kit.body.dark_frame else "off",
            },
            built.total.text,
            PRACTICE,
        )
    if what == "drift":
        return _made(
            "Light's drift over the sequence",
            "log₂(E at its end / E at its start)",
            {"from": f"{state.scene.composition.moment_utc:%H:%M:%S} UTC", "for": built.total.text},
            built.drift.text,
            JANICZEK,
            "Past a third of a stop, the first and last frame no longer match.",
        )
    return None


_BENCHES: dict[str, Callable[[State, str, str], Explanation | None]] = {
    "framing": _framing,
    "light": _light,
    "depth": _depth,
    "exposure": _exposure,
    "range": _range,
    "motion": _motion,
    "sequence": _sequence,
}


def explain(state: State, key: str) -> Explanation:
    """The explanation for a figure's ``explain`` key.

    Raises
    ------
    SceneError
        If the key names nothing in this scene.

    """
    bench, _, rest = key.partition(".")
    what, _, of = rest.partition(":")
    made = _BENCHES[bench](state, what, of) if bench in _BENCHES else None
    if made is None:
        raise SceneError([FieldProblem(pointer="/key", message=f"Nothing is explained under '{key}'.")])
    return made
