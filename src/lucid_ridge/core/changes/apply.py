"""Changes a hand or a mend makes to a composition.

The interface sends what was done ("aperture, one third down"), not its arithmetic; marks, limits
and consequences are worked out here.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from typing import Literal

import numpy as np

from lucid_ridge.core.camera.mounted_lens import kit_as_used
from lucid_ridge.core.camera.panorama import SpanPanorama, spanned
from lucid_ridge.core.changes.camera_moves import apply_move
from lucid_ridge.core.changes.kinds import (
    MOST_COMPENSATION,
    Change,
    ChooseStandard,
    FitToKit,
    GoTo,
    Nudge,
    PutOn,
    SetBulb,
    SetCompensation,
    SetHandHeld,
    SetLock,
    SetTimer,
    SetTo,
    TakeBracket,
    TakeLayers,
    TakeSlices,
    TurnPolariser,
)
from lucid_ridge.core.changes.lens_changes import (
    FARTHEST_FOCUS_M,
    MountGear,
    SetFramedWidth,
    SetMagnification,
    aperture_marks,
    drawn_as_large,
    with_focal_length,
    with_focus,
    with_gear,
    within,
)
from lucid_ridge.core.changes.meter_changes import ReadMeter, ReadSpot, metered, spot_read
from lucid_ridge.core.changes.view_moves import PointElement, ShapeElement, apply_view_move
from lucid_ridge.core.model.kit import LONGEST_S, SHORTEST_S, Kit
from lucid_ridge.core.model.scene import Composition, Scene, Settings
from lucid_ridge.core.optics.slices import MOST_SLICES
from lucid_ridge.core.stops.filters import FilterInUse
from lucid_ridge.core.stops.scales import nearest_third, nudge, third_index

_FOCUS_STEP_DIOPTRES = 0.05


_SCALES: dict[str, Literal["aperture", "shutter", "iso"]] = {
    "aperture": "aperture",
    "shutter": "shutter",
    "iso": "iso",
}

# What is beyond these is brought to them before anything is reckoned with it.
_SETTABLE = {"aperture": (0.5, 256.0), "shutter": (SHORTEST_S, LONGEST_S), "iso": (1.0, 1e7)}


def _with_iso(settings: Settings, kit: Kit, iso: float) -> Settings:
    low, high = nearest_third(kit.body.base_iso, "iso"), nearest_third(kit.body.highest_iso, "iso")
    return replace(settings, iso=within(iso, low, high))


def _with_shutter_moved(composition: Composition, kit: Kit, thirds: int) -> Composition:
    """Move the shutter by hand: ISO gives way if it may, else the picture gets brighter or darker."""
    settings = composition.settings
    if "shutter" in composition.locks:
        moved_s = within(nudge(settings.shutter_s, thirds, "shutter"), SHORTEST_S, LONGEST_S)
        return replace(composition, settings=replace(settings, shutter_s=moved_s))
    if "iso" not in composition.locks:
        moved = _with_iso(settings, kit, nudge(settings.iso, -thirds, "iso"))
        if moved.iso != settings.iso:
            return replace(composition, settings=moved)
    offset = within(round((settings.compensation_stops + thirds / 3) * 3) / 3, -MOST_COMPENSATION, MOST_COMPENSATION)
    return replace(composition, settings=replace(settings, compensation_stops=offset))


def _focus_step(settings: Settings) -> float:
    """A step of the focus key in dioptres: finer for a longer lens, in even steps of blur."""
    return _FOCUS_STEP_DIOPTRES * (24.0 / settings.focal_length_mm) ** 2 * settings.aperture_n / 8.0


def _nudged(composition: Composition, kit: Kit, change: Nudge) -> Composition:
    settings, steps = composition.settings, change.steps
    if change.setting == "shutter":
        return _with_shutter_moved(composition, kit, steps)
    if change.setting == "focal_length":
        # A step is a twelfth of a doubling, rounded to whole millimetres, at least one.
        wanted = settings.focal_length_mm * 2 ** (steps / 12)
        whole = round(wanted) if steps else wanted
        if whole == round(settings.focal_length_mm):
            whole += 1 if steps > 0 else -1
        settings = with_focal_length(settings, kit, float(whole))
    elif change.setting == "aperture":
        widest, narrowest = aperture_marks(kit, settings.focal_length_mm)
        settings = replace(
            settings, aperture_n=within(nudge(settings.aperture_n, steps, "aperture"), widest, narrowest)
        )
    elif change.setting == "iso":
        settings = _with_iso(settings, kit, nudge(settings.iso, steps, "iso"))
    else:
        dioptres = (0.0 if settings.focus_m is None else 1 / settings.focus_m) - steps * _focus_step(settings)
        settings = with_focus(settings, kit, None if dioptres <= 1 / FARTHEST_FOCUS_M else 1 / dioptres)
    return replace(composition, settings=settings)


def _set_to(composition: Composition, kit: Kit, change: SetTo) -> Composition:
    settings = composition.settings
    if change.setting == "focus":
        return replace(composition, settings=with_focus(settings, kit, change.value))
    if change.value is None:
        return composition
    if change.setting == "focal_length":
        return replace(composition, settings=with_focal_length(settings, kit, change.value))
    exact = nearest_third(within(change.value, *_SETTABLE[change.setting]), _SCALES[change.setting])
    if change.setting == "aperture":
        widest, narrowest = aperture_marks(kit, settings.focal_length_mm)
        settings = replace(settings, aperture_n=within(exact, widest, narrowest))
    elif change.setting == "iso":
        settings = _with_iso(settings, kit, exact)
    else:
        thirds = round(third_index(exact, "shutter") - third_index(settings.shutter_s, "shutter"))
        return _with_shutter_moved(composition, kit, thirds)
    return replace(composition, settings=settings)


def _fitted(composition: Composition, kit: Kit) -> Composition:
    owned = {f.id for f in kit.filters}
    pieces, lamps = {one.id for one in kit.gear}, {one.id for one in kit.lights}
    close_up = replace(
        composition.close_up,
        mounted=tuple(one for one in composition.close_up.mounted if one.gear_id in pieces),
        lights=tuple(one for one in composition.close_up.lights if one.light_id in lamps),
    )
    composition = replace(composition, close_up=close_up)
    settings = with_focal_length(composition.settings, kit, composition.settings.focal_length_mm)
    settings = _with_iso(settings, kit, settings.iso)
    settings = replace(
        settings,
        shutter_s=max(settings.shutter_s, kit.body.shortest_shutter_s),
        filters=tuple(use for use in settings.filters if use.filter_id in owned),
    )
    return replace(composition, settings=settings)


def _polariser_turned(composition: Composition, kit: Kit, strength: float) -> Composition:
    polarisers = [f.id for f in kit.filters if f.kind == "polariser"]
    uses = composition.settings.filters
    if not any(use.filter_id in polarisers for use in uses):
        uses = (*(FilterInUse(filter_id=one) for one in polarisers[:1]), *uses)
    turned = tuple(replace(use, strength=strength) if use.filter_id in polarisers else use for use in uses)
    return replace(composition, settings=replace(composition.settings, filters=turned))


def apply_change(composition: Composition, kit: Kit, change: Change) -> Composition:  # noqa: C901, PLR0912 -- a case for each kind of change
    """The composition after one change. A nudge or set of a locked setting leaves it as it is."""
    match change:
        case Nudge() if change.setting not in composition.locks:
            return _nudged(composition, kit, change)
        case SetTo() if change.setting not in composition.locks:
            return _set_to(composition, kit, change)
        case Nudge() | SetTo():
            return composition
        case PutOn():
            return replace(composition, settings=replace(composition.settings, filters=change.filters))
        case TurnPolariser():
            return _polariser_turned(composition, kit, change.strength)
        case TakeSlices():
            foci = tuple(sorted(change.foci_m)) or composition.technique.manual_foci_m
            technique = replace(composition.technique, slices=change.mode, manual_foci_m=foci[:MOST_SLICES])
            return replace(composition, technique=technique)
        case TakeBracket():
            offsets = tuple(sorted(change.offsets_stops)) or composition.technique.manual_offsets_stops
            technique = replace(composition.technique, bracket=change.mode, manual_offsets_stops=offsets)
            return replace(composition, technique=technique)
        case MountGear():
            return with_gear(composition, kit, change)
        case SetMagnification() | SetFramedWidth() if "focus" not in composition.locks:
            return drawn_as_large(composition, kit, change)
        case SetMagnification() | SetFramedWidth():
            return composition
        case TakeLayers():
            return replace(composition, technique=replace(composition.technique, layers=change.layers))
        case ReadSpot():
            return spot_read(composition, change)
        case ReadMeter():
            return metered(composition, change)
        case GoTo():
            return replace(composition, moment_utc=change.moment_utc)
        case SetBulb():
            return replace(composition, settings=replace(composition.settings, bulb=change.on))
        case SetTimer():
            return replace(composition, settings=replace(composition.settings, timer_s=change.seconds))
        case SetCompensation():
            return replace(composition, settings=replace(composition.settings, compensation_stops=change.stops))
        case SetHandHeld():
            return replace(composition, hand_held=change.on)
        case ChooseStandard():
            return replace(composition, wants=replace(composition.wants, sharpness_standard=change.standard))
        case SetLock():
            others = tuple(name for name in composition.locks if name != change.setting)
            return replace(composition, locks=(*others, change.setting) if change.on else others)
        case FitToKit():
            return _fitted(composition, kit)
        case SpanPanorama():
            return spanned(composition, kit, change)
        case PointElement() | ShapeElement():
            return apply_view_move(composition, kit, change)
        case _:
            return apply_move(composition, change)


def apply_changes(scene: Scene, changes: Iterable[Change]) -> Scene:
    """A scene after changes, one after another."""
    composition = scene.composition
    for change in changes:
        composition = apply_change(composition, kit_as_used(scene.kit, composition), change)
    return replace(scene, kit=kit_as_used(scene.kit, composition), composition=composition)


def aperture_marks_between(kit: Kit, focal_length_mm: float) -> list[float]:
    """Every third-stop mark of the lens at a focal length, widest first."""
    widest, narrowest = aperture_marks(kit, focal_length_mm)
    first, last = round(third_index(widest, "aperture")), round(third_index(narrowest, "aperture"))
    return [float(n) for n in 2 ** (np.arange(first, last + 1) / 6)]
