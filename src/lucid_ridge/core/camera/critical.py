"""What must be sharp: its span along the lens axis, and where each school focuses for it."""

from __future__ import annotations

import math

import numpy as np

from lucid_ridge.core.camera.geometry import Geometry
from lucid_ridge.core.camera.mounted_lens import optics_of
from lucid_ridge.core.framing.camera import field_of_view_deg
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.optics.focus_schools import FocusSchool, balanced_focus_m, third_in_m


def closest_m(scene: Scene) -> float:
    """Nearest distance that is reckoned with: a little beyond the focal length, where no image forms."""
    return optics_of(scene.kit.lens, scene.composition.settings).focal_length_mm / 1000 * 1.05


def critical_span(scene: Scene, geometry: Geometry) -> tuple[float, float]:
    """Nearest and farthest depth that must be sharp; of all in the frame where none must; 1 m to infinity alone."""
    wanted = np.array([e.sharp for e in scene.composition.elements], dtype=bool)
    seen = ~np.isnan(geometry.near_m)
    chosen = seen & wanted if (seen & wanted).any() else seen
    if not chosen.any():
        return 1.0, math.inf
    near = max(float(geometry.near_m[chosen].min()), closest_m(scene))
    return near, max(float(geometry.far_m[chosen].max()), near)


def school_focus_m(scene: Scene, geometry: Geometry, school: FocusSchool, hyperfocal: float) -> float:
    """Where a school focuses, metres from the lens along the axis."""
    near, far = critical_span(scene, geometry)
    if school == "hyperfocal":
        return hyperfocal
    if school == "balanced":
        return balanced_focus_m(near, far)
    if school == "subject":
        for i, element in enumerate(scene.composition.elements):
            if element.role == "subject" and not math.isnan(geometry.near_m[i]):
                return max(float(geometry.near_m[i]), closest_m(scene))
        return balanced_focus_m(near, far)
    camera = geometry.camera
    fov = float(field_of_view_deg(camera.frame_height_mm, camera.image_distance_mm))
    return third_in_m(scene.composition.camera_height_m, camera.pitch_deg, fov, near, far)


def critical_spans(scene: Scene, geometry: Geometry) -> list[tuple[float, float]]:
    """Near and far of each element in the frame that must be sharp, metres along the axis."""
    closest = closest_m(scene)
    return [
        (max(float(geometry.near_m[i]), closest), max(float(geometry.far_m[i]), closest))
        for i, e in enumerate(scene.composition.elements)
        if e.sharp and not math.isnan(geometry.near_m[i])
    ]
