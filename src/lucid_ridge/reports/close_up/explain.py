"""Explanations of the Close-up bench."""

from __future__ import annotations

from lucid_ridge.core.state.close_up import near
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.close_up.explain_beside import gear_on
from lucid_ridge.reports.close_up.lenses import magnification_text
from lucid_ridge.reports.explanation import PRACTICE, RAY, Explanation, lens_inputs, made
from lucid_ridge.reports.figures import aperture_text, micrometres_text, shutter_text, significant

_WAVE = "Born and Wolf, Principles of Optics: λ / NA², NA = m / (2 N (1 + m/p))"


def close(state: State, what: str, of: str) -> Explanation | None:
    """The explanation of one close-up figure, None for an unknown key."""
    if what.startswith("gear_"):
        return gear_on(state, what.removeprefix("gear_"), of)
    now, lens, settings = near(state), state.scene.kit.lens, state.scene.composition.settings
    m = {"m, magnification": magnification_text(now.magnification)}
    f = {"f, of lens and gear": f"{significant(now.focal_mm, 4)} mm"}
    both = {**f, **m}
    low, high = now.reach
    overlap = state.scene.composition.technique.overlap
    table = {
        "reach": (
            "Magnifications within reach", "own magnification + extension / f; with a close-up lens f is 1 / (1/f + D)",
            {**lens_inputs(state), "lens": lens.name}, f"{significant(low, 2)} to {significant(high, 2)}", RAY,
            "A lens that shortens its focal length close up reaches a little more than tubes promise.",
        ),
        "framed": ("Framed width and height", "sensor side / m", {"sensor": f"{state.scene.kit.body.sensor_width_mm:g} × {state.scene.kit.body.sensor_height_mm:g} mm", **m},
                   f"{significant(now.frame_mm[0], 3)} × {significant(now.frame_mm[1], 3)} mm", RAY, "A ruler photographed at this setting shows it."),
        "subject_distance": ("Distance of the subject", "from the lens f (1 + 1/m); from the sensor f (2 + m + 1/m)", both,
                             f"{significant(now.subject_mm, 4)} mm and {significant(now.from_sensor_mm, 4)} mm", RAY,
                             "A lens that does not lengthen shortens its focal length instead, in proportion to the magnification, to what its nearest focus tells."),
        "working_distance": ("Working distance", "subject to sensor − sensor to the front of the lens (− its shade)", both,
                             "not told" if now.working_mm is None else f"{significant(now.working_mm, 3)} mm to the front", RAY,
                             "The lens's length stands in its record in the kit."),
        "working_aperture": ("Working f-number", "N (1 + m/p); turned round N (m + 1/p)", {**lens_inputs(state), **m, "p": f"{lens.pupil_magnification:g}"},
                             aperture_text(now.working_f_number), RAY, "What the light and the Airy disk see."),
        "loss": ("Light lost by extension", "2 log₂(N′ / N), N′ the working f-number: 2 log₂(1 + m/p)", {**both, "v, image distance": f"{significant(now.image_mm, 4)} mm", "p": f"{lens.pupil_magnification:g}"},
                 "stops, less light", f"{RAY}; the bellows factors are {PRACTICE}", "A meter through the lens has seen it already. A close-up lens extends nothing and takes none."),
        "depth": ("Depth of one frame", "2 N c′ (1 + m/p) / m², with the diffraction depth λ / NA² where it is chosen to count",
                  {**lens_inputs(state), **m, "c′, left for defocus": micrometres_text(state.depth.allowance_mm), "by geometry": f"{significant(now.depth.geometric, 3)} mm", "diffraction depth": f"{significant(now.depth.diffraction, 3)} mm"},
                  f"{significant(now.depth.counted, 3)} mm", f"{RAY}; {_WAVE}", ""),
        "step": ("Step of the stack", "depth of one frame × (1 − overlap)", {"depth of one frame": f"{significant(now.depth.counted, 3)} mm", "overlap": f"{overlap:.0%}", "depth of the subject": f"{significant(now.subject_depth_mm, 3)} mm"},
                 f"{significant(now.depth.counted * (1 - overlap), 3)} mm", RAY, "The first plane lies half a depth behind the front, so that the front is just sharp. By ring: m² × step behind the lens."),
        "time": ("Time of the stack", "frames × (shutter + the longest of moving and settling, and recycling); a burst until the buffer is full, then as it writes",
                 {"shutter": shutter_text(state.exposure.settings.shutter_s)}, "see the pace beside it", PRACTICE, ""),
        "disk": ("Blur disk of the background", "(f/N) m b / (s′ + b), s′ from the entrance pupil, as a share of the picture's width",
                 {**both, "N": aperture_text(now.f_number), "b, behind": f"{significant(now.behind_mm, 3)} mm"}, "the larger, the smoother", RAY, ""),
        "ratio": ("Background against camera", "b / s; the practice asks for 2", {**f, "b, behind": f"{significant(now.behind_mm, 3)} mm", "s": f"{significant(now.subject_mm, 3)} mm"},
                  f"{significant(now.behind_mm / now.subject_mm, 2)}", PRACTICE, "The blur disk beside it is computed; the practice is a rule of thumb."),
        "flash": ("Flash alone", "2 log₂(GN / (d N′)) + log₂ power + log₂(ISO/100) − filters", {"N′, working": aperture_text(now.working_f_number), "ISO": f"{settings.iso:g}"},
                  "stops above a mid-tone", f"guide number as ISO 1230 defines it; duration and recycling in proportion to power are {PRACTICE}", ""),
        "lamp": ("Lamp alone", "its EV from 1 m − 2 log₂ d − the EV that the settings expose for", {"N′, working": aperture_text(now.working_f_number), "shutter": shutter_text(state.exposure.settings.shutter_s)},
                 "stops above a mid-tone", "inverse square law", ""),
        "lights": ("Lights together", "log₂ Σ 2^stops; a share is its part of the sum", {}, "stops above a mid-tone", "light adds", ""),
        "sway": ("Fastest sway that stays sharp", "c / (m t)", {"c, circle of confusion": micrometres_text(state.depth.circle_of_confusion_mm), **m, "t": shutter_text(state.exposure.settings.shutter_s)},
                 f"{significant(state.depth.circle_of_confusion_mm / now.magnification / state.exposure.settings.shutter_s, 2)} mm/s", "travel on the sensor = speed × t × m", ""),
    }  # fmt: skip
    same = {
        "magnification": "framed", "diffraction": "depth", "flash_duration": "flash", "share": "lights", "ambient": "lights", "rate": "time",
    }  # fmt: skip
    found = table.get(same.get(what, what))
    if found is None:
        return None
    title, formula, inputs, result, source, note = found
    lights = {one.id: one.name for one in state.scene.kit.lights}
    which = {"which": lights.get(of, of) or "the light that is there"} if of or what in ("share", "ambient") else {}
    return made(title, formula, {**which, **inputs}, result, source, note)
