"""The demo's kit: generic gear, as a working photographer might carry it."""

from __future__ import annotations

from lucid_ridge.calc.example import (
    F2_8,
    F4,
    F22,
    FULL_FRAME,
    ND3,
    ND6,
    ND10,
    POLARISER,
    SOFT_GRAD,
    STANDARD_ZOOM,
    TRIPOD,
)
from lucid_ridge.core.model.gear import Gear, LightSource
from lucid_ridge.core.model.kit import Body, Lens, Support
from lucid_ridge.core.range.brackets import BracketMode
from lucid_ridge.core.stops.filters import Filter
from lucid_ridge.core.stops.scales import on_third

F2, F3_5 = on_third(6, "aperture"), on_third(11, "aperture")

CROP_BODY = Body(
    name="crop-sensor body, 24 MP",
    sensor_width_mm=23.5,
    sensor_height_mm=15.7,
    pixels_across=6000,
    pixels_down=4000,
    base_iso=100.0,
    highest_iso=12800.0,
    usable_range_stops=7.5,
    headroom_stops=2.5,
    dark_frame=True,
    stabiliser_stops=2.0,
    bracket_modes=(BracketMode(frames=3, step_stops=1.0), BracketMode(frames=3, step_stops=2.0)),
)

WIDE_ZOOM = Lens(
    name="16-35 mm f/4", shortest_mm=16, longest_mm=35, widest_f_number=F4, widest_f_number_long=F4,
    narrowest_f_number=F22, minimum_focus_m=0.28,
)  # fmt: skip
TELE_ZOOM = Lens(
    name="70-200 mm f/4", shortest_mm=70, longest_mm=200, widest_f_number=F4, widest_f_number_long=F4,
    narrowest_f_number=F22, minimum_focus_m=1.0, stabiliser_stops=3.0,
)  # fmt: skip
MACRO = Lens(
    name="100 mm f/2.8 macro", shortest_mm=100, longest_mm=100, widest_f_number=F2_8, widest_f_number_long=F2_8,
    narrowest_f_number=F22, minimum_focus_m=0.3, largest_magnification=1.0, front_mm=165.0, hood_mm=45.0,
)  # fmt: skip
LONG_MACRO = Lens(
    name="180 mm f/3.5 macro", shortest_mm=180, longest_mm=180, widest_f_number=F3_5, widest_f_number_long=F3_5,
    narrowest_f_number=F22, minimum_focus_m=0.48, largest_magnification=1.0, front_mm=225.0, hood_mm=60.0,
)  # fmt: skip
SHORT_PRIME = Lens(
    name="35 mm f/2", shortest_mm=35, longest_mm=35, widest_f_number=F2, widest_f_number_long=F2,
    narrowest_f_number=F22, minimum_focus_m=0.25, front_mm=95.0, lengthens=True,
)  # fmt: skip

TUBE_12 = Gear(id="tube-12", name="12 mm tube", kind="tube", extension_mm=12)
TUBE_36 = Gear(id="tube-36", name="36 mm tube", kind="tube", extension_mm=36)
CONVERTER = Gear(id="converter", name="1.4× converter", kind="teleconverter", factor=1.4)
DIOPTRE = Gear(id="dioptre", name="+3 close-up lens", kind="close_up_lens", dioptres=3.0)
RAIL = Gear(id="rail", name="hand rail, 120 mm", kind="rail", travel_mm=120, finest_step_mm=0.1, step_s=6)

FLASH = LightSource(
    id="flash", name="small flash", kind="flash", guide_number_m=24, full_recycle_s=4, full_duration_s=1 / 500
)  # fmt: skip
LAMP = LightSource(id="lamp", name="LED lamp", kind="lamp", ev100_at_1_m=6.5)

LOW_TRIPOD = Support(
    name="low tripod", kind="tripod", lowest_m=0.06, highest_m=0.75, column_m=0.2, inverted_lowest_m=0.02
)  # fmt: skip
BEAN_BAG = Support(name="bean bag", kind="bag", lowest_m=0.05, highest_m=0.2)
BY_HAND = Support(name="hand", kind="hand", lowest_m=0.1, highest_m=1.75)

VARIABLE_ND = Filter(id="vnd", name="Variable ND 1-5", kind="variable_nd", stops=5.0, least_stops=1.0)
HARD_GRAD = Filter(id="grad2", name="Hard grad 2 stops", kind="graduated", stops=2.0, edge="hard")

BODIES = {"full-frame": FULL_FRAME, "crop": CROP_BODY}
LENSES = {
    "standard": STANDARD_ZOOM,
    "wide": WIDE_ZOOM,
    "tele": TELE_ZOOM,
    "macro": MACRO,
    "long-macro": LONG_MACRO,
    "short": SHORT_PRIME,
}
SUPPORTS = {"tripod": TRIPOD, "low-tripod": LOW_TRIPOD, "bean-bag": BEAN_BAG, "hand": BY_HAND}
FILTERS = {f.id: f for f in (POLARISER, ND3, ND6, ND10, VARIABLE_ND, SOFT_GRAD, HARD_GRAD)}
GEAR = {g.id: g for g in (TUBE_12, TUBE_36, CONVERTER, DIOPTRE, RAIL)}
LIGHTS = {light.id: light for light in (FLASH, LAMP)}
