"""Explanations of framing and light."""

from __future__ import annotations

import math

import numpy as np

from lucid_ridge.core.figures import degrees_text
from lucid_ridge.core.technique.compose import separation
from lucid_ridge.core.technique.explain.parts import (
    PINHOLE,
    PRACTICE,
    Explanation,
    distance_of,
    index_of,
    made,
)
from lucid_ridge.core.technique.panorama import frame_views_deg
from lucid_ridge.core.technique.reports.panorama import focal_px, panorama_report
from lucid_ridge.core.technique.reports.view import FramingReport, framing_report
from lucid_ridge.core.technique.state import State


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
    if what == "separation":
        return made(
            "Separation in the frame",
            "least distance between projected outlines; overlapping, the least shift that parts them",
            {
                "counts as apart from": "1.5 % of the frame's height",
                "a skyline cuts": "where it passes behind a subject's middle, above a tenth of its height",
            },
            "; ".join(one.sentence for one in separation(state)) or "everything stands clear",
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
    if what in ("sky", "foreground"):
        return made(
            "Sky in the picture" if what == "sky" else "Foreground in the picture",
            "area above the horizon that nothing covers / area of the picture"
            if what == "sky"
            else "area that foreground elements cover / area of the picture",
            {"picture": f"{report.crop[2]:.1%} × {report.crop[3]:.1%} of the frame"},
            report.sky.text if what == "sky" else report.foreground.text,
            PINHOLE,
        )
    if what == "placing":
        return made(
            "Place in the picture",
            "projection of the middle, top or foot of the near face, 0 % at the left and upper edge",
            {"picture": f"{report.crop[2]:.1%} × {report.crop[3]:.1%} of the frame"},
            "as told by the answer",
            PINHOLE,
        )
    if what == "ratio":
        return made(
            "Near-far size ratio",
            "factor = (K + t) / K × O / (O + t), f in proportion to K + t",
            {"K, O": "depths of the kept and the other element", "t": "step back along the line to the kept one"},
            "as told by the answer",
            PINHOLE,
            "Found exactly through the projection, which also holds the kept element in its place.",
        )
    if what in ("distance", "bearing", "hidden", "reflection"):
        return _element(state, what, of, report)
    return None


def _element(state: State, what: str, of: str, report: FramingReport) -> Explanation:
    index, element = index_of(state, of)
    drawn = next(one for one in report.elements if one.id == of)
    if what == "hidden":
        shown = drawn.hidden.text if drawn.hidden else "0%"
        inputs = {"frame": "what lies outside it does not count"}
        formula = "area of its outline in the frame that nearer outlines cover / area of its outline in the frame"
        return made(f"Hidden of the {element.name}", formula, inputs, shown, PINHOLE)
    if what == "reflection":
        shown = drawn.reflection.text if drawn.reflection else "0%"
        return made(
            f"Reflection of the {element.name} that is seen",
            "mirror image at height 2 w − z, cut to the water and the picture, less what stands in front / whole image",
            {"w, level of the water": ", ".join(f"{e.base_m:g} m" for e in state.geometry.elements if e.silhouette == "water")},
            shown,
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


def panorama(state: State, what: str, _: str) -> Explanation | None:
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
            {**view, "span": report.span.text, "overlap asked for": f"{composition.panorama.overlap:.0%}"},
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
    return made(*table[what]) if what in table else None
