"""Explanations of framing and light."""

from __future__ import annotations

import math
from typing import cast

import numpy as np

from lucid_ridge.core.camera.panorama import frame_views_deg
from lucid_ridge.core.camera.picture import foreground_share, reflection_share
from lucid_ridge.core.exposure.tolerances import TILT_DEG
from lucid_ridge.core.framing.crop import print_side_m
from lucid_ridge.core.framing.separation import gap
from lucid_ridge.core.solve.common import anchor_point, in_picture
from lucid_ridge.core.solve.wishes import AnchorPart
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.explanation import (
    PINHOLE,
    PRACTICE,
    Explanation,
    distance_of,
    index_of,
    made,
)
from lucid_ridge.reports.figures import degrees_text
from lucid_ridge.reports.frame.panorama import focal_px, panorama_report
from lucid_ridge.reports.frame.view import FramingReport, framing_report


# Long: one row for each number that is explained.
def framing(state: State, what: str, of: str) -> Explanation | None:
    """The explanation of one framing figure, None for an unknown key."""
    camera, composition = state.geometry.camera, state.scene.composition
    report = framing_report(state)
    if what == "view":
        return made(
            "Field of view",
            "2 atan(w / 2v)",
            {
                "w, frame": f"{camera.frame_width_mm:g} × {camera.frame_height_mm:g} mm",
                "v, image distance at this focus": f"{camera.image_distance_mm:.2f} mm",
            },
            f"{report.horizontal_view.text} × {report.vertical_view.text}",
            PINHOLE,
            "Focused close, the lens moves out and takes in less.",
        )
    if what == "tilt":
        return made(
            "Tilt of the horizon",
            "the camera's roll about its axis",
            {"seen from": degrees_text(TILT_DEG, 1)},
            degrees_text(abs(composition.roll_deg), 1),
            PRACTICE,
            "Looking far down, or with no horizon in the picture, a roll is not seen as a tilt.",
        )
    if what in ("gap", "angle", "pair"):
        return made(
            "Separation in the frame",
            "least distance between projected outlines; overlapping, the least shift that parts them",
            {
                "between": _between(state, what, of),
                "counts as apart from": "1.5 % of the frame's height",
                "a skyline cuts": "where it passes behind a subject's middle, above a tenth of its height",
            },
            _pair_text(state, of) if what == "pair" else "",
            PINHOLE,
            "Silhouettes are drawn to fill the boxes you gave: measure those well.",
        )
    if what == "equivalent":
        body = state.scene.kit.body
        return made(
            "Full-frame equivalent focal length",
            "f × 43.27 mm / diagonal",
            {
                "f": f"{composition.settings.focal_length_mm:g} mm",
                "diagonal": f"{math.hypot(body.sensor_width_mm, body.sensor_height_mm):.2f} mm",
            },
            report.equivalent.text,
            PRACTICE,
        )
    if what == "pixels":
        body = state.scene.kit.body
        return made(
            "Pixels left after the crop",
            "across × down × share of width × share of height",
            {
                "sensor": f"{body.pixels_across} × {body.pixels_down}",
                "crop": f"{report.crop[2]:.1%} × {report.crop[3]:.1%}",
            },
            report.cropped_pixels.text,
            "geometry",
        )
    if what in ("pixel_sides", "print"):
        body, (width, height) = state.scene.kit.body, report.crop[2:]
        across, down = sorted((body.pixels_across, body.pixels_down), reverse=state.geometry.aspect >= 1)
        pixels = (across * width, down * height)
        size = " × ".join(distance_of(state, print_side_m(side)) for side in pixels)
        return made(
            "Pixels and print after the crop", "sensor's pixels × share of each side; print at 300 per inch",
            {"sensor": f"{body.pixels_across} × {body.pixels_down}", "crop": f"{width:.1%} × {height:.1%}"},
            size if what == "print" else f"{pixels[0]:.0f} × {pixels[1]:.0f}, {pixels[0] * pixels[1] / 1e6:.1f} MP", "geometry",
        )  # fmt: skip
    if what in ("sky", "foreground", "foreground_share"):
        return made(
            "Sky in the picture" if what == "sky" else "Foreground in the picture",
            "area above the horizon that nothing covers / area of the picture"
            if what == "sky"
            else "area that foreground elements cover / area of the picture",
            {"picture": f"{report.crop[2]:.1%} × {report.crop[3]:.1%} of the frame"},
            report.sky.text
            if what == "sky"
            else report.foreground.text
            if what == "foreground"
            else f"{foreground_share(state.geometry):.1%}",
            PINHOLE,
        )
    if what == "height":
        index, element = index_of(state, of)
        ends = [anchor_point(state.geometry, index, part)[None] for part in ("foot", "top")]
        foot, top = (float(state.geometry.camera.project(end)[0, 1]) for end in ends)
        return made(
            f"Height of the {element.name} in the frame", "projection of its top less that of its foot", {}, f"{abs(top - foot):.1%}", PINHOLE,
            "Near against far changes by (K + t) / K × O / (O + t), K and O the depths of the two and t the step back.",
        )  # fmt: skip
    if what == "placing":
        return made(
            "Place in the picture",
            "projection of the middle, top or foot of the near face, 0 % at the left and upper edge",
            {"picture": f"{report.crop[2]:.1%} × {report.crop[3]:.1%} of the frame"},
            _placed_text(state, of),
            PINHOLE,
        )
    if what in ("distance", "bearing", "hidden", "reflection", "reflection_share"):
        return _element(state, what, of, report)
    return None


def _pair_text(state: State, of: str) -> str:
    """The gap between two elements, named by their ids."""
    first, _, second = of.partition(" ")
    areas = [state.geometry.area(index_of(state, one)[0]) for one in (first, second)]
    return f"{gap(*areas) * 100:.1f} %"


def _between(state: State, what: str, of: str) -> str:
    """Names of what a separation is between; the keys of meetings begin with their kind."""
    ids = of.split(" ")
    kind = "" if what == "pair" else f" ({ids.pop(0)})"
    return " and ".join(index_of(state, one)[1].name for one in ids) + kind


def _placed_text(state: State, of: str) -> str:
    """Where a part of an element, named by its id and the part, falls in the picture."""
    identity, _, part = of.rpartition(" ")
    index, _ = index_of(state, identity)
    x, y = in_picture(state.geometry, anchor_point(state.geometry, index, cast(AnchorPart, part)))
    return f"{x:.1%} across, {y:.1%} down"


def _element(state: State, what: str, of: str, report: FramingReport) -> Explanation:
    index, element = index_of(state, of)
    drawn = next(one for one in report.elements if one.id == of)
    if what == "hidden":
        shown = drawn.hidden.text if drawn.hidden else "0%"
        inputs = {"frame": "what lies outside it does not count"}
        formula = "area of its outline in the frame that nearer outlines cover / area of its outline in the frame"
        return made(f"Hidden of the {element.name}", formula, inputs, shown, PINHOLE)
    if what in ("reflection", "reflection_share"):
        shown = drawn.reflection.text if drawn.reflection else "0%"
        return made(
            f"Reflection of the {element.name} that is seen",
            "mirror image at height 2 w − z, cut to the water and the picture, less what stands in front / whole image",
            {"w, level of the water": ", ".join(f"{e.base_m:g} m" for e in state.geometry.elements if e.silhouette == "water")},
            f"{reflection_share(state.geometry, index):.1%}" if what == "reflection_share" else shown,
            "plane mirror: angle of reflection equals angle of incidence",
            "For still water. Wind breaks it.",
        )  # fmt: skip
    camera = state.geometry.camera
    east, north = state.geometry.middle_m[index] - np.asarray(camera.position_m[:2])
    offset = {"east of the standpoint": f"{east:.2f} m", "north of the standpoint": f"{north:.2f} m"}
    if what == "distance":
        result = distance_of(state, math.hypot(east, north))
        return made(f"Distance of the {element.name}", "√(east² + north²), level", offset, result, "geometry")
    result = degrees_text(math.degrees(math.atan2(east, north)) % 360)
    return made(f"Bearing of the {element.name}", "atan2(east, north) from true north", offset, result, "geometry")


def panorama(state: State, what: str, of: str) -> Explanation | None:
    """The explanation of one panorama figure, None for an unknown key or without a panorama."""
    report, composition = panorama_report(state), state.scene.composition
    if report is None:
        return None
    wide, tall = frame_views_deg(composition, state.scene.kit)
    view = {"view of one panel": f"{degrees_text(wide, 1)} × {degrees_text(tall, 1)}"}
    offset = {"o, entrance pupil from the axis": f"{composition.panorama.pupil_offset_mm:g} mm"}
    table = {
        "panels": (
            "Panels of the panorama", "⌈(span − view) / (view × (1 − overlap))⌉ + 1, then spread evenly over the span",
            {**({"panel": of} if of else {}), **view, "span": report.span.text, "overlap asked for": f"{composition.panorama.overlap:.0%}"},
            f"{report.count.text}, a turn of {report.step.text}, overlap {report.overlap.text}", "geometry", "",
        ),
        "stitched": (
            "Stitched picture", "span in radians × v; v × (tan top − tan bottom), in pixels; print at 300 per inch",
            {**view, "v, image distance": f"{focal_px(state):.0f} px"}, report.stitched.text,
            "R. Szeliski, Image Alignment and Stitching, 2006 (cylinder)", "",
        ),
        "parallax": (
            "Shift of the nearest thing at a seam", "2 o sin(turn / 2) / D × v", {**offset, "turn": report.step.text},
            report.parallax.text, "geometry", "Up to two pixels are lost in blending (common practice).",
        ),
        "base": (
            "Horizon lost to a base one degree off level", "tan 1° × sin(span / 2) × v", {"span": report.span.text},
            report.base.text, "geometry", "",
        ),
    }  # fmt: skip
    same = {"panel": "panels", "span": "panels", "step": "panels", "overlap": "panels", "print": "stitched"}
    found = table.get(same.get(what, what))
    return None if found is None else made(*found)
