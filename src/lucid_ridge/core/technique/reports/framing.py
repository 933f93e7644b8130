"""The view, the plan from above and the side section."""

from __future__ import annotations

import math

import numpy as np

from lucid_ridge.core.figures import Figure, Units, degrees_text, distance_text, micrometres_text
from lucid_ridge.core.framing.camera import field_of_view_deg
from lucid_ridge.core.framing.crop import crop_rectangle
from lucid_ridge.core.framing.outlines import Outline
from lucid_ridge.core.framing.silhouettes import LYING
from lucid_ridge.core.light.refraction import pressure_hpa, refraction_deg
from lucid_ridge.core.optics.depth_of_field import total_blur_mm
from lucid_ridge.core.records import record
from lucid_ridge.core.technique.scene import Element, Motion, Role
from lucid_ridge.core.technique.state import State

# Distance beyond which an element takes the next paler tone, nearest tone last.
_TONE_BOUNDS_M = (3000.0, 500.0, 60.0, 4.0)
_LANDSCAPE_FROM_M = 100.0


@record
class DrawnElement:
    """An element as the view draws it, far ones first. Frame coordinates 0..1, y down.

    ``softness`` is by how much the worse of its two blurs exceeds the criterion, as a share of the
    frame width; ``tone`` 0 is the
    palest (far), 4 the darkest.
    """

    id: str
    name: str
    role: Role
    motion: Motion
    lying: bool
    in_frame: bool
    tone: int
    outlines: tuple[Outline, ...]
    anchor: tuple[float, float] | None
    softness: float
    soft: bool
    sharp_wanted: bool
    distance: Figure
    bearing: Figure
    blur: Figure


@record
class FramingReport:
    """The frame: what it takes in and where everything falls."""

    aspect: float
    horizontal_view: Figure
    vertical_view: Figure
    equivalent: Figure
    crop: tuple[float, float, float, float]
    cropped_pixels: Figure
    horizon: tuple[float, float] | None
    sun: tuple[float, float] | None
    elements: tuple[DrawnElement, ...]


@record
class PlanElement:
    """An element's foot from above: metres east and north of the standpoint."""

    id: str
    name: str
    tone: int
    lying: bool
    in_frame: bool
    foot: tuple[tuple[float, float], ...]


@record
class PlanReport:
    """From above. ``half_m`` is half the side of the square drawn; wedge and foot in metres."""

    half_m: float
    wedge: tuple[tuple[float, float], ...]
    sun: tuple[float, float] | None
    elements: tuple[PlanElement, ...]
    scale_bar_m: float
    scale_bar_text: str


@record
class SectionBox:
    """An element crossing the lens axis, in the section's metres."""

    id: str
    left: float
    right: float
    low: float
    high: float
    tone: int


@record
class SectionReport:
    """From the side along the lens axis: distance to the right, height up, metres."""

    length_m: float
    height_m: float
    camera_m: float
    camera: Figure
    reach_low_m: float
    reach_high_m: float
    reach_text: str
    axis_end: tuple[float, float]
    lower_edge_end: tuple[float, float]
    boxes: tuple[SectionBox, ...]


def _tones(distances_m: list[float]) -> list[int]:
    """Tone of each distance, 0 far to 4 near: by fixed bounds in a landscape, else by rank in depth."""
    if not distances_m:
        return []
    near, far = max(min(distances_m), 1e-3), max(distances_m)
    if far > _LANDSCAPE_FROM_M:
        return [sum(1 for bound in _TONE_BOUNDS_M if d < bound) for d in distances_m]
    span = math.log(far / near) if far > near * 1.01 else math.inf
    return [4 - round(3 * math.log(max(d, near) / near) / span) for d in distances_m]


def _away(state: State, element: Element) -> tuple[float, float]:
    """Level distance and bearing from the standpoint."""
    east = element.east_m - state.scene.composition.east_m
    north = element.north_m - state.scene.composition.north_m
    return math.hypot(east, north), math.degrees(math.atan2(east, north)) % 360


def _anchor(points: tuple[tuple[float, float], ...]) -> tuple[float, float] | None:
    """Where to pin the label: the middle of the part of the outline inside the frame."""
    inside = [(x, y) for x, y in points if 0.02 <= x <= 0.98 and 0.02 <= y <= 0.98]
    if not inside:
        return None
    xs, ys = [p[0] for p in inside], [p[1] for p in inside]
    return round((min(xs) + max(xs)) / 2, 4), round((min(ys) + max(ys)) / 2, 4)


def framing_report(state: State) -> FramingReport:
    """What the view draws."""
    scene, geometry, depth = state.scene, state.geometry, state.depth
    camera, body, units = geometry.camera, scene.kit.body, scene.units
    aspect = camera.frame_width_mm / camera.frame_height_mm
    drawn = []
    tones = _tones([_away(state, e)[0] for e in scene.composition.elements])
    for i, element in enumerate(scene.composition.elements):
        shape = geometry.outlines(i, element)
        seen = not math.isnan(geometry.near_m[i])
        away, bearing = _away(state, element)
        defocus = float(np.fmax(depth.blur_near_mm[i], depth.blur_far_mm[i])) if seen else 0.0
        blur = float(total_blur_mm(defocus, depth.airy_mm))
        drawn.append(
            (
                away + element.depth_m * (1.0 if element.silhouette in LYING else 0.0),
                DrawnElement(
                    id=element.id,
                    name=element.name,
                    role=element.role,
                    motion=element.motion,
                    lying=element.silhouette in LYING,
                    in_frame=seen,
                    tone=tones[i],
                    outlines=shape,
                    anchor=_anchor(shape[0].points) if seen and shape else None,
                    softness=max(0.0, blur - depth.criterion_mm) / camera.frame_width_mm,
                    soft=seen and element.sharp and blur > depth.criterion_mm * 1.02,
                    sharp_wanted=element.sharp,
                    distance=Figure(
                        value=away, text=distance_text(away, units), explain=f"framing.distance:{element.id}"
                    ),
                    bearing=Figure(value=bearing, text=degrees_text(bearing), explain=f"framing.bearing:{element.id}"),
                    blur=Figure(
                        value=blur * 1000 if seen else None,
                        text=micrometres_text(blur) if seen else "out of frame",
                        explain=f"depth.blur:{element.id}" if seen else "",
                    ),
                ),
            )
        )
    drawn.sort(key=lambda pair: -pair[0])
    horizontal = float(field_of_view_deg(camera.frame_width_mm, camera.image_distance_mm))
    vertical = float(field_of_view_deg(camera.frame_height_mm, camera.image_distance_mm))
    crop = crop_rectangle(scene.composition.crop, aspect)
    across, down = body.pixels_across, body.pixels_down
    megapixels = across * down * crop[2] * crop[3] / 1e6
    return FramingReport(
        aspect=aspect,
        horizontal_view=Figure(value=horizontal, text=degrees_text(horizontal, 1), explain="framing.view"),
        vertical_view=Figure(value=vertical, text=degrees_text(vertical, 1), explain="framing.view"),
        equivalent=Figure(
            value=state.equivalent_mm, text=f"{state.equivalent_mm:.0f} mm", explain="framing.equivalent"
        ),
        crop=crop,
        cropped_pixels=Figure(value=megapixels, text=f"{megapixels:.0f} MP", explain="framing.pixels"),
        horizon=camera.horizon_y(),
        sun=_sun_in_frame(state),
        elements=tuple(element for _, element in drawn),
    )


def _sun_in_frame(state: State) -> tuple[float, float] | None:
    lift = float(refraction_deg(state.sun_altitude_deg, pressure_hpa(state.scene.place.elevation_m)))
    x, y = state.geometry.camera.project_direction(state.sun_azimuth_deg, state.sun_altitude_deg + lift)
    inside = not math.isnan(x) and -0.1 <= x <= 1.1 and -0.1 <= y <= 1.1
    return (float(x), float(y)) if inside and state.sun_altitude_deg > -0.833 else None


def _round_length(length_m: float) -> float:
    """The largest of 1, 2, 5 x 10^k not above a length."""
    power = 10.0 ** math.floor(math.log10(length_m))
    return max(step * power for step in (1, 2, 5) if step * power <= length_m * 1.0001)


def _bar_text(length_m: float, units: Units) -> str:
    if units == "feet":
        return distance_text(length_m, units)
    return f"{length_m:g} m" if length_m >= 0.1 else f"{length_m * 1000:g} mm"


def plan_report(state: State) -> PlanReport:
    """The plan from above, wide enough for the subject."""
    composition, camera = state.scene.composition, state.geometry.camera
    distances = {e.id: _away(state, e)[0] for e in composition.elements}
    tones = _tones(list(distances.values()))
    subject = [distances[e.id] for e in composition.elements if e.role == "subject"]
    near = [d for d in distances.values() if d < 400]
    reach = max([*subject[:1], *(near or list(distances.values())[:1]), 0.05])
    half = 0.75 * reach * 1.15
    origin = np.array([composition.east_m, composition.north_m])
    spread = math.atan(camera.half_tangents[0])
    azimuth = math.radians(composition.azimuth_deg)
    edge = 4 * half
    wedge = ((0.0, 0.0), *(
        (edge * math.sin(azimuth + side * spread), edge * math.cos(azimuth + side * spread)) for side in (-1, 1)
    ))  # fmt: skip
    sun = math.radians(state.sun_azimuth_deg)
    bar = _round_length(half * 0.6)
    return PlanReport(
        half_m=half,
        wedge=wedge,
        sun=(math.sin(sun), math.cos(sun)) if state.sun_altitude_deg > -0.833 else None,
        elements=tuple(
            PlanElement(
                id=e.id,
                name=e.name,
                tone=tones[i],
                lying=e.silhouette in LYING,
                in_frame=not math.isnan(state.geometry.near_m[i]),
                foot=tuple((float(x), float(y)) for x, y in (state.geometry.corners_m[i][[0, 1, 5, 4], :2] - origin)),
            )
            for i, e in enumerate(composition.elements)
        ),
        scale_bar_m=bar,
        scale_bar_text=_bar_text(bar, state.scene.units),
    )


def section_report(state: State) -> SectionReport:
    """The side section: the lens axis, the lower edge of the frame and what it crosses."""
    composition, camera, units = state.scene.composition, state.geometry.camera, state.scene.units
    support, height = state.scene.kit.support, composition.camera_height_m
    seen = [float(d) for d in state.geometry.near_m if not math.isnan(d)]
    length = min(max([d for d in seen if d < 12] or seen or [3.0]) * 1.6 + 0.3, 40.0)
    azimuth = math.radians(composition.azimuth_deg)
    along = np.array([math.sin(azimuth), math.cos(azimuth)])
    across = np.array([math.cos(azimuth), -math.sin(azimuth)])
    origin = np.array([composition.east_m, composition.north_m])
    boxes = []
    tones = _tones([_away(state, e)[0] for e in composition.elements])
    for i, element in enumerate(composition.elements):
        foot = state.geometry.corners_m[i][:, :2] - origin
        if (foot @ across).min() > 0.3 * length or (foot @ across).max() < -0.3 * length:
            continue
        left, right = float((foot @ along).min()), float((foot @ along).max())
        if right <= 0 or left >= length or element.role == "sky":
            continue
        low = element.base_m - composition.ground_m
        boxes.append(
            SectionBox(
                id=element.id,
                left=max(left, 0.0),
                right=min(right, length),
                low=low,
                high=low + (0.0 if element.silhouette in LYING else element.height_m),
                tone=tones[i],
            )
        )
    pitch = math.radians(composition.pitch_deg)
    lower = pitch - math.atan(camera.half_tangents[1])
    steep = min(math.tan(lower), -1e-6) if lower < 0 else 0.0
    ground_at = min(length, height / -steep) if steep else length
    reach_text = (
        f"{support.lowest_m:.2f}–{support.highest_m:.2f} m"
        if units == "metric"
        else (f"{distance_text(support.lowest_m, units)} – {distance_text(support.highest_m, units)}")
    )
    return SectionReport(
        length_m=length,
        height_m=max(support.highest_m if state.steady else height, height, 0.2) * 1.15,
        camera_m=height,
        camera=Figure(value=height, text=distance_text(height, units)),
        reach_low_m=support.lowest_m,
        reach_high_m=support.highest_m,
        reach_text=reach_text,
        axis_end=(length, height + length * math.tan(pitch)),
        lower_edge_end=(ground_at, height + ground_at * steep),
        boxes=tuple(boxes),
    )
