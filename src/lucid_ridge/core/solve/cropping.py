"""A crop instead of a longer lens."""

from __future__ import annotations

import math
from dataclasses import replace

from lucid_ridge.core.camera.geometry import focus_distance
from lucid_ridge.core.camera.mounted_lens import whole_optics
from lucid_ridge.core.changes.camera_moves import SetCrop
from lucid_ridge.core.figures import Figure, distance_text
from lucid_ridge.core.framing.crop import PRINT_PER_INCH, crop_rectangle, print_side_m
from lucid_ridge.core.solve.common import granted, refused
from lucid_ridge.core.solve.wishes import CropInstead, Fact, Solution
from lucid_ridge.core.state.state import State

_SMALLEST_SCALE = 0.05


def crop_instead(state: State, wish: CropInstead) -> Solution:
    """The crop that takes in what the longer lens would, with the pixels and the print it leaves."""
    scene = state.scene
    settings, crop, body, units = scene.composition.settings, scene.composition.crop, scene.kit.body, scene.units
    wanted, focus = wish.focal_length_mm, focus_distance(scene)
    lens = scene.kit.lens
    optics = whole_optics(lens, wanted, settings.aperture_n)
    if math.isfinite(focus) and focus * 1000 <= optics.focal_length_mm * 1.001:
        return refused(f"A {wanted:g} mm lens does not focus at {distance_text(focus, units)}.")
    longer = optics.perspective_mm(optics.magnification(focus))
    scale = state.geometry.camera.image_distance_mm / longer
    if scale >= crop.scale:
        return refused(
            f"The picture already takes in no more than {wanted:g} mm would; give a longer focal length, or widen the crop."
        )
    if scale < _SMALLEST_SCALE:
        return refused(
            f"Too little would be left of the frame; the most is {settings.focal_length_mm / _SMALLEST_SCALE:.0f} mm."
        )
    made = replace(crop, scale=scale)
    _, _, width, height = crop_rectangle(made, state.geometry.aspect)
    across, down = max(body.pixels_across, body.pixels_down), min(body.pixels_across, body.pixels_down)
    if state.geometry.aspect < 1:
        across, down = down, across
    pixels = (across * width, down * height)
    size = tuple(distance_text(print_side_m(side), units) for side in pixels)
    facts = (
        Fact(
            name="pixels left",
            figure=Figure(
                value=pixels[0] * pixels[1] / 1e6,
                text=f"{pixels[0]:.0f} × {pixels[1]:.0f}, {pixels[0] * pixels[1] / 1e6:.1f} MP",
                explain="framing.pixel_sides",
            ),
        ),
        Fact(
            name=f"print at {PRINT_PER_INCH:.0f} per inch",
            figure=Figure(value=print_side_m(pixels[0]), text=f"{size[0]} × {size[1]}", explain="framing.print"),
        ),
    )
    gives = f"The crop takes in what {wanted:g} mm would: {scale:.0%} of the frame's sides."
    if wanted <= scene.kit.lens.longest_mm:
        gives += f" The {scene.kit.lens.name} itself reaches that: zooming keeps every pixel."
    return granted((SetCrop(crop=made),), f"Crop to {wanted:g} mm", gives, facts)
