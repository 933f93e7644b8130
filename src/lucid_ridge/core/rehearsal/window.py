"""The part of a frame that is rendered, and its pixels."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.camera.geometry import Geometry

Array = NDArray[np.float32]


@dataclass(frozen=True)
class Window:
    """A rectangle of the frame in shares of it, x right and y down, and how many pixels it is rendered with."""

    left: float
    top: float
    width: float
    height: float
    across: int
    down: int

    @property
    def shape(self) -> tuple[int, int]:
        """Rows and columns."""
        return self.down, self.across

    def padded(self, pixels: int) -> Window:
        """The same with so many pixels more on each side: what is blurred reaches in from there."""
        x, y = pixels * self.width / self.across, pixels * self.height / self.down
        return Window(
            self.left - x,
            self.top - y,
            self.width + 2 * x,
            self.height + 2 * y,
            self.across + 2 * pixels,
            self.down + 2 * pixels,
        )

    def part(self, top: int, bottom: int, left: int, right: int) -> tuple[int, int, Window] | None:
        """The rectangle of so many rows and columns, kept within this one: its first row and column, and it as a window."""
        top, left = max(int(top), 0), max(int(left), 0)
        bottom, right = min(int(bottom), self.down), min(int(right), self.across)
        if right <= left or bottom <= top:
            return None
        wide, tall = self.width / self.across, self.height / self.down
        rectangle = (self.left + left * wide, self.top + top * tall, (right - left) * wide, (bottom - top) * tall)
        return top, left, Window(*rectangle, right - left, bottom - top)

    def to_pixels(self, points: NDArray[np.float64]) -> NDArray[np.float64]:
        """Pixels (..., 2) of places in the frame; the first pixel's middle is at 0.5."""
        scale = np.array([self.across / self.width, self.down / self.height])
        return np.asarray((points - np.array([self.left, self.top])) * scale)

    @cached_property
    def columns(self) -> Array:
        """Places in the frame of the middles of the columns, (across,)."""
        return ((np.arange(self.across) + 0.5) / self.across * self.width + self.left).astype(np.float32)

    @cached_property
    def rows(self) -> Array:
        """Places in the frame of the middles of the rows, (down,)."""
        return ((np.arange(self.down) + 0.5) / self.down * self.height + self.top).astype(np.float32)

    def pixel_mm(self, geometry: Geometry) -> float:
        """How wide a pixel is on the sensor."""
        return geometry.camera.frame_width_mm * self.width / self.across

    def mirrored_at(self, y: float) -> Window:
        """What a level mirror shows in this window: the part of the frame as far above a line as this lies below."""
        return replace(self, top=2 * y - self.top - self.height)


def picture_window(geometry: Geometry, longest_px: int) -> Window:
    """The picture after the crop, its longer side so many pixels."""
    left, top, width, height = geometry.crop
    aspect = geometry.aspect * width / height
    across = longest_px if aspect >= 1 else round(longest_px * aspect)
    return Window(left, top, width, height, across, max(1, round(across / aspect)))


def sensor_window(geometry: Geometry, pixels_across: int, at: tuple[float, float], across: int, down: int) -> Window:
    """A piece of the frame at the sensor's own pixels around a place in the frame, kept within the frame."""
    pixel = 1 / pixels_across
    width, height = across * pixel, down * pixel * geometry.aspect
    left = min(max(at[0] - width / 2, 0.0), max(1 - width, 0.0))
    top = min(max(at[1] - height / 2, 0.0), max(1 - height, 0.0))
    return Window(left, top, width, height, across, down)
