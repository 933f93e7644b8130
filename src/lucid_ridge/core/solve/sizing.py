"""Near-far size ratio: distance and focal length that keep one element's size and change another's.

Moving back by t along the line to the kept element and lengthening the focal length in proportion
keeps its size. For depths K and O of the kept and the other element their ratio changes by

    factor = (K + t) / K * O / (O + t).

This gives the start; the exact answer is found through the projection.
"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares

from lucid_ridge.core.camera.geometry import Geometry, build_geometry
from lucid_ridge.core.camera.mounted_lens import focus_span_m
from lucid_ridge.core.changes.camera_moves import Aim, StandAt
from lucid_ridge.core.changes.kinds import Change, SetTo
from lucid_ridge.core.framing.silhouettes import LYING
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.records import FieldProblem, SceneError
from lucid_ridge.core.solve.common import (
    anchor_point,
    behind_the_line,
    beyond_a_line,
    granted,
    only,
    position_of,
    refused,
)
from lucid_ridge.core.solve.wishes import SizeRatio, Solution
from lucid_ridge.core.state.state import State

Array = NDArray[np.float64]

_HIT = 1e-4


def frame_height(geometry: Geometry, index: int) -> tuple[float, Array]:
    """Height of an element's near face in frame heights, and the place of its middle."""
    ends = geometry.camera.project(
        np.array([anchor_point(geometry, index, "foot"), anchor_point(geometry, index, "top")])
    )
    return abs(float(ends[1, 1] - ends[0, 1])), geometry.camera.project(anchor_point(geometry, index, "middle"))


def _factor(kept_m: float, other_m: float, back_m: float) -> float:
    return (kept_m + back_m) / kept_m * other_m / (other_m + back_m)


def size_ratio(state: State, wish: SizeRatio) -> Solution:
    """The step back or forward and the focal length, with the kept element held in its place."""
    i = position_of(state, wish.keep_id, "/wish/keep_id")
    j = position_of(state, wish.change_id, "/wish/change_id")
    if i == j:
        raise SceneError([FieldProblem(pointer="/wish/change_id", message="Choose two different elements.")])
    kept, other = state.geometry.elements[i], state.geometry.elements[j]
    for pointer, one in (("/wish/keep_id", kept), ("/wish/change_id", other)):
        if one.silhouette in LYING or len(one.ridgeline) > 1:
            raise SceneError([FieldProblem(pointer=pointer, message="Choose an element that stands.")])
    composition, lens = state.scene.composition, state.scene.kit.lens
    if "focal_length" in composition.locks:
        return refused("focal_length_locked")
    pair = only(state.scene, (kept, other))
    start = build_geometry(pair)
    kept_m, other_m = (float(start.camera.to_camera(anchor_point(start, n, "middle"))[2]) for n in (0, 1))
    if abs(kept_m / other_m - 1) < 0.02:
        return refused("equally_far")
    focal = composition.settings.focal_length_mm
    denominator = wish.factor * kept_m - other_m
    back = kept_m * other_m * (1 - wish.factor) / denominator if denominator else math.inf
    nearest = min(kept_m, other_m)
    limits = [_factor(kept_m, other_m, kept_m * (f / focal - 1)) for f in (lens.shortest_mm, lens.longest_mm)
              if other_m + kept_m * (f / focal - 1) > 0]  # fmt: skip
    wanted_focal = focal * (kept_m + back) / kept_m
    if not math.isfinite(back) or nearest + back <= 0.02 or not lens.shortest_mm <= wanted_focal <= lens.longest_mm:
        span = {"least": min(limits), "most": max(limits)} if len(limits) == 2 else {}
        return refused("ratio_beyond_lens", **span)
    return _exact(state, wish, pair, (back, wanted_focal))


def _exact(state: State, wish: SizeRatio, pair: Scene, start: tuple[float, float]) -> Solution:
    composition, lens = state.scene.composition, state.scene.kit.lens
    geometry = build_geometry(pair)
    size_kept, place = frame_height(geometry, 0)
    size_other, _ = frame_height(geometry, 1)
    bearing = math.radians(geometry.away(0)[1])
    focus, locked = composition.settings.focus_m, "focus" in composition.locks

    def scene_for(values: Array) -> Scene:
        back, focal, azimuth, pitch = (float(v) for v in values)
        refocused = focus
        if focus is not None and not locked:
            refocused = max(focus + back, focus_span_m(lens, focal)[0])
        return replace(
            pair,
            composition=replace(
                pair.composition,
                east_m=composition.east_m - back * math.sin(bearing),
                north_m=composition.north_m - back * math.cos(bearing),
                azimuth_deg=azimuth % 360,
                pitch_deg=pitch,
                settings=replace(pair.composition.settings, focal_length_mm=focal, focus_m=refocused),
            ),
        )

    def residual(values: Array) -> Array:
        made = build_geometry(scene_for(values))
        now, at = frame_height(made, 0)
        then, _ = frame_height(made, 1)
        return np.asarray(
            np.nan_to_num(np.array([now / size_kept - 1, then / size_other / wish.factor - 1, *(at - place)]), nan=9.0)
        )

    values = np.array([*start, composition.azimuth_deg, composition.pitch_deg])
    made = least_squares(residual, values, x_scale=[1.0, 10.0, 5.0, 5.0], xtol=1e-13, ftol=1e-13, gtol=1e-13)
    if np.abs(residual(made.x)).max() > _HIT:
        return refused("ratio_missed")
    scene = scene_for(made.x)
    back, focal = float(made.x[0]), float(made.x[1])
    if not lens.shortest_mm <= focal <= lens.longest_mm:
        return refused("focal_length_beyond_lens", needed_mm=focal)
    if beyond_a_line(scene):
        return behind_the_line(scene)
    settings = scene.composition.settings
    changes: list[Change] = [
        SetTo(setting="focal_length", value=focal),
        StandAt(east_m=scene.composition.east_m, north_m=scene.composition.north_m),
        Aim(azimuth_deg=scene.composition.azimuth_deg, pitch_deg=scene.composition.pitch_deg),
    ]
    if settings.focus_m is not None and not locked:
        changes.append(SetTo(setting="focus", value=settings.focus_m))
    return granted(tuple(changes), back_m=back)
