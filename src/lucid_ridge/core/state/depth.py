"""How sharp everything is: slices, blur, hyperfocal distance, for the picture that is printed."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.camera.camera_stack import NoSlices, SlicePlan, moved_slices
from lucid_ridge.core.camera.critical import critical_span, critical_spans
from lucid_ridge.core.camera.geometry import Geometry, focus_distance
from lucid_ridge.core.camera.mounted_lens import optics_of
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.optics.circle_of_confusion import circle_of_confusion_mm
from lucid_ridge.core.optics.depth_of_field import hyperfocal_m
from lucid_ridge.core.optics.pupils import Optics, Sharpness
from lucid_ridge.core.optics.slices import (
    LeastBlur,
    Slice,
    TooMuchDiffraction,
    gapless_slices,
    least_blur,
    slice_at,
    slices_over,
)

Array = NDArray[np.float64]

FARTHEST_FOCUSED_M = 1e7
"""Stands for infinity where a finite number is needed."""


@dataclass(frozen=True)
class Depth:
    """Sharpness of a scene, for the picture that is printed. Blurs hold arrays (elements,) in mm, NaN out of frame.

    ``airy_mm`` and ``allowance_mm`` are of a frame at the focus in use; every slice has its own. ``moved_m`` (slices,)
    is how far the camera has gone forward for each slice; their distances count from where it stands at first.
    """

    optics: Optics
    sharp: Sharpness
    circle_of_confusion_mm: float
    airy_mm: float
    allowance_mm: float
    magnification: float
    image_distance_mm: float
    hyperfocal_m: float
    slices: tuple[Slice, ...]
    moved_m: Array
    slices_problem: NoSlices | None
    near_m: float
    far_m: float
    blur_near: LeastBlur
    blur_far: LeastBlur

    @property
    def focused_m(self) -> Array:
        """What the lens is focused on for each slice, from where the camera then stands."""
        return np.array([one.focus_m for one in self.slices]) - self.moved_m

    @cached_property
    def worse(self) -> LeastBlur:
        """Of each element the blur at the worse of its two ends, arrays (elements,)."""
        far = self.blur_far.total_mm > self.blur_near.total_mm
        return LeastBlur(*(np.where(far, b, a) for a, b in zip(self.blur_near, self.blur_far, strict=True)))

    def blur_at(self, distance_m: Array) -> LeastBlur:
        """Blur at distances from the lens (points,) in the frame that is sharpest there."""
        return least_blur(self.optics, np.minimum(self.focused_m, FARTHEST_FOCUSED_M), distance_m, self.moved_m)


def slices_planned(
    scene: Scene, geometry: Geometry, optics: Optics, sharp: Sharpness, span: tuple[float, float]
) -> tuple[Slice, ...]:
    """The gapless slices of a technique, over the whole span or only what must be sharp.

    Raises
    ------
    ValueError
        As `gapless_slices`.

    """
    technique = scene.composition.technique
    spans = tuple(critical_spans(scene, geometry)) if technique.only_critical else ()
    if spans:
        return slices_over(optics, sharp, spans, technique.overlap)
    return gapless_slices(optics, sharp, *span, technique.overlap)


def _slices(scene: Scene, geometry: Geometry, optics: Optics, sharp: Sharpness, span: tuple[float, float]) -> SlicePlan:
    technique, focus = scene.composition.technique, focus_distance(scene)
    single = SlicePlan(slices=(slice_at(optics, sharp, focus),), moved_m=np.zeros(1))
    if technique.slices == "manual":
        usable = sorted(s for s in technique.manual_foci_m if s * 1000 > optics.focal_length_mm * 1.001)
        if not usable:
            return replace(single, problem=NoSlices("No hand-set focus lies beyond the focal length."))
        return SlicePlan(tuple(slice_at(optics, sharp, s) for s in usable), np.zeros(len(usable)))
    try:
        if technique.slices == "gapless":
            slices = slices_planned(scene, geometry, optics, sharp, span)
            return SlicePlan(slices, np.zeros(len(slices)))
        if technique.slices in ("rail", "sway"):
            return moved_slices(scene, optics, sharp, span)
    except TooMuchDiffraction as problem:
        widest = scene.composition.settings.aperture_n * problem.times
        return replace(single, problem=NoSlices(widest_f_number=widest))
    except ValueError as problem:
        return replace(single, problem=NoSlices(f"{str(problem)[0].upper()}{str(problem)[1:]}."))
    return single


def _hyperfocal_m(optics: Optics, sharp: Sharpness) -> float:
    """Hyperfocal distance from the lens, diffraction counted at that focus."""
    found = math.inf
    for _ in range(3):
        allowance = max(sharp.allowance_mm(optics, found), 1e-6)
        found = float(hyperfocal_m(optics.focal_length_mm, optics.f_number, allowance))
    return found


def depth_of(scene: Scene, geometry: Geometry) -> Depth:
    """How sharp everything in a scene is."""
    body = scene.kit.body
    optics = optics_of(scene.kit.lens, scene.composition.settings)
    camera, panorama = geometry.camera, scene.composition.panorama.on
    # What is printed of a panorama is more than a frame, and no crop of one.
    picture = (camera.frame_width_mm, camera.frame_height_mm) if panorama else geometry.picture_mm
    criterion = circle_of_confusion_mm(
        scene.composition.wants.sharpness_standard, *picture, body.sensor_width_mm / body.pixels_across
    )
    sharp = Sharpness(criterion)
    near, far = critical_span(scene, geometry)
    focus = focus_distance(scene)
    m = optics.magnification(focus)
    plan = _slices(scene, geometry, optics, sharp, (near, far))
    foci = np.minimum(np.array([one.focus_m for one in plan.slices]) - plan.moved_m, FARTHEST_FOCUSED_M)
    closest = optics.focal_length_mm / 1000 * 1.05

    def blur(distance: Array) -> LeastBlur:
        unseen = np.isnan(distance)
        found = least_blur(optics, foci, np.where(unseen, 1e3, np.maximum(distance, closest)), plan.moved_m)
        return LeastBlur(*(np.where(unseen, np.nan, one) for one in found))

    return Depth(
        optics=optics,
        sharp=sharp,
        circle_of_confusion_mm=criterion,
        airy_mm=optics.airy_mm(m),
        allowance_mm=sharp.allowance_mm(optics, focus),
        magnification=m,
        image_distance_mm=camera.image_distance_mm,
        hyperfocal_m=_hyperfocal_m(optics, sharp),
        slices=plan.slices,
        moved_m=plan.moved_m,
        slices_problem=plan.problem,
        near_m=near,
        far_m=far,
        blur_near=blur(geometry.near_m),
        blur_far=blur(geometry.far_m),
    )
