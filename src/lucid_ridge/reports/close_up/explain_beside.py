"""Explanations of lenses side by side, and of gear on the lens in use: each with its own numbers."""

from __future__ import annotations

from lucid_ridge.core.camera.mounted_lens import bare_lens
from lucid_ridge.core.model.gear import Gear
from lucid_ridge.core.model.kit import Lens
from lucid_ridge.core.state.close_up import near
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.close_up.lenses import (
    beside,
    frame_width_mm,
    gear_named,
    gear_reach,
    magnification_text,
    marked_focal_mm,
    millimetres,
)
from lucid_ridge.reports.explanation import PRACTICE, RAY, Explanation, Inputs, made
from lucid_ridge.reports.figures import aperture_text, micrometres_text, significant


def lens_beside(state: State, what: str, lens: Lens) -> Explanation | None:
    """The explanation of a number of a lens that stands beside the others; None for an unknown one."""
    now = near(state)
    one = beside(state, now, lens)
    n, p = one.optics.f_number, one.optics.pupil_magnification
    of_lens = {
        "lens": " + ".join([lens.name, *(g.name for g in one.pieces)]),
        "f, of lens and gear": millimetres(one.optics.focal_length_mm).text,
        "m, magnification": magnification_text(now.magnification),
    }
    away = {"s′, subject from the entrance pupil": millimetres(one.pupil_to_subject_mm).text}
    behind = {"b, behind": millimetres(now.behind_mm).text}
    stop = {"N": aperture_text(n), "p, pupil magnification": f"{p:g}"}
    table: dict[str, tuple[str, str, Inputs, str, str]] = {
        "working": (
            "Working distance", "subject to sensor − sensor to the front of the lens", of_lens, RAY,
            "The lens's length stands in its record in the kit.",
        ),
        "hood": (
            "Working distance past the hood", "working distance − what the hood stands out",
            {**of_lens, "working distance": millimetres(one.working_mm).text, "hood": f"{bare_lens(lens).hood_mm:g} mm"}, RAY, "",
        ),
        "ratio": (
            "Near side against far side", "1 + subject's depth / s′", {**of_lens, **away, "subject's depth": millimetres(now.subject_depth_mm).text},
            RAY, "A longer lens stands farther off and draws flatter.",
        ),
        "background": (
            "Background taken in", "sensor width / m × (1 + b / s′)",
            {**of_lens, **away, **behind, "sensor width": millimetres(frame_width_mm(state)).text}, RAY, "",
        ),
        "disk": (
            "Blur disk of the background", "(f/N) m b / (s′ + b), as a share of the picture's width",
            {**of_lens, **stop, **away, **behind, "picture": millimetres(state.geometry.picture_mm[0]).text}, RAY, "",
        ),
        "depth": (
            "Depth of one frame", "2 N c′ (1 + m/p) / m², with the diffraction depth λ / NA² where it is chosen to count",
            {**of_lens, **stop, "by geometry": millimetres(one.depth.geometric).text, "diffraction depth": millimetres(one.depth.diffraction).text}, RAY, "",
        ),
        "loss": (
            "Light lost by extension", "2 log₂(1 + m/p); turned round 2 log₂(m + 1/p), against the marked aperture", {**of_lens, **stop}, RAY,
            "A meter through the lens has seen it already.",
        ),
        "hand_held": (
            "Hand-held limit", "2^stabiliser × your factor × (c / diagonal × 1500) / (equivalent focal length × (1 + m))",
            {**of_lens, "equivalent": f"{one.equivalent_mm:.0f} mm", "stabiliser": f"{one.stabiliser_stops:g} stops",
             "your factor": f"{state.scene.composition.wants.hand_held_factor:g}", "c, counts as sharp": micrometres_text(state.depth.circle_of_confusion_mm)},
            PRACTICE, "",
        ),
    }  # fmt: skip
    found = table.get(what)
    if found is None:
        return None
    title, formula, inputs, source, note = found
    return made(title, formula, inputs, "", source, note)


def gear_on(state: State, what: str, key: str) -> Explanation | None:
    """The explanation of a number of a combination of gear on the lens in use; None where the key names none."""
    pieces = gear_named(state, key)
    if pieces is None or what not in ("least", "most", "loss"):
        return None
    low, high = gear_reach(state, pieces)
    inputs = {
        "with": " + ".join(g.name for g in pieces) or "the lens alone",
        "marked focal length": f"{marked_focal_mm(state):g} mm",
        "within reach": f"{significant(low, 2)} to {significant(high, 2)}",
        **{g.name: _adds(g) for g in pieces},
    }
    if what == "loss":
        return made(
            "Light lost by extension", "2 log₂(N′ / N), N′ the working f-number",
            {**inputs, "at": magnification_text(min(max(near(state).magnification, low), high))}, "", RAY,
            "At the magnification in use, or as near as this gear comes to it.",
        )  # fmt: skip
    return made(
        "Least magnification with this gear" if what == "least" else "Greatest magnification with this gear",
        "own magnification + extension / f; with a close-up lens f is 1 / (1/f + D); a converter's factor on all in front of it",
        inputs, "", RAY, "A lens that shortens its focal length close up reaches a little more than tubes promise.",
    )  # fmt: skip


def _adds(gear: Gear) -> str:
    """What a piece of gear does, with its number."""
    match gear.kind:
        case "teleconverter":
            return f"{gear.factor:g}×"
        case "close_up_lens":
            return f"{gear.dioptres:g} dioptres"
        case "bellows":
            return f"{gear.extension_mm:g} to {gear.longest_mm:g} mm"
        case _:
            return f"{gear.extension_mm:g} mm"
