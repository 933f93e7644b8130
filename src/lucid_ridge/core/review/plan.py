"""What the plan says of each frame that comes back: enough to judge it by."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.rehearsal.shots import shots_of
from lucid_ridge.core.review.brightness import Box, box_of
from lucid_ridge.core.state.state import State
from lucid_ridge.core.stops.filters import cost_stops

_MOVING = ("water", "foliage", "animal", "cloud")
_AROUND = 0.02
"""By how much of the frame's width what moves is taken to be larger than planned."""


@dataclass(frozen=True)
class PlannedPicture:
    """A frame of the plan: where it belongs in the sequence, and with what it is exposed."""

    number: int
    panel: int
    slice_at: int
    offset_stops: float
    blended: bool
    exposure_stops: float
    """How much light it gathers: of time, aperture and ISO, against one second at f/1 and ISO 100."""
    brighter_stops: float
    """How much brighter than metered it is to come out."""
    filter_stops: float
    """What its filters take from the whole of it."""


@dataclass(frozen=True, eq=False)
class Plan:
    """A sequence as it was planned.

    ``image_log`` (slices,) is the logarithm of the image distance of each slice, ``allowance_log`` by how much that may be off and
    leave it sharp; ``moving`` (rows, columns) where things move by themselves, at any size. ``pixels`` are the sensor's across the
    picture. ``horizon`` is how far down it lies at the left and at the right edge, of the picture's height; None where it is not
    in the picture, or land stands before it. ``labels`` (rows, columns) says which of the ``elements`` that must be sharp and stand
    still is seen where, below nought for none; of each label the element's id and how far away it is.
    """

    pictures: tuple[PlannedPicture, ...]
    focus_m: NDArray[np.float64]
    image_log: NDArray[np.float64]
    allowance_log: NDArray[np.float64]
    moving: NDArray[np.bool_]
    pixels: int
    by_rail: bool
    horizon: tuple[float, float] | None
    labels: NDArray[np.int16]
    elements: Mapping[int, tuple[str, float]]

    def of(self, number: int) -> PlannedPicture | None:
        """A frame by its number; None where there is none."""
        return self.pictures[number - 1] if 1 <= number <= len(self.pictures) else None

    def box_of(self, element: str) -> Box | None:
        """Where an element is seen; None where it is not, or nobody asks for it."""
        label = next((k for k, (name, _) in self.elements.items() if name == element), None)
        return None if label is None else box_of(self.labels == label)


def exposure_stops(shutter_s: float, aperture_n: float, iso: float) -> float:
    """How much light is gathered, stops against one second at f/1 and ISO 100."""
    return float(np.log2(shutter_s) - 2 * np.log2(aperture_n) + np.log2(iso / 100))


def plan_of(state: State) -> Plan:
    """The plan of a scene's sequence."""
    shots = shots_of(state)
    depth, optics = state.depth, state.depth.optics
    labels, elements = labelled(state)
    count = len(depth.focused_m)
    focus = np.array([next(one.focus_m for one in shots if one.slice_at == k) for k in range(count)])
    image = np.array([optics.perspective_mm(optics.magnification(float(s))) for s in focus])
    allowed = np.array([depth.sharp.allowance_mm(optics, float(s)) * optics.f_number for s in focus])
    body, owned = state.scene.kit.body, {one.id: one for one in state.scene.kit.filters}
    landscape = state.scene.composition.orientation == "landscape"
    return Plan(
        pictures=tuple(
            PlannedPicture(
                number=one.number,
                panel=one.panel.number if one.panel else 0,
                slice_at=one.slice_at,
                offset_stops=one.offset_stops,
                blended=one.purpose is not None,
                exposure_stops=exposure_stops(one.shutter_s, one.aperture_n, one.iso),
                brighter_stops=one.stops,
                filter_stops=sum(cost_stops(owned[u.filter_id], u) for u in one.filters if u.filter_id in owned),
            )
            for one in shots
        ),
        focus_m=focus,
        image_log=np.log(image),
        allowance_log=np.maximum(allowed, depth.circle_of_confusion_mm * optics.f_number / 4) / image,
        moving=moving_mask(state),
        pixels=body.pixels_across if landscape else body.pixels_down,
        by_rail=bool(depth.moved_m.any()),
        horizon=None if any(one.panel for one in shots) else _horizon(state),
        labels=labels,
        elements={} if any(one.panel for one in shots) else elements,
    )


def _horizon(state: State) -> tuple[float, float] | None:
    """The level horizon; one that is measured or drawn from terrain is no level line."""
    if state.scene.place.horizon not in ("flat", "sea"):
        return None
    return state.geometry.camera.horizon_y()


def _filled(state: State, longest_px: int, values: Mapping[int, int], empty: int) -> NDArray[np.int16]:
    """A value for each element where it is seen in the picture as it is framed, (rows, columns)."""
    geometry = state.geometry
    aspect = geometry.aspect
    wide, high = (longest_px, round(longest_px / aspect)) if aspect >= 1 else (round(longest_px * aspect), longest_px)
    mask = np.full((max(high, 1), max(wide, 1)), empty, dtype=np.int16)
    for index in geometry.far_to_near:
        for outline in geometry.outlines(index):
            points = np.round(np.array(outline.points) * (wide, high)).astype(np.int32)
            if len(points) > 2:
                cv2.fillPoly(mask, [points], values[index])
    return mask


def labelled(state: State, longest_px: int = 500) -> tuple[NDArray[np.int16], dict[int, tuple[str, float]]]:
    """Which element that must be sharp and stands still is seen where, (rows, columns), and which they are."""
    geometry = state.geometry
    still = {
        index: (geometry.elements[index].id, float(geometry.near_m[index]))
        for index in geometry.far_to_near
        if geometry.elements[index].sharp and geometry.elements[index].motion not in _MOVING
    }
    return _filled(state, longest_px, {i: i if i in still else -1 for i in geometry.far_to_near}, -1), still


def moving_mask(state: State, longest_px: int = 300) -> NDArray[np.bool_]:
    """Where things move by themselves in the picture as it is framed, (rows, columns)."""
    geometry = state.geometry
    moves = {index: int(geometry.elements[index].motion in _MOVING) for index in geometry.far_to_near}
    mask = _filled(state, longest_px, moves, 0).astype(np.uint8)
    around = max(round(_AROUND * mask.shape[1]), 1)
    return np.asarray(cv2.dilate(mask, np.ones((2 * around + 1,) * 2, np.uint8)) > 0)
