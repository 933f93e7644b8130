"""What pictures may show, and what is looked at for it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from lucid_ridge.core.records import record
from lucid_ridge.core.review.plan import PlannedPicture
from lucid_ridge.core.review.shaking import Shake
from lucid_ridge.core.review.tiles import Picture

FindingKind = Literal[
    "clipped", "camera_moved", "subject_moved", "slice_missing", "end_slice_missing", "focus_off", "shaken", "light_changed",
    "filter_forgotten", "white_changed", "blocked", "tilted", "soft", "frame_missing", "movement_unknown", "focus_unknown",
]  # fmt: skip
Channel = Literal["red", "green", "blue"]
CHANNELS: tuple[Channel, ...] = ("red", "green", "blue")
Sureness = Literal["sure", "likely", "perhaps"]


@record
class Finding:
    """Something that pictures show.

    ``frames`` are the numbers of the frames that it is seen in or between; ``box`` where in the picture (left, top, wide, high, 0
    to 1). ``size`` is in what its kind is told in: a share of the picture for what is clipped, sensor pixels for what moved,
    allowances for a focus that is off, stops for light (above nought where a filter was not put on) and for blue against red,
    degrees for a horizon (clockwise), the slice counted from 1 for one that is missing; ``direction_deg`` from the frame's width,
    downwards. ``channel`` is the one that is full, where it is one alone. ``elements`` are the ids of those that are softer than in
    so many earlier ``takes``, by stops of fine detail; ``focused`` says whether the focus lay too near or too far, where that can
    be told.
    """

    kind: FindingKind
    frames: tuple[int, ...]
    sure: Sureness
    size: float = 0.0
    direction_deg: float | None = None
    box: tuple[float, float, float, float] | None = None
    channel: Channel | None = None
    focus_m: float | None = None
    elements: tuple[str, ...] = ()
    focused: Literal["near", "far"] | None = None
    takes: int = 0


@dataclass(frozen=True, eq=False)
class Came:
    """A picture that came back: the frame of the plan that it is of, and how much light it says that it gathered, in stops."""

    number: int
    picture: Picture
    gathered_stops: float | None = None


@dataclass(frozen=True, eq=False)
class Looked:
    """A picture beside its plan, at the size at which it is looked at, and what it shows of shake."""

    planned: PlannedPicture
    came: Came
    small: Picture
    shake: Shake
