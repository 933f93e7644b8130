"""The focus check: where to magnify, and what each slice holds and can be focused on."""

from __future__ import annotations

import math
from typing import Literal

import numpy as np

from lucid_ridge.core.camera.critical import school_focus_m
from lucid_ridge.core.camera.mounted_lens import focus_span_m
from lucid_ridge.core.camera.picture import picture
from lucid_ridge.core.exposure.tolerances import is_soft
from lucid_ridge.core.records import record
from lucid_ridge.core.state.depth import FARTHEST_FOCUSED_M
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.depth.sweep import metres, micrometres
from lucid_ridge.reports.figures import Readout
from lucid_ridge.reports.sequence.layer_frames import focus_target


@record
class CheckRow:
    """One place to magnify and look at before and after the exposure."""

    what: Literal["nearest", "focus", "farthest", "third_in"]
    name: str
    distance: Readout
    where: str
    blur: Readout
    sharp: bool


@record
class StackRow:
    """One slice of the technique: where it focuses, on what, and what it keeps sharp."""

    number: int
    focus: Readout
    keeps: str
    holds: str
    target: str
    edge: str
    moving: str


_ACROSS = ("left", "middle", "right")
_UP = ("high", "half way up", "low")


def _where(state: State, index: int) -> str:
    """Where in the picture an element's middle is, after the crop."""
    whole = picture(state.geometry)
    area = state.geometry.area(index).intersection(whole)
    if area.is_empty:
        return ""
    left, top, right, foot = whole.bounds
    x, y = (area.centroid.x - left) / (right - left), (area.centroid.y - top) / (foot - top)
    return f"{_UP[min(max(int(y * 3), 0), 2)]}, {_ACROSS[min(max(int(x * 3), 0), 2)]}"


def check_card(state: State) -> tuple[CheckRow, ...]:
    """What to magnify in the field: nearest, where the focus lies, farthest; and where a third in falls."""
    depth, geometry, elements = state.depth, state.geometry, state.scene.composition.elements
    chosen = [i for i, e in enumerate(elements) if e.sharp and not math.isnan(geometry.near_m[i])]
    if not chosen:
        return ()

    def row(what: Literal["nearest", "focus", "farthest", "third_in"], name: str, at: float, where: str) -> CheckRow:
        blur = float(depth.blur_at(np.array([min(at, FARTHEST_FOCUSED_M)])).total_mm[0])
        return CheckRow(
            what=what,
            name=name,
            distance=metres(state, at),
            where=where,
            blur=micrometres(blur, f"depth.check:{what}"),
            sharp=not is_soft(blur, depth.circle_of_confusion_mm),
        )

    first = min(chosen, key=lambda i: geometry.near_m[i])
    last = max(chosen, key=lambda i: geometry.far_m[i])
    made = [
        row("nearest", f"near edge of the {elements[first].name}", float(geometry.near_m[first]), _where(state, first))
    ]
    middle = depth.slices[len(depth.slices) // 2]
    target = focus_target(state, middle)
    held = next((i for i in chosen if elements[i].name == target), None)
    made.append(
        row(
            "focus",
            f"the {target}" if target else "nothing to focus on here",
            middle.focus_m,
            "" if held is None else _where(state, held),
        )
    )
    made.append(
        row("farthest", f"far edge of the {elements[last].name}", float(geometry.far_m[last]), _where(state, last))
    )
    third = school_focus_m(state.scene, geometry, "third_in", depth.hyperfocal_m)
    there = [i for i in chosen if geometry.near_m[i] <= third <= geometry.far_m[i]]
    words = f"on the {elements[there[0]].name}" if there else "on the ground between"
    made.append(row("third_in", f"a third in, {words}", third, "a third up the picture"))
    return tuple(made)


def _edges(state: State) -> list[tuple[float, str]]:
    """Distances that can be focused on: the near and far edges of what is solid."""
    found = []
    for i, e in enumerate(state.scene.composition.elements):
        near, far = float(state.geometry.near_m[i]), float(state.geometry.far_m[i])
        if math.isnan(near) or e.role in ("sky", "water"):
            continue
        found.append((near, f"near edge of the {e.name}"))
        if far > near * 1.01 and far < FARTHEST_FOCUSED_M:
            found.append((far, f"far edge of the {e.name}"))
    return found


def stack_rows(state: State) -> tuple[tuple[StackRow, ...], tuple[float, ...]]:
    """Every slice of the technique, and the foci of the same number of slices set on edges that can be seen."""
    depth, geometry = state.depth, state.geometry
    elements = state.scene.composition.elements
    seen = [i for i in range(len(elements)) if not math.isnan(geometry.near_m[i])]
    edges = _edges(state)
    nearest, farthest = focus_span_m(state.scene.kit.lens, state.scene.composition.settings.focal_length_mm)
    rows, snapped = [], []
    for k, one in enumerate(depth.slices):
        within = [(abs(1 / d - 1 / one.focus_m), d, words) for d, words in edges
                  if one.near_m <= d <= one.far_m and nearest <= d <= farthest]  # fmt: skip
        best = min(within, default=None)
        snapped.append(best[1] if best else one.focus_m)
        held = [
            elements[i].name for i in seen
            if elements[i].role != "sky" and geometry.near_m[i] <= one.far_m and geometry.far_m[i] >= one.near_m
        ]  # fmt: skip
        # What moves is taken whole from the slice in which its middle stands: it must not be doubled.
        moving = [
            elements[i].name for i in seen
            if elements[i].motion in ("foliage", "water", "animal")
            and k == _slice_of(state, 2 / (1 / geometry.near_m[i] + 1 / min(geometry.far_m[i], FARTHEST_FOCUSED_M)))
        ]  # fmt: skip
        rows.append(
            StackRow(
                number=k + 1,
                focus=metres(state, one.focus_m, f"depth.slice:{k + 1}"),
                keeps=f"{metres(state, one.near_m).text} to {metres(state, one.far_m).text}",
                holds=", ".join(held) or "air",
                target=focus_target(state, one),
                edge=f"{best[2]}, {metres(state, best[1]).text}" if best else "",
                moving=", ".join(moving),
            )
        )
    return tuple(rows), tuple(snapped)


def _slice_of(state: State, distance_m: float) -> int:
    """Position of the slice in which a distance is sharpest."""
    inverse = 1 / np.array([one.focus_m for one in state.depth.slices])
    return int(np.abs(inverse - 1 / distance_m).argmin())
