"""What may be wished of the picture, and what grants it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Annotated, Literal

from annotated_types import Ge, Gt, Le

from lucid_ridge.core.changes.kinds import Change
from lucid_ridge.core.model.kit import FocalLength
from lucid_ridge.core.records import Identifier, record

Share = Annotated[float, Ge(0), Le(1)]
FarthestStep = Annotated[float, Gt(0), Le(1000)]
Means = Literal["height", "sideways"]
AnchorPart = Literal["middle", "top", "foot"]


@record
class Part:
    """Part two elements by the smallest change of camera height, or the smallest step to a side."""

    kind: Literal["part"] = "part"
    element_id: Identifier
    other_id: Identifier
    by: Means = "height"
    gap_percent: Annotated[float, Ge(0.1), Le(50)] = 1.5
    farthest_step_m: FarthestStep = 10.0


@record
class Anchor:
    """Where a point of an element is to fall in the picture, 0..1 across and down; ``y`` None leaves it free."""

    element_id: Identifier
    part: AnchorPart = "middle"
    x: Share
    y: Share | None = None


@record
class PlaceTwo:
    """Put two elements on two points by a sideways step and the aim; both heights also ask for a camera height."""

    kind: Literal["place_two"] = "place_two"
    first: Anchor
    second: Anchor
    farthest_step_m: FarthestStep = 10.0


@record
class ShareOf:
    """Camera height for a share: of an element's reflection that is seen, or of the picture that foreground fills."""

    kind: Literal["share"] = "share"
    of: Literal["reflection", "foreground"]
    element_id: Identifier | None = None
    percent: Annotated[float, Ge(0), Le(100)]


@record
class SizeRatio:
    """Distance and focal length that keep one element's size and change another's by a factor."""

    kind: Literal["ratio"] = "ratio"
    keep_id: Identifier
    change_id: Identifier
    factor: Annotated[float, Ge(0.05), Le(20)]


@record
class CropInstead:
    """The crop that takes in what a longer lens would."""

    kind: Literal["crop_instead"] = "crop_instead"
    focal_length_mm: FocalLength


Wish = Part | PlaceTwo | ShareOf | SizeRatio | CropInstead


RefusalKind = Literal[
    "no_still_water", "no_foreground", "share_stays", "share_runs", "stand_apart", "no_height_parts", "no_step_parts", "keep_out",
    "height_beyond_reach", "no_standpoint", "focal_length_locked", "equally_far", "ratio_beyond_lens", "ratio_missed",
    "focal_length_beyond_lens", "does_not_focus", "takes_in_no_more", "too_little_left",
]  # fmt: skip


@dataclass(frozen=True)
class Refusal:
    """Why no change grants a wish, and the numbers that tell it, named with their units."""

    kind: RefusalKind
    amounts: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class Solution:
    """The changes that grant a wish, or why nothing does; ``amounts`` is what was reached, named with its units."""

    changes: tuple[Change, ...] = ()
    amounts: Mapping[str, float] = field(default_factory=dict)
    refused: Refusal | None = None
