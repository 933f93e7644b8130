"""A scene close up, for the tests of close-up work."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.model.gear import CloseUp, Gear, LightSource
from lucid_ridge.core.model.kit import Lens
from lucid_ridge.core.model.scene import Scene

MACRO = Lens(
    name="100 mm macro", shortest_mm=100, longest_mm=100, widest_f_number=2.8284271247461903,
    widest_f_number_long=2.8284271247461903, minimum_focus_m=0.4, largest_magnification=1.0, front_mm=165.0,
)  # fmt: skip
LONG = replace(MACRO, name="180 mm macro", shortest_mm=180, longest_mm=180, minimum_focus_m=0.72, front_mm=225.0)
SHORT = replace(
    MACRO, name="35 mm", shortest_mm=35, longest_mm=35, minimum_focus_m=0.25, largest_magnification=None, front_mm=95.0,
    lengthens=True,
)  # fmt: skip
TUBE = Gear(id="tube", name="50 mm tube", kind="tube", extension_mm=50)
BELLOWS = Gear(id="bellows", name="bellows", kind="bellows", extension_mm=40, longest_mm=150)
CONVERTER = Gear(id="converter", name="2× converter", kind="teleconverter", factor=2)
DIOPTRE = Gear(id="dioptre", name="+3 lens", kind="close_up_lens", dioptres=3)
RING = Gear(id="ring", name="reversing ring", kind="reversing_ring", extension_mm=46)
RAIL = Gear(id="rail", name="rail", kind="rail", travel_mm=60, finest_step_mm=0.05)
FLASH = LightSource(id="flash", name="flash", kind="flash", guide_number_m=24)
LAMP = LightSource(id="lamp", name="lamp", kind="lamp", ev100_at_1_m=6)


def near_scene(lens: Lens = MACRO, **parts: Any) -> Scene:
    """A subject alone before a lens, life size at f/8 unless told otherwise; ``close_up`` gives its parts."""
    settings = {"focal_length_mm": lens.longest_mm, "aperture_n": 8.0, "focus_m": 2 * lens.longest_mm / 1000}
    settings |= {"filters": (), "iso": 100.0}
    settings |= parts.pop("settings", {})
    close_up = CloseUp(**{"subject_depth_mm": 12.0, "behind_mm": 400.0} | parts.pop("close_up", {}))
    kit = replace(TARN_SCENE.kit, lens=lens, gear=(TUBE, BELLOWS, CONVERTER, DIOPTRE, RING, RAIL), lights=(FLASH, LAMP))
    composition = replace(
        TARN_SCENE.composition,
        **{"elements": (), "reading": None, "locks": (), "close_up": close_up} | parts,
    )
    return replace(
        TARN_SCENE, kit=kit, composition=replace(composition, settings=replace(composition.settings, **settings))
    )
