"""Close-up stacks: by rail, by ring and by the swaying body, side by side."""

from __future__ import annotations

from typing import Literal

from lucid_ridge.core.camera.camera_stack import rail_of, rail_problem
from lucid_ridge.core.changes.kinds import Change, TakeSlices
from lucid_ridge.core.optics.stacks import (
    StackTime,
    burst_seconds,
    positions_mm,
    ring_step_dioptres,
    ring_step_mm,
    stepped_seconds,
)
from lucid_ridge.core.records import record
from lucid_ridge.core.sequence.acts import flash_wait_s
from lucid_ridge.core.state.close_up import Near
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import Readout, duration_text, significant

SETTLE_S = 2.0
RING_S = 3.0
HAND_MOVE_S = 6.0
SWAY_MM_S = 15.0
"""How fast a leaning body moves at its most even (common practice)."""
_MOST_DRAWN = 60

_PACE = {
    "shutter": "the shutter sets the pace",
    "settle": "settling sets the pace",
    "recycle": "the flash sets the pace",
    "burst": "at full burst rate",
    "buffer": "the buffer fills",
}


@record
class StackSlice:
    """A slice over the subject: shares of its depth from front (0) to back (1)."""

    front: float
    focus: float
    back: float


@record
class StackPlan:
    """A stack by one means. ``perspective`` says what moves the picture between frames."""

    means: Literal["rail", "ring", "sway"]
    name: str
    frames: int
    step: Readout
    step_text: str
    first: Readout
    last: Readout
    time: Readout
    pace: str
    perspective: str
    slices: tuple[StackSlice, ...]
    problem: str
    in_use: bool
    changes: tuple[Change, ...]


def _none(means: Literal["rail", "ring", "sway"], name: str, problem: str) -> StackPlan:
    nothing = Readout(value=None, text="")
    return StackPlan(
        means=means, name=name, frames=0, step=nothing, step_text="", first=nothing, last=nothing, time=nothing,
        pace="", perspective="", slices=(), problem=problem, in_use=False, changes=(),
    )  # fmt: skip


def _sentence(text: str) -> str:
    return f"{text[0].upper()}{text[1:]}." if text else ""


# Long: one record, field by field.
def stack_plans(state: State, now: Near) -> tuple[StackPlan, ...]:
    """The three means for one subject. Where one cannot be used it says why."""
    technique, body = state.scene.composition.technique, state.scene.kit.body
    rail = rail_of(state.scene)
    depth, deep = now.depth.counted, now.subject_depth_mm
    step = depth * (1 - technique.overlap)
    names: tuple[tuple[Literal["rail", "ring", "sway"], str], ...] = (
        ("rail", rail.name if rail else "rail, or the stand moved by hand"), ("ring", "focus ring"), ("sway", "body sway, burst by hand"),
    )  # fmt: skip
    if deep > 1000:
        text = "What must be sharp is deeper than a metre; say how deep the subject is, or use the slices of the ruler."
        return tuple(_none(means, name, text) for means, name in names)
    try:
        planes = positions_mm(deep, depth, step)
    except ValueError as error:
        return tuple(_none(means, name, _sentence(str(error))) for means, name in names)
    frames, shutter, wait = len(planes), state.exposure.settings.shutter_s, flash_wait_s(state)
    drawn = planes if frames <= _MOST_DRAWN else planes[:: frames // _MOST_DRAWN + 1]
    span = max(deep, 1e-6)
    slices = tuple(
        StackSlice(front=float((p - depth / 2) / span), focus=float(p / span), back=float((p + depth / 2) / span))
        for p in drawn
    )
    made = []
    for means, name in names:
        problem = ""
        if means == "rail":
            timed = stepped_seconds(frames, shutter, rail.step_s if rail else HAND_MOVE_S, SETTLE_S, wait)
            how = f"camera forward {significant(step, 2)} mm between frames"
            same = "The camera moves: near parts pass far ones a little, the magnification stays."
            problem = _sentence(rail_problem(rail, step, float(planes[-1] - planes[0])))
        elif means == "ring":
            timed = stepped_seconds(frames, shutter, RING_S, SETTLE_S, wait)
            how = f"{significant(ring_step_mm(step, now.magnification), 2)} mm behind the lens, {significant(ring_step_dioptres(step, now.subject_mm), 2)} dioptres"
            same = "The lens breathes: the picture's size changes from frame to frame, its viewpoint hardly."
        else:
            timed = _swayed(state, frames)
            per_frame = SWAY_MM_S / body.burst_per_s
            how = f"at {SWAY_MM_S:g} mm/s a frame every {significant(per_frame, 2)} mm"
            same = "Camera and hand move: choose the frames that hit, and align them."
            if per_frame > depth:
                problem = (
                    f"At {body.burst_per_s:g} frames a second the sway leaves {significant(per_frame, 2)} mm between frames and one holds "
                    f"{significant(depth, 2)} mm: sway twice as slowly and several times, or use a rail."
                )
        mode: Literal["rail", "gapless", "sway"] = "gapless" if means == "ring" else means
        made.append(
            StackPlan(
                means=means,
                name=name,
                frames=frames,
                step=Readout(value=step, text=f"{significant(step, 2)} mm", explain=f"close.step:{means}"),
                step_text=how,
                first=Readout(
                    value=float(planes[0]),
                    text=f"{significant(float(planes[0]), 2)} mm behind the front",
                    explain=f"close.step:{means} first",
                ),
                last=Readout(
                    value=float(planes[-1]),
                    text=f"{significant(float(planes[-1]), 3)} mm behind the front",
                    explain=f"close.step:{means} last",
                ),
                time=Readout(value=timed.seconds, text=duration_text(timed.seconds), explain=f"close.time:{means}"),
                pace=_PACE[timed.pace]
                + (f" after {timed.frames_before_buffer} frames" if timed.pace == "buffer" else ""),
                perspective=same,
                slices=slices,
                problem=problem,
                in_use=technique.slices == mode,
                changes=(TakeSlices(mode=mode),),
            )
        )
    return tuple(made)


def _swayed(state: State, frames: int) -> StackTime:
    body = state.scene.kit.body
    rate = min(body.burst_per_s, 1 / max(state.exposure.settings.shutter_s, flash_wait_s(state), 1e-4))
    return burst_seconds(frames, rate, body.buffer_frames, body.written_per_s)
