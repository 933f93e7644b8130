"""Why a frame may look soft: how large each cause is on the sensor, beside the others.

A frame looks soft for one of few reasons, and each grows with other settings: shake with the time, wind on the stand
with the time up to the stand's own swing, motion with the time and the wind, diffraction with the f-number, missed focus
with the opening. Beside each other in pixels they tell which one to try first.

Wind on a stand is an estimate: the pressure of the gusts on the lens turns the head against its stiffness,

    blur = v x 0.5 rho Cd A u^2 g r / K x min(1, t / T),

with v the image distance, u the wind, g the share of it that comes and goes, A and r the area and arm of a lens and body,
K the stiffness of legs and head in turn, T half of one swing. rho is 1.2 kg/m3 and Cd 1 for a blunt body (handbook values
from memory); A, r, g, K and T are common practice for a stand that carries a full-frame camera, good to a factor of two.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.motion.speeds import beaufort_wind_m_s
from lucid_ridge.core.motion.travel import travel_mm
from lucid_ridge.core.state.state import State
from lucid_ridge.core.state.subject_motion import NEAREST_M

Array = NDArray[np.float64]

WINDS = (0.0, 2.0, 4.0, 6.0)
"""Beaufort numbers that one can tell apart without an instrument: still, leaves rustle, twigs move, large branches move."""
RING_OFF = 0.05
"""Share of the distance by which a ring set by eye is often off (common practice)."""
SEEN_PX = 2.0
"""A blur of so many pixels shows in the enlarged picture (common practice)."""
_LENS_AREA_M2, _ARM_M, _GUST_SHARE = 0.02, 0.1, 0.4
_STIFFNESS_NM, _HALF_SWING_S = 1000.0, 0.05
_AIR_KG_M3, _DRAG = 1.2, 1.0


@dataclass(frozen=True, eq=False)
class Softness:
    """Blur in pixels of the sensor, by cause.

    ``hand`` and ``support`` (shutters,): by hand, and by a support that itself moves. ``wind`` (winds, shutters): wind on a
    stand. ``motion`` (elements, winds, shutters); ``depth`` and ``focus`` (elements, apertures): out of the depth as it is
    focused, and at its sharpest with the ring off. ``diffraction`` (apertures,). ``elements`` are places in the composition.
    """

    elements: tuple[int, ...]
    hand: Array
    support: Array
    wind: Array
    motion: Array
    depth: Array
    focus: Array
    diffraction: Array


def wind_on_stand_mm(wind_m_s: float, shutter_s: Array, image_distance_mm: float) -> Array:
    """Blur on the sensor by gusts on a stand, mm, for shutter times in seconds (any shape)."""
    push_n = 0.5 * _AIR_KG_M3 * _DRAG * _LENS_AREA_M2 * wind_m_s**2 * _GUST_SHARE
    swing = image_distance_mm * push_n * _ARM_M / _STIFFNESS_NM
    return np.asarray(swing * np.minimum(1.0, np.asarray(shutter_s) / _HALF_SWING_S))


def _speed_in(state: State, index: int, beaufort: float) -> float:
    """How fast an element moves in a wind, m/s: leaves as the wind, everything else as it is."""
    element = state.scene.composition.elements[index]
    if element.motion != "foliage":
        return element.speed_m_s
    # The plan's own speed is taken for a light wind, in which leaves are photographed at all.
    return element.speed_m_s * beaufort_wind_m_s(beaufort) / beaufort_wind_m_s(WINDS[1])


def softness_of(state: State, shutters_s: Array, by_aperture: tuple[State, ...]) -> Softness:
    """How large each cause of softness is for shutter times (seconds) and for states at each aperture."""
    pixel_mm = state.scene.kit.body.sensor_width_mm / state.scene.kit.body.pixels_across
    shutters = np.asarray(shutters_s, dtype=float)
    v = state.geometry.camera.image_distance_mm
    circle = state.depth.circle_of_confusion_mm
    there = state.scene.composition.elements
    seen = [i for i, e in enumerate(there) if not math.isnan(state.geometry.near_m[i]) and e.role != "sky"]
    # What the picture is of comes first: it is what one enlarges.
    elements = tuple(sorted(seen, key=lambda i: (there[i].role != "subject", not there[i].sharp)))
    motion = np.zeros((len(elements), len(WINDS), len(shutters)))
    depth, focus = np.zeros((2, len(elements), len(by_aperture)))
    for k, i in enumerate(elements):
        near = float(state.geometry.near_m[i])
        from_pupil = max(near - state.geometry.pupil_ahead_m, NEAREST_M)
        for w, beaufort in enumerate(WINDS):
            motion[k, w] = travel_mm(_speed_in(state, i, beaufort), shutters, v, from_pupil)
        for a, opened in enumerate(by_aperture):
            depth[k, a] = opened.depth.worse.defocus_mm[i]
            at = _focus_for(opened, near)
            focus[k, a] = max(_ring_off_mm(opened, at, 1 + RING_OFF), _ring_off_mm(opened, at, 1 - RING_OFF))
    limit = state.hand_held_limit_s
    moving = circle / state.sway.limit_s if math.isfinite(state.sway.limit_s) else 0.0
    return Softness(
        elements=elements,
        hand=circle * shutters / limit / pixel_mm,
        support=moving * shutters / pixel_mm,
        wind=np.array([wind_on_stand_mm(beaufort_wind_m_s(b), shutters, v) for b in WINDS]) / pixel_mm,
        motion=motion / pixel_mm,
        depth=depth / pixel_mm,
        focus=focus / pixel_mm,
        diffraction=np.array([one.depth.airy_mm for one in by_aperture]) / pixel_mm,
    )


def _focus_for(state: State, near_m: float) -> float:
    """The focus of the slice that is sharpest at a distance, metres."""
    foci = np.asarray(state.depth.focused_m, dtype=float)
    inverse = np.where(np.isinf(foci), 0.0, 1 / foci)
    return float(foci[int(np.abs(inverse - 1 / near_m).argmin())])


def _ring_off_mm(state: State, focus_m: float, times: float) -> float:
    """Blur where it should be sharpest, with the ring at a multiple of where it should stand, mm."""
    if math.isinf(focus_m):
        # A ring that stops short of infinity: as if it stood so much nearer than the hyperfocal distance is far.
        return (
            float(state.depth.optics.defocus_mm(state.depth.hyperfocal_m / RING_OFF / 2, math.inf))
            if times < 1
            else 0.0
        )
    return float(state.depth.optics.defocus_mm(focus_m * times, focus_m))
