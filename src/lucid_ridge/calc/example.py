"""A worked example: a tarn with a boathouse and a boulder shore, an hour after sunrise.

The place is invented; only its latitude is that of a real upland, so that the light is plausible.
"""

from __future__ import annotations

from datetime import UTC, datetime

from lucid_ridge.core.framing.crop import Crop
from lucid_ridge.core.model.kit import Body, Kit, Lens, Support
from lucid_ridge.core.model.place import Place
from lucid_ridge.core.model.scene import Composition, Element, Reading, Scene, Settings, Technique, Wants
from lucid_ridge.core.range.brackets import BracketMode
from lucid_ridge.core.stops.filters import Filter, FilterInUse
from lucid_ridge.core.stops.scales import on_third

MOMENT = datetime(2026, 10, 18, 7, 25, tzinfo=UTC)

F8, F11, F16, F22 = (on_third(k, "aperture") for k in (18, 21, 24, 27))
F2_8, F4 = on_third(9, "aperture"), on_third(12, "aperture")

TARN = Place(name="Hollin Tarn", latitude_deg=54.1, longitude_deg=-2.4, elevation_m=380.0, time_zone="Europe/London")

FULL_FRAME = Body(
    name="full-frame body, 45 MP",
    sensor_width_mm=36.0,
    sensor_height_mm=24.0,
    pixels_across=8192,
    pixels_down=5460,
    base_iso=100.0,
    highest_iso=25600.0,
    usable_range_stops=8.0,
    headroom_stops=2.5,
    dark_frame=False,
    bracket_modes=(
        BracketMode(frames=3, step_stops=1.0),
        BracketMode(frames=3, step_stops=2.0),
        BracketMode(frames=5, step_stops=1.0),
        BracketMode(frames=5, step_stops=2.0),
    ),
)
STANDARD_ZOOM = Lens(
    name="24-70 mm f/2.8",
    shortest_mm=24.0,
    longest_mm=70.0,
    widest_f_number=F2_8,
    widest_f_number_long=F2_8,
    narrowest_f_number=F22,
    minimum_focus_m=0.38,
)
TRIPOD = Support(name="carbon tripod", kind="tripod", lowest_m=0.12, highest_m=1.62)

POLARISER = Filter(id="pol", name="Polariser", kind="polariser", stops=2.0)
ND3 = Filter(id="nd3", name="ND 3 stops", kind="nd", stops=3.0)
ND6 = Filter(id="nd6", name="ND 6 stops", kind="nd", stops=6.0)
ND10 = Filter(id="nd10", name="ND 10 stops", kind="nd", stops=10.0)
SOFT_GRAD = Filter(id="grad3", name="Soft grad 3 stops", kind="graduated", stops=3.0, edge="soft")
FILTERS = (POLARISER, ND3, ND6, ND10, SOFT_GRAD)

TARN_ELEMENTS = (
    Element(
        id="cloud", name="eastern sky", role="sky", silhouette="cloud", east_m=7200, north_m=9000, base_m=1150,
        turned_deg=40, width_m=11000, depth_m=800, height_m=950, sharp=False, reading_ev100=15.6,
    ),
    Element(
        id="skarn", name="Skarn ridge", role="background", silhouette="ridge", east_m=2300, north_m=3150, base_m=0,
        turned_deg=36, width_m=6200, depth_m=600, height_m=430, reading_ev100=12.3,
    ),
    Element(
        id="fellside", name="fellside", role="background", silhouette="hill", east_m=300, north_m=1250, base_m=0,
        turned_deg=14, width_m=1500, depth_m=300, height_m=190, sharp=False, reading_ev100=11.4,
    ),
    Element(
        id="far-shore", name="far shore", role="middle", silhouette="wall", east_m=205, north_m=245, base_m=-0.5,
        turned_deg=40, width_m=900, depth_m=60, height_m=9, sharp=False, reading_ev100=10.9,
    ),
    Element(
        id="water", name="water", role="water", silhouette="water", east_m=0.62, north_m=0.74, base_m=-0.2,
        turned_deg=40, width_m=620, depth_m=300, height_m=0, sharp=False, motion="water", speed_m_s=0.3,
        reading_ev100=11.8,
    ),
    Element(
        id="boathouse", name="boathouse", role="subject", silhouette="boathouse", east_m=62.0, north_m=50.0, base_m=-0.2,
        turned_deg=51, width_m=10, depth_m=14, height_m=11, reading_ev100=10.2,
    ),
    Element(
        id="stones", name="shore stones", role="foreground", silhouette="boulder", east_m=1.62, north_m=1.2, base_m=-0.25,
        turned_deg=50, width_m=0.62, depth_m=0.4, height_m=0.24, sharp=False,
    ),
    Element(
        id="boulder", name="boulder edge", role="foreground", silhouette="boulder", east_m=0.19, north_m=0.62,
        base_m=-0.2, turned_deg=17, width_m=0.78, depth_m=0.6, height_m=0.58, reading_ev100=5.5,
    ),
)  # fmt: skip

TARN_COMPOSITION = Composition(
    moment_utc=MOMENT,
    camera_height_m=0.58,
    azimuth_deg=40.0,
    pitch_deg=-7.0,
    crop=Crop(aspect=1.5, scale=1.0),
    elements=TARN_ELEMENTS,
    reading=Reading(
        aperture_n=F11, shutter_s=on_third(-13, "shutter"), iso=100.0, taken_at_utc=MOMENT, element_id="far-shore"
    ),
    wants=Wants(sharpness_standard="print", focus_school="balanced", water_look="texture", highest_iso=1600.0),
    settings=Settings(
        focal_length_mm=24.0,
        aperture_n=F11,
        shutter_s=0.125,
        iso=100.0,
        focus_m=1.9,
        filters=(FilterInUse(filter_id="pol", strength=2 / 3),),
        timer_s=2.0,
    ),
    locks=("focal_length", "iso"),
    technique=Technique(),
)

TARN_SCENE = Scene(
    place=TARN,
    kit=Kit(body=FULL_FRAME, lens=STANDARD_ZOOM, support=TRIPOD, filters=FILTERS),
    composition=TARN_COMPOSITION,
)
