"""Requests and responses of preferences."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.core.light.definitions import GoldenHour
from lucid_ridge.core.motion.travel import MotionSchool, OwnLook
from lucid_ridge.core.optics.circle_of_confusion import SharpnessStandard
from lucid_ridge.core.optics.focus_schools import FocusSchool


class Learned(BaseModel):
    """What was taken on of what one's own takes say.

    Looks of the water; how much longer than the rule one holds still; how many times as long as planned one's sequences take;
    how many stops one backs off for saturated colours; how many minutes one sets up; how many times as long as usual a charge lasts.
    """

    own_looks: Annotated[list[OwnLook], Field(max_length=8)] = []
    hand_held_factor: Annotated[float, Field(ge=0.1, le=16)] | None = None
    pace: Annotated[float, Field(ge=0.2, le=10)] | None = None
    set_up_min: Annotated[int, Field(ge=1, le=240)] | None = None
    warm_back_off_stops: Annotated[float, Field(ge=-1, le=4)] | None = None
    charge: Annotated[float, Field(ge=0.05, le=20)] | None = None


class Chosen(BaseModel):
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


class Preferences(Chosen):
    """What was chosen, and what was learned."""

    learned: Learned = Learned()


class PreferencesBody(Chosen, JsonBody):
    """Preferences as they are to be."""


class PreferencesOut(Chosen):
    """Preferences as they are."""
