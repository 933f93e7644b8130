"""Two frames beside each other, as planned and as it came back, where they differ most: the picture alone decides."""

from __future__ import annotations

from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.practice.drills import Drill
from lucid_ridge.core.rehearsal.rehearsal import Picture, Rehearsal
from lucid_ridge.core.rehearsal.window import Window
from lucid_ridge.core.state.state import State

ACROSS, DOWN = 480, 360
_LOOKED_AT_PX = 800
_WHOLE = frozenset({"stale_exposure", "forgotten_polariser", "clipped_red"})
"""What shows in the picture as a whole, not in a piece of it."""
_SEEN = 10.0
"""Greatest difference that a hundredth of the pixels must reach, in steps of 255 (common practice: about what is just noticed)."""
_TRIES, _LARGER = 5, 1.7


@dataclass(frozen=True, eq=False)
class Pair:
    """Both pictures (rows, columns, 3), how large the mishap had to be made, and whether it can be seen then."""

    planned: Picture
    came_back: Picture
    size: float
    seen: bool


def difference(one: Picture, other: Picture) -> float:
    """How far two pictures differ: what a hundredth of their pixels reach, in steps of 255, noise left out."""
    a, b = (cv2.GaussianBlur(p, (0, 0), 1.0).astype(np.float32) for p in (one, other))
    return float(np.percentile(np.abs(a - b).max(axis=2), 99))


def _where(planned: Rehearsal, wrong: Rehearsal, number: int) -> tuple[float, float]:
    """The place in the frame where two frames differ most."""
    a, b = (one.light(one.shots[number - 1]) for one in (planned, wrong))
    differ = cv2.blur(np.abs(np.sqrt(np.maximum(a, 0)) - np.sqrt(np.maximum(b, 0))).sum(axis=2), (61, 45))
    row, column = np.unravel_index(int(differ.argmax()), differ.shape)
    window = planned.window
    return float(window.columns[column]), float(window.rows[row])


def _middle_of_detail(planned: Rehearsal, number: int) -> tuple[float, float]:
    """A place with something to see, where nothing went wrong."""
    light = np.sqrt(np.maximum(planned.light(planned.shots[number - 1]), 0)).mean(axis=2)
    detail = cv2.blur(np.abs(cv2.Laplacian(light, cv2.CV_32F)), (61, 45))
    row, column = np.unravel_index(int(detail.argmax()), detail.shape)
    return float(planned.window.columns[column]), float(planned.window.rows[row])


def pair_of(state: State, drill: Drill, key: str, seed: int) -> Pair:
    """The pictures of a drill about what went wrong. A mishap that nobody could see is made larger until one can."""
    number = drill.number or 1
    planned = Rehearsal(state, _LOOKED_AT_PX, seed)
    mishap = drill.mishap
    whole = key.partition(":")[2] in _WHOLE
    if mishap is None:
        window = (
            None
            if whole
            else planned.piece(planned.shots[number - 1], _middle_of_detail(planned, number), ACROSS, DOWN)
        )
        again = Rehearsal(state, _LOOKED_AT_PX, seed + 1)
        return Pair(_picture(planned, number, window), _picture(again, number, window), 0.0, True)
    for _ in range(_TRIES):
        wrong = Rehearsal(state, _LOOKED_AT_PX, seed + 1, mishaps=[mishap])
        window = (
            None if whole else planned.piece(planned.shots[number - 1], _where(planned, wrong, number), ACROSS, DOWN)
        )
        one, other = _picture(planned, number, window), _picture(wrong, number, window)
        pair = Pair(one, other, mishap.size, difference(one, other) >= _SEEN)
        if pair.seen:
            break
        mishap = replace(mishap, size=min(mishap.size * _LARGER, 1000.0))
    return pair


def _picture(rehearsal: Rehearsal, number: int, window: Window | None) -> Picture:
    return rehearsal.frame(rehearsal.shots[number - 1], window).picture


def shown_at(state: State, shutter_s: float, seed: int, longest_px: int = 960) -> NDArray[np.uint8]:
    """The frame of a scene at another shutter time, as bright as it is."""
    rehearsal = Rehearsal(state, longest_px, seed)
    shot = min(rehearsal.merged(), key=lambda one: abs(one.offset_stops))
    return rehearsal.frame(replace(shot, shutter_s=shutter_s)).picture
