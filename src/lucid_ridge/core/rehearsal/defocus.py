"""Blur of layers by their distance: a disk for each depth, laid over one another from far to near.

A layer whose depth changes is blurred at a few sizes and shared out between them; what is blurred is light times cover,
divided by what the shares themselves blur to, so that no seam shows between depths.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.optics.depth_of_field import WAVELENGTH_MM
from lucid_ridge.core.optics.pupils import Optics
from lucid_ridge.core.rehearsal.layers import Layer
from lucid_ridge.core.rehearsal.pixels import blurred
from lucid_ridge.core.rehearsal.shots import Shot

Array = NDArray[np.float32]

AIRY_SIGMA = 0.42
"""Deviation of the Gaussian that stands for the Airy disk, in wavelengths times the f-number (Zhang, Zerubia and
Olivo-Marin, Gaussian approximations of fluorescence microscope PSF models, Applied Optics 46, 2007: 0.42)."""
_NEAREST_M = 0.002
_STEPS = (0.0, 1.0, 1.7)
_GROWS = 1.5
_LARGEST_PX = 500.0
_ALIKE_PX = 0.4


@dataclass(frozen=True)
class Blur:
    """How a frame blurs: the lens, where it is focused, and pixels."""

    optics: Optics
    shot: Shot
    pixel_mm: float

    @property
    def sigma_px(self) -> float:
        """Of diffraction's Gaussian."""
        magnification = self.optics.magnification(self.shot.focus_m)
        return AIRY_SIGMA * WAVELENGTH_MM * self.optics.working_f_number(magnification) / self.pixel_mm

    def disk_px(self, depth_m: float | Array) -> Array:
        """Diameter of the blur disk of points so far from the lens's first place, pixels."""
        away = np.maximum(np.asarray(depth_m, dtype=float) - self.shot.moved_m, _NEAREST_M)
        disks = self.optics.defocus_mm(self.shot.focus_m, np.maximum(away, self.optics.focal_length_mm * 0.00102))
        return np.asarray(np.minimum(disks / self.pixel_mm, _LARGEST_PX), dtype=np.float32)


def nodes_px(largest: float) -> list[float]:
    """Sizes at which a layer is blurred, up to its largest blur."""
    made = list(_STEPS)
    while made[-1] < largest:
        made.append(made[-1] * _GROWS)
    return made


def blurred_layer(layer: Layer, light: Array, blur: Blur, shape: tuple[int, int]) -> tuple[int, int, Array]:
    """A layer's light times cover and its cover, (rows, columns, 4), blurred; with its upper left corner in the window."""
    disks = blur.disk_px(layer.depth_m)
    sigma = blur.sigma_px
    reach = math.ceil(float(disks.max()) / 2 + 3 * sigma) + 1
    top, left = min(reach, layer.row), min(reach, layer.column)
    rows, columns = layer.alpha.shape
    bottom = min(reach, shape[0] - layer.row - rows)
    right = min(reach, shape[1] - layer.column - columns)
    # With room around it to blur into.
    border = (top, bottom, left, right)
    source = np.asarray(cv2.copyMakeBorder(light, *border, cv2.BORDER_CONSTANT, value=(0, 0, 0, 0)), dtype=np.float32)
    if disks.ndim == 0 or float(np.ptp(disks)) < _ALIKE_PX:
        return layer.row - top, layer.column - left, blurred(source, float(disks.mean()), sigma)
    disks = np.asarray(cv2.copyMakeBorder(disks, *border, cv2.BORDER_REPLICATE), dtype=np.float32)
    return layer.row - top, layer.column - left, _in_depths(source, disks, sigma)


def _in_depths(source: Array, disks: Array, sigma: float) -> Array:
    total, shares = np.zeros_like(source), np.zeros(disks.shape, np.float32)
    nodes = nodes_px(float(disks.max()))
    for k, node in enumerate(nodes):
        below = nodes[k - 1] if k else -1.0
        above = nodes[k + 1] if k + 1 < len(nodes) else math.inf
        weight = np.minimum((disks - below) / (node - below), 1.0)
        if math.isfinite(above):
            weight = np.minimum(weight, (above - disks) / (above - node))
        weight = np.maximum(weight, 0).astype(np.float32)
        rows, columns = (np.flatnonzero((weight > 0).any(axis=axis)) for axis in (1, 0))
        if not len(rows):
            continue
        own = math.ceil(node / 2 + 3 * sigma) + 1
        part = (
            slice(max(rows[0] - own, 0), min(rows[-1] + own + 1, disks.shape[0])),
            slice(max(columns[0] - own, 0), min(columns[-1] + own + 1, disks.shape[1])),
        )
        weighed = cv2.multiply(source[part], cv2.merge([weight[part]] * 4))
        total[part] += blurred(np.asarray(weighed, dtype=np.float32), node, sigma)
        shares[part] += blurred(weight[part], node, sigma)
    return np.asarray(cv2.divide(total, cv2.merge([np.maximum(shares, np.float32(1e-4))] * 4)), dtype=np.float32)
