"""Every change that a hand or a mend may make to a composition; `apply` makes them."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from annotated_types import Ge, Gt, Le, MaxLen

from lucid_ridge.core.camera.panorama import SpanPanorama
from lucid_ridge.core.changes.camera_moves import (
    Aim,
    AimToward,
    Hold,
    Level,
    MoveElement,
    PutElement,
    SetCrop,
    SetHeight,
    SetPhotographLens,
    StandAt,
    Step,
    TurnAim,
)
from lucid_ridge.core.changes.lens_changes import MountGear, SetFramedWidth, SetMagnification
from lucid_ridge.core.changes.meter_changes import ReadMeter, ReadSpot
from lucid_ridge.core.changes.view_moves import PointElement, ShapeElement
from lucid_ridge.core.model.scene import BracketSet, Layer, LockName, SettingName, SliceMode
from lucid_ridge.core.optics.circle_of_confusion import SharpnessStandard
from lucid_ridge.core.records import record
from lucid_ridge.core.stops.filters import FilterInUse

Steps = Annotated[int, Ge(-60), Le(60)]


MOST_COMPENSATION = 10.0
"""Stops by which a picture may be wanted brighter or darker than metered."""


@record
class Nudge:
    """Move a setting by marks: thirds of a stop, or a twentieth dioptre of focus."""

    kind: Literal["nudge"] = "nudge"
    setting: SettingName
    steps: Steps


@record
class SetTo:
    """Set a setting to a nominal or exact value; None is infinity for focus."""

    kind: Literal["set"] = "set"
    setting: SettingName
    value: Annotated[float, Gt(0), Le(1e7)] | None


@record
class PutOn:
    """The filters in front of the lens, in order, replacing what was there."""

    kind: Literal["filters"] = "filters"
    filters: Annotated[tuple[FilterInUse, ...], MaxLen(10)]


@record
class TakeSlices:
    """One frame, the fewest gapless slices, or slices focused by hand."""

    kind: Literal["slices"] = "slices"
    mode: SliceMode
    foci_m: Annotated[tuple[Annotated[float, Gt(0.002), Le(100_000)], ...], MaxLen(60)] = ()


@record
class TakeBracket:
    """No bracket, the one the range asks for, or offsets by hand."""

    kind: Literal["bracket"] = "bracket"
    mode: BracketSet
    offsets_stops: Annotated[tuple[Annotated[float, Ge(-15), Le(15)], ...], MaxLen(25)] = ()


@record
class TakeLayers:
    """Frames more for what moves otherwise than the rest, replacing those there were."""

    kind: Literal["layers"] = "layers"
    layers: Annotated[tuple[Layer, ...], MaxLen(6)] = ()


@record
class GoTo:
    """Another moment; what is read stays read at its own time."""

    kind: Literal["moment"] = "moment"
    moment_utc: datetime


PolariserLook = Literal["deep_sky", "no_glare", "even", "keep_reflection"]


_LOOK_STRENGTH: dict[PolariserLook, float] = {"deep_sky": 1.0, "no_glare": 1.0, "even": 0.5, "keep_reflection": 0.0}


@record
class TurnPolariser:
    """Turn the polariser to a look; the first that is owned is put on where none is."""

    kind: Literal["polariser"] = "polariser"
    look: PolariserLook

    @property
    def strength(self) -> float:
        """0..1 of the way from its least to its full effect."""
        return _LOOK_STRENGTH[self.look]


@record
class SetBulb:
    """Hold the shutter by remote (True) or let the body time it."""

    kind: Literal["bulb"] = "bulb"
    on: bool


@record
class SetTimer:
    """Wait so many seconds between the press and the frame."""

    kind: Literal["timer"] = "timer"
    seconds: Annotated[float, Ge(0), Le(60)]


@record
class SetHandHeld:
    """Take the camera in hand, or put it on the support."""

    kind: Literal["hand_held"] = "hand_held"
    on: bool


@record
class SetCompensation:
    """Expose brighter or darker than metered."""

    kind: Literal["compensation"] = "compensation"
    stops: Annotated[float, Ge(-MOST_COMPENSATION), Le(MOST_COMPENSATION)]


@record
class ChooseStandard:
    """Choose how sharp is sharp."""

    kind: Literal["sharpness_standard"] = "sharpness_standard"
    standard: SharpnessStandard


@record
class SetLock:
    """Lock or free a setting."""

    kind: Literal["lock"] = "lock"
    setting: LockName
    on: bool


@record
class FitToKit:
    """Bring settings into the reach of the body and lens in use, and drop filters not owned."""

    kind: Literal["fit"] = "fit"


Change = (
    Nudge | SetTo | PutOn | TurnPolariser | MountGear | SetMagnification | SetFramedWidth | TakeSlices | TakeBracket | TakeLayers | ReadSpot | ReadMeter | GoTo | SetBulb | SetTimer | SetHandHeld | SetCompensation | ChooseStandard | SetLock | FitToKit
    | SpanPanorama | SetPhotographLens | SetHeight | StandAt | Step | AimToward | Aim | TurnAim | Level | Hold | SetCrop | MoveElement | PutElement
    | PointElement | ShapeElement
)  # fmt: skip
