"""Kinds of picture to begin with: a scene each, seen from the camera, that is then placed and turned to the light.

Sizes, distances, speeds and brightness are usual ones (common practice); they are there to be dragged into place.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from lucid_ridge.core.framing.crop import Crop
from lucid_ridge.core.framing.silhouettes import SilhouetteKind
from lucid_ridge.core.model.scene import Element, Orientation, Role, Technique, Wants
from lucid_ridge.core.model.wanted import LightWish

PictureName = Literal[
    "rock_and_hill", "running_water", "wide_valley", "far_ridges", "tidal_shore", "inside_a_wood", "panorama",
    "flower", "dew", "shy_animal",
]  # fmt: skip
Sun = Literal["front", "side", "back"]
HOLDS: dict[Sun, float] = {"front": 155.0, "side": 80.0, "back": 35.0}
"""Degrees between the lens axis and the sun, well inside each direction of light."""

_WANTS, _TECHNIQUE, _CROP = Wants(), Technique(), Crop()


@dataclass(frozen=True)
class Picture:
    """A kind of picture.

    ``elements`` are seen from the camera: ``north_m`` ahead of it, ``east_m`` to its right, ``base_m`` from its feet.
    ``equivalent_mm`` is the focal length for full frame; a ``macro`` lens serves where there is one, and things closer than
    a lens focuses stand farther off. The sun stands on ``sun`` at ``moment_altitude_deg`` or lower. ``cloud_stops`` is what
    cloud takes.
    """

    id: PictureName
    name: str
    about: str
    equivalent_mm: float
    height_m: float
    pitch_deg: float
    elements: tuple[Element, ...]
    sun: Sun
    wants: Wants = _WANTS
    technique: Technique = _TECHNIQUE
    aperture: float = 11.0
    orientation: Orientation = "landscape"
    crop: Crop = _CROP
    macro: bool = False
    highest_sun_deg: float = 12.0
    cloud_stops: float = 0.0
    filters: tuple[Literal["polariser", "nd"], ...] = ()
    focus_on: str | None = None
    span_deg: float | None = None
    iso: float = 100.0


def _e(
    identity: str,
    name: str,
    role: Role,
    silhouette: SilhouetteKind,
    ahead: float,
    right: float,
    size: tuple[float, float, float],
    **more: Any,  # noqa: ANN401 -- the other fields of an element, each with a type of its own
) -> Element:
    """An element by where it is seen from the camera and by width, depth and height, metres."""
    width, depth, height = size
    return Element(
        id=identity, name=name, role=role, silhouette=silhouette, north_m=ahead, east_m=right,
        width_m=width, depth_m=depth, height_m=height, **more,
    )  # fmt: skip


def _sky(ahead: float = 9000, base: float = 900, wide: float = 14000) -> Element:
    return _e("sky", "sky", "sky", "cloud", ahead, wide * 0.05, (wide, 300, wide * 0.09), base_m=base, sharp=False)


def wish_for(picture: Picture) -> LightWish:
    """The light that a kind of picture wants: its direction, and the sun up but low."""
    sides = {
        "front": ("front",),
        "side": ("side_left", "side_right"),
        "back": ("back_left", "back_right"),
    }[picture.sun]
    return LightWish(sides=sides, lowest_deg=0.5, highest_deg=picture.highest_sun_deg)  # type: ignore[arg-type]


PICTURES: tuple[Picture, ...] = (
    Picture(
        "rock_and_hill", "Near rock and far hill",
        "A rock at your feet, water, and a hill behind it. Everything sharp, from the rock to the skyline.",
        24, 0.7, -9, (
            _sky(),
            _e("ridge", "far ridge", "background", "ridge", 4200, 500, (7000, 500, 620), sharp=False),
            _e("hill", "hill", "background", "hill", 1100, -120, (1300, 300, 190)),
            _e("shore", "far shore", "middle", "wall", 280, 0, (900, 40, 7), base_m=-0.3, sharp=False),
            _e("water", "water", "water", "water", 1.6, 0, (700, 270, 0), base_m=-0.3, sharp=False, motion="water", speed_m_s=0.2),
            _e("stone", "second rock", "middle", "boulder", 4.2, 1.5, (1.5, 0.9, 0.5), base_m=-0.35, sharp=False),
            _e("rock", "near rock", "foreground", "boulder", 1.05, -0.5, (0.95, 0.6, 0.5), base_m=-0.25),
        ), "side", Wants(focus_school="balanced"), Technique(slices="gapless"), focus_on="rock",
    ),
    Picture(
        "running_water", "Running water",
        "A beck among stones. Water with some pull in it, and the stones dead sharp.",
        28, 0.9, -14, (
            _sky(6000, 500, 9000),
            _e("hill", "hillside", "background", "hill", 420, 90, (620, 150, 120), sharp=False),
            _e("wall", "bank", "middle", "wall", 24, 5.5, (13, 4, 1.5), base_m=0.3),
            _e("grass", "grass", "middle", "reeds", 5.0, -2.6, (2.2, 1.0, 0.8), motion="foliage", speed_m_s=0.1, sharp=False),
            _e("beck", "beck", "water", "beck", 1.5, 0.2, (5.0, 19, 0), base_m=-0.25, motion="water", speed_m_s=0.8, sharp=False),
            _e("stones", "stones", "subject", "stones", 1.7, 0.1, (2.4, 6.0, 0.15), base_m=-0.1, wet=True),
            _e("rock", "near rock", "foreground", "boulder", 1.5, -0.75, (0.6, 0.5, 0.32), base_m=-0.2, wet=True),
        ), "side", Wants(water_look="texture", highest_iso=1600.0), filters=("polariser",), orientation="portrait",
        crop=Crop(aspect=0.8), cloud_stops=2.0, highest_sun_deg=20.0, focus_on="stones",
    ),
    Picture(
        "wide_valley", "Wide valley",
        "A valley running away between hills, a wall to lead in, and light raking across it.",
        24, 1.5, -2, (
            _sky(12000, 1400, 16000),
            _e("head", "valley head", "background", "ridge", 6500, 300, (9000, 600, 820), sharp=False),
            _e("left", "left flank", "background", "hill", 1900, -1150, (2000, 500, 480)),
            _e("right", "right flank", "background", "hill", 2600, 1500, (2400, 500, 560)),
            _e("field", "meadow", "middle", "meadow", 1.5, 0, (900, 1500, 0), sharp=False, base_m=-0.6),
            _e("wall", "field wall", "subject", "wall", 16, -3.5, (11, 1, 1.2), base_m=-0.6, turned_deg=12),
            _e("tussock", "tussock", "foreground", "reeds", 2.6, 0.9, (1.0, 0.6, 0.45), motion="foliage", speed_m_s=0.1),
        ), "side", focus_on="wall",
    ),
    Picture(
        "far_ridges", "Long lens on far ridges",
        "Ridge behind ridge, paler with distance, the sun behind them.",
        180, 1.5, 1.2, (
            _sky(30000, 2200, 26000),
            _e("fifth", "last ridge", "background", "ridge", 17000, 300, (16000, 800, 1750), sharp=False),
            _e("fourth", "fourth ridge", "background", "ridge", 11000, -500, (11000, 800, 920), sharp=False),
            _e("third", "third ridge", "middle", "ridge", 7000, 350, (7000, 600, 470)),
            _e("second", "second ridge", "subject", "ridge", 4200, -250, (4200, 500, 215)),
            _e("first", "near hill", "foreground", "hill", 2100, 320, (1300, 300, 95), base_m=-60),
        ), "back", aperture=8.0, focus_on="second",
    ),
    Picture(
        "tidal_shore", "Tidal shore",
        "Wet sand and stones as the water draws back, low sun across the pools.",
        24, 0.8, -10, (
            _sky(9000, 600, 12000),
            _e("far", "far shore", "background", "ridge", 5200, 900, (8000, 300, 150), base_m=-2, sharp=False),
            _e("sea", "sea", "water", "water", 9, 0, (2000, 4000, 0), base_m=-1.2, motion="water", speed_m_s=1.0, sharp=False),
            _e("sand", "wet sand", "middle", "meadow", 0.9, 0, (40, 9, 0), base_m=-0.4, sharp=False, wet=True),
            _e("post", "old post", "subject", "post", 7.2, 1.6, (0.22, 0.22, 1.5), base_m=-0.5),
            _e("pool", "pool", "water", "water", 2.2, -0.6, (2.4, 2.6, 0), base_m=-0.39, sharp=False),
            _e("stones", "stones", "foreground", "stones", 1.1, 0.35, (1.6, 2.2, 0.12), base_m=-0.35, wet=True),
        ), "back", Wants(water_look="texture"), filters=("polariser",), focus_on="post",
    ),
    Picture(
        "inside_a_wood", "Inside a wood",
        "Trunks one behind another under flat light, a path between them.",
        50, 1.4, -1, (
            _e("glow", "light between the trees", "sky", "wall", 90, 0, (160, 4, 30), sharp=False),
            _e("brush", "undergrowth", "background", "hill", 60, 4, (90, 8, 5), sharp=False),
            _e("floor", "forest floor", "middle", "meadow", 2, 0, (60, 60, 0), sharp=False),
            *(
                _e(f"far-{i}", f"far trunk {i + 1}", "background", "trunk", ahead, right, (0.45, 0.45, 22), sharp=False)
                for i, (ahead, right) in enumerate(((44, -12), (38, 9), (50, 3.5), (34, -6.2), (41, 14.5)))
            ),
            _e("second", "second trunk", "middle", "trunk", 17, 3.6, (0.5, 0.5, 20)),
            _e("third", "third trunk", "middle", "trunk", 21, -5.4, (0.55, 0.55, 21)),
            _e("trunk", "near trunk", "subject", "trunk", 9, -1.6, (0.7, 0.7, 20)),
            _e("fern", "ferns", "foreground", "reeds", 6.2, 1.2, (1.8, 0.8, 0.7), motion="foliage", speed_m_s=0.06),
        ), "back", Wants(sharp_foliage=True), aperture=8.0, cloud_stops=3.0, highest_sun_deg=40.0, focus_on="trunk",
    ),
    Picture(
        "panorama", "Panorama of a valley",
        "A wide span in upright panels, turned about one point, with a little over for the crop.",
        50, 1.5, 1, (
            _sky(12000, 1300, 26000),
            _e("left", "western hills", "background", "ridge", 4200, -4300, (6500, 500, 520)),
            _e("middle", "valley head", "subject", "ridge", 6000, 200, (8000, 500, 820)),
            _e("right", "eastern hills", "background", "ridge", 3900, 4400, (6500, 500, 560)),
            _e("floor", "valley floor", "middle", "meadow", 40, 0, (4000, 2600, 0), base_m=-20, sharp=False),
            _e("water", "river", "water", "water", 240, -60, (160, 1100, 0), base_m=-19.8, sharp=False, motion="water", speed_m_s=0.5),
            _e("wall", "field wall", "foreground", "wall", 26, 6, (16, 1, 1.2), base_m=-0.5),
        ), "side", orientation="portrait", aperture=8.0, span_deg=120.0, focus_on="wall",
    ),
    Picture(
        "flower", "Flower with a smooth background",
        "One bloom against a wash of colour, low light through its petals.",
        100, 0.33, 0, (
            _e("hedge", "far grass", "background", "hill", 7, 0.5, (12, 2, 1.6), sharp=False),
            _e("meadow", "meadow", "background", "meadow", 1.6, 0, (5, 5.4, 0), sharp=False),
            _e("flower", "flower", "subject", "bloom", 0.6, 0.01, (0.085, 0.012, 0.19), base_m=0.2, motion="foliage", speed_m_s=0.004),
        ), "back", Wants(sharp_foliage=True, focus_school="subject", smooth_background=0.08, highest_iso=1600.0), aperture=5.6,
        orientation="portrait", macro=True, highest_sun_deg=18.0, focus_on="flower",
    ),
    Picture(
        "dew", "Dew or frost at life size",
        "Drops on a leaf, as large on the sensor as they are. Depth is counted in tenths of a millimetre.",
        105, 0.16, -26, (
            _e("moss", "moss", "background", "meadow", 0.24, 0, (0.7, 0.6, 0.01), sharp=False),
            _e("leaf", "leaf with drops", "subject", "leaf", 0.2, 0, (0.017, 0.006, 0.02), base_m=0.03),
        ), "side", Wants(focus_school="balanced", highest_iso=1600.0), Technique(slices="gapless"), aperture=5.6,
        macro=True, highest_sun_deg=18.0, focus_on="leaf",
    ),
    Picture(
        "shy_animal", "Small shy animal at a distance",
        "Low down and far off: a fast shutter, the eye sharp, the background gone.",
        400, 0.35, 0, (
            _e("wood", "field edge", "background", "hill", 90, 6, (120, 10, 12), sharp=False),
            _e("field", "field", "middle", "meadow", 6, 0, (60, 80, 0), sharp=False),
            _e("grass", "grass in front", "foreground", "reeds", 9.6, 0.5, (0.9, 0.3, 0.12), sharp=False, motion="foliage", speed_m_s=0.1),
            _e("animal", "hare", "subject", "animal", 14, -0.05, (0.5, 0.12, 0.42), motion="animal", speed_m_s=0.25),
        ), "front", Wants(focus_school="subject", highest_iso=6400.0, smooth_background=0.05), aperture=5.6,
        highest_sun_deg=25.0, focus_on="animal", iso=800.0,
    ),
)  # fmt: skip


def picture_named(name: PictureName) -> Picture:
    """The kind of picture of an id."""
    return next(one for one in PICTURES if one.id == name)
