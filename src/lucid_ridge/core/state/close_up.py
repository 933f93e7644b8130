"""What follows from a scene close up: magnification, distances and the subject, for the reports to read."""

from __future__ import annotations

import math
from dataclasses import dataclass

from lucid_ridge.core.camera.camera_stack import FrameDepth, frame_depth, subject_span_m
from lucid_ridge.core.camera.geometry import focus_distance
from lucid_ridge.core.camera.mounted_lens import MountedLens, bare_lens, focus_span_m, magnification_span, optics_of
from lucid_ridge.core.framing.camera import frame_sides_mm
from lucid_ridge.core.model.kit import Lens
from lucid_ridge.core.optics.close_up import focal_length_from, subject_from_lens_mm, subject_from_sensor_mm
from lucid_ridge.core.optics.pupils import Optics
from lucid_ridge.core.state.state import State

DEFAULT_WIDTH_MM = 30.0
DEFAULT_BEHIND_MM = 500.0


@dataclass(frozen=True)
class Near:
    """A scene close up. Millimetres on both sides of the lens; ``depth`` of one frame.

    Distances count from the principal plane, but for ``pupil_to_subject_mm``.
    """

    focal_mm: float
    f_number: float
    optics: Optics
    magnification: float
    reach: tuple[float, float]
    image_mm: float
    pupil_to_subject_mm: float
    subject_mm: float
    from_sensor_mm: float
    working_mm: float | None
    frame_mm: tuple[float, float]
    working_f_number: float
    depth: FrameDepth
    subject_width_mm: float
    subject_depth_mm: float
    behind_mm: float


def front_of_lens_mm(lens: Lens, focal_length_mm: float, magnification: float) -> float | None:
    """Sensor to the front of the lens in mm, with the gear behind it; None where the lens's length is not told."""
    bare = bare_lens(lens)
    if bare.front_mm is None:
        return None
    behind, longer = (lens.extension_mm, lens.length_mm) if isinstance(lens, MountedLens) else (0.0, 0.0)
    own = max(magnification - behind / focal_length_mm, 0.0)
    return bare.front_mm + longer + (focal_length_mm * own if bare.lengthens else 0.0)


def from_sensor_mm(lens: Lens, focal_mm: float, magnification: float) -> float:
    """Subject to sensor in mm at a magnification.

    A lens that does not lengthen shortens its focal length instead; between infinity and its nearest focus,
    where its maker's figures tell it, the focal length is taken to go with the magnification.
    """
    bare = bare_lens(lens)
    largest = bare.largest_magnification
    if largest is not None and not bare.lengthens and lens is bare:
        nearest = float(focal_length_from(bare.minimum_focus_m * 1000, largest))
        focal_mm += (nearest - focal_mm) * min(magnification / largest, 1.0)
    return float(subject_from_sensor_mm(focal_mm, magnification))


def working_distance_mm(lens: Lens, focal_length_mm: float, focal_mm: float, magnification: float) -> float | None:
    """Subject to the front of the lens in mm; None where the lens's length is not told."""
    front = front_of_lens_mm(lens, focal_length_mm, magnification)
    return None if front is None else from_sensor_mm(lens, focal_mm, magnification) - front


def near(state: State) -> Near:
    """The close-up side of a state. Focus at infinity counts as the nearest that can be focused on."""
    scene, settings, lens = state.scene, state.scene.composition.settings, state.scene.kit.lens
    composition, body = scene.composition, scene.kit.body
    optics = optics_of(lens, settings)
    f = optics.focal_length_mm
    closest, _ = focus_span_m(lens, settings.focal_length_mm)
    focus = focus_distance(scene)
    subject = (closest if math.isinf(focus) else focus) * 1000
    m = f / (subject - f)
    width, height = frame_sides_mm(body.sensor_width_mm, body.sensor_height_mm, composition.orientation == "portrait")
    front, back = subject_span_m(scene, (state.depth.near_m, state.depth.far_m))
    return Near(
        focal_mm=f,
        f_number=optics.f_number,
        optics=optics,
        magnification=m,
        reach=magnification_span(lens, settings.focal_length_mm),
        image_mm=f * (1 + m),
        pupil_to_subject_mm=subject - optics.pupil_ahead_m * 1000,
        subject_mm=float(subject_from_lens_mm(f, m)),
        from_sensor_mm=from_sensor_mm(lens, f, m),
        working_mm=working_distance_mm(lens, settings.focal_length_mm, f, m),
        frame_mm=(width / m, height / m),
        working_f_number=optics.working_f_number(m),
        depth=frame_depth(scene, optics, state.depth.sharp, m),
        subject_width_mm=composition.close_up.subject_width_mm or _subject_width_mm(state),
        subject_depth_mm=(back - front) * 1000,
        behind_mm=composition.close_up.behind_mm or _behind_mm(state, subject),
    )


def _subject_width_mm(state: State) -> float:
    for element in state.scene.composition.elements:
        if element.role == "subject" and element.width_m > 0:
            return element.width_m * 1000
    return DEFAULT_WIDTH_MM


def _behind_mm(state: State, subject_mm: float) -> float:
    """From the plane of focus to the background that fills the picture behind it."""
    away = [
        float(state.geometry.near_m[i]) * 1000 - subject_mm
        for i, e in enumerate(state.scene.composition.elements)
        if e.role in ("background", "middle", "sky") and not math.isnan(state.geometry.near_m[i])
    ]
    return max([one for one in away if one > 0], default=DEFAULT_BEHIND_MM)
