"""What every solver needs: finding elements and their points, and the line that may not be crossed."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.camera.geometry import Geometry
from lucid_ridge.core.camera.keep_out import crossed_line
from lucid_ridge.core.changes.kinds import Change
from lucid_ridge.core.framing.silhouettes import LYING
from lucid_ridge.core.model.scene import Element, Scene
from lucid_ridge.core.records import FieldProblem, SceneError
from lucid_ridge.core.solve.wishes import AnchorPart, Refusal, RefusalKind, Solution
from lucid_ridge.core.state.state import State

Array = NDArray[np.float64]


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
    message = "Choose an element that is in the frame." if in_frame else "Choose an element of the composition."
    raise SceneError([FieldProblem(pointer=pointer, message=message)])


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


def beyond_a_line(scene: Scene) -> bool:
    """Whether one may not stand where a scene does."""
    composition = scene.composition
    return crossed_line(composition, composition.east_m, composition.north_m) is not None


def behind_the_line(scene: Scene) -> Solution:
    """The refusal to stand where a scene does; by the coordinates of that place the line is found again."""
    return refused("keep_out", east_m=scene.composition.east_m, north_m=scene.composition.north_m)


def granted(changes: tuple[Change, ...], **amounts: float) -> Solution:
    """The solution that makes these changes."""
    return Solution(changes=changes, amounts=amounts)


def refused(kind: RefusalKind, **amounts: float) -> Solution:
    """No change grants the wish."""
    return Solution(refused=Refusal(kind, amounts))
