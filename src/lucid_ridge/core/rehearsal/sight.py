"""What one aim of the camera sees: outlines with the roughness of real edges, roundness, and where each ray goes."""

from __future__ import annotations

import zlib
from dataclasses import dataclass, field

import cv2
import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.camera.geometry import Geometry
from lucid_ridge.core.framing.outlines import Outline
from lucid_ridge.core.framing.silhouettes import silhouette
from lucid_ridge.core.rehearsal.tints import tint_of
from lucid_ridge.core.rehearsal.window import Window

Points = NDArray[np.float64]
Array = NDArray[np.float32]

_STEP = 0.004
"""Edges are bent every so often, in frames."""
_PROFILE = 192
_FARTHEST_M = 3e5


@dataclass(frozen=True)
class Edge:
    """A roughened outline (K, 2) in frame coordinates, its paint, and the share of the box's depth where it stands."""

    points: Points
    paint: str
    away: float


@dataclass(frozen=True)
class Profile:
    """How far a solid comes towards the camera, 0 at its edge to 1, over a rectangle of the frame; and how that slopes."""

    box: tuple[float, float, float, float]
    height: Array
    slope_x: Array
    slope_y: Array


@dataclass(frozen=True, eq=False)
class Sight:
    """One aim of the camera, and what was worked out of it."""

    geometry: Geometry
    _edges: dict[int, tuple[Edge, ...]] = field(default_factory=dict, repr=False)
    _profiles: dict[int, Profile] = field(default_factory=dict, repr=False)

    def edges(self, index: int) -> tuple[Edge, ...]:
        """The outlines of an element; the same for every window."""
        if index not in self._edges:
            element = self.geometry.elements[index]
            drawn = self.geometry.outlines(index)
            curtain = self.geometry.crests[index] is not None
            shapes = () if curtain else silhouette(element.silhouette, element.id, self.geometry.shaded[index])
            # Outlines behind the camera are left out of what is drawn: then nobody knows any more which is which.
            away = [one.away for one in shapes] if len(shapes) == len(drawn) else [0.0] * len(drawn)
            rough = tint_of(element).rough
            self._edges[index] = tuple(
                Edge(_roughened(one, rough, f"{element.id}/{k}"), one.paint, far)
                for k, (one, far) in enumerate(zip(drawn, away, strict=True))
            )
        return self._edges[index]

    def profile(self, index: int) -> Profile:
        """How a solid is rounded; over the whole of it, whatever window is rendered."""
        if index not in self._profiles:
            self._profiles[index] = _profile([one.points for one in self.edges(index) if one.paint != "shade"])
        return self._profiles[index]

    def rays(self, window: Window) -> tuple[Array, Array]:
        """Tangents right of and below the axis of a window's columns and rows."""
        half_x, half_y = self.geometry.camera.half_tangents
        return (
            ((window.columns - 0.5) * 2 * half_x).astype(np.float32),
            ((window.rows - 0.5) * 2 * half_y).astype(np.float32),
        )

    def plane_depth(self, window: Window, level_m: float) -> Array:
        """Depth along the axis from the entrance pupil at which each ray meets a level, (rows, columns); far where it never does."""
        camera = self.geometry.camera
        across, down = self.rays(window)
        axes = camera.axes.astype(np.float32)
        rises = axes[0, 2] * across[None, :] + axes[1, 2] * down[:, None] + axes[2, 2]
        drop = np.float32(level_m - camera.position_m[2])
        with np.errstate(divide="ignore", invalid="ignore"):
            depth = drop / rises
        return np.where((depth > 0) & (depth < _FARTHEST_M), depth, np.float32(_FARTHEST_M)).astype(np.float32)


def _roughened(outline: Outline, rough: float, seed: str) -> Points:
    """An outline bent at random, in or out alike, by a share of its own size; the same for the same *seed*."""
    points = np.array(outline.points)
    if not rough or len(points) < 3:
        return points
    following = np.roll(points, -1, axis=0)
    sides = np.hypot(*(following - points).T)
    parts = np.clip(np.ceil(sides / _STEP), 1, 400).astype(int)
    at = np.concatenate([np.arange(n) / n for n in parts])
    which = np.repeat(np.arange(len(points)), parts)
    dense = points[which] + (following - points)[which] * at[:, None]
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(dense, axis=0).T))])
    size = float(np.ptp(points, axis=0).clip(0, 1).mean())
    rng = np.random.default_rng(zlib.crc32(seed.encode()))
    bent = np.zeros(len(dense))
    for waves in (14, 31, 67, 139):
        phase, strong = rng.random(2)
        bent += (0.6 + 0.4 * strong) * np.sin(2 * np.pi * (along / max(size, 1e-9) * waves / 6 + phase)) / waves**0.7
    ahead = np.roll(dense, -1, axis=0) - np.roll(dense, 1, axis=0)
    normal = np.column_stack([-ahead[:, 1], ahead[:, 0]]) / np.maximum(np.hypot(*ahead.T), 1e-12)[:, None]
    return np.asarray(dense + normal * (bent * rough * size * 6)[:, None])


def _profile(polygons: list[Points]) -> Profile:
    everything = np.concatenate(polygons)
    low, high = everything.min(axis=0).clip(-0.6, 1.6), everything.max(axis=0).clip(-0.6, 1.6)
    span = np.maximum(high - low, 1e-6)
    scale = (_PROFILE - 8) / span
    mask = np.zeros((_PROFILE, _PROFILE), np.uint8)
    for one in polygons:
        cv2.fillPoly(
            mask, [np.round(((one - low) * scale + 4) * 16).clip(-(2**24), 2**24).astype(np.int32)], 255, shift=4
        )
    inner = cv2.distanceTransform(mask, cv2.DIST_L2, 5)
    share = inner / max(float(inner.max()), 1e-6)
    height = cv2.GaussianBlur(np.sqrt(1 - (1 - share) ** 2).astype(np.float32), (0, 0), 3)
    slope_y, slope_x = np.gradient(height)
    wide, tall = (float(v) for v in _PROFILE / scale)
    box = (float(low[0] - 4 / scale[0]), float(low[1] - 4 / scale[1]), wide, tall)
    return Profile(box, height, (slope_x * 14).astype(np.float32), (slope_y * 14).astype(np.float32))


def looked_up(profile: Profile, values: Array, window: Window) -> Array:
    """Values of a profile at a window's pixels, (rows, columns)."""
    left, top, width, height = profile.box
    x = (window.columns - left) / width * values.shape[1] - 0.5
    y = (window.rows - top) / height * values.shape[0] - 0.5
    grid = (
        np.broadcast_to(x, window.shape).astype(np.float32),
        np.broadcast_to(y[:, None], window.shape).astype(np.float32),
    )
    return np.asarray(cv2.remap(values, *grid, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE), dtype=np.float32)
