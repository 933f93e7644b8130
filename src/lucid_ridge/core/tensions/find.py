"""Tensions: wants that the present settings break, and by how much."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

from lucid_ridge.core.camera.keep_out import KEEP_BACK, crossed_line, side_of
from lucid_ridge.core.camera.mounted_lens import focus_span_m
from lucid_ridge.core.camera.reach import heights_in_reach
from lucid_ridge.core.exposure.tolerances import BACKGROUND, EXPOSURE_STOPS, MARK, MARK_STOPS, RANGE_STOPS, is_soft
from lucid_ridge.core.figures import (
    Figure,
    distance_text,
    duration_text,
    micrometres_text,
    minutes_text,
    significant,
    stops_words,
)
from lucid_ridge.core.light_windows.now import light_today, when_text
from lucid_ridge.core.motion.travel import LOOK_TEXT, within_look
from lucid_ridge.core.optics.criteria import CRITERION_TEXT
from lucid_ridge.core.optics.depth_of_field import airy_disk_mm
from lucid_ridge.core.sequence.timing import frame_count, sequence_s
from lucid_ridge.core.state.background import background_share
from lucid_ridge.core.state.state import State
from lucid_ridge.core.state.subject_motion import element_travel_mm, layer_of, look_window, moving_elements
from lucid_ridge.core.stops.scales import aperture_text, iso_text, nearest_third, shutter_text

TensionKind = Literal[
    "near_soft", "gap_soft", "far_soft", "hand_held", "water_look", "frozen_wave", "foliage", "frames", "iso", "range", "diffraction", "bulb",
    "minimum_focus", "farthest_focus", "reach", "standing", "exposure", "background", "light", "light_ends", "support", "drifts_off",
]  # fmt: skip

_ADDS_LITTLE = 0.2
"""Of the Airy disk: less defocus adds two per cent to it."""


@dataclass(frozen=True)
class Found:
    """A tension without its mend."""

    kind: TensionKind
    title: str
    sentence: str
    figure: Figure
    element_id: str | None = None


def _thirds(stops: float) -> str:
    """An amount of stops in words, to the nearest third."""
    return stops_words(round(abs(stops) * 3) / 3)


def _element(state: State, index: int) -> str:
    return state.scene.composition.elements[index].name


def _soft(state: State) -> Iterator[Found]:
    """The worst soft place in front of, between and behind the focused distances."""
    depth, units = state.depth, state.scene.units
    foci = [one.focus_m for one in depth.slices]
    worst: dict[TensionKind, tuple[float, int, float]] = {}
    for i, element in enumerate(state.scene.composition.elements):
        if not element.sharp or math.isnan(state.geometry.near_m[i]):
            continue
        for distance, blur in (
            (float(state.geometry.near_m[i]), depth.blur_near),
            (float(state.geometry.far_m[i]), depth.blur_far),
        ):
            defocus, airy, total = (float(one[i]) for one in blur)
            # Where diffraction alone is too much, and defocus adds little, defocus is not what to mend.
            if not is_soft(total, depth.criterion_mm) or (
                is_soft(airy, depth.criterion_mm) and defocus < airy * _ADDS_LITTLE
            ):
                continue
            kind: TensionKind = (
                "near_soft" if distance < min(foci) else "far_soft" if distance > max(foci) else "gap_soft"
            )
            if total > worst.get(kind, (0.0, 0, 0.0))[0]:
                worst[kind] = (total, i, distance)
    for kind, (total, i, distance) in worst.items():
        name = _element(state, i)
        yield Found(
            kind,
            f"{name[0].upper()}{name[1:]} is soft",
            f"{micrometres_text(total)} blur at {distance_text(distance, units)}, "
            f"{micrometres_text(depth.criterion_mm)} allowed.",
            Figure(value=total * 1000, text=micrometres_text(total), explain=f"depth.{kind}:{_id(state, i)}"),
            _id(state, i),
        )


def _id(state: State, index: int) -> str:
    return state.scene.composition.elements[index].id


def _diffraction(state: State) -> Iterator[Found]:
    depth = state.depth
    critical = [i for i, e in enumerate(state.scene.composition.elements) if e.sharp and state.geometry.seen(i)]
    # Of a stack the frame that is focused closest has the largest Airy disk.
    ends = [float(one.airy_mm[i]) for i in critical for one in (depth.blur_near, depth.blur_far)]
    airy = max(ends, default=depth.airy_mm)
    if is_soft(airy, depth.criterion_mm):
        working = airy / float(airy_disk_mm(1.0))
        yield Found(
            "diffraction",
            "Diffraction softens everything" if airy <= depth.airy_mm * 1.001 else "Diffraction softens what is near",
            f"At a working {aperture_text(working)} the Airy disk is {micrometres_text(airy)}; "
            f"{micrometres_text(depth.criterion_mm)} allowed for {CRITERION_TEXT[state.scene.composition.wants.criterion]}.",
            Figure(value=airy * 1000, text=micrometres_text(airy), explain="depth.airy_most"),
        )


def _hand_held(state: State) -> Iterator[Found]:
    shutter, limit = state.exposure.settings.shutter_s, state.hand_held_limit_s
    if not state.steady and shutter > limit * MARK:
        over = math.log2(shutter / limit)
        yield Found(
            "hand_held",
            "Too slow by hand",
            f"{shutter_text(shutter)} is {_thirds(over)} slower than the hand-held limit of {shutter_text(limit)}.",
            Figure(value=over, text=_thirds(over), explain="motion.hand_over"),
        )


def _support(state: State) -> Iterator[Found]:
    """A shutter too slow for what one stands on, and a sequence longer than its framing holds."""
    shutter, name = state.exposure.settings.shutter_s, state.scene.kit.support.name
    limit = state.steadiness_s
    if math.isfinite(state.sway.limit_s) and shutter > limit * MARK:
        over = math.log2(shutter / limit)
        yield Found(
            "support",
            f"Too slow on the {name}",
            f"It moves: {shutter_text(shutter)} is {_thirds(over)} slower than the {shutter_text(limit)} that stay sharp.",
            Figure(value=over, text=_thirds(over), explain="motion.support_over"),
        )
    takes = sequence_s(state)
    if takes > state.sway.holds_s:
        yield Found(
            "drifts_off",
            "The framing drifts off meanwhile",
            f"On the {name} a framing holds for {duration_text(state.sway.holds_s)}; the sequence takes {duration_text(takes)}.",
            Figure(value=takes, text=duration_text(takes), explain="sequence.total"),
        )


def _water(state: State) -> Iterator[Found]:
    wants, shutter = state.scene.composition.wants, state.exposure.settings.shutter_s
    water = moving_elements(state, "water")
    if not water:
        return
    look, window = wants.water_look, look_window(state)
    if not within_look(window, shutter):
        yield Found(
            "water_look",
            f"Water will not be {LOOK_TEXT[look]}" if look == "freeze" else f"Not the wanted water: {LOOK_TEXT[look]}",
            f"The shutter is open {shutter_text(shutter)}; this look takes {window_text(window)}.",
            Figure(value=shutter, text=shutter_text(shutter), explain="motion.look"),
            _id(state, water[0]),
        )
    frozen = look_window(state, "freeze")
    layer = layer_of(state, "wave")
    taken = shutter if layer is None else min(layer, shutter)
    if wants.frozen_wave and not within_look(frozen, taken):
        yield Found(
            "frozen_wave",
            "No frame has the wave frozen",
            f"The shortest frame is open {shutter_text(taken)}; a frozen wave takes {window_text(frozen)}.",
            Figure(value=taken, text=shutter_text(taken), explain="motion.frozen"),
            _id(state, water[0]),
        )


def window_text(window_s: tuple[float, float]) -> str:
    """A span of shutter times in words, to the nearest marks."""
    low, high = (nearest_third(t, "shutter") if 0 < t < 1 else t for t in window_s)
    if low <= 0:
        return f"up to {shutter_text(high)}"
    return f"{shutter_text(low)} to {shutter_text(high)}" if math.isfinite(high) else f"{shutter_text(low)} or longer"


def _foliage(state: State) -> Iterator[Found]:
    if not state.scene.composition.wants.sharp_foliage:
        return
    shutter = state.exposure.settings.shutter_s
    layer = layer_of(state, "foliage")
    taken = shutter if layer is None else min(layer, shutter)
    moving = [(element_travel_mm(state, i, taken), i) for i in moving_elements(state, "foliage")]
    travel, i = max(moving, default=(0.0, 0))
    if not is_soft(travel, state.depth.criterion_mm):
        return
    element = state.scene.composition.elements[i]
    yield Found(
        "foliage",
        f"{element.name[0].upper()}{element.name[1:]} blurs in the wind",
        f"At {element.speed_m_s:g} m/s it moves {micrometres_text(travel)} in "
        f"{shutter_text(taken)}; {micrometres_text(state.depth.criterion_mm)} allowed.",
        Figure(value=travel * 1000, text=micrometres_text(travel), explain=f"motion.foliage:{element.id}"),
        element.id,
    )


def _iso(state: State) -> Iterator[Found]:
    """A higher ISO than the photographer wants."""
    iso, most = state.exposure.settings.iso, state.scene.composition.wants.highest_iso
    over = math.log2(iso / most)
    if over > MARK_STOPS:
        yield Found(
            "iso",
            "A higher ISO than you want",
            f"ISO {iso_text(iso)} is {_thirds(over)} above ISO {iso_text(most)}.",
            Figure(value=over, text=_thirds(over), explain="exposure.iso_over"),
        )


def _frames(state: State) -> Iterator[Found]:
    """More frames than the photographer wants to take."""
    count = frame_count(state)
    most = state.scene.composition.wants.most_frames
    if count > most:
        yield Found(
            "frames",
            "More frames than you want",
            f"{count} frames; you want {most} at most.",
            Figure(value=count, text=str(count), explain="sequence.frames"),
        )


def _range(state: State) -> Iterator[Found]:
    spread = state.range
    if not state.scene.composition.wants.hold_range:
        return
    above, below = spread.held.lost_above, spread.held.lost_below
    lost = spread.held.lost
    if lost <= RANGE_STOPS:
        return
    names = {e.id: e.name for e in state.scene.composition.elements}
    parts = []
    worst, between_id = max(((abs(spread.held.miss(s)), i) for s, i in spread.bounded), default=(0.0, None))
    if spread.held.lost_between > RANGE_STOPS and worst == lost and between_id:
        parts.append(f"{names[between_id]} falls between the frames by {_thirds(spread.held.lost_between)}")
    if above > RANGE_STOPS and spread.brightest_id:
        parts.append(f"{names[spread.brightest_id]} clips by {_thirds(above)}")
    if below > RANGE_STOPS and spread.darkest_id:
        parts.append(f"{names[spread.darkest_id]} drowns by {_thirds(below)}")
    sentence = " and ".join(parts) + f"; one frame holds {spread.usable:.1f} stops at this ISO."
    frames = len(state.offsets)
    if frames > 1:
        sentence = " and ".join(parts) + f" with these {frames} frames."
    yield Found(
        "range",
        "Range not held",
        sentence[0].upper() + sentence[1:],
        Figure(value=lost, text=_thirds(lost), explain="range.lost"),
        between_id,
    )


def _bulb(state: State) -> Iterator[Found]:
    settings, body = state.exposure.settings, state.scene.kit.body
    if settings.shutter_s > body.longest_timed_s * MARK and not settings.bulb:
        yield Found(
            "bulb",
            "Longer than the body times",
            f"{shutter_text(settings.shutter_s)} needs bulb; the body times up to {shutter_text(body.longest_timed_s)}.",
            Figure(value=settings.shutter_s, text=shutter_text(settings.shutter_s), explain="exposure.shutter"),
        )


def _minimum_focus(state: State) -> Iterator[Found]:
    lens, settings = state.scene.kit.lens, state.scene.composition.settings
    nearest, farthest = focus_span_m(lens, settings.focal_length_mm)
    closest, most = float(state.depth.focused_m.min()), float(state.depth.focused_m.max())
    if most > farthest * (1 + 1e-6):
        yield Found(
            "farthest_focus",
            "Farther than the lens focuses with what is on it",
            f"Focus at {distance_text(most, state.scene.units)} from the lens; with the gear on, it focuses "
            f"{distance_text(nearest, state.scene.units)} to {distance_text(farthest, state.scene.units)}.",
            Figure(value=None, text=distance_text(most, state.scene.units), explain="depth.farthest_wanted"),
        )
    if closest < nearest * (1 - 1e-6):
        yield Found(
            "minimum_focus",
            "Closer than the lens focuses",
            f"Focus at {distance_text(closest, state.scene.units)} from the lens; it focuses down to "
            f"{distance_text(nearest, state.scene.units)}.",
            Figure(value=closest, text=distance_text(closest, state.scene.units), explain="depth.closest_wanted"),
        )


def _reach(state: State) -> Iterator[Found]:
    support, height = state.scene.kit.support, state.scene.composition.camera_height_m
    if not state.steady:
        return
    low, high = heights_in_reach(state.scene, state.steady)
    if not low - 1e-6 <= height <= high + 1e-6:
        units = state.scene.units
        yield Found(
            "reach",
            "Out of the support's reach",
            f"The lens is at {distance_text(height, units)}; the {support.name} reaches "
            f"{distance_text(low, units)} to {distance_text(high, units)}.",
            Figure(value=height, text=distance_text(height, units)),
        )


def _standing(state: State) -> Iterator[Found]:
    """A standpoint on the wrong side of a line not to cross."""
    composition, units = state.scene.composition, state.scene.units
    line = crossed_line(composition, composition.east_m, composition.north_m)
    if line is not None:
        beyond = -side_of(line, composition.east_m, composition.north_m)
        yield Found(
            "standing",
            f"You stand beyond the {line.name}",
            f"By {distance_text(beyond, units)}. {KEEP_BACK}",
            Figure(value=beyond, text=distance_text(beyond, units)),
        )


def _exposure(state: State) -> Iterator[Found]:
    """Locks on shutter and ISO that leave the picture far from what was metered and wanted."""
    off = state.exposure.brighter_stops - state.scene.composition.settings.offset_stops
    if abs(off) > EXPOSURE_STOPS:
        word = "brighter" if off > 0 else "darker"
        size = _thirds(off)
        yield Found(
            "exposure",
            f"The picture comes out {size} {word}",
            "Shutter and ISO leave no room to balance the account.",
            Figure(value=off, text=size, explain="exposure.off"),
        )


def _background(state: State) -> Iterator[Found]:
    """A background less smooth than the photographer wants."""
    wanted = state.scene.composition.wants.smooth_background
    if wanted is None:
        return
    share = background_share(state)
    if share < wanted * (1 - BACKGROUND):
        yield Found(
            "background",
            "The background is not smooth enough",
            f"Its blur disk is {significant(share * 100, 2)}% of the picture's width; you want {significant(wanted * 100, 2)}%.",
            Figure(value=share, text=f"{significant(share * 100, 2)}%", explain="depth.background"),
        )


def _light(state: State) -> Iterator[Found]:
    """Light that is not there at the moment, or goes before the sequence is done; clear sky."""
    today = light_today(state)
    if today is None:
        return
    window = today.window_at(state.unix_s)
    if window is None:
        nearest = today.nearest_to(state.unix_s)
        lacking = ", ".join(today.lacking) or "long enough"
        when, text = "It does not come on this day.", "not today"
        off = None
        if nearest is not None:
            when = f"It is there {when_text(state, nearest[0])} to {when_text(state, nearest[1])}."
            off = nearest[0] - state.unix_s if nearest[0] > state.unix_s else nearest[1] - state.unix_s
            text = f"in {minutes_text(off)}" if off > 0 else f"{minutes_text(-off)} ago"
        yield Found(
            "light",
            "Not the light you want",
            f"Lacking at {when_text(state, state.unix_s)}: {lacking}. {when}",
            Figure(value=off, text=text, explain="light.wish"),
        )
        return
    left, takes = window[1] - state.unix_s, sequence_s(state)
    if takes > left:
        yield Found(
            "light_ends",
            "The light goes before the sequence is done",
            f"It stays until {when_text(state, window[1])}; the sequence takes {duration_text(takes)}, "
            f"{duration_text(takes - left)} too long.",
            Figure(value=takes - left, text=duration_text(takes - left), explain="sequence.over"),
        )


_FINDERS: tuple[Callable[[State], Iterator[Found]], ...] = (
    _soft, _diffraction, _minimum_focus, _hand_held, _support, _water, _foliage, _range, _iso, _frames, _bulb, _reach, _standing,
    _exposure, _background, _light,
)  # fmt: skip


def find(state: State) -> list[Found]:
    """Every tension of a state, without mends."""
    return [found for finder in _FINDERS for found in finder(state)]
