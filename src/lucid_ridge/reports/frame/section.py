"""The side section along the lens axis."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.camera.reach import heights_in_reach
from lucid_ridge.core.framing.silhouettes import LYING
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import Readout, distance_text
from lucid_ridge.reports.frame.view import element_tones

Array = NDArray[np.float64]
Point = tuple[float, float]


@record
class SectionBox:
    """An element near the lens axis, in the section's metres."""

    id: str
    name: str
    left: float
    right: float
    low: float
    high: float
    tone: int


@record
class SectionReport:
    """From the side along the lens axis: distance to the right, height up, metres.

    ``sight`` is the line of sight over the top of the nearest thing on the axis; what lies below it
    beyond that thing is hidden.
    """

    length_m: float
    height_m: float
    camera_m: float
    camera: Readout
    reach_low_m: float
    reach_high_m: float
    column_high_m: float
    reach_text: str
    axis_end: Point
    lower_edge_end: Point
    upper_edge_end: Point
    sight: tuple[Point, Point] | None
    sight_text: str
    boxes: tuple[SectionBox, ...]


def _along_axis(state: State, length: float) -> tuple[SectionBox, ...]:
    composition, geometry = state.scene.composition, state.geometry
    azimuth = math.radians(composition.azimuth_deg)
    along = np.array([math.sin(azimuth), math.cos(azimuth)])
    across = np.array([math.cos(azimuth), -math.sin(azimuth)])
    origin = np.array([composition.east_m, composition.north_m])
    tone = element_tones(geometry)
    boxes = []
    for i, element in enumerate(geometry.elements):
        foot = geometry.corners_m[i][:, :2] - origin
        if (foot @ across).min() > 0.3 * length or (foot @ across).max() < -0.3 * length:
            continue
        left, right = float((foot @ along).min()), float((foot @ along).max())
        if right <= 0 or left >= length or element.role == "sky":
            continue
        low = element.base_m - composition.ground_m
        boxes.append(
            SectionBox(
                id=element.id,
                name=element.name,
                left=max(left, 0.0),
                right=min(right, length),
                low=low,
                high=low + (0.0 if element.silhouette in LYING else element.height_m),
                tone=tone[i],
            )
        )
    return tuple(boxes)


def _sight(state: State, boxes: tuple[SectionBox, ...], length: float) -> tuple[tuple[Point, Point] | None, str]:
    """The line of sight over the first thing that stands on the axis, and what it means."""
    height, units = state.scene.composition.camera_height_m, state.scene.units
    standing = sorted((b for b in boxes if b.high > b.low + 0.02 and b.left > 0.02), key=lambda b: b.left)
    if not standing:
        return None, ""
    first = standing[0]
    # Seen from above its far edge hides, seen from below its near one.
    at = first.right if first.high < height else first.left
    slope = (first.high - height) / at
    end = height + slope * length
    if slope < 0:
        meets = height / -slope
        text = f"over the {first.name} the ground shows again from {distance_text(meets, units)}"
        if meets < length:
            return ((0.0, height), (meets, 0.0)), text
    else:
        text = f"the {first.name} hides what is under {distance_text(end, units)} at {distance_text(length, units)}"
    return ((0.0, height), (length, end)), text


def section_report(state: State) -> SectionReport:
    """The side section: the lens axis, the frame's edges, the sight over the foreground."""
    composition, camera, units = state.scene.composition, state.geometry.camera, state.scene.units
    support, height = state.scene.kit.support, composition.camera_height_m
    seen = [float(d) for d in state.geometry.near_m if not math.isnan(d)]
    length = min(max([d for d in seen if d < 12] or seen or [3.0]) * 1.6 + 0.3, 40.0)
    boxes = _along_axis(state, length)
    pitch = math.radians(composition.pitch_deg)
    half = math.atan(camera.half_tangents[1])
    lower, upper = pitch - half, pitch + half
    steep = min(math.tan(lower), -1e-6) if lower < 0 else 0.0
    ground_at = min(length, height / -steep) if steep else length
    rising = math.tan(min(upper, 1.5))
    _low, high = heights_in_reach(state.scene, state.steady)
    reach_text = (
        f"{support.lowest_m:.2f}–{support.highest_m:.2f} m"
        if units == "metric"
        else f"{distance_text(support.lowest_m, units)} – {distance_text(support.highest_m, units)}"
    )
    sight, sight_text = _sight(state, boxes, length)
    return SectionReport(
        length_m=length,
        height_m=max(high if state.steady else height, height, 0.2) * 1.15,
        camera_m=height,
        camera=Readout(value=height, text=distance_text(height, units)),
        reach_low_m=support.lowest_m,
        reach_high_m=support.highest_m,
        column_high_m=high if state.steady else support.highest_m,
        reach_text=reach_text,
        axis_end=(length, height + length * math.tan(pitch)),
        lower_edge_end=(ground_at, height + ground_at * steep),
        upper_edge_end=(length, height + length * rising),
        sight=sight,
        sight_text=sight_text,
        boxes=boxes,
    )
