"""The panels of a composition: which way each points, and which is the brightest."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Annotated, Literal

import numpy as np
from annotated_types import Ge, Le, MaxLen, MinLen
from numpy.typing import NDArray

from lucid_ridge.core.camera.mounted_lens import optics_of
from lucid_ridge.core.camera.ridgeline import ridge_points_m
from lucid_ridge.core.framing.boxes import box_corners
from lucid_ridge.core.framing.camera import Camera, field_of_view_deg, frame_sides_mm
from lucid_ridge.core.framing.panels import corner_height_deg, narrowest_width_deg, panel_centres, panel_count, span_deg
from lucid_ridge.core.model.kit import Kit
from lucid_ridge.core.model.scene import Composition, Element, PanelReading, Panorama
from lucid_ridge.core.records import Identifier, record

Array = NDArray[np.float64]

MOST_PANELS = 200


@record
class SpanPanorama:
    """Make a panorama that takes in these elements, with a margin around them."""

    kind: Literal["span"] = "span"
    element_ids: Annotated[tuple[Identifier, ...], MinLen(1), MaxLen(500)]
    margin_deg: Annotated[float, Ge(0), Le(45)] = 3.0


@dataclass(frozen=True)
class Panel:
    """One panel: number in shooting order, row from the top and column from the left, and its aim."""

    number: int
    row: int
    column: int
    azimuth_deg: float
    pitch_deg: float


def frame_views_deg(composition: Composition, kit: Kit) -> tuple[float, float]:
    """What one panel takes in across and up, degrees."""
    body = kit.body
    upright = composition.orientation == "portrait"
    width, height = frame_sides_mm(body.sensor_width_mm, body.sensor_height_mm, upright)
    focus, optics = composition.settings.focus_m, optics_of(kit.lens, composition.settings)
    image = optics.perspective_mm(optics.magnification(math.inf if focus is None else focus))
    return float(field_of_view_deg(width, image)), float(field_of_view_deg(height, image))


@dataclass(frozen=True)
class Grid:
    """Rows and columns of a panorama, counted before any panel is laid out: pitch of each row, columns and their view."""

    pitches_deg: tuple[float, ...]
    columns: int
    wide_deg: float

    @property
    def count(self) -> int:
        """How many panels that makes."""
        return len(self.pitches_deg) * self.columns


@lru_cache(maxsize=256)
def _grid(panorama: Panorama, pitch_deg: float, views: tuple[float, float]) -> Grid:
    wide, tall = views
    low, high = panorama.bottom_deg, panorama.top_deg
    span = span_deg(panorama.from_deg, panorama.to_deg)
    if low is None or high is None or high - low <= tall:
        pitches: tuple[float, ...] = (pitch_deg if low is None or high is None else (low + high) / 2,)
    else:
        # Where two panels of a row meet, their upper and lower edges have come down towards the horizon.
        steepest = max(abs(low + tall / 2), abs(high - tall / 2))
        corner = corner_height_deg(steepest, tall, min(wide * (1 - panorama.overlap), span) / 2)
        count = panel_count(high - low, corner, panorama.overlap)
        pitches = panel_centres(low, high - low, corner, min(count, MOST_PANELS + 1))[::-1]
    # The side of a frame that lies nearest to the horizon takes in the least of the way round.
    least = min(narrowest_width_deg(pitch, wide, tall) for pitch in pitches)
    return Grid(pitches, panel_count(span, least, panorama.overlap), least)


def panel_grid(composition: Composition, kit: Kit) -> Grid | None:
    """Rows and columns of a composition's panorama; None when switched off."""
    if not composition.panorama.on:
        return None
    return _grid(composition.panorama, composition.pitch_deg, frame_views_deg(composition, kit))


def turns_of(composition: Composition, kit: Kit) -> int:
    """How many frames of different aim a composition takes: the panels of its panorama, or the one frame."""
    grid = panel_grid(composition, kit)
    return grid.count if grid else 1


def panels(composition: Composition, kit: Kit) -> tuple[Panel, ...]:
    """Every panel in shooting order: row by row from the top, to and fro. None when switched off.

    At most `MOST_PANELS`; what takes more is refused before, see `check`.
    """
    grid = panel_grid(composition, kit)
    return () if grid is None or grid.count > MOST_PANELS else _panels(composition.panorama, grid)


@lru_cache(maxsize=64)
def _panels(panorama: Panorama, grid: Grid) -> tuple[Panel, ...]:
    span = span_deg(panorama.from_deg, panorama.to_deg)
    centres = panel_centres(panorama.from_deg, span, grid.wide_deg, grid.columns)
    found: list[Panel] = []
    for row, pitch in enumerate(grid.pitches_deg):
        columns = range(grid.columns) if row % 2 == 0 else reversed(range(grid.columns))
        found += [Panel(len(found) + i + 1, row, c, centres[c] % 360, pitch) for i, c in enumerate(columns)]
    return tuple(found)


def panel_cameras(composition: Composition, kit: Kit, camera: Camera) -> list[Camera]:
    """The camera turned to each panel; the camera alone where there is no panorama."""
    turned = [replace(camera, azimuth_deg=one.azimuth_deg, pitch_deg=one.pitch_deg) for one in panels(composition, kit)]
    return turned or [camera]


def brightest_reading(composition: Composition) -> PanelReading | None:
    """The brightest reading of the panorama; None without one."""
    panorama = composition.panorama
    return max(panorama.readings, key=lambda r: r.ev100, default=None) if panorama.on else None


def _directions(element: Element, composition: Composition) -> tuple[Array, Array]:
    """Bearings and altitudes of an element's corners from the lens, degrees."""
    points = ridge_points_m(element)
    if points is None:
        arrays = [
            np.array([float(v)]) for v in (element.turned_deg, element.width_m, element.depth_m, element.height_m)
        ]
        points = box_corners(np.array([[element.east_m, element.north_m, element.base_m]], dtype=float), *arrays)[0]
    lens = np.array([composition.east_m, composition.north_m, composition.ground_m + composition.camera_height_m])
    offset = points - lens
    away = np.hypot(offset[:, 0], offset[:, 1])
    return np.degrees(np.arctan2(offset[:, 0], offset[:, 1])), np.degrees(np.arctan2(offset[:, 2], away))


def spanned(composition: Composition, kit: Kit, change: SpanPanorama) -> Composition:
    """The composition with its panorama set to take in the elements; more rows where one is not tall enough."""
    chosen = [e for e in composition.elements if e.id in change.element_ids]
    if not chosen:
        return composition
    directions = [_directions(e, composition) for e in chosen]
    bearings = np.radians(np.concatenate([b for b, _ in directions]))
    middle = math.degrees(math.atan2(float(np.sin(bearings).mean()), float(np.cos(bearings).mean())))
    relative = (np.degrees(bearings) - middle + 180) % 360 - 180
    first, last = float(relative.min()) - change.margin_deg, float(relative.max()) + change.margin_deg
    altitudes = np.concatenate([a for _, a in directions])
    low, high = float(altitudes.min()) - change.margin_deg, float(altitudes.max()) + change.margin_deg
    _, tall = frame_views_deg(composition, kit)
    fits = high - low <= tall
    full = last - first >= 359
    panorama = replace(
        composition.panorama,
        on=True,
        from_deg=round((middle + first) % 360, 1),
        to_deg=round((middle + (first if full else last)) % 360, 1),
        bottom_deg=None if fits else round(max(low, -89.0), 1),
        top_deg=None if fits else round(min(high, 89.0), 1),
    )
    return replace(composition, panorama=panorama)
