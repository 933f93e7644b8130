"""A rehearsal: the frames of a sequence one by one, what is merged from them, and any piece at the sensor's own pixels."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import cached_property

import cv2
import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.optics.depth_of_field import total_blur_mm
from lucid_ridge.core.rehearsal.exposing import Stage, gains_of
from lucid_ridge.core.rehearsal.layers import Layer
from lucid_ridge.core.rehearsal.mishaps import Mishap, with_mishap
from lucid_ridge.core.rehearsal.movement import SWAYS_HZ, pixels_per_s
from lucid_ridge.core.rehearsal.proof import Merging, fused
from lucid_ridge.core.rehearsal.sensor import Sensor, blocked, clipped, developed, histogram, read_out, sensor_of
from lucid_ridge.core.rehearsal.shots import Shot, graduated_rows, shots_of
from lucid_ridge.core.rehearsal.sight import Sight
from lucid_ridge.core.rehearsal.window import Window, picture_window, sensor_window
from lucid_ridge.core.state.state import State

Picture = NDArray[np.uint8]
Mask = NDArray[np.bool_]
Array = NDArray[np.float32]

_PAD_PX = 40
_MOST_PAD_PX = 240
_SOFT = 1.05
_GHOST_PX = 1.0
_ALIGNED_PX = 0.1


@dataclass(frozen=True, eq=False)
class Frame:
    """A frame as it comes out: the picture (rows, columns, 3), what is clipped and blocked in it, and its histogram (3, 64)."""

    shot: Shot
    picture: Picture
    clipped: Mask
    blocked: Mask
    histogram: NDArray[np.int64]

    @property
    def clipped_share(self) -> float:
        """Share of the picture in which a channel is full."""
        return float(self.clipped.mean())

    @property
    def blocked_share(self) -> float:
        """Share of the picture that is too dark for detail."""
        return float(self.blocked.mean())


@dataclass(frozen=True, eq=False)
class Proof:
    """What is merged from the frames of one aim, and where that fails, each (rows, columns).

    ``soft`` is where no frame is sharp of what must be, ``lost`` where none holds the light, ``ghosts`` where something stands
    elsewhere in each frame. ``soft_ids`` are the elements that are soft somewhere.
    """

    picture: Picture
    soft: Mask
    lost: Mask
    ghosts: Mask
    soft_ids: tuple[str, ...]
    histogram: NDArray[np.int64]


class Rehearsal:
    """The simulated camera before a scene: deterministic, the same *seed* gives the same pictures.

    Parameters
    ----------
    state
        Of the scene.
    longest_px
        Of the picture's longer side.
    seed
        Of noise.
    mishaps
        What goes wrong, see `mishaps`.

    """

    def __init__(self, state: State, longest_px: int = 1200, seed: int = 1, mishaps: Iterable[Mishap] = ()) -> None:
        self.state, self.seed = state, seed
        planned = shots_of(state)
        for mishap in mishaps:
            planned = with_mishap(state, planned, mishap)
        self.shots = planned
        self.window = picture_window(state.geometry, longest_px)
        self._stages: dict[tuple[int, Window], Stage] = {}
        self._sights: dict[int, Sight] = {}
        self._gains: dict[int, dict[int, float]] = {}

    def sight(self, shot: Shot) -> Sight:
        """What the camera sees that is turned to a frame's panel."""
        number = shot.panel.number if shot.panel else 0
        if number not in self._sights:
            geometry = self.state.geometry
            if shot.panel is not None:
                turned = replace(geometry.camera, azimuth_deg=shot.panel.azimuth_deg, pitch_deg=shot.panel.pitch_deg)
                geometry = replace(geometry, camera=turned, _shapes=geometry._shapes)
            self._sights = {number: Sight(geometry)}
            self._gains = {number: gains_of(self.state, self._sights[number], self.shots[0])}
            self._stages.clear()
        return self._sights[number]

    def _stage(self, shot: Shot, window: Window) -> Stage:
        sight = self.sight(shot)
        number = shot.panel.number if shot.panel else 0
        key = (number, window)
        if key not in self._stages:
            # The whole picture stays; of pieces the last.
            self._stages = {k: v for k, v in self._stages.items() if k[1] == self._padded}
            self._stages[key] = Stage(self.state, sight, window, self._gains[number])
        return self._stages[key]

    @cached_property
    def _padded(self) -> Window:
        return self.window.padded(self._pad(self.window))

    def _pad(self, window: Window) -> int:
        """How far beyond a window things blur and are enlarged into it."""
        pixel_mm = window.pixel_mm(self.state.geometry)
        depth, geometry = self.state.depth, self.state.geometry
        near = (
            np.nanmin(geometry.near_m) if len(geometry.near_m) and np.isfinite(geometry.near_m).any() else depth.near_m
        )
        foci = {one.focus_m for one in self.shots}
        disks = [
            float(depth.optics.defocus_mm(s, max(float(near), depth.optics.focal_length_mm * 0.00102))) for s in foci
        ]
        reach = max([0.0, *disks]) / pixel_mm / 2
        return int(min(max(_PAD_PX, math.ceil(reach)), _MOST_PAD_PX))

    def light(self, shot: Shot, window: Window | None = None) -> Array:
        """The light (rows, columns, 3) of a frame before the sensor, behind what stands before the lens; a mid-tone at 0.18."""
        window = window or self.window
        pad = self._pad(window)
        padded = self._padded if window == self.window else window.padded(pad)
        stage = self._stage(shot, padded)
        light = stage.exposed(shot)[pad:-pad, pad:-pad]
        return light * graduated(self.state, shot, window)

    def sensor(self, shot: Shot, window: Window | None = None) -> Sensor:
        """The sensor at a frame's ISO."""
        body = self.state.scene.kit.body
        return sensor_of(body, shot.iso, (window or self.window).pixel_mm(self.state.geometry))

    def frame(self, shot: Shot, window: Window | None = None) -> Frame:
        """A frame as it comes out, or a piece of it."""
        return self._read(shot, self.light(shot, window), window or self.window)

    def _read(self, shot: Shot, light: Array, window: Window) -> Frame:
        sensor = self.sensor(shot, window)
        at = (self.seed, shot.number, round(window.left * 1e6), round(window.top * 1e6) + 10**7)
        raw = read_out(light, sensor, at)
        picture = developed(raw, sensor)
        return Frame(shot, picture, clipped(raw, sensor), blocked(light, sensor), histogram(picture))

    def piece(self, shot: Shot, at: tuple[float, float], across: int = 600, down: int = 400) -> Window:
        """A window at the sensor's own pixels around a place in the frame, for looking closely."""
        camera, body = self.state.geometry.camera, self.state.scene.kit.body
        pixels = round(camera.frame_width_mm / (body.sensor_width_mm / body.pixels_across))
        return sensor_window(self.sight(shot).geometry, pixels, at, across, down)

    def merged(self) -> tuple[Shot, ...]:
        """The frames that are merged into one picture: those of one aim, without the layers that are blended by hand."""
        base = [one for one in self.shots if one.purpose is None]
        return tuple(one for one in base if one.panel is base[0].panel)

    def proof(self, window: Window | None = None, frames: Iterable[Frame] = ()) -> Proof:
        """The frames merged, and where that fails. *frames* are some that were made already, in that window."""
        window = window or self.window
        shots = self.merged()
        made = {one.shot.number: one for one in frames}
        merging = Merging()
        lost = np.ones(window.shape, dtype=bool)
        merged: Picture | None = None
        for slice_at in sorted({one.slice_at for one in shots}):
            exposures: list[Picture] = []
            for shot in (one for one in shots if one.slice_at == slice_at):
                frame = made.get(shot.number) or self.frame(shot, window)
                exposures.append(self._aligned(frame.picture, shot, window))
                lost &= frame.clipped | frame.blocked
            merged = fused(exposures)
            merging.add(merged)
        assert merged is not None
        picture = merged if len({one.slice_at for one in shots}) == 1 else merging.picture()
        soft, ids = self._soft(shots, window)
        return Proof(picture, soft, lost, self._ghosts(shots, window), ids, histogram(picture))

    def _aligned(self, picture: Picture, shot: Shot, window: Window) -> Picture:
        """A frame brought to one size with the others, as merging begins with: focusing made it larger or smaller."""
        zoom = 1 / self._stage(shot, self._padded).breathing(shot)
        if abs(zoom - 1) * max(picture.shape[:2]) / 2 < _ALIGNED_PX:
            return picture
        middle = window.to_pixels(np.array([0.5, 0.5])) - 0.5
        turn = np.array([[zoom, 0, middle[0] * (1 - zoom)], [0, zoom, middle[1] * (1 - zoom)]])
        size = (picture.shape[1], picture.shape[0])
        made = cv2.warpAffine(picture, turn, size, flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)
        return np.asarray(made, dtype=np.uint8)

    def _soft(self, shots: tuple[Shot, ...], window: Window) -> tuple[Mask, tuple[str, ...]]:
        """Where no frame is sharp of what must be."""
        pad = self._pad(window)
        stage = self._stage(shots[0], self._padded if window == self.window else window.padded(pad))
        foci = list({(one.focus_m, one.moved_m, one.aperture_n): one for one in shots}.values())
        circle = self.state.depth.circle_of_confusion_mm
        soft = np.zeros(stage.window.shape, dtype=bool)
        ids: list[str] = []
        for layer in stage.layers:
            element = self.state.geometry.elements[layer.index] if layer.index >= 0 else None
            part = layer.alpha > 0.5
            if element is None or not element.sharp:
                soft[layer.place] &= ~part
                continue
            least = np.min([self._blur_mm(layer, stage, one) for one in foci], axis=0)
            bad = part & (least > circle * _SOFT)
            soft[layer.place] = np.where(part, bad, soft[layer.place])
            if bad.sum() > 0.02 * part.sum():
                ids.append(element.id)
        cut = soft[pad:-pad, pad:-pad]
        return cut, tuple(ids)

    def _blur_mm(self, layer: Layer, stage: Stage, shot: Shot) -> NDArray[np.float64]:
        optics = stage.optics(shot)
        away = np.maximum(np.asarray(layer.depth_m, dtype=float) - shot.moved_m, optics.focal_length_mm * 0.00102)
        airy = optics.airy_mm(optics.magnification(shot.focus_m))
        return np.asarray(total_blur_mm(optics.defocus_mm(shot.focus_m, away), airy))

    def _ghosts(self, shots: tuple[Shot, ...], window: Window) -> Mask:
        """Where something that moves stands elsewhere in each frame."""
        pad = self._pad(window)
        stage = self._stage(shots[0], self._padded if window == self.window else window.padded(pad))
        made = np.zeros(stage.window.shape, dtype=np.uint8)
        if len(shots) > 1:
            lasts = shots[-1].starts_after_s - shots[0].starts_after_s
            for layer in stage.layers:
                part = (layer.alpha > 0.5).astype(np.uint8)
                made[layer.place] &= 1 - part
                if layer.kind not in ("foliage", "cloud", "animal"):
                    continue
                element = self.state.geometry.elements[layer.index]
                speed = pixels_per_s(self.state.geometry, element, layer.middle_m, stage.pixel_mm)
                far = speed / (2 * math.pi * SWAYS_HZ) if layer.kind == "foliage" else speed * lasts
                if far >= _GHOST_PX:
                    made[layer.place] |= part
        cut = made[pad:-pad, pad:-pad]
        return np.asarray(cv2.morphologyEx(np.ascontiguousarray(cut), cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8)) > 0)


def graduated(state: State, shot: Shot, window: Window) -> Array:
    """What graduated filters leave of the light in each row of a window, (rows, 1, 1)."""
    return graduated_rows(state, shot, window.rows)[:, None, None]
