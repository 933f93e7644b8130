"""The lens as it is used: with converter, tubes, bellows, close-up lenses, or turned round.

A converter changes the lens that the camera sees, so focal length and f-numbers are those with it; the entrance pupil
stays where it was, so the pupil magnification grows by its factor too. Extension moves the span of image distances
out, so the lens focuses nearer and no longer to infinity; what lies before a converter counts by the converter's
factor squared, since the converter enlarges what the extension does. Turned round, the pupils change places: the
entrance pupil is the old exit pupil, so the marked f-number N stands for N/p. A close-up lens at the front principal
plane shortens the focal length of the whole and draws the entrance pupil nearer or farther (see `whole_optics`).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache

from lucid_ridge.core.model.gear import Gear, MountedGear
from lucid_ridge.core.model.kit import Kit, Lens
from lucid_ridge.core.model.scene import Composition, Settings
from lucid_ridge.core.optics.close_up import close_up_lens_focal_mm
from lucid_ridge.core.optics.pupils import Optics
from lucid_ridge.core.optics.thin_lens import image_distance_mm, nearest_subject_m, subject_distance_m
from lucid_ridge.core.records import record


@record
class MountedLens(Lens):
    """A lens with gear on it. ``bare`` is the lens alone; its limits here are those with a converter.

    ``extension_mm`` is what extends the lens as the camera sees it, ``length_mm`` how much longer it really gets.
    """

    bare: Lens
    extension_mm: float = 0.0
    length_mm: float = 0.0
    dioptres: float = 0.0
    converter: float = 1.0
    turned: bool = False


def bare_lens(lens: Lens) -> Lens:
    """The lens without the gear that is on it."""
    return lens.bare if isinstance(lens, MountedLens) else lens


def extension_of(gear: Gear, draw_mm: float) -> float:
    """Millimetres that a piece puts between lens and sensor."""
    if gear.kind == "bellows":
        return min(max(draw_mm, gear.extension_mm), gear.longest_mm)
    return gear.extension_mm if gear.kind in ("tube", "reversing_ring") else 0.0


@lru_cache(maxsize=256)
def mounted_lens(lens: Lens, pieces: tuple[tuple[Gear, float], ...]) -> Lens:
    """The lens with pieces of gear, each with its draw, in order from the lens to the body."""
    optical = [(gear, draw) for gear, draw in pieces if gear.kind != "rail"]
    if not optical:
        return lens
    converter = math.prod(gear.factor for gear, _ in optical if gear.kind == "teleconverter")
    turned = any(gear.kind == "reversing_ring" for gear, _ in optical)
    given = {name: getattr(lens, name) for name in lens.__dataclass_fields__ if name != "bare"}
    return MountedLens(
        **given
        | {
            "shortest_mm": lens.shortest_mm * converter,
            "longest_mm": lens.longest_mm * converter,
            "widest_f_number": lens.widest_f_number * converter,
            "widest_f_number_long": lens.widest_f_number_long * converter,
            "narrowest_f_number": lens.narrowest_f_number * converter,
            # Turned round, the pupils change places; a converter leaves the entrance pupil where it is.
            "pupil_magnification": (1 / lens.pupil_magnification if turned else lens.pupil_magnification) * converter,
        },
        bare=lens,
        extension_mm=sum(
            extension_of(gear, draw) * converters_behind(optical, i) ** 2 for i, (gear, draw) in enumerate(optical)
        ),
        length_mm=sum(extension_of(gear, draw) for gear, draw in optical),
        dioptres=sum(gear.dioptres for gear, _ in optical if gear.kind == "close_up_lens"),
        converter=converter,
        turned=turned,
    )


def converters_behind(pieces: Sequence[tuple[Gear, float]], index: int) -> float:
    """Factor of the converters between a piece and the body; pieces run from the lens to the body."""
    return math.prod(gear.factor for gear, _ in pieces[index + 1 :] if gear.kind == "teleconverter")


def pieces_of(kit: Kit, mounted: tuple[MountedGear, ...]) -> tuple[tuple[Gear, float], ...]:
    """The owned pieces that are on the camera, each with its draw, from the lens to the body."""
    owned = {gear.id: gear for gear in kit.gear}
    return tuple((owned[one.gear_id], one.draw_mm) for one in mounted if one.gear_id in owned)


def kit_as_used(kit: Kit, composition: Composition) -> Kit:
    """The kit with the gear of a composition on its lens. Asked again for the same, it changes nothing."""
    bare = bare_lens(kit.lens)
    lens = mounted_lens(bare, pieces_of(kit, composition.close_up.mounted))
    return kit if lens == kit.lens else replace(kit, lens=lens)


def optical_focal_mm(lens: Lens, focal_length_mm: float) -> float:
    """Focal length of the whole at a marked focal length."""
    dioptres = lens.dioptres if isinstance(lens, MountedLens) else 0.0
    return float(close_up_lens_focal_mm(focal_length_mm, dioptres)) if dioptres else focal_length_mm


_LEAST_PUPIL_DRAW = 0.02
"""A pupil that a close-up lens would draw beyond infinity is taken as very far: light then falls in nearly parallel."""


def whole_optics(lens: Lens, focal_length_mm: float, aperture_n: float) -> Optics:
    """Focal length, f-number and pupil magnification of the whole at a marked focal length and f-number.

    The entrance pupil of the lens, e = f (1 - 1/p) in front of its principal plane, is seen through a close-up lens
    of power D there as one at e/(1 + e D), 1/(1 + e D) times as large (imaging of the pupil by a thin lens).
    """
    f, n, p = focal_length_mm, aperture_n, lens.pupil_magnification
    if isinstance(lens, MountedLens):
        if lens.turned:
            n /= lens.bare.pupil_magnification
        if lens.dioptres:
            power = lens.dioptres / 1000
            drawn = max(1 + f * (1 - 1 / p) * power, _LEAST_PUPIL_DRAW)
            f, n, p = optical_focal_mm(lens, f), n * drawn / (1 + f * power), p * drawn
    return Optics(f, n, p)


def optics_of(lens: Lens, settings: Settings) -> Optics:
    """The lens as light sees it at the settings in use."""
    return whole_optics(lens, settings.focal_length_mm, settings.aperture_n)


def extension_loss_stops(lens: Lens, settings: Settings, magnification: float) -> float:
    """Stops lost between the f-number that is set and the one that light sees, ``2 log2(N' / N)``."""
    return 2 * math.log2(optics_of(lens, settings).working_f_number(magnification) / settings.aperture_n)


def _own_nearest_image_mm(lens: Lens, focal_length_mm: float) -> float:
    """Image distance of the lens alone (with a converter) at its nearest focus."""
    if lens.largest_magnification is not None:
        # A converter magnifies what the lens draws; a zoom reaches its magnification at the long end.
        reach = lens.largest_magnification * converter_of(lens) * focal_length_mm / lens.longest_mm
        return focal_length_mm * (1 + reach)
    # A converter magnifies what the lens draws from the same nearest focus.
    own = focal_length_mm / converter_of(lens)
    image = float(image_distance_mm(own, nearest_subject_m(own, lens.minimum_focus_m)))
    return focal_length_mm * (1 + (image / own - 1) * converter_of(lens))


def converter_of(lens: Lens) -> float:
    """Factor of the converters behind the lens, 1 without."""
    return lens.converter if isinstance(lens, MountedLens) else 1.0


def image_span_mm(lens: Lens, focal_length_mm: float) -> tuple[float, float]:
    """Least and greatest image distance that can be set, at a marked focal length."""
    nearest = _own_nearest_image_mm(lens, focal_length_mm)
    if not isinstance(lens, MountedLens):
        return focal_length_mm, nearest
    if lens.turned:
        # The focusing ring no longer moves the glass against the sensor.
        return focal_length_mm + lens.extension_mm, focal_length_mm + lens.extension_mm
    return focal_length_mm + lens.extension_mm, nearest + lens.extension_mm


@lru_cache(maxsize=4096)
def focus_span_m(lens: Lens, focal_length_mm: float) -> tuple[float, float]:
    """Nearest and farthest distance that can be focused on, metres from the lens; inf where it reaches it."""
    whole = optical_focal_mm(lens, focal_length_mm)
    least, greatest = image_span_mm(lens, focal_length_mm)
    return float(subject_distance_m(whole, greatest)), float(subject_distance_m(whole, least))


def magnification_span(lens: Lens, focal_length_mm: float) -> tuple[float, float]:
    """Least and greatest magnification that can be set."""
    whole = optical_focal_mm(lens, focal_length_mm)
    least, greatest = image_span_mm(lens, focal_length_mm)
    return least / whole - 1, greatest / whole - 1
