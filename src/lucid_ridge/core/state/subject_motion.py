"""What moves in a scene: how fast through the picture, and which shutter times give what is wanted."""

from __future__ import annotations

import math

from lucid_ridge.core.motion.travel import WaterLook, freezing_shutter_s, look_window_s, travel_mm
from lucid_ridge.core.state.state import State

NEAREST_M = 0.01


def moving_elements(state: State, motion: str) -> list[int]:
    """Positions of the elements in the frame that move in a certain way."""
    return [
        i
        for i, e in enumerate(state.scene.composition.elements)
        if e.motion == motion and not math.isnan(state.geometry.near_m[i])
    ]


def element_travel_mm(state: State, index: int, shutter_s: float | None = None) -> float:
    """Travel on the sensor of an element in its nearest part, mm, in the shutter time in use or another."""
    return float(
        travel_mm(
            state.scene.composition.elements[index].speed_m_s,
            state.exposure.settings.shutter_s if shutter_s is None else shutter_s,
            state.depth.image_distance_mm,
            _from_pupil_m(state, index),
        )
    )


def _from_pupil_m(state: State, index: int) -> float:
    """Distance from the entrance pupil to an element's nearest part, metres."""
    return max(float(state.geometry.near_m[index]) - state.geometry.pupil_ahead_m, NEAREST_M)


def water_heights_per_s(state: State) -> float:
    """How fast the fastest water goes through the picture, frame heights a second; 0 where none is told."""
    rates = [element_travel_mm(state, i, 1.0) for i in moving_elements(state, "water")]
    return max(rates, default=0.0) / state.geometry.camera.frame_height_mm


def look_window(state: State, look: WaterLook | None = None) -> tuple[float, float]:
    """Shutter times that give the wanted look of the water, or another, by the school in use."""
    wants = state.scene.composition.wants
    allowed = state.depth.circle_of_confusion_mm / state.geometry.camera.frame_height_mm
    wanted = look or wants.water_look
    return look_window_s(wanted, wants.motion_school, water_heights_per_s(state), allowed, wants.own_look(wanted))


def foliage_freezing_s(state: State) -> float:
    """Longest shutter time that keeps everything that sways within the circle of confusion; inf where nothing does."""
    return min(
        (
            float(
                freezing_shutter_s(
                    state.scene.composition.elements[i].speed_m_s,
                    state.depth.circle_of_confusion_mm,
                    state.depth.image_distance_mm,
                    _from_pupil_m(state, i),
                )
            )
            for i in moving_elements(state, "foliage")
        ),
        default=math.inf,
    )


def layer_of(state: State, purpose: str) -> float | None:
    """Shutter time of the layer for a purpose, None where the technique has none."""
    return next((one.shutter_s for one in state.scene.composition.technique.layers if one.purpose == purpose), None)
