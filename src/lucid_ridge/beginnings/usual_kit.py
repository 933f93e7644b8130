"""The usual kit of a sensor format: bodies, lenses, filters, supports and lights with usual values (common practice).

Focal lengths of lenses are the ones commonly sold for each format; reach, weight of ranges and speeds are usual ones and
are marked as such wherever they are kept, until the photographer confirms them.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from lucid_ridge.core.model.gear import Gear, LightSource
from lucid_ridge.core.model.kit import Body, Lens, Support
from lucid_ridge.core.range.brackets import BracketMode
from lucid_ridge.core.records import record
from lucid_ridge.core.stops.filters import Filter
from lucid_ridge.core.stops.scales import nearest_third

FormatName = Literal["medium", "full", "aps_1_5", "aps_1_6", "four_thirds", "one_inch", "large_film"]
LensKind = Literal["wide", "standard", "tele", "long", "normal", "macro"]
ChoiceKind = Literal["body", "lens", "filter", "support", "gear", "light"]
Details = Body | Lens | Filter | Support | Gear | LightSource


@record
class UsualFormat:
    """A sensor format: its name as said alone and before "body", sides in millimetres, and usual pixels."""

    id: FormatName
    name: str
    of_a_body: str
    width_mm: float
    height_mm: float
    pixels_across: int
    pixels_down: int


@dataclass(frozen=True)
class UsualItem:
    """An item that may be ticked; ``ticked`` when most people own one."""

    id: str
    kind: ChoiceKind
    details: Details
    ticked: bool = False


FORMATS: tuple[UsualFormat, ...] = (
    UsualFormat(id="medium", name="medium format", of_a_body="medium-format", width_mm=43.8, height_mm=32.9, pixels_across=8256, pixels_down=6192),
    UsualFormat(id="full", name="full frame", of_a_body="full-frame", width_mm=36.0, height_mm=24.0, pixels_across=6720, pixels_down=4480),
    UsualFormat(id="aps_1_5", name="crop sensor, 1.5×", of_a_body="1.5× crop-sensor", width_mm=23.5, height_mm=15.7, pixels_across=6000, pixels_down=4000),
    UsualFormat(id="aps_1_6", name="crop sensor, 1.6×", of_a_body="1.6× crop-sensor", width_mm=22.3, height_mm=14.9, pixels_across=6000, pixels_down=4000),
    UsualFormat(id="four_thirds", name="four thirds", of_a_body="four-thirds", width_mm=17.3, height_mm=13.0, pixels_across=5184, pixels_down=3888),
    UsualFormat(id="one_inch", name="one inch", of_a_body="one-inch", width_mm=13.2, height_mm=8.8, pixels_across=5472, pixels_down=3648),
    UsualFormat(id="large_film", name="large-format film, 4×5 in", of_a_body="4×5 in", width_mm=121.0, height_mm=97.0, pixels_across=19000, pixels_down=15200),
)  # fmt: skip

# Shortest and longest focal length, widest aperture at both ends, nearest focus in metres.
_Zoom = tuple[float, float, float, float, float]
_ZOOMS: dict[FormatName, dict[LensKind, _Zoom]] = {
    "medium": {"wide": (20, 35, 4, 4, 0.35), "standard": (35, 70, 4.5, 5.6, 0.5), "tele": (100, 200, 5.6, 5.6, 1.5),
               "long": (350, 350, 5.6, 5.6, 2.0), "normal": (63, 63, 2.8, 2.8, 0.5), "macro": (120, 120, 4, 4, 0.45)},
    "full": {"wide": (16, 35, 4, 4, 0.28), "standard": (24, 70, 2.8, 2.8, 0.38), "tele": (70, 200, 4, 4, 1.0),
             "long": (150, 600, 5, 6.3, 2.8), "normal": (50, 50, 1.8, 1.8, 0.4), "macro": (100, 100, 2.8, 2.8, 0.3)},
    "aps_1_5": {"wide": (10, 20, 4, 4, 0.22), "standard": (16, 55, 2.8, 2.8, 0.35), "tele": (50, 140, 2.8, 2.8, 1.0),
                "long": (100, 400, 5, 6.3, 1.8), "normal": (35, 35, 1.8, 1.8, 0.3), "macro": (60, 60, 2.8, 2.8, 0.2)},
    "aps_1_6": {"wide": (10, 18, 4.5, 5.6, 0.22), "standard": (17, 55, 2.8, 2.8, 0.35), "tele": (55, 250, 4, 5.6, 0.85),
                "long": (100, 400, 5, 6.3, 1.8), "normal": (35, 35, 2, 2, 0.25), "macro": (60, 60, 2.8, 2.8, 0.2)},
    "four_thirds": {"wide": (8, 18, 2.8, 4, 0.25), "standard": (12, 40, 2.8, 2.8, 0.2), "tele": (40, 150, 2.8, 2.8, 0.7),
                    "long": (100, 400, 5, 6.3, 1.3), "normal": (25, 25, 1.8, 1.8, 0.25), "macro": (60, 60, 2.8, 2.8, 0.19)},
    "one_inch": {"wide": (9, 26, 1.8, 2.8, 0.05), "standard": (9, 37, 2.8, 4, 0.1), "tele": (30, 110, 2.8, 4.5, 0.6),
                 "long": (70, 220, 4, 5.6, 1.0), "normal": (18, 18, 1.8, 1.8, 0.15), "macro": (30, 30, 2.8, 2.8, 0.1)},
    "large_film": {"wide": (75, 75, 5.6, 5.6, 0.5), "standard": (150, 150, 5.6, 5.6, 0.8), "tele": (300, 300, 5.6, 5.6, 2.0),
                   "long": (450, 450, 8, 8, 4.0), "normal": (210, 210, 5.6, 5.6, 1.2), "macro": (180, 180, 5.6, 5.6, 0.4)},
}  # fmt: skip
LENS_KINDS: tuple[tuple[LensKind, str], ...] = (
    ("wide", "wide"),
    ("standard", "standard"),
    ("tele", "telephoto"),
    ("long", "long telephoto"),
    ("normal", "fast normal"),
    ("macro", "macro"),
)
_TICKED: frozenset[LensKind] = frozenset({"wide", "standard", "tele"})
_BRACKETS = tuple(BracketMode(frames=n, step_stops=s) for n, s in ((3, 1.0), (3, 2.0), (5, 1.0), (5, 2.0)))


def format_named(name: FormatName) -> UsualFormat:
    """The format of an id."""
    return next(one for one in FORMATS if one.id == name)


def usual_body(name: FormatName) -> Body:
    """A body of a format with usual values.

    Usual dynamic range shrinks with the sensor's area; film is slow, has no buffer to speak of and departs from
    reciprocity beyond a second (common practice).
    """
    chosen = format_named(name)
    common: dict[str, Any] = {
        "sensor_width_mm": chosen.width_mm,
        "sensor_height_mm": chosen.height_mm,
        "pixels_across": chosen.pixels_across,
        "pixels_down": chosen.pixels_down,
    }
    if name == "large_film":
        return Body(
            name="4×5 in film camera", **common, base_iso=100.0, highest_iso=400.0, usable_range_stops=6.0,
            headroom_stops=2.0, shortest_shutter_s=1 / 512, longest_timed_s=1.0, burst_per_s=0.1, buffer_frames=1,
            written_per_s=0.05, flash_sync_s=1 / 512, reciprocity_p=1.3,
        )  # fmt: skip
    megapixels = round(chosen.pixels_across * chosen.pixels_down / 1e6)
    stops = {"medium": 9.0, "full": 8.0, "aps_1_5": 7.5, "aps_1_6": 7.5, "four_thirds": 7.0, "one_inch": 6.0}[name]
    return Body(
        name=f"{chosen.of_a_body} body, {megapixels} MP",
        **common,
        highest_iso=25600.0 if name in ("medium", "full") else 12800.0,
        usable_range_stops=stops,
        headroom_stops=2.5,
        stabiliser_stops=0.0 if name == "medium" else 3.0,
        bracket_modes=_BRACKETS,
    )


def _marked(f_number: float) -> str:
    return f"{f_number:g}"


def usual_lens(name: FormatName, kind: LensKind) -> Lens:
    """A lens of a kind for a format, with usual values."""
    shortest, longest, wide, wide_long, nearest = _ZOOMS[name][kind]
    span = f"{shortest:g} mm" if shortest == longest else f"{shortest:g}-{longest:g} mm"
    stop = _marked(wide) if wide == wide_long else f"{_marked(wide)}-{_marked(wide_long)}"
    macro = kind == "macro"
    film = name == "large_film"
    return Lens(
        name=f"{span} f/{stop}{' macro' if macro else ''}",
        shortest_mm=shortest,
        longest_mm=longest,
        widest_f_number=nearest_third(wide, "aperture"),
        widest_f_number_long=nearest_third(wide_long, "aperture"),
        narrowest_f_number=nearest_third(64 if film else 11 if name == "one_inch" else 22, "aperture"),
        minimum_focus_m=nearest,
        stabiliser_stops=3.0 if kind in ("tele", "long") and not film else 0.0,
        largest_magnification=1.0 if macro else None,
        lengthens=film,
    )


_OTHERS: tuple[UsualItem, ...] = (
    UsualItem("polariser", "filter", Filter(id="polariser", name="Polariser", kind="polariser", stops=1.5), True),
    UsualItem("nd3", "filter", Filter(id="nd3", name="ND 3 stops", kind="nd", stops=3.0)),
    UsualItem("nd6", "filter", Filter(id="nd6", name="ND 6 stops", kind="nd", stops=6.0), True),
    UsualItem("nd10", "filter", Filter(id="nd10", name="ND 10 stops", kind="nd", stops=10.0)),
    UsualItem("soft_grad", "filter", Filter(id="soft_grad", name="Soft grad 2 stops", kind="graduated", stops=2.0, edge="soft")),
    UsualItem("hard_grad", "filter", Filter(id="hard_grad", name="Hard grad 3 stops", kind="graduated", stops=3.0, edge="hard")),
    UsualItem("tripod", "support", Support(name="tripod", kind="tripod", lowest_m=0.15, highest_m=1.6), True),
    UsualItem("low_tripod", "support", Support(name="low tripod", kind="tripod", lowest_m=0.06, highest_m=0.75)),
    UsualItem("bean_bag", "support", Support(name="bean bag", kind="bag", lowest_m=0.05, highest_m=0.3)),
    UsualItem("hand", "support", Support(name="by hand", kind="hand", lowest_m=0.1, highest_m=1.7), True),
    UsualItem("tube", "gear", Gear(id="tube", name="25 mm extension tube", kind="tube", extension_mm=25.0)),
    UsualItem("close_up_lens", "gear", Gear(id="close_up_lens", name="+3 close-up lens", kind="close_up_lens", dioptres=3.0)),
    UsualItem("converter", "gear", Gear(id="converter", name="1.4× converter", kind="teleconverter", factor=1.4)),
    UsualItem("rail", "gear", Gear(id="rail", name="focusing rail", kind="rail", travel_mm=120.0, finest_step_mm=0.1)),
    UsualItem("flash", "light", LightSource(id="flash", name="small flash", kind="flash", guide_number_m=24.0)),
    UsualItem("lamp", "light", LightSource(id="lamp", name="LED lamp", kind="lamp", ev100_at_1_m=6.5)),
)  # fmt: skip


def usual_items(name: FormatName) -> tuple[UsualItem, ...]:
    """Everything that may be ticked for a format; the body first, and always ticked."""
    lenses = tuple(UsualItem(kind, "lens", usual_lens(name, kind), kind in _TICKED) for kind, _ in LENS_KINDS)
    return (UsualItem("body", "body", usual_body(name), True), *lenses, *_OTHERS)
