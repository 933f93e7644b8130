"""What goes wrong outside, put into a sequence on purpose, to see what it looks like."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from typing import Annotated, Literal, get_args

import numpy as np
from annotated_types import Ge, Gt, Le

from lucid_ridge.core.exposure.closing import filters_in_use
from lucid_ridge.core.records import record
from lucid_ridge.core.rehearsal.shots import Shot, Wrong
from lucid_ridge.core.state.depth import FARTHEST_FOCUSED_M
from lucid_ridge.core.state.state import State

MishapKind = Literal[
    "camera_moved", "sinking", "shake", "gust", "focus_off", "missed_slice", "stale_exposure", "forgotten_polariser", "clipped_red"
]  # fmt: skip
KINDS: tuple[MishapKind, ...] = get_args(MishapKind)


@record
class Mishap:
    """Something that goes wrong: from which frame on or in which, and how badly.

    ``size`` is in what its kind is told in: sensor pixels for what moves the camera or shakes it, stops for exposures,
    multiples of what a frame keeps sharp for a focus that is off, slices by which it was not turned on, times as much for a
    gust.
    """

    kind: MishapKind
    frame: Annotated[int, Ge(1), Le(2000)] = 1
    size: Annotated[float, Gt(0), Le(1000)]


USUAL_SIZE: dict[MishapKind, float] = {
    "camera_moved": 25.0, "sinking": 6.0, "shake": 14.0, "gust": 5.0, "focus_off": 3.0, "missed_slice": 1.0,
    "stale_exposure": 1.0, "forgotten_polariser": 1.0, "clipped_red": 1.0,
}  # fmt: skip


def possible(state: State, shots: tuple[Shot, ...]) -> tuple[MishapKind, ...]:
    """The mishaps that can be put into a sequence: some need more than a frame, a slice to miss, a polariser to forget."""
    foci = {one.focus_m - one.moved_m for one in shots}
    has = {
        "camera_moved": len(shots) > 1,
        "sinking": len(shots) > 1,
        "gust": any(e.motion == "foliage" and e.speed_m_s for e in state.scene.composition.elements),
        "missed_slice": len(foci) > 1,
        "stale_exposure": True,
        "forgotten_polariser": any(owned.kind == "polariser" for owned, _ in filters_in_use(state.scene)),
        "clipped_red": any(e.warm for e in state.scene.composition.elements),
    }
    return tuple(kind for kind in KINDS if has.get(kind, True))


def with_mishap(state: State, shots: tuple[Shot, ...], mishap: Mishap) -> tuple[Shot, ...]:
    """A sequence in which something goes wrong."""
    return tuple(_MAKERS[mishap.kind](state, shots, one, mishap) for one in shots)


def _with(shot: Shot, wrong: Wrong) -> Shot:
    return replace(shot, wrong=wrong)


def _share(state: State, pixels: float) -> float:
    """Sensor pixels as a share of the frame's width."""
    body = state.scene.kit.body
    wide = body.pixels_across if state.scene.composition.orientation == "landscape" else body.pixels_down
    return pixels / wide


def _direction(mishap: Mishap) -> float:
    return float(np.random.default_rng((mishap.frame, round(mishap.size * 1000))).uniform(0, math.pi))


def _camera_moved(state: State, shots: tuple[Shot, ...], shot: Shot, mishap: Mishap) -> Shot:
    """Knocked once: every frame from that one on lies off and is a little turned."""
    if shot.number < mishap.frame:
        return shot
    way, far = _direction(mishap), _share(state, mishap.size)
    return _with(
        shot, replace(shot.wrong, shift=(far * math.cos(way), far * math.sin(way)), turned_deg=math.degrees(far) * 0.2)
    )


def _sinking(state: State, shots: tuple[Shot, ...], shot: Shot, mishap: Mishap) -> Shot:
    """Each frame a little lower than the one before: the picture goes up."""
    frames = max(shot.number - mishap.frame, 0)
    return _with(
        shot,
        replace(shot.wrong, shift=(0.15 * frames * _share(state, mishap.size), -frames * _share(state, mishap.size))),
    )


def _shake(state: State, shots: tuple[Shot, ...], shot: Shot, mishap: Mishap) -> Shot:
    if shot.number != mishap.frame:
        return shot
    way, far = _direction(mishap), _share(state, mishap.size)
    return _with(shot, replace(shot.wrong, shake=(far * math.cos(way), far * math.sin(way))))


def _gust(state: State, shots: tuple[Shot, ...], shot: Shot, mishap: Mishap) -> Shot:
    return _with(shot, replace(shot.wrong, gust=mishap.size)) if shot.number == mishap.frame else shot


def _focus_off(state: State, shots: tuple[Shot, ...], shot: Shot, mishap: Mishap) -> Shot:
    """Focused nearer by so many times what leaves the plane meant just sharp."""
    if shot.number != mishap.frame:
        return shot
    optics, depth = state.depth.optics, state.depth
    ahead, thin = optics.pupil_ahead_m, optics.thin_focal_mm
    allowance = max(depth.sharp.allowance_mm(optics, shot.focus_m), depth.circle_of_confusion_mm / 4)
    s = max((shot.focus_m - ahead) * 1000, thin * 1.01)
    v = 1 / (1 / thin - 1 / s)
    v_off = v * (1 + mishap.size * allowance / (thin / optics.thin_f_number))
    nearer = 1 / max(1 / thin - 1 / v_off, 1e-9)
    return replace(shot, focus_m=float(np.clip(nearer / 1000 + ahead, 0.003, FARTHEST_FOCUSED_M)))


def _missed_slice(state: State, shots: tuple[Shot, ...], shot: Shot, mishap: Mishap) -> Shot:
    """The focus was not turned on: the slice of that frame is taken where the one before was."""
    at = shots[min(mishap.frame, len(shots)) - 1].slice_at
    if shot.slice_at != at or shot.purpose is not None:
        return shot
    off = max(round(mishap.size), 1)
    last = max(one.slice_at for one in shots)
    other = at - off if at >= off else min(at + off, last)
    twin = next((one for one in shots if one.slice_at == other and one.purpose is None), shot)
    return replace(shot, focus_m=twin.focus_m, moved_m=twin.moved_m)


def _stale_exposure(state: State, shots: tuple[Shot, ...], shot: Shot, mishap: Mishap) -> Shot:
    """Metered before the light fell: every frame from that one on is darker."""
    return (
        _with(shot, replace(shot.wrong, stops=shot.wrong.stops - mishap.size)) if shot.number >= mishap.frame else shot
    )


def _forgotten_polariser(state: State, shots: tuple[Shot, ...], shot: Shot, mishap: Mishap) -> Shot:
    return _with(shot, replace(shot.wrong, without_polariser=True))


def _clipped_red(state: State, shots: tuple[Shot, ...], shot: Shot, mishap: Mishap) -> Shot:
    """Exposed for the luminance, brighter by so much: the red channel of what is warm is full first."""
    return _with(shot, replace(shot.wrong, stops=shot.wrong.stops + mishap.size))


_MAKERS: dict[MishapKind, Callable[[State, tuple[Shot, ...], Shot, Mishap], Shot]] = {
    "camera_moved": _camera_moved,
    "sinking": _sinking,
    "shake": _shake,
    "gust": _gust,
    "focus_off": _focus_off,
    "missed_slice": _missed_slice,
    "stale_exposure": _stale_exposure,
    "forgotten_polariser": _forgotten_polariser,
    "clipped_red": _clipped_red,
}
