"""The demo's places and compositions. Everything is invented; 18 October 2026 is its day."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import UTC, datetime

from lucid_ridge.calc.example import F8, F11, F16, TARN, TARN_COMPOSITION
from lucid_ridge.core.framing.crop import Crop
from lucid_ridge.core.model.gear import CloseUp, MountedGear
from lucid_ridge.core.model.scene import Composition, Element, Reading, Settings, Technique, Wants
from lucid_ridge.core.model.wanted import LightWish, LitWish
from lucid_ridge.core.stops.filters import FilterInUse
from lucid_ridge.core.stops.scales import on_third
from lucid_ridge.demo.framing_cases import BANK, MIRROR, VALLEY_HEAD
from lucid_ridge.demo.ground import SANDS_TIDE
from lucid_ridge.demo.names import demo_id

F5_6 = on_third(15, "aperture")


def _at(hour: int, minute: int) -> datetime:
    return datetime(2026, 10, 18, hour, minute, tzinfo=UTC)


@dataclass(frozen=True)
class DemoComposition:
    """A composition with the kit it uses, by the demo's names."""

    name: str
    place: str
    body: str
    lens: str
    support: str
    composition: Composition


TERRAIN_ID = str(demo_id("terrain/valley"))
_VALLEY = replace(TARN, horizon="terrain", terrain_id=TERRAIN_ID)

PLACES = {
    "tarn": _VALLEY,
    "beck": replace(_VALLEY, name="Sorrel Beck", latitude_deg=54.11, longitude_deg=-2.43, elevation_m=291.0),
    "moss": replace(_VALLEY, name="Cotton Moss", latitude_deg=54.09, longitude_deg=-2.37, elevation_m=407.0),
    "sands": replace(
        TARN,
        name="Samphire Sands",
        latitude_deg=54.05,
        longitude_deg=-2.95,
        elevation_m=3.0,
        horizon="sea",
        tide=SANDS_TIDE,
    ),
}

BECK = Composition(
    moment_utc=_at(15, 40),
    camera_height_m=0.9,
    azimuth_deg=310.0,
    pitch_deg=-13.0,
    orientation="portrait",
    crop=Crop(aspect=0.8),
    elements=(
        Element(
            id="sky", name="sky over the fold", role="sky", silhouette="cloud", east_m=-3000, north_m=2500, base_m=420,
            turned_deg=310, width_m=5000, depth_m=200, height_m=500, sharp=False, reading_ev100=13.6,
        ),
        Element(
            id="fell", name="fell", role="background", silhouette="hill", east_m=-520, north_m=440, base_m=0,
            turned_deg=310, width_m=700, depth_m=150, height_m=120, reading_ev100=11.0,
        ),
        Element(
            id="fold", name="sheepfold", role="subject", silhouette="wall", east_m=-20, north_m=18.5, base_m=1.4,
            turned_deg=312, width_m=11, depth_m=8, height_m=1.6, reading_ev100=10.4,
        ),
        Element(
            id="bracken", name="bracken", role="middle", silhouette="reeds", east_m=-5.2, north_m=2.9, base_m=0.1,
            turned_deg=298, width_m=2.4, depth_m=1.2, height_m=0.9, motion="foliage", speed_m_s=0.12,
            reading_ev100=9.8,
        ),
        Element(
            id="beck", name="beck", role="water", silhouette="beck", east_m=-1.1, north_m=0.95, base_m=-0.25,
            turned_deg=310, width_m=5.5, depth_m=17, height_m=0, sharp=False, motion="water", speed_m_s=0.8,
            reading_ev100=10.6,
        ),
        Element(
            id="stones", name="stepping stones", role="foreground", silhouette="stones", east_m=-1.15, north_m=1.0,
            base_m=-0.1, turned_deg=312, width_m=2.2, depth_m=6.5, height_m=0.15, reading_ev100=9.1,
        ),
    ),
    reading=Reading(aperture_n=F11, shutter_s=on_third(-9, "shutter"), iso=100.0, taken_at_utc=_at(15, 40), element_id="stones"),
    wants=Wants(water_look="texture", sharp_foliage=True, highest_iso=3200.0),
    settings=Settings(
        focal_length_mm=24.0, aperture_n=F11, shutter_s=0.5, iso=100.0, focus_m=2.6,
        filters=(FilterInUse(filter_id="pol", strength=1.0),), timer_s=2.0,
    ),
    locks=("focal_length",),
    technique=Technique(),
)  # fmt: skip

COTTON = Composition(
    moment_utc=_at(16, 35),
    camera_height_m=0.5,
    azimuth_deg=262.0,
    pitch_deg=1.0,
    crop=Crop(aspect=2.2),
    elements=(
        Element(
            id="glow", name="glow", role="sky", silhouette="cloud", east_m=-9000, north_m=-900, base_m=350,
            turned_deg=264, width_m=9000, depth_m=300, height_m=900, sharp=False, reading_ev100=14.0,
        ),
        Element(
            id="watershed", name="watershed", role="background", silhouette="ridge", east_m=-2600, north_m=-360,
            base_m=-20, turned_deg=262, width_m=2400, depth_m=300, height_m=130, sharp=False, reading_ev100=11.2,
        ),
        Element(
            id="pool", name="pool", role="water", silhouette="water", east_m=-7.0, north_m=-1.0, base_m=-0.1,
            turned_deg=262, width_m=14, depth_m=18, height_m=0, sharp=False, motion="water", speed_m_s=0.05,
            reading_ev100=12.0,
        ),
        Element(
            id="cotton-grass", name="cotton-grass", role="subject", silhouette="reeds", east_m=-3.6, north_m=-0.45,
            base_m=0, turned_deg=262, width_m=1.6, depth_m=0.5, height_m=0.62, motion="foliage", speed_m_s=0.25,
            reading_ev100=11.5,
        ),
    ),
    reading=Reading(aperture_n=F8, shutter_s=on_third(-18, "shutter"), iso=100.0, taken_at_utc=_at(16, 20), element_id="cotton-grass"),
    wants=Wants(sharp_foliage=True, focus_school="subject", highest_iso=3200.0),
    settings=Settings(
        focal_length_mm=85.0, aperture_n=F5_6, shutter_s=1 / 128, iso=200.0, focus_m=3.7, timer_s=5.0,
    ),
    technique=Technique(),
)  # fmt: skip

HEATHER = Composition(
    moment_utc=_at(7, 5),
    camera_height_m=0.22,
    azimuth_deg=120.0,
    pitch_deg=-22.0,
    orientation="portrait",
    elements=(
        Element(
            id="grass", name="frosted grass", role="background", silhouette="meadow", east_m=0.6, north_m=-0.35,
            base_m=0, turned_deg=120, width_m=2, depth_m=3, height_m=0.05, sharp=False, reading_ev100=8.2,
        ),
        Element(
            id="sprig", name="heather sprig", role="subject", silhouette="heather", east_m=0.268, north_m=-0.155,
            base_m=0.06, turned_deg=120, width_m=0.035, depth_m=0.012, height_m=0.065, motion="foliage",
            speed_m_s=0.004, reading_ev100=9.0,
        ),
    ),
    reading=Reading(aperture_n=F8, shutter_s=on_third(-9, "shutter"), iso=100.0, taken_at_utc=_at(7, 5), element_id="sprig"),
    wants=Wants(sharp_foliage=True, focus_school="subject", highest_iso=1600.0),
    settings=Settings(
        focal_length_mm=100.0, aperture_n=F8, shutter_s=0.125, iso=100.0, focus_m=0.357, timer_s=5.0,
    ),
    locks=("focal_length",),
    technique=Technique(),
)  # fmt: skip

SUNDEW = Composition(
    moment_utc=_at(9, 10),
    camera_height_m=0.16,
    azimuth_deg=75.0,
    pitch_deg=-32.0,
    elements=(
        Element(
            id="moss", name="peat moss", role="background", silhouette="meadow", east_m=0.19, north_m=0.05, base_m=0,
            turned_deg=75, width_m=0.5, depth_m=0.5, height_m=0.01, sharp=False, reading_ev100=9.0,
        ),
        Element(
            id="leaf", name="sundew leaf", role="subject", silhouette="leaf", east_m=0.172, north_m=0.046, base_m=0.035,
            turned_deg=75, width_m=0.016, depth_m=0.007, height_m=0.022, reading_ev100=10.3,
        ),
    ),
    reading=Reading(aperture_n=F11, shutter_s=on_third(-6, "shutter"), iso=100.0, taken_at_utc=_at(9, 10), element_id="leaf"),
    wants=Wants(sharpness_standard="print", focus_school="balanced"),
    settings=Settings(
        focal_length_mm=100.0, aperture_n=F5_6, shutter_s=0.0625, iso=100.0, focus_m=0.216, timer_s=5.0,
    ),
    locks=("focal_length",),
    technique=Technique(slices="rail"),
    close_up=CloseUp(mounted=(MountedGear(gear_id="rail"),), subject="plant", speed_mm_s=2.0),
)  # fmt: skip

TARN_SMOOTH = replace(
    TARN_COMPOSITION,
    camera_height_m=1.1,
    moment_utc=_at(6, 55),
    wants=replace(TARN_COMPOSITION.wants, water_look="glass"),
    settings=replace(
        TARN_COMPOSITION.settings,
        aperture_n=F16,
        filters=(FilterInUse(filter_id="pol", strength=2 / 3), FilterInUse(filter_id="nd6")),
        bulb=True,
        timer_s=5.0,
    ),
    technique=Technique(slices="gapless"),
)

MOORING = replace(
    TARN_COMPOSITION,
    camera_height_m=0.5,
    elements=(
        *(e for e in TARN_COMPOSITION.elements if e.role in ("background", "water", "sky")),
        Element(
            id="post",
            name="mooring post",
            role="subject",
            silhouette="post",
            east_m=6.4,
            north_m=7.7,
            base_m=-0.2,
            turned_deg=40,
            width_m=0.22,
            depth_m=0.22,
            height_m=1.15,
            reading_ev100=9.8,
        ),
        Element(
            id="rock",
            name="near rock",
            role="foreground",
            silhouette="boulder",
            east_m=1.28,
            north_m=1.53,
            base_m=-0.2,
            turned_deg=40,
            width_m=0.9,
            depth_m=0.6,
            height_m=0.62,
            reading_ev100=8.6,
        ),
    ),
    reading=Reading(aperture_n=F11, shutter_s=on_third(-12, "shutter"), iso=100.0, taken_at_utc=_at(7, 25)),
    wants=replace(TARN_COMPOSITION.wants, water_look="any"),
)

CREEK = Composition(
    moment_utc=_at(16, 40),
    camera_height_m=1.2,
    azimuth_deg=238.0,
    pitch_deg=-6.0,
    elements=(
        Element(
            id="dusk", name="evening cloud", role="sky", silhouette="cloud", east_m=-6000, north_m=-3800, base_m=700,
            turned_deg=238, width_m=9000, depth_m=400, height_m=700, sharp=False, reading_ev100=13.4,
        ),
        Element(
            id="far-bank", name="far bank", role="background", silhouette="wall", east_m=-700, north_m=-440, base_m=-3,
            turned_deg=238, width_m=2400, depth_m=40, height_m=7, sharp=False, reading_ev100=9.6,
        ),
        Element(
            id="channel", name="channel", role="water", silhouette="water", east_m=-2.2, north_m=-1.4, base_m=-1.4,
            turned_deg=238, width_m=60, depth_m=420, height_m=0, sharp=False, motion="water", speed_m_s=0.4,
            reading_ev100=11.6,
        ),
        Element(
            id="withy", name="withy post", role="subject", silhouette="post", east_m=-9.0, north_m=-4.6, base_m=-1.4,
            turned_deg=238, width_m=0.16, depth_m=0.16, height_m=2.9, reading_ev100=9.2,
        ),
    ),
    reading=Reading(aperture_n=F11, shutter_s=on_third(-6, "shutter"), iso=100.0, taken_at_utc=_at(16, 34), element_id="withy"),
    wants=Wants(water_look="texture"),
    settings=Settings(focal_length_mm=35.0, aperture_n=F11, shutter_s=0.25, iso=100.0, focus_m=10.0),
    light_wish=LightWish(around="sunset", before_min=30.0, after_min=25.0, sides=("back_left", "back_right"), highest_deg=4.0),
)  # fmt: skip

TARN_LIT = replace(
    TARN_COMPOSITION,
    light_wish=LightWish(
        sides=("side_right", "side_left"),
        lowest_deg=3.0,
        highest_deg=14.0,
        lit=(LitWish(element_id="boathouse"),),
        to_hour=11.0,
    ),
)

COMPOSITIONS = {
    "creek": DemoComposition("Withy in the channel", "sands", "full-frame", "standard", "tripod", CREEK),
    "boathouse": DemoComposition("Boathouse at first light", "tarn", "full-frame", "standard", "tripod", TARN_LIT),
    "mooring": DemoComposition("Mooring post behind a rock", "tarn", "full-frame", "standard", "tripod", MOORING),
    "glass": DemoComposition("Tarn turned to glass", "tarn", "full-frame", "standard", "tripod", TARN_SMOOTH),
    "mirror": DemoComposition("Tarn as a mirror", "tarn", "full-frame", "standard", "tripod", MIRROR),
    "valley": DemoComposition("Valley head in seven panels", "tarn", "full-frame", "standard", "tripod", VALLEY_HEAD),
    "stones": DemoComposition(
        "Stepping stones below the fold",
        "beck",
        "full-frame",
        "standard",
        "tripod",
        replace(BECK, keep_out_lines=(BANK,)),
    ),
    "cotton": DemoComposition("Cotton-grass in low sun", "moss", "crop", "tele", "hand", COTTON),
    "heather": DemoComposition("Hoar frost on heather", "moss", "full-frame", "macro", "low-tripod", HEATHER),
    "sundew": DemoComposition("Sundew leaf with dew", "moss", "full-frame", "macro", "low-tripod", SUNDEW),
}
