"""Demo compositions about framing: a mirror, a valley in seven panels, a bank not to cross. All invented."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime

from lucid_ridge.calc.example import F8, F11, TARN_COMPOSITION
from lucid_ridge.core.framing.crop import Crop
from lucid_ridge.core.model.scene import (
    Composition,
    Element,
    KeepOutLine,
    PanelReading,
    Panorama,
    Reading,
    RidgePoint,
    Settings,
    Wants,
)
from lucid_ridge.core.stops.scales import on_third


def _at(hour: int, minute: int) -> datetime:
    return datetime(2026, 10, 18, hour, minute, tzinfo=UTC)


def _skyline(*points: tuple[float, float, float]) -> tuple[RidgePoint, ...]:
    return tuple(RidgePoint(bearing_deg=b, distance_m=d, height_m=h) for b, d, h in points)


_SKARN = Element(
    id="skarn", name="Skarn ridge", role="background", silhouette="ridge", east_m=0, north_m=0, base_m=-20,
    reading_ev100=12.1,
    ridgeline=_skyline(
        (338, 4000, -20), (348, 3900, 310), (354, 3800, 352), (359, 3700, 401), (4, 3600, 388), (9, 3500, 447), (15, 3500, 521),
        (20, 3500, 498), (26, 3600, 560), (31, 3700, 612), (36, 3800, 571), (42, 3900, 533), (49, 4000, 548),
        (56, 4100, 470), (63, 4200, 402), (71, 4300, 355), (80, 4300, 290), (92, 4200, 240), (104, 4100, 190), (118, 4000, -20),
    ),
)  # fmt: skip
_LING = Element(
    id="ling", name="Ling Fell", role="background", silhouette="hill", east_m=0, north_m=0, base_m=-20, sharp=False,
    reading_ev100=11.0,
    ridgeline=_skyline(
        (250, 1600, -20), (262, 1500, 120), (270, 1450, 168), (278, 1400, 214), (286, 1350, 236), (294, 1350, 228), (302, 1400, 190),
        (310, 1500, 141), (320, 1650, 96), (332, 1800, 60), (344, 2000, -20),
    ),
)  # fmt: skip

MIRROR = replace(
    TARN_COMPOSITION,
    moment_utc=_at(7, 40),
    camera_height_m=0.55,
    pitch_deg=-6.0,
    azimuth_deg=47.0,
    crop=Crop(aspect=1.0),
    guide="centre",
    elements=(
        next(e for e in TARN_COMPOSITION.elements if e.id == "cloud"),
        _SKARN,
        replace(next(e for e in TARN_COMPOSITION.elements if e.id == "far-shore"), height_m=5.0),
        replace(
            next(e for e in TARN_COMPOSITION.elements if e.id == "water"), name="still tarn",
            motion="still", speed_m_s=0.0,
        ),
        replace(
            next(e for e in TARN_COMPOSITION.elements if e.id == "boathouse"), turned_deg=51, width_m=9, height_m=8,
        ),
        Element(
            id="reeds", name="reeds", role="foreground", silhouette="reeds", east_m=2.0, north_m=2.5, base_m=-0.2,
            turned_deg=40, width_m=1.1, depth_m=0.4, height_m=0.5, sharp=False, reading_ev100=9.2,
        ),
    ),
    reading=Reading(aperture_n=F11, shutter_s=on_third(-12, "shutter"), iso=100.0, taken_at_utc=_at(7, 40)),
    wants=replace(TARN_COMPOSITION.wants, water_look="any"),
    settings=replace(TARN_COMPOSITION.settings, focal_length_mm=28.0, focus_m=4.0, filters=()),
    locks=(),
)  # fmt: skip

VALLEY_HEAD = Composition(
    moment_utc=_at(7, 50),
    camera_height_m=1.5,
    azimuth_deg=10.0,
    pitch_deg=0.0,
    orientation="portrait",
    crop=Crop(),
    elements=(
        _SKARN,
        _LING,
        Element(
            id="tarn", name="tarn", role="water", silhouette="water", east_m=35, north_m=60, base_m=-14, turned_deg=30,
            width_m=420, depth_m=260, height_m=0, sharp=False, motion="water", speed_m_s=0.1, reading_ev100=11.6,
        ),
        Element(
            id="boathouse", name="boathouse", role="subject", silhouette="boathouse", east_m=118, north_m=104,
            base_m=-13, turned_deg=48, width_m=10, depth_m=14, height_m=11, reading_ev100=10.4,
        ),
        Element(
            id="fold", name="sheepfold", role="middle", silhouette="wall", east_m=-90, north_m=34, base_m=-9,
            turned_deg=290, width_m=26, depth_m=18, height_m=1.7, reading_ev100=10.1,
        ),
        Element(
            id="heath", name="heath", role="foreground", silhouette="flowers", east_m=-0.6, north_m=3.4, base_m=0.0,
            turned_deg=350, width_m=4.5, depth_m=2.2, height_m=0.28, motion="foliage", speed_m_s=0.05,
            reading_ev100=9.6,
        ),
        Element(
            id="slab", name="slab", role="foreground", silhouette="boulder", east_m=4.6, north_m=2.6, base_m=0.0,
            turned_deg=60, width_m=2.2, depth_m=1.2, height_m=0.7, reading_ev100=9.3,
        ),
    ),
    panorama=Panorama(
        on=True,
        from_deg=280.0,
        to_deg=100.0,
        pupil_offset_mm=55.0,
        read_at_utc=_at(7, 50),
        readings=tuple(
            PanelReading(azimuth_deg=azimuth % 360, ev100=ev)
            for azimuth, ev in ((299, 11.3), (322, 11.6), (346, 12.0), (370, 12.6), (394, 13.1), (417, 13.8), (441, 14.2))
        ),
    ),
    wants=Wants(sharpness_standard="print", focus_school="hyperfocal", highest_iso=800.0),
    settings=Settings(
        focal_length_mm=35.0, aperture_n=F8, shutter_s=1 / 64, iso=100.0, focus_m=6.0, timer_s=2.0,
    ),
    locks=("focal_length",),
)  # fmt: skip

BANK = KeepOutLine(name="cut bank", from_east_m=2.4, from_north_m=-9.0, to_east_m=3.2, to_north_m=11.0)
"""The undercut bank beside the stepping stones: stand to its left."""
