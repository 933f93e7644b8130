"""Camera and elements of a scene in the landscape, and what each covers in the frame."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from lucid_ridge.core.camera.mounted_lens import optics_of
from lucid_ridge.core.camera.panorama import panel_cameras
from lucid_ridge.core.camera.ridgeline import ridge_points_m
from lucid_ridge.core.framing.areas import areas_covered
from lucid_ridge.core.framing.boxes import box_corners, depths_in_any, visible_depths
from lucid_ridge.core.framing.camera import Camera, earth_drop_m, frame_sides_mm
from lucid_ridge.core.framing.crop import crop_rectangle
from lucid_ridge.core.framing.outlines import (
    Outline,
    as_points,
    curtain,
    project_rings,
    project_shapes,
    shapes_in_space,
)
from lucid_ridge.core.framing.reflection import mirrored
from lucid_ridge.core.framing.shadows import shaded_side
from lucid_ridge.core.framing.silhouettes import LYING, Paint, ShadedSide
from lucid_ridge.core.model.kit import Kit
from lucid_ridge.core.model.scene import Composition, Element, Scene

Array = NDArray[np.float64]

# A ridgeline's curtain is given this depth, so that it counts as a solid.
_CURTAIN_M = 1e-3
# As many as one evaluation tries; a solver goes through more without needing them again.
_REMEMBERED = 32


@dataclass(frozen=True, eq=False)
class Geometry:
    """Camera and elements; each is itself alone, so that what follows from it can be remembered by it.

    Arrays are by element in the scene's order; depths along the axis NaN out of every frame. The camera stands where
    its entrance pupil is; depths count from the lens's principal plane, ``pupil_ahead_m`` behind that.

    ``corners_m`` (N, 8, 3) bounds each element; ``middle_m`` (N, 2) is the point that its bearing and
    distance are told of; ``crests`` holds the ridgelines' points (K, 3), None for boxes.
    """

    camera: Camera
    aspect: float
    crop: tuple[float, float, float, float]
    elements: tuple[Element, ...]
    corners_m: Array
    crests: tuple[Array | None, ...]
    middle_m: Array
    near_m: Array
    far_m: Array
    middle_y: Array
    shaded: tuple[ShadedSide, ...]
    pupil_ahead_m: float
    _shapes: dict[int, tuple[tuple[Paint, Array], ...]] = field(default_factory=dict, compare=False, repr=False)

    @property
    def picture_mm(self) -> tuple[float, float]:
        """Sides on the sensor of the picture after the crop."""
        return self.camera.frame_width_mm * self.crop[2], self.camera.frame_height_mm * self.crop[3]

    def seen(self, index: int) -> bool:
        """Whether any of an element is in the frame."""
        return not math.isnan(self.near_m[index])

    @cached_property
    def _away(self) -> list[tuple[float, float]]:
        offset = self.middle_m - np.asarray(self.camera.position_m[:2])
        distance = np.hypot(offset[:, 0], offset[:, 1])
        bearing = np.degrees(np.arctan2(offset[:, 0], offset[:, 1])) % 360
        return list(zip(distance.tolist(), bearing.tolist(), strict=True))

    def away(self, index: int) -> tuple[float, float]:
        """Level distance and bearing of an element from the standpoint."""
        return self._away[index]

    def top_of(self, index: int) -> tuple[float, float]:
        """Bearing of an element, and altitude of its highest point as if that stood over its middle, degrees."""
        distance, bearing = self.away(index)
        crest = self.crests[index]
        points = self.corners_m[index] if crest is None else crest
        rise = float(points[:, 2].max()) - self.camera.position_m[2]
        return bearing, math.degrees(math.atan2(rise, max(distance, 0.01)))

    def shapes(self, index: int) -> tuple[tuple[Paint, Array], ...]:
        """Outlines of an element in the landscape, each point lowered by the Earth's curvature."""
        if index not in self._shapes:
            crest, element = self.crests[index], self.elements[index]
            if crest is not None:
                self._shapes[index] = curtain(crest, element.base_m)
            else:
                flat = self.corners_m[index].copy()
                drops = earth_drop_m(np.hypot(*(flat[:, :2] - np.asarray(self.camera.position_m[:2])).T))
                flat[:, 2] -= drops - drops[:2].mean()
                self._shapes[index] = shapes_in_space(element.silhouette, element.id, flat, self.shaded[index])
        return self._shapes[index]

    @cached_property
    def _drawn(self) -> list[tuple[Outline, ...]]:
        shapes = [self.shapes(i) for i in range(len(self.elements))]
        rings = project_rings(self.camera, [points for one in shapes for _, points in one])
        found, start = [], 0
        for one in shapes:
            own = zip(one, rings[start : start + len(one)], strict=True)
            start += len(one)
            found.append(tuple(Outline(points=as_points(r), paint=p) for (p, _), r in own if len(r) > 2))
        return found

    def outlines(self, index: int) -> tuple[Outline, ...]:
        """Projected silhouette of an element; all are drawn once for view, separation and areas."""
        return self._drawn[index]

    @cached_property
    def _areas(self) -> list[BaseGeometry]:
        return areas_covered(self._drawn, self.aspect)

    def area(self, index: int) -> BaseGeometry:
        """What an element covers, in frame heights, whether or not something hides it."""
        return self._areas[index]

    def mirror(self, index: int, level_m: float) -> tuple[Outline, ...]:
        """Projected mirror image of an element in level water."""
        return project_shapes(self.camera, mirrored(self.shapes(index), level_m, self.camera.position_m))

    @cached_property
    def far_to_near(self) -> tuple[int, ...]:
        """Elements in the order of painting: what lies counts by its far end, so that others stand on it."""
        reach = [self.away(i)[0] + (e.depth_m if e.silhouette in LYING else 0.0) for i, e in enumerate(self.elements)]
        return tuple(sorted(range(len(self.elements)), key=lambda i: -reach[i]))


def focus_distance(scene: Scene) -> float:
    """Focus in metres from the lens, infinity as inf."""
    focus = scene.composition.settings.focus_m
    return math.inf if focus is None else focus


def scene_camera(scene: Scene) -> Camera:
    """The camera of a scene; focused close it takes in less."""
    return camera_of(scene.composition, scene.kit)


def camera_of(composition: Composition, kit: Kit) -> Camera:
    """The camera of a composition with the kit as it is used; focused close it takes in less."""
    body, focus = kit.body, composition.settings.focus_m
    upright = composition.orientation == "portrait"
    width, height = frame_sides_mm(body.sensor_width_mm, body.sensor_height_mm, upright)
    optics = optics_of(kit.lens, composition.settings)
    return Camera(
        position_m=(
            composition.east_m,
            composition.north_m,
            composition.ground_m + composition.camera_height_m,
        ),
        azimuth_deg=composition.azimuth_deg,
        pitch_deg=composition.pitch_deg,
        roll_deg=composition.roll_deg,
        image_distance_mm=optics.perspective_mm(optics.magnification(math.inf if focus is None else focus)),
        frame_width_mm=width,
        frame_height_mm=height,
    )


def crest_m(element: Element, camera: Camera) -> Array | None:
    """Points (K, 3) of a ridgeline in east-north-up, lowered by the Earth's curvature; None for a box."""
    points = ridge_points_m(element)
    if points is not None:
        away = np.hypot(points[:, 0] - camera.position_m[0], points[:, 1] - camera.position_m[1])
        points[:, 2] -= earth_drop_m(away)
    return points


def _segments(crest: Array, foot_m: float) -> Array:
    """Each stretch of a ridgeline as a thin upright box, (K - 1, 8, 3)."""
    start, end = crest[:-1], crest[1:]
    along = end[:, :2] - start[:, :2]
    length = np.hypot(along[:, 0], along[:, 1])
    top = np.maximum(start[:, 2], end[:, 2])
    low = np.minimum(foot_m, np.minimum(start[:, 2], end[:, 2]))
    middle = np.column_stack([(start[:, :2] + end[:, :2]) / 2, low])
    turned = np.degrees(np.arctan2(along[:, 0], along[:, 1])) - 90
    return box_corners(middle, turned, length, np.full(len(length), _CURTAIN_M), top - low)


def _depths_in_any(cameras: tuple[Camera, ...], corners: Array) -> tuple[Array, Array]:
    """Least and greatest depth of each box over the frames of a panorama, or in the one frame there is."""
    return visible_depths(cameras[0], corners) if len(cameras) == 1 else depths_in_any(cameras, corners)


def build_geometry(scene: Scene, sun: tuple[float, float] | None = None) -> Geometry:
    """Camera and elements of a scene. *sun* is azimuth and altitude where it casts shade."""
    camera, composition = scene_camera(scene), scene.composition
    crop = crop_rectangle(composition.crop, camera.frame_width_mm / camera.frame_height_mm)
    cameras = tuple(panel_cameras(composition, scene.kit, camera))
    ahead = optics_of(scene.kit.lens, composition.settings).pupil_ahead_m
    return _geometry(camera, cameras, crop, composition.elements, None if sun is None else sun[0], ahead)


@lru_cache(maxsize=_REMEMBERED)
def _geometry(
    camera: Camera,
    cameras: tuple[Camera, ...],
    crop: tuple[float, float, float, float],
    elements: tuple[Element, ...],
    sun_azimuth_deg: float | None,
    pupil_ahead_m: float,
) -> Geometry:
    """The geometry of these cameras and elements. Remembered: most changes move neither."""
    aspect = camera.frame_width_mm / camera.frame_height_mm
    if not elements:
        none = np.empty(0)
        return Geometry(
            camera, aspect, crop, (), np.empty((0, 8, 3)), (), np.empty((0, 2)), none, none, none, (), pupil_ahead_m
        )
    table = np.array(
        [[e.east_m, e.north_m, e.base_m, e.turned_deg, e.width_m, e.depth_m, e.height_m] for e in elements],
        dtype=float,
    )
    foot = table[:, :3].copy()
    foot[:, 2] -= earth_drop_m(np.hypot(foot[:, 0] - camera.position_m[0], foot[:, 1] - camera.position_m[1]))
    corners = box_corners(foot, table[:, 3], table[:, 4], table[:, 5], table[:, 6])
    near, far = _depths_in_any(cameras, corners)
    middle = foot[:, :2].copy()
    low = corners[:, :4].mean(axis=1)
    crests = tuple(crest_m(e, camera) for e in elements)
    for i, crest in enumerate(crests):
        if crest is None:
            continue
        stretches = _segments(crest, elements[i].base_m)
        nears, fars = _depths_in_any(cameras, stretches)
        seen = ~np.isnan(nears)
        near[i], far[i] = (nears[seen].min(), fars[seen].max()) if seen.any() else (np.nan, np.nan)
        middle[i] = crest[len(crest) // 2, :2]
        low[i] = crest.mean(axis=0)
        corners[i] = stretches[len(stretches) // 2]
    middle_y = np.clip(np.nan_to_num(camera.project(low)[:, 1], nan=0.5), 0.0, 1.0)
    bearings = np.degrees(np.arctan2(middle[:, 0] - camera.position_m[0], middle[:, 1] - camera.position_m[1]))
    shaded: tuple[ShadedSide, ...] = tuple(
        "" if sun_azimuth_deg is None else shaded_side(sun_azimuth_deg, bearing) for bearing in bearings.tolist()
    )
    near, far = near + pupil_ahead_m, far + pupil_ahead_m
    return Geometry(camera, aspect, crop, elements, corners, crests, middle, near, far, middle_y, shaded, pupil_ahead_m)
