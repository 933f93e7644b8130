"""Elements as boxes: corners, and how much of their depth the frame takes in."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.framing.camera import NEAREST_DRAWN_M, Camera

Array = NDArray[np.float64]

THINNEST_M = 1e-6

# Corner order: near face left-low, right-low, right-high, left-high, then the far face likewise.
_EDGES = np.array([(0, 1), (1, 2), (2, 3), (3, 0), (4, 5), (5, 6), (6, 7), (7, 4), (0, 4), (1, 5), (2, 6), (3, 7)])


def box_corners(near_centre_m: Array, turned_deg: Array, width_m: Array, depth_m: Array, height_m: Array) -> Array:
    """Corners (N, 8, 3) of upright boxes in east-north-up metres.

    Parameters
    ----------
    near_centre_m
        (N, 3): middle of the foot of the near face.
    turned_deg
        (N,): azimuth in which the box runs away from the near face.
    width_m, depth_m, height_m
        (N,) each.

    """
    turned = np.radians(turned_deg)
    # A sheet of water has no height, but its sides must span a direction.
    width_m, depth_m, height_m = (np.maximum(side, THINNEST_M) for side in (width_m, depth_m, height_m))
    zero = np.zeros_like(turned)
    away = np.stack([np.sin(turned), np.cos(turned), zero], axis=-1) * depth_m[:, None]
    across = np.stack([np.cos(turned), -np.sin(turned), zero], axis=-1) * width_m[:, None]
    up = np.stack([zero, zero, height_m], axis=-1)
    left, right = near_centre_m - across / 2, near_centre_m + across / 2
    near = np.stack([left, right, right + up, left + up], axis=1)
    return np.concatenate([near, near + away[:, None, :]], axis=1)


def visible_depths(camera: Camera, corners_m: Array) -> tuple[Array, Array]:
    """Least and greatest depth along the lens axis of the part of each box inside the frame.

    Parameters
    ----------
    camera
        Where the lens is and what it takes in.
    corners_m
        (N, 8, 3) from `box_corners`.

    Returns
    -------
    near, far
        (N,) metres; NaN where no part of the box is in the frame.

    Notes
    -----
    The extremes of a box cut by the field of view lie on its edges, cut by the five planes, or
    where the four corner rays of the frame pierce it.

    """
    return _depths_inside(camera.to_camera(corners_m), *camera.half_tangents)


def depths_in_any(cameras: tuple[Camera, ...], corners_m: Array) -> tuple[Array, Array]:
    """The same over several frames of one lens at one place, such as the panels of a panorama: least and greatest of all."""
    axes = np.stack([one.axes for one in cameras])
    turned = (corners_m - np.array(cameras[0].position_m))[None] @ axes.transpose(0, 2, 1)[:, None]
    near, far = _depths_inside(turned.reshape(-1, 8, 3), *cameras[0].half_tangents)
    shape = (len(cameras), len(corners_m))
    return np.fmin.reduce(near.reshape(shape)), np.fmax.reduce(far.reshape(shape))


def _depths_inside(seen: Array, half_x: float, half_y: float) -> tuple[Array, Array]:
    """Depths of boxes given in the camera's own axes, (N, 8, 3), inside a frame of these half tangents."""
    planes = np.array([[1, 0, half_x], [-1, 0, half_x], [0, 1, half_y], [0, -1, half_y], [0, 0, 1]], dtype=float)
    start, end = seen[:, _EDGES[:, 0]], seen[:, _EDGES[:, 1]]
    floor = np.array([0, 0, 0, 0, NEAREST_DRAWN_M])
    inside_start = start @ planes.T - floor
    inside_end = end @ planes.T - floor
    with np.errstate(divide="ignore", invalid="ignore"):
        cut = inside_start / (inside_start - inside_end)
    entering = (inside_start < 0) & (inside_end >= 0)
    leaving = (inside_start >= 0) & (inside_end < 0)
    outside = ((inside_start < 0) & (inside_end < 0)).any(axis=-1)
    first = np.where(entering, cut, 0.0).max(axis=-1)
    last = np.where(leaving, cut, 1.0).min(axis=-1)
    kept = ~outside & (first <= last)
    z0, z1 = start[..., 2], end[..., 2]
    depth_first = np.where(kept, z0 + first * (z1 - z0), np.nan)
    depth_last = np.where(kept, z0 + last * (z1 - z0), np.nan)

    # The frame's corner rays against the box, in the box's own axes.
    origin = seen[:, 0]
    sides = np.stack([seen[:, 1] - origin, seen[:, 3] - origin, seen[:, 4] - origin], axis=1)
    lengths = np.maximum((sides**2).sum(axis=-1), 1e-18)
    rays = np.array([[sx * half_x, sy * half_y, 1.0] for sx in (-1, 1) for sy in (-1, 1)], dtype=float)
    speed = np.einsum("nij,rj->nri", sides, rays) / lengths[:, None, :]
    offset = -(np.einsum("nij,nj->ni", sides, origin) / lengths)[:, None, :]
    with np.errstate(divide="ignore", invalid="ignore"):
        low, high = (0.0 - offset) / speed, (1.0 - offset) / speed
    parallel = np.abs(speed) < 1e-15
    hit_slab = (offset >= 0) & (offset <= 1)
    enter = np.where(parallel, np.where(hit_slab, -np.inf, np.inf), np.fmin(low, high)).max(axis=-1)
    leave = np.where(parallel, np.where(hit_slab, np.inf, -np.inf), np.fmax(low, high)).min(axis=-1)
    enter = np.maximum(enter, NEAREST_DRAWN_M)
    pierced = enter <= leave
    ray_near = np.where(pierced, enter, np.nan)
    ray_far = np.where(pierced, leave, np.nan)

    every = np.concatenate([depth_first, depth_last, ray_near, ray_far], axis=1)
    some = ~np.isnan(every).all(axis=1)
    near, far = np.full(len(every), np.nan), np.full(len(every), np.nan)
    near[some] = np.nanmin(every[some], axis=1)
    far[some] = np.nanmax(every[some], axis=1)
    return near, far
