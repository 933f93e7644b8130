"""Requests and responses of preferences."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.core.light.definitions import GoldenHour
from lucid_ridge.core.motion.travel import MotionSchool
from lucid_ridge.core.optics.circle_of_confusion import SharpnessStandard
from lucid_ridge.core.optics.focus_schools import FocusSchool


class Preferences(BaseModel):
    """What a new composition takes over.

    ``take_over`` says from where: the schools of the composition that was worked on last, or the ones chosen here.
    """

    take_over: Literal["last", "chosen"] = "last"
    sharpness_standard: SharpnessStandard = "print"
    focus_school: FocusSchool = "balanced"
    motion_school: MotionSchool = "seconds"
    golden_hour: GoldenHour = "six_to_minus_four"
    print_width_mm: Annotated[float, Field(ge=50, le=5000)] = 600.0
    highest_iso: Annotated[float, Field(ge=1, le=10_000_000)] = 1600.0


class PreferencesBody(Preferences, JsonBody):
    """Preferences as they are to be."""


class PreferencesOut(Preferences):
    """Preferences as they are."""
