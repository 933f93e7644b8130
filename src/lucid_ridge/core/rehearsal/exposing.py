"""One frame: layers lit, moved, blurred and laid over one another, in linear light; a mid-tone is 0.18."""

from __future__ import annotations

import math
import zlib
from dataclasses import dataclass, field
from functools import cached_property
from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.exposure.tones import MID_TONE
from lucid_ridge.core.framing.silhouettes import LYING
from lucid_ridge.core.optics.pupils import Optics
from lucid_ridge.core.rehearsal.defocus import Blur, blurred_layer
from lucid_ridge.core.rehearsal.layers import Layer, covered, layers_of
from lucid_ridge.core.rehearsal.movement import pixels_per_s, run_kernel, sway_kernel, water_drift
from lucid_ridge.core.rehearsal.pixels import convolved, line_kernel
from lucid_ridge.core.rehearsal.shots import Levels, Shot, levels_of
from lucid_ridge.core.rehearsal.sight import Sight
from lucid_ridge.core.rehearsal.surfaces import grain_over
from lucid_ridge.core.rehearsal.tints import LUMINANCE, balanced
from lucid_ridge.core.rehearsal.window import Window
from lucid_ridge.core.state.state import State

Array = NDArray[np.float32]

_COARSE_PX = 320
_REFLECTED = 0.8
_MOST_GAIN = 64.0
_WATER_LEAST = 0.08
_UNNOTICED_PX = 0.05
_ON_A_STANDING_SUBJECT = (0.98, -0.15)


class Seen(NamedTuple):
    """A layer as a frame sees it: its upper left corner, light times cover, and what it lets through, (rows, columns, 3) both."""

    row: int
    column: int
    light: Array
    through: Array


@dataclass(eq=False)
class Stage:
    """A window of one aim with its layers; what was blurred for a focus is kept for the other exposures of it.

    ``gains`` are what brings each layer to its own brightness, by element; None while they are being measured.
    """

    state: State
    sight: Sight
    window: Window
    gains: dict[int, float] | None = None
    _kept: dict[tuple[float, float, float], dict[int, Seen]] = field(default_factory=dict, repr=False)
    _mirrors: dict[int, Stage] = field(default_factory=dict, repr=False)

    @cached_property
    def layers(self) -> tuple[Layer, ...]:
        """What the window shows, far ones first."""
        return layers_of(self.state, self.sight, self.window)

    @property
    def pixel_mm(self) -> float:
        """How wide a pixel is on the sensor."""
        return self.window.pixel_mm(self.sight.geometry)

    def optics(self, shot: Shot) -> Optics:
        """The lens at a frame's aperture."""
        lens, settings = self.state.depth.optics, self.state.exposure.settings
        return lens.at_aperture(lens.f_number * shot.aperture_n / settings.aperture_n)

    def gain(self, index: int) -> float:
        """What brings a layer to its own brightness."""
        return 1.0 if self.gains is None else self.gains.get(index, 1.0)

    def exposed(self, shot: Shot) -> Array:
        """The light of a frame (rows, columns, 3) before the sensor: linear, a mid-tone at 0.18."""
        levels = levels_of(self.state, shot)
        canvas = self._composed(shot, levels, self.layers)
        return self._jolted(_enlarged(canvas, self.breathing(shot), self.window), shot)

    def _composed(self, shot: Shot, levels: Levels, layers: tuple[Layer, ...]) -> Array:
        canvas = np.zeros((*self.window.shape, 3), dtype=np.float32)
        for layer in layers:
            row, column, light, left = self._seen(layer, shot, levels)
            place = (slice(row, row + light.shape[0]), slice(column, column + light.shape[1]))
            bright = MID_TONE * 2.0 ** levels.of(layer.index)
            if layer.kind != "mirror":
                bright *= self.gain(layer.index)
            # In place and by whole rows: this is where half of the time goes.
            part = np.ascontiguousarray(canvas[place])
            cv2.multiply(part, left, dst=part)
            canvas[place] = cv2.scaleAdd(light, bright, part)
        return canvas

    def _seen(self, layer: Layer, shot: Shot, levels: Levels) -> Seen:
        """A layer at brightness 1, as it moved and is blurred in a frame."""
        focus = (shot.focus_m, shot.moved_m, shot.aperture_n)
        still = layer.kind == "still"
        if still and layer.index in self._kept.get(focus, {}):
            return self._kept[focus][layer.index]
        if layer.kind == "water":
            light = covered(self._water(layer, shot), layer.alpha)
        elif layer.kind == "mirror":
            light = covered(self._mirror(layer, shot, levels), layer.alpha)
        else:
            light = layer.light
        light, layer = self._moved(layer, light, shot)
        row, column, light = blurred_layer(
            layer, light, Blur(self.optics(shot), shot, self.pixel_mm), self.window.shape
        )
        zoom = self._nearer(layer, shot)
        if zoom is not None:
            row, column, light = _zoomed(light, row, column, zoom, self.window)
        behind = 1 - light[..., 3]
        made = Seen(
            row, column, np.ascontiguousarray(light[..., :3]), np.asarray(cv2.merge([behind] * 3), dtype=np.float32)
        )
        if still:
            if focus not in self._kept:
                self._kept.clear()
            self._kept.setdefault(focus, {})[layer.index] = made
        return made

    def _water(self, layer: Layer, shot: Shot) -> Array:
        assert layer.surface is not None
        element = self.sight.geometry.elements[layer.index]
        waves = grain_over(layer.tint.grain, layer.surface, water_drift(self.sight.geometry, element, shot))
        waves *= np.float32(layer.tint.contrast)
        bright = np.maximum(1 + waves, np.float32(_WATER_LEAST))
        # Where water is thrown about it is white.
        foam = bright * np.clip(waves - np.float32(0.3), 0, 1)
        bright -= foam
        return np.asarray(cv2.merge([one * bright + foam for one in cv2.split(layer.colour)]), dtype=np.float32)

    def _mirror(self, layer: Layer, shot: Shot, levels: Levels) -> Array:
        """Still water: the picture above the horizon turned upside down, and what comes up out of the water itself."""
        assert layer.surface is not None
        own = MID_TONE * 2.0 ** levels.of(layer.index)
        waves = grain_over(layer.tint.grain, layer.surface)
        body = layer.colour * (1 + np.float32(0.5 * layer.tint.contrast) * waves)[..., None]
        stage = self._mirror_stage(layer)
        if stage is None:
            return np.asarray(body, dtype=np.float32)
        standing = tuple(
            one for one in stage.layers if one.index == -1 or (one.index >= 0 and _stands(stage, one.index))
        )
        shown = stage._composed(shot, levels, standing)[::-1] / np.float32(own)
        gain = self.gain(layer.index)
        return np.asarray(
            _REFLECTED * gain * shown * balanced((0.95, 1.0, 1.06)) + (1 - _REFLECTED) * body, dtype=np.float32
        )

    def _mirror_stage(self, layer: Layer) -> Stage | None:
        """What a still water mirrors, as a stage of its own."""
        if layer.index not in self._mirrors:
            camera = self.sight.geometry.camera
            horizon = camera.horizon_y()
            height = (
                sum(horizon) / 2
                if horizon
                else 0.5 - math.tan(math.radians(-camera.pitch_deg)) / (2 * camera.half_tangents[1])
            )
            rows, columns = layer.alpha.shape
            window = self.window
            tall, wide = window.height / window.down, window.width / window.across
            own = Window(
                window.left + layer.column * wide,
                window.top + layer.row * tall,
                columns * wide,
                rows * tall,
                columns,
                rows,
            )
            self._mirrors[layer.index] = Stage(self.state, self.sight, own.mirrored_at(height), self.gains)
        return self._mirrors[layer.index]

    def _moved(self, layer: Layer, light: Array, shot: Shot) -> tuple[Array, Layer]:
        """Light of something that moves, spread over its way; its rectangle grows by that."""
        if layer.kind not in ("foliage", "cloud", "animal"):
            return light, layer
        geometry = self.sight.geometry
        element = geometry.elements[layer.index]
        gust = shot.wrong.gust if layer.kind == "foliage" else 1.0
        speed = pixels_per_s(geometry, element, layer.middle_m, self.pixel_mm, gust)
        phase = zlib.crc32(element.id.encode()) % 628 / 100
        middle = (0.0, 0.0)
        if layer.kind == "foliage":
            spread = sway_kernel(speed, shot, phase)
        else:
            spread, middle = run_kernel(speed, shot, _ON_A_STANDING_SUBJECT if layer.kind == "animal" else (1.0, 0.0))
        if spread is None and math.hypot(*middle) < 0.3:
            return light, layer
        most = max(self.window.shape)
        reach_y = min((0 if spread is None else spread.shape[0] // 2) + math.ceil(abs(middle[1])), most)
        reach_x = min((0 if spread is None else spread.shape[1] // 2) + math.ceil(abs(middle[0])), most)
        rows, columns = layer.alpha.shape
        top, left = min(reach_y, layer.row), min(reach_x, layer.column)
        bottom = min(reach_y, self.window.down - layer.row - rows)
        right = min(reach_x, self.window.across - layer.column - columns)
        light = np.asarray(cv2.copyMakeBorder(light, top, bottom, left, right, cv2.BORDER_CONSTANT))
        depth = layer.depth_m
        if isinstance(depth, np.ndarray):
            depth = np.asarray(cv2.copyMakeBorder(depth, top, bottom, left, right, cv2.BORDER_REPLICATE))
        if math.hypot(*middle) >= 0.3:
            shift = np.array([[1, 0, middle[0]], [0, 1, middle[1]]], dtype=np.float64)
            light = np.asarray(cv2.warpAffine(light, shift, light.shape[1::-1]))
        light = convolved(light, None if spread is None else spread[: 2 * most + 1, : 2 * most + 1])
        wider = Layer(
            layer.index,
            layer.kind,
            layer.row - top,
            layer.column - left,
            layer.colour,
            light[..., 3],
            depth,
            layer.tint,
        )
        return light, wider

    def breathing(self, shot: Shot) -> float:
        """By how much all is larger than where the settings are focused: focusing changes the image distance."""
        optics = self.state.depth.optics
        return optics.perspective_mm(optics.magnification(shot.focus_m)) / self.sight.geometry.camera.image_distance_mm

    def _nearer(self, layer: Layer, shot: Shot) -> float | None:
        """By how much a layer is larger since the camera went on towards it."""
        away = max(layer.middle_m - self.sight.geometry.pupil_ahead_m, 0.005)
        nearer = away / max(away - shot.moved_m, 0.002)
        return None if self._unnoticed(nearer) else nearer

    def _unnoticed(self, zoom: float) -> bool:
        return abs(zoom - 1) * max(self.window.shape) / 2 < _UNNOTICED_PX

    def _jolted(self, canvas: Array, shot: Shot) -> Array:
        wrong, wide = shot.wrong, self.window.across / self.window.width
        if wrong.shift != (0.0, 0.0) or wrong.turned_deg:
            middle = self.window.to_pixels(np.array([0.5, 0.5]))
            turn = cv2.getRotationMatrix2D((float(middle[0]), float(middle[1])), -wrong.turned_deg, 1.0)
            turn[:, 2] = turn[:, 2] + np.array(wrong.shift) * wide
            canvas = np.asarray(
                cv2.warpAffine(
                    canvas, turn, canvas.shape[1::-1], flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE
                )
            )
            canvas = np.maximum(canvas, 0)
        return convolved(canvas, line_kernel(wrong.shake[0] * wide, wrong.shake[1] * wide))


def _stands(stage: Stage, index: int) -> bool:
    return stage.sight.geometry.elements[index].silhouette not in LYING


def _enlarged(canvas: Array, zoom: float, window: Window) -> Array:
    """A whole picture made larger about the middle of the frame."""
    if abs(zoom - 1) * max(window.shape) / 2 < _UNNOTICED_PX:
        return canvas
    middle = window.to_pixels(np.array([0.5, 0.5])) - 0.5
    turn = np.array([[zoom, 0, middle[0] * (1 - zoom)], [0, zoom, middle[1] * (1 - zoom)]])
    made = cv2.warpAffine(canvas, turn, canvas.shape[1::-1], flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(made, dtype=np.float32)


def _zoomed(light: Array, row: int, column: int, zoom: float, window: Window) -> tuple[int, int, Array]:
    """A layer made larger about the middle of the frame, over the whole window."""
    middle = window.to_pixels(np.array([0.5, 0.5])) - 0.5
    turn = np.array(
        [
            [zoom, 0, middle[0] + zoom * (column - middle[0])],
            [0, zoom, middle[1] + zoom * (row - middle[1])],
        ]
    )
    whole = light.shape[:2] == window.shape
    border = cv2.BORDER_REPLICATE if whole else cv2.BORDER_CONSTANT
    made = cv2.warpAffine(light, turn, (window.across, window.down), flags=cv2.INTER_LINEAR, borderMode=border)
    return 0, 0, np.asarray(made, dtype=np.float32)


def gains_of(state: State, sight: Sight, shot: Shot) -> dict[int, float]:
    """What brings each thing that an aim sees to the brightness that the account says, by element.

    Texture and roundness are laid over a thing without changing what it gives back as a whole: measured once over what
    is seen of it in the frame, and used for every window.
    """
    aspect = sight.geometry.aspect
    down = max(8, round(_COARSE_PX / aspect))
    stage = Stage(state, sight, Window(0, 0, 1, 1, _COARSE_PX, down), {})
    covered = np.zeros(stage.window.shape, dtype=np.float32)
    seen: dict[int, Array] = {}
    for layer in reversed(stage.layers):
        part = layer.alpha * (1 - covered[layer.place])
        seen[layer.index] = part
        covered[layer.place] += part
    gains: dict[int, float] = {}
    levels = levels_of(state, shot)
    stage.gains = gains
    for layer in stage.layers:
        weights = seen[layer.index]
        total = float(weights.sum())
        if total < 1e-3:
            weights, total = layer.alpha, float(layer.alpha.sum())
        colour = layer.colour
        if layer.kind == "water":
            colour = stage._water(layer, shot)
        elif layer.kind == "mirror":
            colour = _mirrored_alone(stage, layer, shot, levels)
        mean = float(((colour @ LUMINANCE) * weights).sum()) / max(total, 1e-9)
        gains[layer.index] = float(np.clip(1 / max(mean, 1e-6), 1 / _MOST_GAIN, _MOST_GAIN))
    return gains


def _mirrored_alone(stage: Stage, layer: Layer, shot: Shot, levels: Levels) -> Array:
    """What a still water shows of the picture, with nothing of its own, against its own brightness."""
    assert layer.surface is not None
    own = MID_TONE * 2.0 ** levels.of(layer.index)
    mirror = stage._mirror_stage(layer)
    assert mirror is not None
    standing = tuple(one for one in mirror.layers if one.index == -1 or (one.index >= 0 and _stands(mirror, one.index)))
    return np.asarray(mirror._composed(shot, levels, standing)[::-1] / np.float32(own), dtype=np.float32)
