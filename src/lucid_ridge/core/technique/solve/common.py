"""What every solver needs: finding elements, trying changes, telling what else they alter."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.framing.silhouettes import LYING
from lucid_ridge.core.records import FieldProblem, SceneError
from lucid_ridge.core.technique.changes import Change, apply_changes
from lucid_ridge.core.technique.compose import separation
from lucid_ridge.core.technique.geometry import Geometry
from lucid_ridge.core.technique.reach import how_reached
from lucid_ridge.core.technique.reports.view import framing_report
from lucid_ridge.core.technique.scene import Element, Scene
from lucid_ridge.core.technique.solve.wishes import AnchorPart, Answer, Fact
from lucid_ridge.core.technique.standing import KEEP_BACK, crossed_line
from lucid_ridge.core.technique.state import State, build_state
from lucid_ridge.core.technique.tensions import find

Array = NDArray[np.float64]

_MOST_ALTERED = 6


def position_of(state: State, element_id: str, pointer: str, in_frame: bool = True) -> int:
    """Position of an element in the scene.

    Raises
    ------
    SceneError
        If there is none, or it is out of the frame where it must be in it.

    """
    for i, element in enumerate(state.geometry.elements):
        if element.id == element_id and (state.geometry.seen(i) or not in_frame):
            return i
    where = "that is in the frame" if in_frame else "of the composition"
    raise SceneError([FieldProblem(pointer=pointer, message=f"Choose an element {where}.")])


def only(scene: Scene, elements: tuple[Element, ...]) -> Scene:
    """A scene with some of its elements alone: quick to try."""
    return replace(scene, composition=replace(scene.composition, elements=elements, reading=None))


def anchor_point(geometry: Geometry, index: int, part: AnchorPart) -> Array:
    """The point (3,) of an element that a wish places: on the near face, or in the middle of what lies."""
    crest = geometry.crests[index]
    if crest is not None:
        return np.asarray(crest[len(crest) // 2])
    corners = geometry.corners_m[index]
    if geometry.elements[index].silhouette in LYING:
        return np.asarray(corners[[0, 1, 4, 5]].mean(axis=0))
    foot, top = corners[[0, 1]].mean(axis=0), corners[[2, 3]].mean(axis=0)
    return np.asarray({"foot": foot, "top": top, "middle": (foot + top) / 2}[part])


def in_picture(geometry: Geometry, point_m: Array) -> Array:
    """Place (2,) of a point in the picture after the crop, 0..1 across and down."""
    left, top, width, height = geometry.crop
    x, y = geometry.camera.project(point_m)
    return np.array([(x - left) / width, (y - top) / height])


def line_in_the_way(scene: Scene) -> str:
    """Why one may not stand where a scene does; empty where one may."""
    composition = scene.composition
    line = crossed_line(composition, composition.east_m, composition.north_m)
    return "" if line is None else f"It would take you beyond the {line.name}. {KEEP_BACK}"


def _alters(before: State, after: State) -> tuple[str, ...]:
    """What else changes: tensions, separations, elements that leave, the sky, the support."""
    was, now = {t.kind: t for t in find(before)}, {t.kind: t for t in find(after)}
    said = [how_reached(after.scene, after.steady, after.scene.composition.camera_height_m)]
    said += [f"{t.title}: {t.sentence}" for kind, t in now.items() if kind not in was]
    said += [f"No longer: {t.title[0].lower()}{t.title[1:]}." for kind, t in was.items() if kind not in now]
    met = {(m.kind, m.element_id, m.other_id) for m in separation(before)}
    said += [m.sentence for m in separation(after) if (m.kind, m.element_id, m.other_id) not in met]
    for i, element in enumerate(before.geometry.elements):
        if before.geometry.seen(i) and not after.geometry.seen(i):
            said.append(f"The {element.name} leaves the frame.")
        elif after.geometry.seen(i) and not before.geometry.seen(i):
            said.append(f"The {element.name} comes into the frame.")
    old, new = framing_report(before).sky, framing_report(after).sky
    if old.value is not None and new.value is not None and abs(old.value - new.value) >= 3:
        said.append(f"Sky goes from {old.text} to {new.text} of the picture.")
    return tuple(one for one in said if one)[:_MOST_ALTERED]


def granted(state: State, changes: tuple[Change, ...], label: str, gives: str, facts: tuple[Fact, ...] = ()) -> Answer:
    """The answer that makes these changes, with its picture and what else it alters."""
    after = build_state(apply_changes(state.scene, changes), terrain=state.terrain)
    return Answer(
        changes=changes,
        label=label,
        gives=gives,
        facts=facts,
        alters=_alters(state, after),
        picture=framing_report(after),
    )


def refused(why: str) -> Answer:
    """No change grants the wish."""
    return Answer(why_not=why)
