"""Slices to which the camera moves: a rail's even steps, or a body that sways through the subject."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.camera.geometry import focus_distance
from lucid_ridge.core.camera.mounted_lens import focus_span_m
from lucid_ridge.core.model.gear import Gear
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.optics.depth_of_field import defocus_allowance_mm
from lucid_ridge.core.optics.pupils import Optics, Sharpness
from lucid_ridge.core.optics.slices import Slice, TooMuchDiffraction
from lucid_ridge.core.optics.stacks import DIFFRACTION_FROM, close_up_depth_mm, diffraction_depth_mm, positions_mm

Array = NDArray[np.float64]

FARTHEST_MOVED_MM = 1000.0
"""As far as a rail on a stand, or a leaning body, reaches."""


@dataclass(frozen=True)
class NoSlices:
    """Why slices could not be planned; ``widest_f_number`` where diffraction is why, the aperture from which they could."""

    reason: str = ""
    widest_f_number: float | None = None


@dataclass(frozen=True)
class SlicePlan:
    """The slices of a technique, how far the camera went forward for each, and what stands against them."""

    slices: tuple[Slice, ...]
    moved_m: Array
    problem: NoSlices | None = None


@dataclass(frozen=True)
class FrameDepth:
    """Depth of one close-up frame in mm: by geometry, by the wave nature of light, and what counts."""

    geometric: float
    diffraction: float
    counted: float


def rail_of(scene: Scene) -> Gear | None:
    """The rail that the camera stands on, if one is mounted."""
    on = {one.gear_id for one in scene.composition.close_up.mounted}
    return next((gear for gear in scene.kit.gear if gear.id in on and gear.kind == "rail"), None)


def frame_depth(scene: Scene, optics: Optics, sharp: Sharpness, magnification: float) -> FrameDepth:
    """Depth of one frame at a magnification; the wave term counts from half life size where that is chosen."""
    n, pupil = optics.f_number, optics.pupil_magnification
    allowance = defocus_allowance_mm(sharp.circle_mm, optics.airy_mm(magnification))
    geometric = float(close_up_depth_mm(n, allowance, magnification, pupil))
    wave = float(diffraction_depth_mm(n, magnification, pupil))
    counts = scene.composition.close_up.count_diffraction and magnification >= DIFFRACTION_FROM
    return FrameDepth(geometric=geometric, diffraction=wave, counted=geometric + wave if counts else geometric)


def subject_span_m(scene: Scene, span: tuple[float, float]) -> tuple[float, float]:
    """Front and back of what a close-up stack must hold: as typed, else as the elements stand."""
    typed = scene.composition.close_up.subject_depth_mm
    if typed is None:
        return span
    # With nothing drawn the front is what is focused on.
    focus = focus_distance(scene)
    front = focus if math.isinf(span[1]) and math.isfinite(focus) else span[0]
    return front, front + typed / 1000


def rail_problem(rail: Gear | None, step_mm: float, travel_mm: float) -> str:
    """Why a rail cannot carry a stack, in words; nothing where it can, where there is none, or for a single frame."""
    if rail is None or travel_mm <= 0:
        return ""
    if step_mm < rail.finest_step_mm:
        return (
            f"the rail steps no finer than {rail.finest_step_mm:g} mm and {step_mm:.2g} mm is needed: stop down, overlap "
            "less, or choose a smaller magnification"
        )
    if travel_mm > rail.travel_mm:
        return (
            f"the subject needs {travel_mm:.0f} mm of travel and the rail has {rail.travel_mm:g} mm: choose a smaller "
            "depth, or stack by the focus ring"
        )
    return ""


def moved_slices(scene: Scene, optics: Optics, sharp: Sharpness, span: tuple[float, float]) -> SlicePlan:
    """Slices at even steps of the camera, from the front of the subject to its back.

    The magnification stays what the focus in use gives; a focus at infinity is taken as the nearest.

    Raises
    ------
    ValueError
        With the reason in words: nothing left for defocus, a subject without end, too many frames, or a rail
        that is too short or too coarse.

    """
    settings, technique = scene.composition.settings, scene.composition.technique
    nearest, _ = focus_span_m(scene.kit.lens, settings.focal_length_mm)
    focus = min(max(focus_distance(scene), nearest), 1e4)
    m = optics.magnification(focus)
    near, far = subject_span_m(scene, span)
    deep_mm = (far - near) * 1000
    if deep_mm > FARTHEST_MOVED_MM:
        raise ValueError(
            "what must be sharp is deeper than the camera can be moved through: focus the slices instead, or say how "
            "deep the subject is"
        )
    over = optics.airy_mm(m) / sharp.circle_mm
    if over >= 1:
        raise TooMuchDiffraction(1 / over)
    one = frame_depth(scene, optics, sharp, m).counted
    step = one * (1 - technique.overlap)
    planes = near + positions_mm(deep_mm, one, step) / 1000
    moved = planes - focus
    rail = rail_of(scene) if technique.slices == "rail" else None
    problem = rail_problem(rail, step, (planes[-1] - planes[0]) * 1000)
    if problem:
        raise ValueError(problem)
    half = one / 2000
    slices = tuple(Slice(focus_m=float(p), near_m=float(p - half), far_m=float(p + half)) for p in planes)
    return SlicePlan(slices=slices, moved_m=moved)
