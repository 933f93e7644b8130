"""Changes of what is between subject and sensor: focal length, focus, gear, and how large the subject is drawn."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Annotated, Literal

from annotated_types import Ge, Le, MaxLen

from lucid_ridge.core.camera.mounted_lens import converter_of, focus_span_m, kit_as_used, optical_focal_mm
from lucid_ridge.core.changes.check import widest_aperture
from lucid_ridge.core.framing.camera import frame_sides_mm
from lucid_ridge.core.model.gear import MountedGear
from lucid_ridge.core.model.kit import Kit
from lucid_ridge.core.model.scene import Composition, Settings
from lucid_ridge.core.optics.close_up import magnification_of_width, subject_from_lens_mm
from lucid_ridge.core.records import record
from lucid_ridge.core.stops.scales import nearest_third

FARTHEST_FOCUS_M = 1000.0
"""A focus from here on is infinity."""


@record
class MountGear:
    """The close-up gear that is on the camera, replacing what was there."""

    kind: Literal["gear"] = "gear"
    mounted: Annotated[tuple[MountedGear, ...], MaxLen(10)]


@record
class SetMagnification:
    """Focus so that the subject is drawn so large; the camera moves, the subject stays where it is."""

    kind: Literal["magnification"] = "magnification"
    magnification: Annotated[float, Ge(1e-6), Le(50)]


@record
class SetFramedWidth:
    """Focus so that the frame takes in so much, as a ruler photographed in it shows."""

    kind: Literal["framed"] = "framed"
    width_mm: Annotated[float, Ge(0.01), Le(1e6)]


def within(value: float, low: float, high: float) -> float:
    """*value*, brought back between two limits."""
    return min(max(value, low), high)


def aperture_marks(kit: Kit, focal_length_mm: float) -> tuple[float, float]:
    """Widest and narrowest exact mark of the lens at a focal length."""
    return (
        nearest_third(widest_aperture(kit.lens, focal_length_mm), "aperture"),
        nearest_third(kit.lens.narrowest_f_number, "aperture"),
    )


def with_focal_length(settings: Settings, kit: Kit, focal_length_mm: float) -> Settings:
    """Settings at a focal length of the lens, aperture and focus brought within its reach there."""
    f = within(focal_length_mm, kit.lens.shortest_mm, kit.lens.longest_mm)
    widest, narrowest = aperture_marks(kit, f)
    focus = settings.focus_m
    if focus is not None:
        focus = max(focus, focus_span_m(kit.lens, f)[0])
    return replace(
        settings, focal_length_mm=f, aperture_n=within(settings.aperture_n, widest, narrowest), focus_m=focus
    )


def with_focus(settings: Settings, kit: Kit, focus_m: float | None) -> Settings:
    """Settings focused as asked, as far as the lens with its gear reaches; None is infinity."""
    nearest, farthest = focus_span_m(kit.lens, settings.focal_length_mm)
    if focus_m is None or focus_m >= FARTHEST_FOCUS_M:
        return replace(settings, focus_m=None if math.isinf(farthest) else farthest)
    return replace(settings, focus_m=within(focus_m, nearest, farthest))


def with_gear(composition: Composition, kit: Kit, change: MountGear) -> Composition:
    """Put gear on: a converter changes focal length and aperture, extension where the lens can focus."""
    before = kit.lens
    composition = replace(composition, close_up=replace(composition.close_up, mounted=change.mounted))
    kit = kit_as_used(kit, composition)
    now = converter_of(kit.lens) / converter_of(before)
    settings = composition.settings
    if now != 1:
        settings = replace(
            settings,
            focal_length_mm=settings.focal_length_mm * now,
            aperture_n=nearest_third(settings.aperture_n * now, "aperture"),
        )
    settings = with_focal_length(settings, kit, settings.focal_length_mm)
    return replace(composition, settings=with_focus(settings, kit, settings.focus_m))


def magnified(composition: Composition, kit: Kit, magnification: float) -> Composition:
    """Focus for a magnification, and step along the axis so that what was focused on stays so."""
    settings = composition.settings
    before = settings.focus_m
    whole = optical_focal_mm(kit.lens, settings.focal_length_mm)
    wanted = float(subject_from_lens_mm(whole, magnification)) / 1000
    settings = with_focus(settings, kit, wanted)
    moved = replace(composition, settings=settings)
    if before is None or settings.focus_m is None:
        return moved
    forward = before - settings.focus_m
    azimuth, pitch = math.radians(composition.azimuth_deg), math.radians(composition.pitch_deg)
    return replace(
        moved,
        east_m=composition.east_m + forward * math.cos(pitch) * math.sin(azimuth),
        north_m=composition.north_m + forward * math.cos(pitch) * math.cos(azimuth),
        camera_height_m=max(composition.camera_height_m + forward * math.sin(pitch), 0.0),
    )


def drawn_as_large(composition: Composition, kit: Kit, change: SetMagnification | SetFramedWidth) -> Composition:
    """The composition with its subject as large as a change asks."""
    if isinstance(change, SetMagnification):
        return magnified(composition, kit, change.magnification)
    upright = composition.orientation == "portrait"
    across, _ = frame_sides_mm(kit.body.sensor_width_mm, kit.body.sensor_height_mm, upright)
    return magnified(composition, kit, float(magnification_of_width(across, change.width_mm)))
