"""Panoramas: how many panels, where each points, what they stitch to, and what spoils the seams.

References
----------
.. [1] R. Szeliski, Image Alignment and Stitching: A Tutorial, 2006 (cylindrical projection).

"""

from __future__ import annotations

import math

FULL_CIRCLE = 360.0
_SLACK = 1e-9


def span_deg(from_deg: float, to_deg: float) -> float:
    """Degrees clockwise from one azimuth to another; the same azimuth twice is the full circle."""
    span = (to_deg - from_deg) % FULL_CIRCLE
    return span if span > _SLACK else FULL_CIRCLE


def panel_count(span: float, view_deg: float, overlap: float) -> int:
    """Fewest panels that cover a span: ``ceil((span - view) / (view (1 - overlap))) + 1``.

    A full circle must close: ``ceil(360 / (view (1 - overlap)))``.
    """
    step = view_deg * (1 - overlap)
    if span >= FULL_CIRCLE - _SLACK:
        return max(1, math.ceil(FULL_CIRCLE / step - _SLACK))
    return max(1, math.ceil((span - view_deg) / step - _SLACK) + 1)


def panel_centres(start: float, span: float, view_deg: float, count: int) -> tuple[float, ...]:
    """Where the panels point: evenly, the outer ones ending with the span. Not reduced to a circle."""
    if span >= FULL_CIRCLE - _SLACK:
        return tuple(start + FULL_CIRCLE * i / count for i in range(count))
    if count == 1:
        return (start + span / 2,)
    step = (span - view_deg) / (count - 1)
    return tuple(start + view_deg / 2 + step * i for i in range(count))


def narrowest_width_deg(pitch_deg: float, wide_deg: float, tall_deg: float) -> float:
    """Azimuth that a pitched frame takes in along the side where that is least, degrees.

    A point of the frame at tangents (x, y) from its middle lies at ``atan(x / (cos p - y sin p))`` beside the axis, so
    the side nearest to the horizon takes in the least: ``2 atan(x / (cos p + y |sin p|))`` [derived here].
    """
    x, y = math.tan(math.radians(wide_deg) / 2), math.tan(math.radians(tall_deg) / 2)
    pitch = math.radians(abs(pitch_deg))
    return math.degrees(2 * math.atan(x / (math.cos(pitch) + y * math.sin(pitch))))


def corner_height_deg(pitch_deg: float, tall_deg: float, beside_deg: float) -> float:
    """Altitude that a pitched frame takes in so far beside its axis, degrees.

    Along an azimuth b beside the axis a frame reaches from ``atan(cos b tan(p - t))`` to ``atan(cos b tan(p + t))``,
    t half its height [derived here]; straight up and beyond counts as there.
    """
    turn = math.cos(math.radians(beside_deg))
    edges = [min(max(abs(pitch_deg) + s * tall_deg / 2, -89.9), 89.9) for s in (1, -1)]
    high, low = (math.degrees(math.atan(turn * math.tan(math.radians(e)))) for e in edges)
    return high - low


def stitched_pixels(span: float, low_deg: float, high_deg: float, focal_px: float) -> tuple[float, float]:
    """Width and height of a cylindrical picture: an arc of the focal length across, tangents up and down."""
    high, low = math.tan(math.radians(high_deg)), math.tan(math.radians(low_deg))
    return math.radians(span) * focal_px, (high - low) * focal_px


def parallax_px(pupil_offset_m: float, turn_deg: float, near_m: float, focal_px: float) -> float:
    """Shift of a near thing against the far distance between two panels, in pixels.

    Turning by an angle about an axis at an offset moves the entrance pupil along a chord
    ``2 o sin(turn / 2)``; at a distance d that is ``chord / d`` of the focal length.
    """
    return 2 * pupil_offset_m * math.sin(math.radians(turn_deg) / 2) / near_m * focal_px


def tilted_base_px(tilt_deg: float, span: float, focal_px: float) -> float:
    """How far the horizon wanders towards the ends of a span when the base is off level, in pixels."""
    half = math.radians(min(span, 180.0) / 2)
    return math.tan(math.radians(tilt_deg)) * math.sin(half) * focal_px
