"""The crop: which part of the frame becomes the picture."""

from __future__ import annotations

from typing import Annotated

from annotated_types import Ge, Gt, Le

from lucid_ridge.core.records import record

PRINT_PER_INCH = 300.0
"""Pixels per inch at which a print looks continuous at arm's length (common practice)."""


def print_side_m(pixels: float) -> float:
    """Length of a printed side at `PRINT_PER_INCH`."""
    return pixels / PRINT_PER_INCH * 0.0254


@record
class Crop:
    """Wanted crop. ``aspect`` is width over height, None for the frame's own.

    ``scale`` is the share of the largest such rectangle that is kept; the offsets move it as
    shares of the room that is left, -1 to 1.
    """

    aspect: Annotated[float, Gt(0.05), Le(20)] | None = None
    scale: Annotated[float, Ge(0.05), Le(1)] = 1.0
    offset_x: Annotated[float, Ge(-1), Le(1)] = 0.0
    offset_y: Annotated[float, Ge(-1), Le(1)] = 0.0


def crop_rectangle(crop: Crop, frame_aspect: float) -> tuple[float, float, float, float]:
    """Left, top, width and height of the crop in normalised frame coordinates."""
    aspect = crop.aspect or frame_aspect
    width = min(1.0, aspect / frame_aspect) * crop.scale
    height = min(1.0, frame_aspect / aspect) * crop.scale
    left = (1 - width) / 2 * (1 + crop.offset_x)
    top = (1 - height) / 2 * (1 + crop.offset_y)
    return left, top, width, height
