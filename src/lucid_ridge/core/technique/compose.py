"""Separation of what is in the picture, and the camera height that gives it."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.figures import Figure, degrees_text, distance_text
from lucid_ridge.core.framing.camera import Camera
from lucid_ridge.core.framing.outlines import Outline, outlines
from lucid_ridge.core.framing.separation import cut_share, gap, in_frame_heights, skyline_y
from lucid_ridge.core.framing.silhouettes import LYING
from lucid_ridge.core.records import FieldProblem, SceneError, record
from lucid_ridge.core.technique.changes import SetHeight
from lucid_ridge.core.technique.scene import Element
from lucid_ridge.core.technique.state import State

Array = NDArray[np.float64]
MeetingKind = Literal["overlap", "touch", "cut", "horizon", "edge"]

WANTED_GAP = 0.015
"""Gap in frame heights from which two outlines read as apart (common practice: a clear gap)."""
# A skyline within this share of a subject's foot is what it stands on, not what cuts it.
_FOOT_SHARE = 0.1
_STANDING = ("foreground", "subject", "middle")
_BEHIND = ("middle", "background")
_HEIGHT_STEP_M = 0.01
MOST_PAIRS = 60


@record
class Meeting:
    """Two outlines that meet, or one that a line or the frame's edge meets.

    ``gap`` is in percent of the frame's height, negative for an overlap; for a cut the share of the
    subject's height from its foot.
    """

    kind: MeetingKind
    element_id: str
    other_id: str | None
    sentence: str
    gap: Figure
    angle: Figure | None


@record
class HeightAnswer:
    """The camera height that parts a pair: the change, what it gives, or why there is none."""

    change: SetHeight | None
    height: Figure | None
    label: str
    gives: str
    why_not: str


def _body(camera: Camera, drawn: tuple[Outline, ...]) -> Array | None:
    """The main outline in frame heights; None where nothing of it is in front of the lens."""
    if not drawn:
        return None
    aspect = camera.frame_width_mm / camera.frame_height_mm
    return in_frame_heights(np.array(drawn[0].points), aspect)


def _close_pairs(bodies: list[Array]) -> list[tuple[int, int]]:
    """Positions of the pairs whose extents come within the wanted gap, nearest elements first.

    At most `MOST_PAIRS`: in a thicket where everything meets everything, more would tell nothing.
    """
    if len(bodies) < 2:
        return []
    low = np.array([body.min(axis=0) for body in bodies])
    high = np.array([body.max(axis=0) for body in bodies])
    apart = (np.maximum(low[:, None], low[None]) - np.minimum(high[:, None], high[None])).max(axis=-1)
    first, second = np.nonzero(np.triu(apart <= WANTED_GAP, k=1))
    return list(zip(first.tolist(), second.tolist(), strict=True))[:MOST_PAIRS]


def _standing(element: Element) -> bool:
    return element.role in _STANDING and element.silhouette not in LYING


def _angle(state: State, share: float) -> float:
    """Degrees that a share of the frame's height spans in the middle of the frame."""
    return math.degrees(math.atan(abs(share) * 2 * state.geometry.camera.half_tangents[1]))


def _percent(share: float) -> str:
    return f"{'−' if share < 0 else ''}{abs(share) * 100:.1f} %"


def _cut(subject: Array, other: Array) -> float | None:
    """Share of the subject's height at which the other's skyline passes behind its middle."""
    line = skyline_y(other, float((subject[:, 0].min() + subject[:, 0].max()) / 2))
    share = None if line is None else cut_share(subject, line)
    return share if share is not None and share > _FOOT_SHARE else None


def _meeting(state: State, kind: MeetingKind, a: Element, b: Element | None, share: float) -> Meeting:
    angle = _angle(state, share)
    name = b.name if b else "horizon"
    sentence = {
        "overlap": f"The {a.name} and the {name} overlap by {_percent(abs(share))} of the frame's height.",
        "touch": f"The {a.name} and the {name} nearly touch: {_percent(share)} of the frame's height between them.",
        "cut": f"The {name} runs through the {a.name} at {share:.0%} of its height.",
        "horizon": f"The horizon runs through the {a.name} at {share:.0%} of its height.",
        "edge": f"The {a.name} touches the edge of the picture.",
    }[kind]
    paired = kind in ("overlap", "touch")
    return Meeting(
        kind=kind,
        element_id=a.id,
        other_id=b.id if b else None,
        sentence=sentence,
        gap=Figure(value=share * 100, text=_percent(share), explain="framing.separation"),
        angle=Figure(value=angle, text=degrees_text(angle, 1), explain="framing.separation") if paired else None,
    )


def separation(state: State) -> tuple[Meeting, ...]:
    """Everything in the picture that is not clear of something else."""
    camera, elements = state.geometry.camera, state.scene.composition.elements
    seen = [(i, e) for i, e in enumerate(elements) if not math.isnan(state.geometry.near_m[i])]
    bodies = {
        e.id: body
        for i, e in seen
        if e.role != "sky" and e.silhouette not in LYING
        for body in [_body(camera, state.geometry.outlines(i, e))]
        if body is not None
    }
    away = {e.id: float(state.geometry.near_m[i]) for i, e in seen}
    standing = sorted((e for _, e in seen if _standing(e) and e.id in bodies), key=lambda e: away[e.id])
    found: list[Meeting] = []
    for n, m in _close_pairs([bodies[e.id] for e in standing]):
        a, b = standing[n], standing[m]
        subject, other = (a, b) if a.role == "subject" else (b, a)
        if subject.role == "subject" and other.role == "middle" and away[other.id] > away[subject.id]:
            continue  # it stands behind: its skyline is what matters
        between = gap(bodies[a.id], bodies[b.id])
        if between < WANTED_GAP:
            found.append(_meeting(state, "overlap" if between < 0 else "touch", subject, other, between))
    horizon = camera.horizon_y()
    for subject in (e for e in standing if e.role == "subject"):
        body = bodies[subject.id]
        for _, other in seen:
            if other.role in _BEHIND and other.id in bodies and away[other.id] > away[subject.id]:
                share = _cut(body, bodies[other.id])
                if share is not None:
                    found.append(_meeting(state, "cut", subject, other, share))
        if horizon is not None:
            share = cut_share(body, sum(horizon) / 2)
            if share is not None and share > _FOOT_SHARE:
                found.append(_meeting(state, "horizon", subject, None, share))
        aspect = camera.frame_width_mm / camera.frame_height_mm
        low, high = body.min(axis=0), body.max(axis=0)
        if low[0] < 0.005 or high[0] > aspect - 0.005 or low[1] < 0.005:
            found.append(_meeting(state, "edge", subject, None, float(min(low[0], aspect - high[0], low[1]))))
    return tuple(found)


def height_to_part(state: State, element_id: str, other_id: str) -> HeightAnswer:
    """The smallest change of camera height, within the support's reach, that parts two elements.

    They count as parted when the gap between their outlines is at least `WANTED_GAP` and no skyline
    of the other runs through the first.

    Raises
    ------
    SceneError
        If an id names no element in the frame.

    """
    elements = {e.id: (i, e) for i, e in enumerate(state.scene.composition.elements)}
    for pointer, wanted in (("/element_id", element_id), ("/other_id", other_id)):
        if wanted not in elements or math.isnan(state.geometry.near_m[elements[wanted][0]]):
            raise SceneError([FieldProblem(pointer=pointer, message="Choose an element that is in the frame.")])
    (i, a), (j, b) = elements[element_id], elements[other_id]
    composition, support, units = state.scene.composition, state.scene.kit.support, state.scene.units
    farther = float(state.geometry.near_m[j]) > float(state.geometry.near_m[i])
    behind = b.role in _BEHIND and a.role == "subject" and farther

    def clear(height: float) -> bool:
        camera = replace(
            state.geometry.camera,
            position_m=(composition.east_m, composition.north_m, composition.ground_m + height),
        )
        first = _body(camera, outlines(camera, a.silhouette, a.id, state.geometry.corners_m[i]))
        second = _body(camera, outlines(camera, b.silhouette, b.id, state.geometry.corners_m[j]))
        if first is None or second is None:
            return False
        return _cut(first, second) is None if behind else gap(first, second) >= WANTED_GAP

    low, high = (support.lowest_m, support.highest_m) if state.steady else (0.1, 1.75)
    now = composition.camera_height_m
    heights = np.append(np.arange(low, high, _HEIGHT_STEP_M), high)
    for height in sorted(heights, key=lambda h: abs(h - now)):
        if clear(float(height)):
            chosen = round(float(height), 2)
            text = distance_text(chosen, units)
            return HeightAnswer(
                change=SetHeight(camera_height_m=chosen),
                height=Figure(value=chosen, text=text),
                label=f"{'Raise' if chosen > now else 'Lower'} to {text}",
                gives=f"The {a.name} and the {b.name} are then apart.",
                why_not="",
            )
    reach = f"{distance_text(low, units)} to {distance_text(high, units)}"
    return HeightAnswer(
        change=None,
        height=None,
        label="",
        gives="",
        why_not=f"No height from {reach} parts them; step sideways, or move the aim.",
    )
