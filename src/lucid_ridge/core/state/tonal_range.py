"""How bright everything is against what the frames hold, and the bracket that is planned."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from lucid_ridge.core.camera.geometry import Geometry
from lucid_ridge.core.camera.panorama import turns_of
from lucid_ridge.core.exposure.closing import Exposure, graduated_stops
from lucid_ridge.core.exposure.tones import Tone
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.range.brackets import BracketPlan, HeldRange, held, plan_bracket, usable_range_stops


@dataclass(frozen=True)
class Range:
    """Scene range in stops relative to the frame's mid-tone. Empty readings: both ends zero.

    ``bounded`` are stops and id of everything in the frame that must hold detail. ``doubt_stops`` is how far what is predicted may be off; 0 where everything is read.
    """

    element_stops: tuple[tuple[str, float], ...]
    bounded: tuple[tuple[float, str], ...]
    doubt_stops: float
    darkest: float
    brightest: float
    darkest_id: str | None
    brightest_id: str | None
    usable: float
    bracket: BracketPlan | None
    bracket_problem: str
    held: HeldRange


def range_of(
    scene: Scene, geometry: Geometry, exposure: Exposure, slices: int, tones: tuple[Tone | None, ...]
) -> Range:
    """How bright everything is against what the frames hold. *slices* is how many foci share the frames wanted at most."""
    composition, body = scene.composition, scene.kit.body
    stops: list[tuple[str, float]] = []
    doubt = 0.0
    bounded: list[tuple[float, str]] = []
    for i, element in enumerate(composition.elements):
        tone = tones[i]
        if tone is None:
            continue
        doubt = max(doubt, tone.doubt_stops)
        relative = tone.ev100 - tone.polarised_stops - exposure.metered.now_ev100 + exposure.brighter_stops
        relative -= graduated_stops(scene, float(geometry.middle_y[i]))
        stops.append((element.id, relative))
        if element.holds_detail and not math.isnan(geometry.near_m[i]):
            bounded.append((relative, element.id))
    darkest, darkest_id = min(bounded, default=(0.0, None))
    brightest, brightest_id = max(bounded, default=(0.0, None))
    usable = usable_range_stops(body.usable_range_stops, exposure.settings.iso, body.base_iso)
    headroom = min(body.headroom_stops, usable)
    plan: BracketPlan | None = None
    problem = ""
    if composition.technique.bracket == "range":
        try:
            plan = plan_bracket(
                darkest, brightest, usable, headroom, body.bracket_modes, most_frames=brackets_at_most(scene, slices)
            )
        except ValueError as error:
            problem = f"{str(error)[0].upper()}{str(error)[1:]}."
    elif composition.technique.bracket == "manual" and composition.technique.manual_offsets_stops:
        offsets = tuple(sorted(composition.technique.manual_offsets_stops))
        steps = np.diff(offsets)
        plan = BracketPlan(
            offsets_stops=offsets,
            step_stops=float(steps.mean()) if len(steps) else 0.0,
            centre_stops=(offsets[0] + offsets[-1]) / 2,
            by_body=False,
        )
    return Range(
        element_stops=tuple(stops),
        bounded=tuple(bounded),
        doubt_stops=doubt,
        darkest=darkest,
        brightest=brightest,
        darkest_id=darkest_id,
        brightest_id=brightest_id,
        usable=usable,
        bracket=plan,
        bracket_problem=problem,
        held=held([stops for stops, _ in bounded] or [0.0], plan.offsets_stops if plan else (0.0,), usable, headroom),
    )


def brackets_at_most(scene: Scene, slices: int) -> float:
    """How many exposures of each focus there may be, of all the frames that are wanted at most."""
    composition = scene.composition
    turns = turns_of(composition, scene.kit)
    return (composition.wants.most_frames - len(composition.technique.layers)) / (turns * slices)
