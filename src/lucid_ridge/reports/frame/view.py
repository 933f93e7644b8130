"""The view: what the frame takes in, as it is drawn."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.camera.geometry import Geometry
from lucid_ridge.core.camera.picture import foreground_share, hidden_shares, mirrors, reflections, sky_share
from lucid_ridge.core.exposure.tolerances import is_soft
from lucid_ridge.core.framing.areas import polygons
from lucid_ridge.core.framing.camera import earth_drop_m, field_of_view_deg
from lucid_ridge.core.framing.guides import GUIDE_LINES
from lucid_ridge.core.framing.outlines import Outline, as_points, project_rings
from lucid_ridge.core.framing.shadows import shadow_rings
from lucid_ridge.core.framing.silhouettes import LYING
from lucid_ridge.core.light.refraction import seen_altitude_deg
from lucid_ridge.core.model.scene import Motion, Role
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import Readout, degrees_text, distance_text, micrometres_text

# Distance beyond which an element takes the next paler tone, nearest tone last.
_TONE_BOUNDS_M = (3000.0, 500.0, 60.0, 4.0)
_LANDSCAPE_FROM_M = 100.0
# A shadow farther away than this falls on ground whose shape is not known.
_SHADOWS_WITHIN_M = 500.0
_GLOW_BEYOND = 0.35
SUN_UP_DEG = -0.833
"""Airless altitude of the sun's centre at which its upper edge rises."""

Array = NDArray[np.float64]
Ring = tuple[tuple[float, float], ...]


@record
class Mirrored:
    """What still water shows of an element: rings in the frame."""

    id: str
    tone: int
    rings: tuple[Ring, ...]


@record
class DrawnElement:
    """An element as the view draws it, far ones first. Frame coordinates 0..1, y down.

    ``softness`` is by how much the worse of its two blurs exceeds the circle of confusion, as a share of the
    frame width; ``tone`` 0 is the palest (far), 4 the darkest. ``shadow`` is what it casts on the
    ground at its foot; ``mirrored`` what it shows of others if it is still water. ``handles`` are where its foot, its top
    (the far end of what lies) and one side can be taken hold of; none for a measured ridgeline.
    """

    id: str
    name: str
    role: Role
    motion: Motion
    lying: bool
    in_frame: bool
    tone: int
    outlines: tuple[Outline, ...]
    handles: tuple[tuple[float, float], ...]
    shadow: Ring
    mirrored: tuple[Mirrored, ...]
    anchor: tuple[float, float] | None
    softness: float
    soft: bool
    sharp_wanted: bool
    distance: Readout
    bearing: Readout
    blur: Readout
    hidden: Readout | None
    reflection: Readout | None


@record
class Placed:
    """Where a reference photograph lies in the frame: its middle, sides and turn (clockwise), in frame shares."""

    photograph_id: str
    x: float
    y: float
    width: float
    height: float
    turned_deg: float
    opacity: float


@record
class FramingReport:
    """The frame: what it takes in and where everything falls.

    ``sun`` is its place where it is in the frame; ``glow`` where its light comes from, at most a
    little beyond the frame's edge, None with the sun behind the camera or down. ``guides`` are lines
    in frame coordinates.
    """

    aspect: float
    horizontal_view: Readout
    vertical_view: Readout
    equivalent: Readout
    crop: tuple[float, float, float, float]
    cropped_pixels: Readout
    sky: Readout
    foreground: Readout
    horizon: tuple[float, float] | None
    sun: tuple[float, float] | None
    glow: tuple[float, float] | None
    guides: tuple[tuple[float, float, float, float], ...]
    underlay: Placed | None
    elements: tuple[DrawnElement, ...]


def tones(distances_m: list[float]) -> list[int]:
    """Tone of each distance, 0 far to 4 near: by fixed bounds in a landscape, else by rank in depth."""
    if not distances_m:
        return []
    near, far = max(min(distances_m), 1e-3), max(distances_m)
    if far > _LANDSCAPE_FROM_M:
        return [sum(1 for bound in _TONE_BOUNDS_M if d < bound) for d in distances_m]
    span = math.log(far / near) if far > near * 1.01 else math.inf
    return [4 - round(3 * math.log(max(d, near) / near) / span) for d in distances_m]


def element_tones(geometry: Geometry) -> list[int]:
    """Tone of each element by its distance."""
    return tones([geometry.away(i)[0] for i in range(len(geometry.elements))])


def _anchor(points: Ring) -> tuple[float, float] | None:
    """Where to pin the label: the middle of the part of the outline inside the frame."""
    inside = [(x, y) for x, y in points if 0.02 <= x <= 0.98 and 0.02 <= y <= 0.98]
    if not inside:
        return None
    xs, ys = [p[0] for p in inside], [p[1] for p in inside]
    return round((min(xs) + max(xs)) / 2, 4), round((min(ys) + max(ys)) / 2, 4)


def ground_shadows(state: State) -> dict[int, Array]:
    """Outlines (K, 3) of the shadows that elements cast on level ground at their feet, by element."""
    if "rings" in state.shadows:
        return state.shadows["rings"]
    geometry, sun = state.geometry, state.shading
    casting = [
        i
        for i, e in enumerate(geometry.elements)
        if sun is not None
        and geometry.crests[i] is None
        and e.role != "sky"
        and e.silhouette not in LYING
        and e.height_m > 0
        and geometry.away(i)[0] <= _SHADOWS_WITHIN_M
    ]
    feet = geometry.corners_m[casting][:, [0, 1, 5, 4]]
    heights = np.array([geometry.elements[i].height_m for i in casting], dtype=float)
    rings = shadow_rings(feet[..., :2], heights, *(sun or (0.0, -1.0)))
    state.shadows["rings"] = {
        i: np.column_stack([ring, np.full(len(ring), foot[0, 2])])
        for i, ring, foot in zip(casting, rings, feet, strict=True)
        if len(ring) > 2
    }
    return state.shadows["rings"]


def _drawn_shadows(state: State) -> dict[int, Ring]:
    """The shadows in the frame, by element."""
    cast = ground_shadows(state)
    rings = project_rings(state.geometry.camera, list(cast.values()))
    return {i: as_points(ring) for i, ring in zip(cast, rings, strict=True) if len(ring) > 2}


def _share(value: float, explain: str) -> Readout:
    return Readout(value=value * 100, text=f"{value:.0%}", explain=explain)


def _handles(state: State) -> list[tuple[tuple[float, float], ...]]:
    """Where the foot, the top and one side of each element lie in the frame; nothing of what lies behind the camera."""
    elements = state.geometry.elements
    points = np.zeros((len(elements), 3, 3))
    for i, e in enumerate(elements):
        turned = math.radians(e.turned_deg)
        ahead = e.depth_m if e.silhouette in LYING else 0.0
        up = 0.0 if e.silhouette in LYING else e.height_m
        half = e.width_m / 2
        points[i, 0] = e.east_m, e.north_m, e.base_m
        points[i, 1] = e.east_m + ahead * math.sin(turned), e.north_m + ahead * math.cos(turned), e.base_m + up
        points[i, 2] = e.east_m + half * math.cos(turned), e.north_m - half * math.sin(turned), e.base_m
    away = np.hypot(*(points[..., :2] - np.asarray(state.geometry.camera.position_m[:2])).transpose(2, 0, 1))
    points[..., 2] -= earth_drop_m(away)
    seen = state.geometry.camera.project(points)
    # What reaches past the camera is taken hold of at its foot.
    seen = np.where(np.isnan(seen), seen[:, :1], seen)
    return [
        () if len(e.ridgeline) > 1 or np.isnan(seen[i]).any() else tuple((float(x), float(y)) for x, y in seen[i])
        for i, e in enumerate(elements)
    ]


def _elements(state: State) -> tuple[DrawnElement, ...]:
    geometry, depth, units = state.geometry, state.depth, state.scene.units
    camera = geometry.camera
    tone = element_tones(geometry)
    handles = _handles(state)
    hidden = hidden_shares(geometry)
    shadows = _drawn_shadows(state)
    shown: dict[int, tuple[Mirrored, ...]] = {}
    best: dict[int, float] = {}
    for water in mirrors(geometry):
        found = reflections(geometry, water)
        shown[water] = tuple(
            Mirrored(id=geometry.elements[r.index].id, tone=tone[r.index], rings=polygons(r.seen, geometry.aspect))
            for r in found
        )
        for r in found:
            best[r.index] = max(best.get(r.index, 0.0), r.share)
    drawn = []
    for i in geometry.far_to_near:
        element = geometry.elements[i]
        shape = geometry.outlines(i)
        seen = geometry.seen(i)
        away, bearing = geometry.away(i)
        blur = float(depth.worse.total_mm[i]) if seen else depth.airy_mm
        drawn.append(
            DrawnElement(
                id=element.id,
                name=element.name,
                role=element.role,
                motion=element.motion,
                lying=element.silhouette in LYING,
                in_frame=seen,
                tone=tone[i],
                outlines=shape,
                handles=handles[i],
                shadow=shadows.get(i, ()),
                mirrored=shown.get(i, ()),
                anchor=_anchor(shape[0].points) if seen and shape else None,
                softness=max(0.0, blur - depth.circle_of_confusion_mm) / camera.frame_width_mm if seen else 0.0,
                soft=seen and element.sharp and is_soft(blur, depth.circle_of_confusion_mm),
                sharp_wanted=element.sharp,
                distance=Readout(value=away, text=distance_text(away, units), explain=f"framing.distance:{element.id}"),
                bearing=Readout(value=bearing, text=degrees_text(bearing), explain=f"framing.bearing:{element.id}"),
                blur=Readout(
                    value=blur * 1000 if seen else None,
                    text=micrometres_text(blur) if seen else "out of frame",
                    explain=f"depth.blur:{element.id}" if seen else "",
                ),
                hidden=_share(hidden[i], f"framing.hidden:{element.id}") if i in hidden else None,
                reflection=_share(best[i], f"framing.reflection:{element.id}") if i in best else None,
            )
        )
    return tuple(drawn)


def _sun_and_glow(state: State) -> tuple[tuple[float, float] | None, tuple[float, float] | None]:
    seen = seen_altitude_deg(state.sun_altitude_deg, state.scene.place.elevation_m)
    x, y = (float(v) for v in state.geometry.camera.project_direction(state.sun_azimuth_deg, seen))
    if math.isnan(x) or state.sun_altitude_deg <= SUN_UP_DEG:
        return None, None
    inside = -0.1 <= x <= 1.1 and -0.1 <= y <= 1.1
    low, high = -_GLOW_BEYOND, 1 + _GLOW_BEYOND
    glow = (min(max(x, low), high), min(max(y, low), high))
    return (x, y) if inside else None, glow if state.shading is not None else None


def _underlay(state: State) -> Placed | None:
    """The photograph laid into the frame: true in its middle, and all over where both look the same way."""
    under, camera = state.scene.composition.underlay, state.geometry.camera
    if under is None:
        return None
    x, y = (float(v) for v in camera.project_direction(under.azimuth_deg, under.pitch_deg))
    if math.isnan(x):
        return None
    width = math.tan(math.radians(under.view_deg) / 2) / camera.half_tangents[0]
    return Placed(
        photograph_id=under.photograph_id,
        x=x,
        y=y,
        width=width,
        height=width / under.aspect * state.geometry.aspect,
        turned_deg=under.roll_deg - camera.roll_deg,
        opacity=under.opacity,
    )


_LEFT_OUT = Readout(value=None, text="")


def framing_report(state: State, shares: bool = True) -> FramingReport:
    """What the view draws; without *shares* those of sky and foreground, which it does not, are left out."""
    scene, geometry = state.scene, state.geometry
    camera, body = geometry.camera, scene.kit.body
    horizontal = float(field_of_view_deg(camera.frame_width_mm, camera.image_distance_mm))
    vertical = float(field_of_view_deg(camera.frame_height_mm, camera.image_distance_mm))
    left, top, width, height = geometry.crop
    megapixels = body.pixels_across * body.pixels_down * width * height / 1e6
    sun, glow = _sun_and_glow(state)
    return FramingReport(
        aspect=geometry.aspect,
        horizontal_view=Readout(value=horizontal, text=degrees_text(horizontal, 1), explain="framing.view"),
        vertical_view=Readout(value=vertical, text=degrees_text(vertical, 1), explain="framing.view:up"),
        equivalent=Readout(
            value=state.equivalent_mm, text=f"{state.equivalent_mm:.0f} mm", explain="framing.equivalent"
        ),
        crop=geometry.crop,
        cropped_pixels=Readout(value=megapixels, text=f"{megapixels:.0f} MP", explain="framing.pixels"),
        sky=_share(sky_share(geometry), "framing.sky") if shares else _LEFT_OUT,
        foreground=_share(foreground_share(geometry), "framing.foreground") if shares else _LEFT_OUT,
        horizon=camera.horizon_y(),
        sun=sun,
        glow=glow,
        guides=tuple(
            (left + x0 * width, top + y0 * height, left + x1 * width, top + y1 * height)
            for x0, y0, x1, y1 in GUIDE_LINES[scene.composition.guide]
        ),
        underlay=_underlay(state),
        elements=_elements(state),
    )
