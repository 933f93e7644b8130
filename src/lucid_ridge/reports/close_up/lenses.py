"""Lenses side by side at one framed width, and the gear that takes a lens there."""

from __future__ import annotations

import itertools
import math
from dataclasses import replace

from lucid_ridge.core.camera.camera_stack import frame_depth
from lucid_ridge.core.camera.mounted_lens import (
    bare_lens,
    converter_of,
    converters_behind,
    extension_loss_stops,
    magnification_span,
    mounted_lens,
    optical_focal_mm,
    optics_of,
    pieces_of,
)
from lucid_ridge.core.changes.check import widest_aperture
from lucid_ridge.core.changes.kinds import Change, SetTo
from lucid_ridge.core.changes.lens_changes import MountGear, SetMagnification
from lucid_ridge.core.figures import Figure, distance_text, significant, stops_text
from lucid_ridge.core.model.gear import Gear, MountedGear
from lucid_ridge.core.model.kit import Lens
from lucid_ridge.core.motion.travel import equivalent_focal_length_mm, hand_held_limit_s
from lucid_ridge.core.optics.close_up import (
    background_disk_mm,
    background_width_mm,
    size_ratio,
    subject_from_pupil_mm,
)
from lucid_ridge.core.records import record
from lucid_ridge.core.state.close_up import Near, working_distance_mm
from lucid_ridge.core.state.state import State
from lucid_ridge.core.stops.scales import nearest_third, shutter_text

_MOST_PIECES = 8
_MOST_TOGETHER = 3
_MOST_ROWS = 10


@record
class LensRow:
    """A lens at the same framed width. ``changes`` put it to use; the lens itself is the one at ``index``."""

    index: int
    name: str
    focal: Figure
    reaches: str
    within_reach: bool
    working_distance: Figure
    past_shade: Figure
    size_ratio: Figure
    background_width: Figure
    disk: Figure
    depth: Figure
    loss: Figure
    hand_held: Figure
    in_use: bool
    changes: tuple[Change, ...]


@record
class GearRow:
    """A combination of owned gear on the lens in use, and the magnifications that it gives."""

    name: str
    least: Figure
    greatest: Figure
    reaches: bool
    mounted: bool
    loss: Figure
    changes: tuple[Change, ...]


def magnification_text(m: float) -> str:
    """A magnification as it is said: 1.2×, 0.45×."""
    return f"{significant(m, 3 if m >= 1 else 2)}×"


def millimetres(size: float | None, explain: str = "") -> Figure:
    """A close-up length; None reads as not told."""
    if size is None or not math.isfinite(size):
        return Figure(value=None, text="not told" if size is None else "∞", explain="")
    return Figure(
        value=size,
        text=distance_text(size / 1000) if size >= 500 else f"{significant(size, 3 if size >= 1 else 2)} mm",
        explain=explain,
    )


def past_shade_mm(lens: Lens, working_mm: float | None) -> float | None:
    """Working distance in front of the lens's shade; None where the lens's length is not told."""
    return None if working_mm is None else working_mm - bare_lens(lens).shade_mm


def frame_width_mm(state: State) -> float:
    """Width of the sensor as it is held, mm."""
    camera = state.geometry.camera
    return camera.frame_width_mm


def _combinations(state: State) -> list[tuple[Gear, ...]]:
    """Sets of optical gear that go together, the fewest pieces first; a ring and bellows each at most once."""
    owned = [g for g in state.scene.kit.gear if g.kind != "rail"][:_MOST_PIECES]
    sets = [s for n in range(min(len(owned), _MOST_TOGETHER) + 1) for s in itertools.combinations(owned, n)]
    return [
        s
        for unordered in sets
        for s in _orders(unordered)
        if all(sum(g.kind == kind for g in s) <= 1 for kind in ("bellows", "reversing_ring", "teleconverter"))
    ]


def _orders(pieces: tuple[Gear, ...]) -> tuple[tuple[Gear, ...], ...]:
    """From the lens to the body; both orders where a converter may stand before or behind what extends."""
    first = sorted(pieces, key=lambda g: g.kind == "teleconverter")
    last = sorted(pieces, key=lambda g: g.kind not in ("teleconverter", "close_up_lens", "reversing_ring"))
    return (tuple(first),) if first == last else (tuple(first), tuple(last))


def _with(lens: Lens, pieces: tuple[Gear, ...], drawn: bool) -> Lens:
    return mounted_lens(lens, tuple((g, g.longest_mm if drawn else g.extension_mm) for g in pieces))


def _reach(lens: Lens, pieces: tuple[Gear, ...], focal_length_mm: float) -> tuple[float, float]:
    """Magnifications of a lens with gear, bellows from shortest to longest."""
    factor = math.prod(g.factor for g in pieces if g.kind == "teleconverter")
    short, long = _with(lens, pieces, False), _with(lens, pieces, True)
    return magnification_span(short, focal_length_mm * factor)[0], magnification_span(long, focal_length_mm * factor)[1]


def _mount(state: State, lens: Lens, pieces: tuple[Gear, ...], m: float, focal_length_mm: float) -> MountGear:
    """The change that puts the pieces on, bellows drawn as far as the magnification asks."""
    placed = tuple((g, 0.0) for g in pieces)
    whole = _with(lens, pieces, False)
    focal = focal_length_mm * converter_of(whole)
    # What is in front of a converter counts by its factor squared.
    fixed = sum(
        g.extension_mm * converters_behind(placed, i) ** 2
        for i, g in enumerate(pieces)
        if g.kind in ("tube", "reversing_ring")
    )
    counts = next((converters_behind(placed, i) ** 2 for i, g in enumerate(pieces) if g.kind == "bellows"), 1.0)
    wanted = (optical_focal_mm(whole, focal) * (1 + m) - focal - fixed) / counts
    rails = [
        one
        for one in state.scene.composition.close_up.mounted
        if one.gear_id in {g.id for g in state.scene.kit.gear if g.kind == "rail"}
    ]
    return MountGear(
        mounted=(
            *(
                MountedGear(
                    gear_id=g.id, draw_mm=min(max(wanted, g.extension_mm), g.longest_mm) if g.kind == "bellows" else 0.0
                )
                for g in pieces
            ),
            *rails,
        )
    )


def _joined(pieces: tuple[Gear, ...]) -> str:
    """Names from the lens to the body; which of converter and tube is next to the body is said."""
    names = " + ".join(g.name for g in pieces) if pieces else "the lens alone"
    kinds = {g.kind for g in pieces}
    told = "teleconverter" in kinds and kinds & {"tube", "bellows"}
    return f"{names} next to the body" if told else names


def gear_rows(state: State, now: Near) -> tuple[GearRow, ...]:
    """Combinations of owned gear on the lens in use, those that reach the magnification in use first."""
    bare = bare_lens(state.scene.kit.lens)
    on = [g.id for g, _ in pieces_of(state.scene.kit, state.scene.composition.close_up.mounted) if g.kind != "rail"]
    rows = []
    marked = min(max(state.scene.composition.settings.focal_length_mm, bare.shortest_mm), bare.longest_mm)
    for pieces in _combinations(state):
        low, high = _reach(bare, pieces, marked)
        fits = low * 0.999 <= now.magnification <= high * 1.001
        # What light is lost at the magnification in use, or as near as this gear comes to it.
        at = min(max(now.magnification, low), high)
        lens = _with(bare, pieces, False)
        focal = marked * converter_of(lens)
        loss = extension_loss_stops(lens, replace(state.scene.composition.settings, focal_length_mm=focal), at)
        rows.append(
            GearRow(
                name=_joined(pieces),
                least=Figure(
                    value=low,
                    text=magnification_text(low) if low > 0 else "0",
                    explain=f"close.reach:{_joined(pieces)[:60]}:least",
                ),
                greatest=Figure(
                    value=high, text=magnification_text(high), explain=f"close.reach:{_joined(pieces)[:60]}:most"
                ),
                reaches=fits,
                mounted=[g.id for g in pieces] == on,
                loss=Figure(value=loss, text=stops_text(-loss), explain=f"close.loss:{_joined(pieces)[:60]}"),
                changes=(_mount(state, bare, pieces, at, marked), SetMagnification(magnification=at))
                if at > 0
                else (_mount(state, bare, pieces, at, marked),),
            )
        )
    # What reaches comes first, the fewest pieces before more; what is on stays in sight.
    rows.sort(key=lambda row: (not row.mounted, not row.reaches))
    return tuple(rows[:_MOST_ROWS])


def lens_rows(state: State, now: Near, lenses: tuple[Lens, ...]) -> tuple[LensRow, ...]:
    """Every lens owned at the same framed width, with the least gear that takes it there."""
    body, settings, m = state.scene.kit.body, state.scene.composition.settings, now.magnification
    width, printed = frame_width_mm(state), state.geometry.picture_mm[0]
    rows = []
    for index, lens in enumerate(lenses):
        marked = lens.longest_mm
        fitting = None
        for pieces in _combinations(state):
            low, high = _reach(lens, pieces, marked)
            if low * 0.999 <= m <= high * 1.001:
                fitting = pieces
                break
        pieces = fitting or ()
        mount = _mount(state, lens, pieces, m, marked)
        whole = mounted_lens(lens, pieces_of(state.scene.kit, mount.mounted))
        focal = marked * math.prod(g.factor for g in pieces if g.kind == "teleconverter")
        marks = replace(
            settings, focal_length_mm=focal, aperture_n=max(settings.aperture_n, widest_aperture(whole, focal))
        )
        optics = optics_of(whole, marks)
        f, n, pupils = optics.focal_length_mm, optics.f_number, optics.pupil_magnification
        subject = float(subject_from_pupil_mm(f, m, pupils))
        # Measured from the magnification that the gear behind the lens does not give.
        working = working_distance_mm(whole, focal, f, m)
        disk = float(background_disk_mm(f, n, m, now.behind_mm, pupils))
        loss = extension_loss_stops(whole, marks, m)
        limit = float(
            hand_held_limit_s(
                equivalent_focal_length_mm(focal, body.sensor_width_mm, body.sensor_height_mm),
                max(body.stabiliser_stops, lens.stabiliser_stops),
                m,
                state.depth.criterion_mm / math.hypot(body.sensor_width_mm, body.sensor_height_mm),
                state.scene.composition.wants.hand_held_factor,
            )
        )
        depth = frame_depth(state.scene, optics, state.depth.sharp, m)
        ratio = float(size_ratio(subject, now.subject_depth_mm))
        taken = float(background_width_mm(width, m, subject, now.behind_mm))
        rows.append(
            LensRow(
                index=index,
                name=lens.name,
                focal=Figure(value=f, text=f"{focal:.0f} mm"),
                reaches="by itself"
                if fitting == ()
                else f"with {_joined(pieces)}"
                if fitting
                else f"not: {magnification_text(_reach(lens, (), marked)[1])} at most",
                within_reach=fitting is not None,
                working_distance=millimetres(working, f"close.working_distance:lens {index}"),
                past_shade=millimetres(past_shade_mm(whole, working), f"close.working_distance:shade {index}"),
                size_ratio=Figure(value=ratio, text=f"{ratio:.3f}", explain=f"close.size_ratio:{index}")
                if math.isfinite(ratio)
                else Figure(value=None, text="not told"),
                background_width=millimetres(taken, f"close.background_width:{index}"),
                disk=Figure(value=disk / printed, text=f"{disk / printed:.1%}", explain=f"close.disk:lens {index}"),
                depth=millimetres(depth.counted, f"close.depth:lens {index}"),
                loss=Figure(value=loss, text=stops_text(-loss), explain=f"close.loss:lens {index}"),
                hand_held=Figure(
                    value=limit,
                    text=shutter_text(nearest_third(limit, "shutter")),
                    explain=f"motion.hand_held:lens {index}",
                ),
                in_use=lens == bare_lens(state.scene.kit.lens),
                changes=(
                    MountGear(mounted=()),
                    SetTo(setting="focal_length", value=marked),
                    mount,
                    SetMagnification(magnification=m),
                )
                if fitting is not None
                else (),
            )
        )
    return tuple(sorted(rows, key=lambda row: row.focal.value or 0.0))
