"""Explanations of exposure, range, motion and the sequence."""

from __future__ import annotations

import math

from lucid_ridge.core.exposure.polarised import degree_of, incidence_deg
from lucid_ridge.core.light.illuminance import DARK_SKY_LUX
from lucid_ridge.core.state.state import State
from lucid_ridge.core.state.subject_motion import look_window, water_heights_per_s
from lucid_ridge.reports.explanation import (
    APEX,
    JANICZEK,
    MOON,
    PRACTICE,
    RAY,
    Explanation,
    distance_of,
    index_of,
    made,
)
from lucid_ridge.reports.exposure import report as exposures
from lucid_ridge.reports.exposure.freshness import freshness
from lucid_ridge.reports.exposure.study import range_ways
from lucid_ridge.reports.exposure.tonal_range import expose_right
from lucid_ridge.reports.exposure.words import LOOK_TEXT, ledger_label
from lucid_ridge.reports.figures import (
    aperture_text,
    duration_text,
    iso_text,
    micrometres_text,
    shutter_text,
    stops_text,
)
from lucid_ridge.reports.tensions.words import own_text


# Long: one row for each number that is explained.
def exposure(state: State, what: str, of: str) -> Explanation | None:
    """The explanation of one exposure figure, None for an unknown key."""
    ledger, metered = state.exposure.ledger, state.exposure.metered
    shutter = shutter_text(ledger.shutter_s)
    sums = {ledger_label(state, line): stops_text(line.stops) for line in ledger.lines if line.scope == "frame"}
    base = {"metered shutter": f"{shutter_text(metered.shutter_s)} (exactly {metered.shutter_s:.6g} s)"}
    if what == "changing":
        changing = exposures.ledger_report(state).changing
        return made(
            "Time as the light changes",
            "∫ E(t) / E(0) dt over T = T₀",
            {
                "T₀, in constant light": shutter,
                "opens at": f"{state.scene.composition.moment_utc:%H:%M:%S} UTC",
                "sun, airless": f"{state.sun_altitude_deg:.2f}°",
            },
            changing.text if changing else shutter,
            JANICZEK,
            "Under a clear sky. A cloud that comes or goes counts for more: meter again if one does.",
        )
    if what == "fresh":
        fresh = freshness(state)
        return None if fresh is None else made(
            "Light since the reading", "log₂(E now / E then)",
            {"reading": fresh.read_text, "sun now, airless": f"{state.sun_altitude_deg:.2f}°"},
            f"{fresh.change.text}; {fresh.until_text}", JANICZEK,
            "Stale from a third of a stop on (common practice). The account counts this change; clouds it cannot know.",
        )  # fmt: skip
    if what in ("shutter", "total"):
        result = shutter if what == "shutter" else f"{stops_text(ledger.total_stops)} stops"
        return made(
            "Shutter time" if what == "shutter" else "Sum of the account",
            "metered shutter × 2^(−sum of stops)",
            {**base, **sums},
            f"{result} (exactly {ledger.shutter_s:.6g} s)",
            APEX,
            "Counted with exact times, so ten stops on the 1/8 s mark end at 128 s.",
        )
    if what == "reading":
        if metered.predicted:
            return made(
                "Predicted exposure",
                "EV100 = log₂(E × 100 / 250), E the light on what it is for, cloud counted",
                {
                    "E": f"{state.lighting.lux(state.lighting.target, state.unix_s):.4g} lx",
                    "cloud": f"{state.scene.composition.cloud_stops:g} stops",
                },
                f"EV {metered.ev100:.1f}: {shutter_text(metered.shutter_s)} at {aperture_text(metered.aperture_n)}",
                f"incident calibration C = 250 (ISO 2720); {JANICZEK}",
                "No reading yet. Meter in the field and enter it: this can be off by a stop or more.",
            )
        return made(
            "Meter reading",
            "EV100 = log₂(N²/t) − log₂(ISO/100)",
            {**base, "aperture": aperture_text(metered.aperture_n), "ISO": iso_text(metered.iso)},
            f"EV {metered.ev100:.2f}",
            APEX,
        )
    if what in ("iso_over", "off"):
        settings = state.exposure.settings
        return made(
            "ISO over what you allow" if what == "iso_over" else "Brightness beside what was metered and wanted",
            "log₂(ISO / highest ISO wanted)" if what == "iso_over" else "sum of the account, less what you wanted brighter",
            {"ISO": iso_text(settings.iso), "highest wanted": iso_text(state.scene.composition.wants.highest_iso), **sums},
            "", APEX,
        )  # fmt: skip
    if what.startswith("polarised"):
        index, element = index_of(state, of)
        degree = degree_of(state.scene, state.geometry, index, (state.sun_azimuth_deg, state.sun_altitude_deg))
        incidence = incidence_deg(state.scene, state.geometry, index)
        return made(
            f"What a polariser takes from the {element.name}", "−log₂(1 − P cos 2a), a from the turn that darkens it most",
            {
                "P, polarised share": f"{degree:.1%}",
                "how": "Rayleigh, sin² γ / (1 + cos² γ)" if element.role == "sky"
                else f"Fresnel, n = 1.333, seen at {incidence:.0f}° from upright" if incidence is not None else "none",
            },
            "", "Malus; Bohren and Huffman, 1983; Born and Wolf, Principles of Optics",
            "On top of what the filter takes from everything, which stands in the account.",
        )  # fmt: skip
    if what in ("night", "night_light"):
        lux = state.lighting.lux(None, state.unix_s)
        return made(
            "Land at night", "t = 250 N² / (E × ISO), E by Moon and dark sky on level ground",
            {"E": f"{lux * 1000:.3g} mlx", "dark sky": f"{DARK_SKY_LUX * 1000:g} mlx"}, "", MOON,
            "Clear air, no towns: it can be off by a stop and a half.",
        )  # fmt: skip
    if what == "stars":
        return made(
            "Stars as points", "t = n pitch / (v × 7.2921 × 10⁻⁵ s⁻¹ × cos declination)",
            {
                "n, pixels allowed": f"{state.scene.composition.wants.star_trail_px:g}",
                "v, image distance": f"{state.depth.image_distance_mm:.1f} mm", "declination": f"{float(of or 0):.0f}°",
            },
            "", "sidereal rate; Explanatory Supplement to the Astronomical Almanac, 3rd ed.",
        )  # fmt: skip
    if what == "line" and of.isdigit() and int(of) < len(ledger.lines):
        line = ledger.lines[int(of)]
        formulas = {
            "light": ("log₂(E now / E at the reading)", JANICZEK),
            "polariser": ("measured cost × how far it is turned", "your filter's record"),
            "nd": ("as marked: density / 0.301, or log₂ factor", "published filter handbooks"),
            "graduated": ("density × profile at the element's height in the frame", PRACTICE),
            "aperture": ("2 log₂(N metered / N set)", APEX),
            "iso": ("log₂(ISO set / ISO metered)", APEX),
            "working": ("−2 log₂(N′ / N), N′ = N (1 + m/p)", RAY),
            "choice": ("how much brighter or darker you want it", "your choice"),
            "rounding": ("nearest third-stop mark less the exact time", "the camera's scale"),
            "film": ("−log₂(t^p / t) beyond one second", "your film's record; the rule is common practice"),
            "seen": ("what it took from the reading comes back", "your filter's record"),
        }
        formula, source = formulas[line.kind]
        inputs = {"acts on": "the whole frame" if line.scope == "frame" else "one element, by where it stands"}
        return made(
            ledger_label(state, line),
            formula,
            inputs,
            f"{stops_text(line.stops)} stops (exactly {line.stops:+.4f})",
            source,
        )
    return None


# Long: one row for each number that is explained.
def range(state: State, what: str, of: str) -> Explanation | None:
    """The explanation of one range figure, None for an unknown key."""
    spread, body = state.range, state.scene.kit.body
    if what == "usable":
        return made(
            "Usable range of one frame",
            "range at base ISO − log₂(ISO / base ISO)",
            {"at base": f"{body.usable_range_stops:g} stops", "ISO": iso_text(state.exposure.settings.iso)},
            f"{spread.usable:.1f} stops, {min(body.headroom_stops, spread.usable):g} of them above mid-tone",
            PRACTICE,
            "Your body's own figures from the kit page.",
        )
    if what in ("lost", "way"):
        holds = {"frames hold": "; ".join(f"{a:.1f} to {b:+.1f}" for a, b in spread.held.spans)}
        if what == "way":
            # The spans are those of the way, which is not taken yet; its name says what makes them.
            known = range_ways(state)
            if not of.isdigit() or int(of) >= len(known):
                return None
            holds = {"with": known[int(of)].name, "frames": str(known[int(of)].frames)}
        return made(
            "What is lost of the range", "how far the tone that misses most lies from the nearest span that a frame holds",
            holds, "", PRACTICE,
        )  # fmt: skip
    if what in ("scene", "held"):
        return made(
            "Scene range against what is held",
            "brightest − darkest that must hold detail; frames hold the union of their spans",
            {
                "brightest": f"{stops_text(round(spread.brightest, 2))} from mid-tone",
                "darkest": f"{stops_text(round(spread.darkest, 2))} from mid-tone",
                "held": f"{spread.held.lowest:.1f} to {spread.held.highest:+.1f}",
                "frames": str(len(state.offsets)),
            },
            f"{spread.brightest - spread.darkest:.1f} stops",
            PRACTICE,
        )
    if what == "right":
        right, text, _ = expose_right(state)
        return made(
            "Expose to the right",
            "headroom − the brightest that must hold detail, in whole thirds down",
            {"headroom": f"{min(body.headroom_stops, spread.usable):g} stops", "brightest": text},
            right.text if right else "nothing is read",
            PRACTICE,
            "Meter and count is the other school: the file is then as bright as the scene.",
        )
    if what == "element":
        index, element = index_of(state, of)
        stops = dict(spread.element_stops).get(of, 0.0)
        tone = state.tones[index]
        ev = tone.ev100 if tone else 0.0
        return made(
            f"Where the {element.name} falls",
            "its reading − the metered EV + how much brighter you expose − graduated filters on it",
            {
                ("its reading" if element.reading_ev100 is not None else "predicted for it"): f"EV {ev:.2f}",
                "metered, in the light of the moment": f"EV {state.exposure.metered.now_ev100:.2f}",
            },
            f"{stops:+.2f} stops from mid-tone: {stops_text(round(stops * 3) / 3)}",
            APEX,
        )
    return None


# Long: one row for each number that is explained.
def motion(state: State, what: str, of: str) -> Explanation | None:
    """The explanation of one motion figure, None for an unknown key."""
    shutter = {"t, shutter": shutter_text(state.exposure.settings.shutter_s)}
    if what in ("hand_held", "hand_over", "hand_burst"):
        wants = state.scene.composition.wants
        return made(
            {"hand_held": "Hand-held limit", "hand_over": "Slower than the hand-held limit", "hand_burst": "Slowest in a burst by hand"}[what],
            "2^stabiliser × your factor × (c / diagonal × 1500) / (equivalent focal length × (1 + m))"
            + ("; never slower than 1/200 s" if what == "hand_burst" else ""),
            {
                "equivalent": f"{state.equivalent_mm:.0f} mm", "m": f"{state.depth.magnification:.2f}",
                "stabiliser": f"{state.stabiliser_stops:g} stops", "your factor": f"{wants.hand_held_factor:g}",
                "c, counts as sharp": micrometres_text(state.depth.circle_of_confusion_mm), "limit": shutter_text(state.hand_held_limit_s), **shutter,
            },
            shutter_text(state.hand_held_limit_s) if what == "hand_held" else "", PRACTICE,
            "1/focal length goes with a print's 1/1500 of the diagonal: half the blur allows half the time.",
        )  # fmt: skip
    if what in ("support", "support_over", "drift"):
        support = state.scene.kit.support
        return made(
            "How long a framing holds" if what == "drift" else "Slowest shutter on what you stand on",
            "allowed share × field of view / drift" if what == "drift" else "c / (v × (rocking × 2^−stabiliser + drift)), rates in radians",
            {
                "rocking": f"{support.rocking_deg_s:g}° a second", "drift": f"{support.drift_deg_s:g}° a second",
                "stabiliser": f"{state.stabiliser_stops:g} stops", "v": f"{state.depth.image_distance_mm:.1f} mm",
                "c, counts as sharp": micrometres_text(state.depth.circle_of_confusion_mm), **shutter,
            },
            "", "geometry; usual rates are common practice", "A stabiliser eases rocking and never drift, which it cannot tell from a pan.",
        )  # fmt: skip
    if what == "frozen":
        return made(
            "The frame with the wave frozen", "shortest of the base frame and the layer for it",
            {**shutter, "a frozen wave takes up to": shutter_text(look_window(state, "freeze")[1])}, "", PRACTICE,
        )  # fmt: skip
    if what == "look":
        look = state.scene.composition.wants.water_look
        low, high = look_window(state)
        school = state.scene.composition.wants.motion_school
        span = "any" if look == "any" else f"{duration_text(low) if low else '0'} to {duration_text(high)}"
        own = state.scene.composition.wants.own_look(look)
        if own is not None and school == "seconds":
            span = own_text(own)
        return made(
            f"Water: {LOOK_TEXT[look]}",
            "shutter time, by the seconds school" if school == "seconds" else "travel in frame heights / speed through the picture",
            {**shutter, "this look takes": span, "water goes through the picture at": f"{water_heights_per_s(state):.3g} frame heights a second"},
            shutter["t, shutter"], PRACTICE,
        )  # fmt: skip
    if what == "layer":
        layers = state.scene.composition.technique.layers
        return made(
            "A layer's shutter time", "as bright as the base frame: t × ISO the same, density taken off",
            {**shutter, "layers": "; ".join(f"{shutter_text(one.shutter_s)} at ISO {iso_text(one.iso)}" for one in layers) or "none"},
            "the longest time that still keeps it", PRACTICE, "Aperture, focus, white balance and framing stay, so that the frames can be blended.",
        )  # fmt: skip
    if what in ("travel", "share", "foliage"):
        i, element = index_of(state, of)
        return made(
            f"Travel of the {element.name}",
            "speed × t × v / D",
            {
                "speed": f"{element.speed_m_s:g} m/s across the view",
                **shutter,
                "v": f"{state.depth.image_distance_mm:.1f} mm",
                "D": distance_of(state, float(state.geometry.near_m[i]))
                if not math.isnan(state.geometry.near_m[i])
                else "out of frame",
            },
            "",
            RAY,
            f"{micrometres_text(state.depth.circle_of_confusion_mm)} counts as frozen.",
        )
    return None
