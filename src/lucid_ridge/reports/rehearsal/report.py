"""What a rehearsal's frames are, before any is drawn; and what is told of each when it is."""

from __future__ import annotations

import math

import numpy as np

from lucid_ridge.core.records import record
from lucid_ridge.core.rehearsal.mishaps import USUAL_SIZE, Mishap, MishapKind, possible, with_mishap
from lucid_ridge.core.rehearsal.rehearsal import Frame, Proof
from lucid_ridge.core.rehearsal.shots import Shot, levels_of, shots_of
from lucid_ridge.core.state.depth import FARTHEST_FOCUSED_M
from lucid_ridge.core.state.state import State
from lucid_ridge.core.state.subject_motion import moving_elements
from lucid_ridge.core.stops.scales import on_third
from lucid_ridge.reports.figures import aperture_text, distance_text, iso_text, shutter_text, stops_text
from lucid_ridge.reports.rehearsal.words import INVENTED, MISHAPS, share_text

MOST_FRAMES = 120
"""More frames than that are not drawn one by one."""
_SHUTTERS = (-30, -18, -9, -3, 0, 3, 9, 15, 24)
_BESIDE_STOPS = 0.6
_APERTURES = (9, 12, 15, 18, 21, 24, 27)


@record
class RehearsedFrame:
    """A frame that can be drawn: what it is called and set to. ``merged`` says that it goes into the proof."""

    number: int
    title: str
    settings: str
    merged: bool


@record
class MishapOffered:
    """Something that can go wrong here: its name, what it means, and how badly it usually is, in a unit."""

    kind: MishapKind
    name: str
    meaning: str
    size: float
    unit: str


@record
class StripStep:
    """One step of a strip: what is told of it, and its exact value."""

    text: str
    value: float


@record
class RehearsalReport:
    """The frames of a rehearsal and what may be asked of it.

    ``strip_at`` is the place in the frame that strips of shutter times and of apertures look at; steps are empty where a strip
    would show nothing.
    """

    frames: tuple[RehearsedFrame, ...]
    count: int
    invented: tuple[str, ...]
    mishaps: tuple[MishapOffered, ...]
    shutters: tuple[StripStep, ...]
    apertures: tuple[StripStep, ...]
    shutters_at: tuple[float, float]
    apertures_at: tuple[float, float]


@record
class FrameReport:
    """What is told of a drawn frame. ``histogram`` is red, green and blue, heights from 0 to 1 to draw."""

    title: str
    settings: str
    clipped: str
    blocked: str
    histogram: tuple[tuple[float, ...], tuple[float, ...], tuple[float, ...]]


@record
class ProofReport:
    """What is told of the merged picture."""

    title: str
    told: tuple[str, ...]
    histogram: tuple[tuple[float, ...], tuple[float, ...], tuple[float, ...]]


def _focus_text(state: State, shot: Shot) -> str:
    away = shot.focus_m + shot.moved_m
    return "∞" if away >= FARTHEST_FOCUSED_M * 0.99 else distance_text(away, state.scene.units)


def title_of(state: State, shot: Shot) -> str:
    """What a frame is called by what sets it apart from the others."""
    if shot.purpose is not None:
        return "Layer for the leaves" if shot.purpose == "foliage" else "Layer for the wave"
    parts = [f"Panel {shot.panel.number}"] if shot.panel else []
    if len(state.depth.slices) > 1:
        parts.append(f"slice {shot.slice_at + 1}")
    if len(state.offsets) > 1:
        parts.append(stops_text(shot.offset_stops))
    return ", ".join(parts)[:1].upper() + ", ".join(parts)[1:] if parts else "The frame"


def settings_of(state: State, shot: Shot) -> str:
    """What a frame is taken with."""
    focus = _focus_text(state, shot)
    return f"{aperture_text(shot.aperture_n)}, {shutter_text(shot.shutter_s)}, ISO {iso_text(shot.iso)}, focus {focus}"


def mishaps_offered(state: State, planned: tuple[Shot, ...]) -> tuple[MishapOffered, ...]:
    """What can go wrong in a sequence, in words."""
    return tuple(
        MishapOffered(
            kind=kind, name=MISHAPS[kind][0], meaning=MISHAPS[kind][1], size=USUAL_SIZE[kind], unit=MISHAPS[kind][2]
        )
        for kind in possible(state, planned)
    )


def rehearsal_report(state: State, mishaps: tuple[Mishap, ...] = ()) -> RehearsalReport:
    """The frames that can be drawn of a scene, in their order."""
    planned = shots = shots_of(state)
    for mishap in mishaps:
        shots = with_mishap(state, shots, mishap)
    base = [one for one in shots if one.purpose is None]
    first = base[0].panel if base else None
    names = {e.id: e.name for e in state.scene.composition.elements}
    assumed = [names[i] for i in levels_of(state, planned[0]).assumed if _in_frame(state, i)]
    told = (
        (f"Nobody said how bright these are, so they are as such things usually are: {_listed(assumed)}.",)
        if assumed
        else ()
    )
    waters = moving_elements(state, "water") or moving_elements(state, "foliage")
    return RehearsalReport(
        frames=tuple(
            RehearsedFrame(
                number=one.number,
                title=title_of(state, one),
                settings=settings_of(state, one),
                merged=one.purpose is None and one.panel is first,
            )
            for one in shots[:MOST_FRAMES]
        ),
        count=len(shots),
        invented=(*INVENTED, *told),
        mishaps=mishaps_offered(state, planned),
        shutters=_shutters(state.exposure.settings.shutter_s) if waters else (),
        apertures=tuple(
            _step(aperture_text, on_third(k, "aperture"))
            for k in _APERTURES
            if _reaches(state, on_third(k, "aperture"))
        ),
        shutters_at=_middle(state, waters[0]) if waters else (0.5, 0.5),
        apertures_at=_middle(state, _nearest_sharp(state)),
    )


def _listed(names: list[str]) -> str:
    some = names[:6]
    return ", ".join(some) + (f" and {len(names) - 6} more" if len(names) > 6 else "")


def _in_frame(state: State, ident: str) -> bool:
    return any(e.id == ident and state.geometry.seen(i) for i, e in enumerate(state.geometry.elements))


def _shutters(own_s: float) -> tuple[StripStep, ...]:
    """Shutter times to see beside each other, the scene's own among them."""
    usual = [on_third(k, "shutter") for k in _SHUTTERS]
    others = [one for one in usual if abs(math.log2(one / own_s)) > _BESIDE_STOPS]
    return tuple(_step(shutter_text, one) for one in sorted([*others, own_s]))


def _step(text: object, value: float) -> StripStep:
    assert callable(text)
    return StripStep(text=text(value), value=value)


def _reaches(state: State, aperture_n: float) -> bool:
    lens = state.scene.kit.lens
    return lens.widest_f_number * 0.97 <= aperture_n <= lens.narrowest_f_number * 1.03


def _nearest_sharp(state: State) -> int | None:
    """The subject, else the nearest thing that must be sharp: what is before and behind it shows what an aperture does."""
    wanted = [
        (e.role != "subject", float(state.geometry.near_m[i]), i)
        for i, e in enumerate(state.geometry.elements)
        if e.sharp and state.geometry.seen(i)
    ]
    return min(wanted)[2] if wanted else None


def _middle(state: State, index: int | None) -> tuple[float, float]:
    """A place in the middle of what is seen of a thing in the frame: of its largest outline."""
    if index is None:
        return (0.5, 0.5)
    parts = [np.clip(np.array(one.points), 0, 1) for one in state.geometry.outlines(index) if one.paint != "shade"]
    if not parts:
        return (0.5, 0.5)
    x, y = max(parts, key=lambda part: float(np.prod(np.ptp(part, axis=0)))).mean(axis=0)
    return float(x), float(y)


def heights(histogram: np.ndarray) -> tuple[tuple[float, ...], tuple[float, ...], tuple[float, ...]]:
    """A histogram (3, 64) as heights from 0 to 1; the two ends do not press down what lies between."""
    most = max(float(np.sqrt(histogram[:, 1:-1]).max()), 1.0)
    red, green, blue = (tuple(round(min(float(v), 1.0), 3) for v in np.sqrt(row) / most) for row in histogram)
    return red, green, blue


def frame_report(state: State, frame: Frame) -> FrameReport:
    """What is told of a frame that was drawn."""
    return FrameReport(
        title=title_of(state, frame.shot),
        settings=settings_of(state, frame.shot),
        clipped=f"clipped: {share_text(frame.clipped_share)}",
        blocked=f"no detail in shadows: {share_text(frame.blocked_share)}",
        histogram=heights(frame.histogram),
    )


def proof_report(state: State, proof: Proof, frames: int) -> ProofReport:
    """What is told of the merged picture, and where it fails."""
    names = {e.id: e.name for e in state.scene.composition.elements}
    soft = [names[i] for i in proof.soft_ids]
    told = []
    if soft:
        told.append(f"Soft in every frame: {_listed(soft)}.")
    if proof.lost.mean() > 0.001:
        told.append(f"No frame holds the light in {share_text(float(proof.lost.mean()))} of the picture.")
    if proof.ghosts.mean() > 0.001:
        told.append(
            f"Something stands elsewhere in each frame, in {share_text(float(proof.ghosts.mean()))} of the picture."
        )
    title = "The picture" if frames == 1 else f"Merged from {frames} frames"
    return ProofReport(title=title, told=tuple(told) or ("Nothing is missing.",), histogram=heights(proof.histogram))
