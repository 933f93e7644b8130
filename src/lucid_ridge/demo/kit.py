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
from lucid_ridge.core.range.brackets import BracketMode
from lucid_ridge.core.stops.filters import Filter
from lucid_ridge.core.technique.scene import Body, Lens, Support

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
    narrowest_f_number=F22, minimum_focus_m=0.3,
)  # fmt: skip

LOW_TRIPOD = Support(
    name="low tripod", kind="tripod", lowest_m=0.06, highest_m=0.75, column_m=0.2, inverted_lowest_m=0.02
)  # fmt: skip
BEAN_BAG = Support(name="bean bag", kind="bag", lowest_m=0.05, highest_m=0.2)
BY_HAND = Support(name="hand", kind="hand", lowest_m=0.1, highest_m=1.75)

VARIABLE_ND = Filter(id="vnd", name="Variable ND 1-5", kind="variable_nd", stops=5.0, least_stops=1.0)
HARD_GRAD = Filter(id="grad2", name="Hard grad 2 stops", kind="graduated", stops=2.0, edge="hard")

BODIES = {"full-frame": FULL_FRAME, "crop": CROP_BODY}
LENSES = {"standard": STANDARD_ZOOM, "wide": WIDE_ZOOM, "tele": TELE_ZOOM, "macro": MACRO}
SUPPORTS = {"tripod": TRIPOD, "low-tripod": LOW_TRIPOD, "bean-bag": BEAN_BAG, "hand": BY_HAND}
FILTERS = {f.id: f for f in (POLARISER, ND3, ND6, ND10, VARIABLE_ND, SOFT_GRAD, HARD_GRAD)}
