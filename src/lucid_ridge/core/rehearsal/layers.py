"""The scene in layers, far ones first: how much of each pixel a thing covers, its colour, and how far away it is.

Colours are of luminance about 1; how bright a layer comes out is put to it when a frame is exposed, so that the same
layers serve every frame of a sequence.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.framing.silhouettes import LYING
from lucid_ridge.core.rehearsal.pixels import filled
from lucid_ridge.core.rehearsal.sight import Edge, Sight, looked_up
from lucid_ridge.core.rehearsal.sky import sky_colour
from lucid_ridge.core.rehearsal.surfaces import Surface, grain_over
from lucid_ridge.core.rehearsal.tints import GROUND, LUMINANCE, Tint, balanced, light_rgb, painted, tint_of
from lucid_ridge.core.rehearsal.window import Window
from lucid_ridge.core.state.state import State

Array = NDArray[np.float32]
LayerKind = Literal["still", "water", "mirror", "foliage", "cloud", "animal"]

SKY, GROUND_BELOW = -1, -2
"""What stands for an element where there is none: the sky behind everything, the ground below it."""
_FLAT = frozenset({"ridge", "wall", "boathouse", "post", "reeds", "heather", "flowers"})
"""Standing things whose front is flat enough to be equally far."""
_SHADES_ITSELF = 0.5
"""How round a thing must be for its own roundness to show where the sun does not reach."""
_IN_SHADE = 0.6
_HAZE_M = 14_000.0
_NEAREST_M = 0.004
_HORIZON_M = 2e5
_AROUND_PX = 48


@dataclass(frozen=True, eq=False)
class Layer:
    """One thing in a window. Arrays are (rows, columns) of its own rectangle, ``row`` and ``column`` its upper left corner.

    ``depth_m`` is from the lens's principal plane, one number where all of it is equally far. ``surface`` is kept for water,
    whose colour hangs on the time of the exposure.
    """

    index: int
    kind: LayerKind
    row: int
    column: int
    colour: Array
    alpha: Array
    depth_m: float | Array
    tint: Tint
    surface: Surface | None = None

    @property
    def place(self) -> tuple[slice, slice]:
        """Its rectangle in the window."""
        rows, columns = self.alpha.shape
        return slice(self.row, self.row + rows), slice(self.column, self.column + columns)

    @cached_property
    def light(self) -> Array:
        """Its light times cover, and its cover, (rows, columns, 4)."""
        return covered(self.colour, self.alpha)

    @property
    def middle_m(self) -> float:
        """How far away it is as a whole."""
        return float(np.median(self.depth_m)) if isinstance(self.depth_m, np.ndarray) else self.depth_m


def covered(colour: Array, alpha: Array) -> Array:
    """Colour times cover, and cover, (rows, columns, 4)."""
    return np.asarray(cv2.merge([*(cv2.multiply(one, alpha) for one in cv2.split(colour)), alpha]), dtype=np.float32)


def layers_of(state: State, sight: Sight, window: Window) -> tuple[Layer, ...]:
    """Everything that a window shows, far ones first. What nearer opaque things hide altogether is left out."""
    geometry = sight.geometry
    hidden = np.zeros(window.shape, dtype=bool)
    made: list[Layer] = []
    for index in reversed(geometry.far_to_near):
        layer = _element(state, sight, window, index, hidden) if geometry.seen(index) else None
        if layer is None:
            continue
        made.append(layer)
        if layer.kind in ("still", "water", "mirror"):
            hidden[layer.place] |= layer.alpha > 0.999
    for layer in (_ground(state, sight, window, hidden), _sky(state, sight, window, hidden)):
        if layer is not None:
            made.append(layer)
            hidden[layer.place] |= layer.alpha > 0.999
    return tuple(reversed(made))


def _seen_part(window: Window, seen: NDArray[np.bool_]) -> tuple[int, int, Window] | None:
    """The rectangle of a window in which something is seen, and as much around it as may blur into it."""
    rows, columns = np.flatnonzero(seen.any(axis=1)), np.flatnonzero(seen.any(axis=0))
    if not len(rows):
        return None
    return window.part(
        rows[0] - _AROUND_PX, rows[-1] + 1 + _AROUND_PX, columns[0] - _AROUND_PX, columns[-1] + 1 + _AROUND_PX
    )


def _sky(state: State, sight: Sight, window: Window, hidden: NDArray[np.bool_]) -> Layer | None:
    found = _seen_part(window, ~hidden)
    if found is None:
        return None
    row, column, part = found
    sun = (state.sun_azimuth_deg, state.sun_altitude_deg)
    colour = sky_colour(sight.geometry.camera, part, sun, state.scene.composition.cloud_stops)
    return Layer(SKY, "still", row, column, colour, np.ones(part.shape, np.float32), 1e7, GROUND)


def _ground(state: State, sight: Sight, window: Window, hidden: NDArray[np.bool_]) -> Layer | None:
    """The ground below everything, as far as nothing else is said of it."""
    level = state.scene.composition.ground_m
    found = _seen_part(window, ~hidden & (sight.plane_depth(window, level) < _HORIZON_M))
    if found is None:
        return None
    row, column, part = found
    depth = sight.plane_depth(part, level)
    below = (depth < _HORIZON_M).astype(np.float32)
    surface = _lying(sight, part, depth, level)
    colour = _coloured(state, balanced(GROUND.rgb) * np.ones((*part.shape, 1), np.float32), GROUND, surface)
    ahead = np.float32(sight.geometry.pupil_ahead_m)
    return Layer(GROUND_BELOW, "still", row, column, colour, below, depth + ahead, GROUND)


def _lying(sight: Sight, window: Window, depth: Array, level: float) -> Surface:
    """A level surface in metres of the picture at its distance: right, and down by the logarithm of the distance."""
    camera = sight.geometry.camera
    across, _ = sight.rays(window)
    drop = max(abs(camera.position_m[2] - level), 1e-3)
    half_x = camera.half_tangents[0]
    return Surface(
        u=(across[None, :] * depth).astype(np.float32),
        v=(-drop * np.log(depth)).astype(np.float32),
        depth_m=depth,
        frame_width=2 * half_x,
        pixel=2 * half_x * window.width / window.across,
    )


def _standing(sight: Sight, window: Window, depth_m: float) -> Surface:
    across, down = sight.rays(window)
    half_x = sight.geometry.camera.half_tangents[0]
    u, v = np.meshgrid(across * np.float32(depth_m), down * np.float32(depth_m))
    return Surface(u, v, depth_m, 2 * half_x, 2 * half_x * window.width / window.across)


def _coloured(state: State, base: Array, tint: Tint, surface: Surface, drawn_at_rest: bool = True) -> Array:
    """Colours with grain and the light's own colour; grain is put to what moves when it is exposed."""
    made = base * light_rgb(state.sun_altitude_deg)
    if drawn_at_rest:
        made = made * np.exp(np.float32(tint.contrast) * grain_over(tint.grain, surface))[..., None]
    return np.asarray(made, dtype=np.float32)


def _clip(window: Window, edges: tuple[Edge, ...]) -> tuple[int, int, Window] | None:
    """The rectangle of the window that outlines touch: its upper left corner, and that part as a window."""
    points = window.to_pixels(np.concatenate([one.points for one in edges]))
    low = np.floor(points.min(axis=0)).astype(int) - 1
    high = np.ceil(points.max(axis=0)).astype(int) + 1
    return window.part(low[1], high[1], low[0], high[0])


# Long: one layer, field by field, in the order in which they hang on each other.
def _element(state: State, sight: Sight, window: Window, index: int, hidden: NDArray[np.bool_]) -> Layer | None:
    element = sight.geometry.elements[index]
    edges = sight.edges(index)
    found = _clip(window, edges) if edges else None
    if found is None:
        return None
    row, column, part = found
    alpha, colour = _painted(sight, part, edges, index)
    seen = np.zeros(window.shape, dtype=bool)
    seen[row : row + part.down, column : column + part.across] = alpha > 0.002
    smaller = _seen_part(window, seen & ~hidden)
    if smaller is None:
        return None
    if element.motion in ("still", "water"):
        # What others hide is not worked out; what moves may come out from behind them.
        top, left, narrowed = smaller
        top, left = max(top, row), max(left, column)
        bottom, right = (
            min(smaller[0] + narrowed.down, row + part.down),
            min(smaller[1] + narrowed.across, column + part.across),
        )
        cut = (slice(top - row, bottom - row), slice(left - column, right - column))
        alpha, colour, row, column = np.ascontiguousarray(alpha[cut]), np.ascontiguousarray(colour[cut]), top, left
        found = window.part(top, bottom, left, right)
        assert found is not None
        part = found[2]
    tint = tint_of(element)
    depth, surface = _depth(sight, part, index, edges)
    moving = element.motion == "water" or element.silhouette == "beck"
    mirror = element.silhouette == "water" and element.motion == "still"
    kind: LayerKind = "water" if moving else "mirror" if mirror else _KINDS.get(element.motion, "still")
    colour = _coloured(state, colour, tint, surface, drawn_at_rest=kind not in ("water", "mirror"))
    if sight.geometry.shaded[index] and tint.round <= _SHADES_ITSELF and element.silhouette not in LYING:
        colour = colour * _shaded(sight, part, index)[:, None]
    if tint.round and element.silhouette not in LYING:
        colour = colour * _rounded(state, sight, part, index, tint)[..., None]
    return Layer(
        index, kind, row, column, _hazed(state, colour, sight, index), alpha, depth, tint,
        surface if kind in ("water", "mirror") else None,
    )  # fmt: skip


_KINDS: dict[str, LayerKind] = {"foliage": "foliage", "cloud": "cloud", "animal": "animal"}


def _painted(sight: Sight, part: Window, edges: tuple[Edge, ...], index: int) -> tuple[Array, Array]:
    """How much of each pixel an element covers, and its colours; one paint over the other."""
    element = sight.geometry.elements[index]
    tint = tint_of(element)
    alpha = np.zeros(part.shape, np.float32)
    colour = np.broadcast_to(painted(tint, "body", element.warm), (*part.shape, 3)).astype(np.float32)
    for paint in ("body", "water", "opening", "light"):
        polygons = [part.to_pixels(one.points) for one in edges if one.paint == paint]
        if not polygons:
            continue
        cover = filled(polygons, *part.shape)
        alpha = np.maximum(alpha, cover)
        if paint not in ("body", "water"):
            colour += cover[..., None] * (painted(tint, paint, element.warm) - colour)
    return alpha, colour


def _depth(sight: Sight, part: Window, index: int, edges: tuple[Edge, ...]) -> tuple[float | Array, Surface]:
    """How far away an element's pixels are, and where they lie on it."""
    geometry, element = sight.geometry, sight.geometry.elements[index]
    near, far = float(geometry.near_m[index]), float(geometry.far_m[index])
    ahead = geometry.pupil_ahead_m
    if element.silhouette in LYING:
        depth = np.clip(
            sight.plane_depth(part, element.base_m), max(near - ahead, _NEAREST_M), max(far - ahead, _NEAREST_M)
        )
        return depth + np.float32(ahead), _lying(sight, part, depth, element.base_m)
    surface = _standing(sight, part, max(near - ahead, _NEAREST_M))
    if geometry.crests[index] is not None or far - near < 0.002 * near:
        return near, surface
    if any(one.away > 0 for one in edges):
        return _rows_of(part, edges, near, far), surface
    if element.silhouette in _FLAT:
        return near, surface
    profile = sight.profile(index)
    height = looked_up(profile, profile.height, part)
    return np.asarray(near + (far - near) * (1 - np.clip(height, 0, 1)), dtype=np.float32), surface


def _rows_of(part: Window, edges: tuple[Edge, ...], near: float, far: float) -> Array:
    """Depth of a patch that stands in rows: of each pixel the nearest row there."""
    depth = np.full(part.shape, far, dtype=np.float32)
    for away in sorted({one.away for one in edges}, reverse=True):
        cover = filled([part.to_pixels(one.points) for one in edges if one.away == away], *part.shape)
        depth[cover > 0.05] = near + (far - near) * away
    return depth


def _shaded(sight: Sight, part: Window, index: int) -> Array:
    """How bright a flat thing is from left to right, (columns,): what the sun does not reach fades into what it does."""
    points = np.concatenate([one.points for one in sight.edges(index) if one.paint != "shade"])
    left, right = float(points[:, 0].min()), float(points[:, 0].max())
    across = (part.columns - left) / max(right - left, 1e-6)
    side = sight.geometry.shaded[index]
    if side == "all":
        return np.full(part.across, 1.0, dtype=np.float32)
    lit = np.clip(((across if side == "left" else 1 - across) - 0.25) / 0.35, 0, 1)
    return np.asarray(_IN_SHADE + (1 - _IN_SHADE) * lit * lit * (3 - 2 * lit), dtype=np.float32)


def _rounded(state: State, sight: Sight, part: Window, index: int, tint: Tint) -> Array:
    """How bright each pixel of a solid is against its middle, by where the light comes from (invented roundness)."""
    profile = sight.profile(index)
    x, y = looked_up(profile, profile.slope_x, part), looked_up(profile, profile.slope_y, part)
    length = np.sqrt(1 + x * x + y * y)
    azimuth, altitude = state.shading or (state.sun_azimuth_deg, 60.0)
    side, up = np.radians(azimuth - sight.geometry.camera.azimuth_deg), np.radians(max(altitude, 12.0))
    right, back = np.sin(side) * np.cos(up), -np.cos(side) * np.cos(up)
    hard = 0.55 if state.shading else 0.3
    towards = (-x * right + y * np.sin(up) + back) / length
    return np.asarray(np.clip(1 + tint.round * hard * (towards - 0.2), 0.25, 2.0), dtype=np.float32)


def _hazed(state: State, colour: Array, sight: Sight, index: int) -> Array:
    """Far things pale towards the sky's colour, at the brightness that they have."""
    away = sight.geometry.away(index)[0]
    share = 1 - float(np.exp(-away / _HAZE_M))
    if share < 0.01:
        return np.asarray(colour, dtype=np.float32)
    air = balanced((0.86, 1.0, 1.26)) * light_rgb(state.sun_altitude_deg)
    luminance = (colour @ LUMINANCE)[..., None]
    return np.asarray(colour + np.float32(share) * (air * (0.4 * luminance + 0.6) - colour), dtype=np.float32)
