"""Lenses side by side at one framed width, and the gear that takes a lens there."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass, replace

from lucid_ridge.core.camera.camera_stack import FrameDepth, frame_depth
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
from lucid_ridge.core.model.gear import Gear, MountedGear
from lucid_ridge.core.model.kit import Lens
from lucid_ridge.core.motion.travel import equivalent_focal_length_mm, hand_held_limit_s
from lucid_ridge.core.optics.close_up import background_disk_mm, background_width_mm, size_ratio, subject_from_pupil_mm
from lucid_ridge.core.optics.pupils import Optics
from lucid_ridge.core.records import record
from lucid_ridge.core.state.close_up import Near, working_distance_mm
from lucid_ridge.core.state.state import State
from lucid_ridge.core.stops.scales import nearest_third
from lucid_ridge.reports.figures import Readout, distance_text, shutter_text, significant, stops_text

_MOST_PIECES = 8
_MOST_TOGETHER = 3
_MOST_ROWS = 10


@record
class LensRow:
    """A lens at the same framed width. ``changes`` put it to use; the lens itself is the one at ``index``."""

    index: int
    name: str
    focal: Readout
    reaches: str
    within_reach: bool
    working_distance: Readout
    past_shade: Readout
    size_ratio: Readout
    background_width: Readout
    disk: Readout
    depth: Readout
    loss: Readout
    hand_held: Readout
    in_use: bool
    changes: tuple[Change, ...]


@record
class GearRow:
    """A combination of owned gear on the lens in use, and the magnifications that it gives."""

    name: str
    least: Readout
    greatest: Readout
    reaches: bool
    mounted: bool
    loss: Readout
    changes: tuple[Change, ...]


def magnification_text(m: float) -> str:
    """A magnification as it is said: 1.2×, 0.45×."""
    return f"{significant(m, 3 if m >= 1 else 2)}×"


def millimetres(size: float | None, explain: str = "") -> Readout:
    """A close-up length; None reads as not told."""
    if size is None or not math.isfinite(size):
        return Readout(value=None, text="not told" if size is None else "∞", explain="")
    return Readout(
        value=size,
        text=distance_text(size / 1000) if size >= 500 else f"{significant(size, 3 if size >= 1 else 2)} mm",
        explain=explain,
    )


def past_shade_mm(lens: Lens, working_mm: float | None) -> float | None:
    """Working distance in front of the lens's shade; None where the lens's length is not told."""
    return None if working_mm is None else working_mm - bare_lens(lens).hood_mm


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


def _gear_key(pieces: tuple[Gear, ...]) -> str:
    """What tells a combination from the others in a key."""
    return " ".join(g.id for g in pieces) or "alone"


def gear_named(state: State, key: str) -> tuple[Gear, ...] | None:
    """The combination that a key of `gear_rows` stands for."""
    return next((pieces for pieces in _combinations(state) if _gear_key(pieces) == key), None)


def marked_focal_mm(state: State) -> float:
    """Focal length of the bare lens in use, as it is marked."""
    bare = bare_lens(state.scene.kit.lens)
    return min(max(state.scene.composition.settings.focal_length_mm, bare.shortest_mm), bare.longest_mm)


def gear_reach(state: State, pieces: tuple[Gear, ...]) -> tuple[float, float]:
    """Magnifications that the lens in use has with a combination."""
    return _reach(bare_lens(state.scene.kit.lens), pieces, marked_focal_mm(state))


def gear_rows(state: State, now: Near) -> tuple[GearRow, ...]:
    """Combinations of owned gear on the lens in use, those that reach the magnification in use first."""
    bare = bare_lens(state.scene.kit.lens)
    on = [g.id for g, _ in pieces_of(state.scene.kit, state.scene.composition.close_up.mounted) if g.kind != "rail"]
    rows = []
    marked = marked_focal_mm(state)
    for pieces in _combinations(state):
        low, high = gear_reach(state, pieces)
        fits = low * 0.999 <= now.magnification <= high * 1.001
        # What light is lost at the magnification in use, or as near as this gear comes to it.
        at = min(max(now.magnification, low), high)
        lens = _with(bare, pieces, False)
        focal = marked * converter_of(lens)
        loss = extension_loss_stops(lens, replace(state.scene.composition.settings, focal_length_mm=focal), at)
        name = _gear_key(pieces)
        rows.append(
            GearRow(
                name=_joined(pieces),
                least=Readout(
                    value=low,
                    text=magnification_text(low) if low > 0 else "0",
                    explain=f"close.gear_least:{name}",
                ),
                greatest=Readout(value=high, text=magnification_text(high), explain=f"close.gear_most:{name}"),
                reaches=fits,
                mounted=[g.id for g in pieces] == on,
                loss=Readout(value=loss, text=stops_text(-loss), explain=f"close.gear_loss:{name}"),
                changes=(_mount(state, bare, pieces, at, marked), SetMagnification(magnification=at))
                if at > 0
                else (_mount(state, bare, pieces, at, marked),),
            )
        )
    # What reaches comes first, the fewest pieces before more; what is on stays in sight.
    rows.sort(key=lambda row: (not row.mounted, not row.reaches))
    return tuple(rows[:_MOST_ROWS])


@dataclass(frozen=True)
class Beside:
    """A lens at the magnification in use, with the least gear that takes it there; ``reaches`` where any does. Millimetres."""

    lens: Lens
    pieces: tuple[Gear, ...]
    reaches: bool
    marked_mm: float
    focal_mm: float
    mount: MountGear
    optics: Optics
    pupil_to_subject_mm: float
    working_mm: float | None
    past_hood_mm: float | None
    loss_stops: float
    depth: FrameDepth
    size_ratio: float
    background_mm: float
    disk_mm: float
    equivalent_mm: float
    stabiliser_stops: float
    hand_held_s: float


def beside(state: State, now: Near, lens: Lens) -> Beside:
    """What a lens does at the framed width in use."""
    body, settings, m = state.scene.kit.body, state.scene.composition.settings, now.magnification
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
    marks = replace(settings, focal_length_mm=focal, aperture_n=max(settings.aperture_n, widest_aperture(whole, focal)))
    optics = optics_of(whole, marks)
    f, n, pupils = optics.focal_length_mm, optics.f_number, optics.pupil_magnification
    subject = float(subject_from_pupil_mm(f, m, pupils))
    # Measured from the magnification that the gear behind the lens does not give.
    working = working_distance_mm(whole, focal, f, m)
    equivalent = float(equivalent_focal_length_mm(focal, body.sensor_width_mm, body.sensor_height_mm))
    stabiliser = max(body.stabiliser_stops, lens.stabiliser_stops)
    allowed = state.depth.circle_of_confusion_mm / math.hypot(body.sensor_width_mm, body.sensor_height_mm)
    return Beside(
        lens=lens,
        pieces=pieces,
        reaches=fitting is not None,
        marked_mm=marked,
        focal_mm=focal,
        mount=mount,
        optics=optics,
        pupil_to_subject_mm=subject,
        working_mm=working,
        past_hood_mm=past_shade_mm(whole, working),
        loss_stops=extension_loss_stops(whole, marks, m),
        depth=frame_depth(state.scene, optics, state.depth.sharp, m),
        size_ratio=float(size_ratio(subject, now.subject_depth_mm)),
        background_mm=float(background_width_mm(frame_width_mm(state), m, subject, now.behind_mm)),
        disk_mm=float(background_disk_mm(f, n, m, now.behind_mm, pupils)),
        equivalent_mm=equivalent,
        stabiliser_stops=stabiliser,
        hand_held_s=float(
            hand_held_limit_s(equivalent, stabiliser, m, allowed, state.scene.composition.wants.hand_held_factor)
        ),
    )


def _lens_row(state: State, now: Near, index: int, one: Beside) -> LensRow:
    disk = one.disk_mm / state.geometry.picture_mm[0]
    if one.reaches:
        reaches = f"with {_joined(one.pieces)}" if one.pieces else "by itself"
    else:
        reaches = f"not: {magnification_text(_reach(one.lens, (), one.marked_mm)[1])} at most"
    return LensRow(
        index=index,
        name=one.lens.name,
        focal=Readout(value=one.optics.focal_length_mm, text=f"{one.focal_mm:.0f} mm"),
        reaches=reaches,
        within_reach=one.reaches,
        working_distance=millimetres(one.working_mm, f"close.lens_working:{index}"),
        past_shade=millimetres(one.past_hood_mm, f"close.lens_hood:{index}"),
        size_ratio=Readout(value=one.size_ratio, text=f"{one.size_ratio:.3f}", explain=f"close.lens_ratio:{index}")
        if math.isfinite(one.size_ratio)
        else Readout(value=None, text="not told"),
        background_width=millimetres(one.background_mm, f"close.lens_background:{index}"),
        disk=Readout(value=disk, text=f"{disk:.1%}", explain=f"close.lens_disk:{index}"),
        depth=millimetres(one.depth.counted, f"close.lens_depth:{index}"),
        loss=Readout(value=one.loss_stops, text=stops_text(-one.loss_stops), explain=f"close.lens_loss:{index}"),
        hand_held=Readout(
            value=one.hand_held_s,
            text=shutter_text(nearest_third(one.hand_held_s, "shutter")),
            explain=f"close.lens_hand_held:{index}",
        ),
        in_use=one.lens == bare_lens(state.scene.kit.lens),
        changes=(
            MountGear(mounted=()),
            SetTo(setting="focal_length", value=one.marked_mm),
            one.mount,
            SetMagnification(magnification=now.magnification),
        )
        if one.reaches
        else (),
    )


def lens_rows(state: State, now: Near, lenses: tuple[Lens, ...]) -> tuple[LensRow, ...]:
    """Every lens owned at the same framed width, with the least gear that takes it there."""
    rows = (_lens_row(state, now, index, beside(state, now, lens)) for index, lens in enumerate(lenses))
    return tuple(sorted(rows, key=lambda row: row.focal.value or 0.0))
