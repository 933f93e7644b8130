"""A crop instead of a longer lens."""

from __future__ import annotations

import math
from dataclasses import replace

from lucid_ridge.core.camera.geometry import focus_distance
from lucid_ridge.core.camera.mounted_lens import whole_optics
from lucid_ridge.core.changes.camera_moves import SetCrop
from lucid_ridge.core.solve.common import granted, refused
from lucid_ridge.core.solve.wishes import CropInstead, Solution
from lucid_ridge.core.state.state import State

_SMALLEST_SCALE = 0.05


def crop_instead(state: State, wish: CropInstead) -> Solution:
    """The crop that takes in what the longer lens would, with the pixels and the print it leaves."""
    scene = state.scene
    settings, crop = scene.composition.settings, scene.composition.crop
    wanted, focus = wish.focal_length_mm, focus_distance(scene)
    lens = scene.kit.lens
    optics = whole_optics(lens, wanted, settings.aperture_n)
    if math.isfinite(focus) and focus * 1000 <= optics.focal_length_mm * 1.001:
        return refused("does_not_focus", focus_m=focus)
    longer = optics.perspective_mm(optics.magnification(focus))
    scale = state.geometry.camera.image_distance_mm / longer
    if scale >= crop.scale:
        return refused("takes_in_no_more")
    if scale < _SMALLEST_SCALE:
        return refused("too_little_left", most_mm=settings.focal_length_mm / _SMALLEST_SCALE)
    made = replace(crop, scale=scale)
    return granted((SetCrop(crop=made),), scale=scale)
