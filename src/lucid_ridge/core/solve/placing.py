"""Two elements on two chosen points of the picture."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares

from lucid_ridge.core.camera.geometry import build_geometry
from lucid_ridge.core.camera.reach import heights_in_reach
from lucid_ridge.core.changes.apply import apply_changes
from lucid_ridge.core.changes.camera_moves import Aim, SetHeight, Step
from lucid_ridge.core.changes.kinds import Change
from lucid_ridge.core.model.scene import Panorama, Scene
from lucid_ridge.core.records import FieldProblem, SceneError
from lucid_ridge.core.solve.common import (
    anchor_point,
    behind_the_line,
    beyond_a_line,
    granted,
    in_picture,
    only,
    position_of,
    refused,
)
from lucid_ridge.core.solve.wishes import Anchor, PlaceTwo, Solution
from lucid_ridge.core.state.state import State

Array = NDArray[np.float64]

HIT = 1e-4
"""Largest miss, in pictures, that counts as hit."""
_HIGHEST_M = 100.0
_STEEPEST_DEG = 80.0


@dataclass(frozen=True)
class _Found:
    changes: tuple[Change, ...]
    scene: Scene
    step_m: float
    height_m: float
    miss: float


def _misses(scene: Scene, anchors: tuple[Anchor, Anchor]) -> list[float]:
    """How far each anchor falls from its wanted point; only the wanted coordinates."""
    geometry = build_geometry(scene)
    misses: list[float] = []
    for i, anchor in enumerate(anchors):
        x, y = in_picture(geometry, anchor_point(geometry, i, anchor.part))
        if math.isnan(x):
            x, y = 9.0, 9.0
        misses.append(float(x) - anchor.x)
        if anchor.y is not None:
            misses.append(float(y) - anchor.y)
    return misses


def _solutions(state: State, pair: Scene, wish: PlaceTwo) -> Iterator[_Found]:
    """Roots found from several starts, nearest steps first.

    A step and an azimuth answer the two places across; one wanted height asks for the pitch too, both
    for the camera height as well.
    """
    anchors = (wish.first, wish.second)
    heights = sum(one.y is not None for one in anchors)
    composition = state.scene.composition
    farthest = wish.farthest_step_m

    def changes_for(values: Array) -> tuple[Change, ...]:
        step, azimuth = float(values[0]) * farthest, float(values[1])
        pitch = float(values[2]) if heights >= 1 else composition.pitch_deg
        changes: tuple[Change, ...] = (
            Step(right_m=round(step, 4)),
            Aim(azimuth_deg=round(azimuth % 360, 4), pitch_deg=round(pitch, 4)),
        )
        return (*changes, SetHeight(camera_height_m=round(float(values[3]), 4))) if heights == 2 else changes

    def residual(values: Array) -> Array:
        composed = apply_changes(pair, (Step(right_m=float(values[0]) * farthest),)).composition
        moved = replace(
            composed,
            azimuth_deg=float(values[1]) % 360,
            pitch_deg=float(values[2]) if heights >= 1 else composition.pitch_deg,
            camera_height_m=float(values[3]) if heights == 2 else composition.camera_height_m,
        )
        return np.array(_misses(replace(pair, composition=moved), anchors))

    low = [-1.0, composition.azimuth_deg - 180, -_STEEPEST_DEG, 0.0]
    high = [1.0, composition.azimuth_deg + 180, _STEEPEST_DEG, _HIGHEST_M]
    count = 2 + heights
    # The step turns the picture about; the aim that still looks at the two gives a good start.
    for share in (0.0, 0.02, -0.02, 0.1, -0.1, 0.4, -0.4, 0.9, -0.9):
        stepped = build_geometry(apply_changes(pair, (Step(right_m=share * farthest),)))
        bearings = np.radians([stepped.away(0)[1], stepped.away(1)[1]])
        middle = math.degrees(math.atan2(float(np.sin(bearings).sum()), float(np.cos(bearings).sum())))
        azimuth = composition.azimuth_deg + (middle - composition.azimuth_deg + 180) % 360 - 180
        pitch = min(max(composition.pitch_deg, -_STEEPEST_DEG + 1), _STEEPEST_DEG - 1)
        start = np.array([share, azimuth, pitch, max(composition.camera_height_m, 0.01)])[:count]
        inside = np.clip(start, np.array(low[:count]) + 1e-6, np.array(high[:count]) - 1e-6)
        made = least_squares(
            residual, inside, bounds=(low[:count], high[:count]), x_scale=[0.05, 5.0, 5.0, 0.3][:count], xtol=1e-12,
            ftol=1e-12, gtol=1e-12, max_nfev=60,
        )  # fmt: skip
        changes = changes_for(made.x)
        scene = apply_changes(pair, changes)
        miss = max(abs(v) for v in _misses(scene, anchors))
        yield _Found(changes, scene, float(made.x[0]) * farthest, scene.composition.camera_height_m, miss)


def place_two(state: State, wish: PlaceTwo) -> Solution:
    """A sideways step and an aim (and a height, if both heights are wanted) that put both on their points."""
    if wish.first.element_id == wish.second.element_id:
        message = "Choose two different elements."
        raise SceneError([FieldProblem(pointer="/wish/second/element_id", message=message)])
    pointers = ("/wish/first/element_id", "/wish/second/element_id")
    i, j = (
        position_of(state, anchor.element_id, pointer, in_frame=False)
        for anchor, pointer in zip((wish.first, wish.second), pointers, strict=True)
    )
    pair = only(state.scene, (state.geometry.elements[i], state.geometry.elements[j]))
    # Points of one frame are asked for; a panorama's many panels would each be laid out at every try.
    pair = replace(pair, composition=replace(pair.composition, panorama=Panorama()))
    low, high = heights_in_reach(state.scene, state.steady)
    best: _Found | None = None
    hits: list[_Found] = []
    for one in _solutions(state, pair, wish):
        best = one if best is None or one.miss < best.miss else best
        if one.miss <= HIT:
            hits.append(one)
            # The first start stands nearest to where the camera is now.
            if low <= one.height_m <= high and not beyond_a_line(one.scene):
                break
    allowed = [h for h in hits if low - 1e-6 <= h.height_m <= high + 1e-6]
    free = [h for h in allowed if not beyond_a_line(h.scene)]
    if free:
        chosen = min(free, key=lambda h: abs(h.step_m))
        return granted(chosen.changes, step_m=chosen.step_m)
    if allowed:
        return behind_the_line(min(allowed, key=lambda h: abs(h.step_m)).scene)
    if hits:
        needed = min(hits, key=lambda h: min(abs(h.height_m - low), abs(h.height_m - high))).height_m
        return refused("height_beyond_reach", needed_m=needed, low_m=low, high_m=high)
    return refused("no_standpoint", **({"miss": best.miss} if best and best.miss < 3 else {}))
