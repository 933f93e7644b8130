"""What each kind of tension says: a title, a sentence, by how much, and what is left where nothing mends it."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from lucid_ridge.core.camera.keep_out import crossed_line
from lucid_ridge.core.camera.mounted_lens import focus_span_m
from lucid_ridge.core.camera.reach import heights_in_reach
from lucid_ridge.core.exposure.tolerances import RANGE_STOPS
from lucid_ridge.core.light_windows.now import light_today
from lucid_ridge.core.model.scene import Element
from lucid_ridge.core.motion.travel import LOOK_SECONDS, OwnLook
from lucid_ridge.core.optics.depth_of_field import airy_disk_mm
from lucid_ridge.core.sequence.timing import sequence_s
from lucid_ridge.core.state.state import State
from lucid_ridge.core.state.subject_motion import look_window, water_heights_per_s
from lucid_ridge.core.stops.scales import nearest_third
from lucid_ridge.core.tensions.rule import Found, TensionKind
from lucid_ridge.reports.depth.words import STANDARD_TEXT
from lucid_ridge.reports.exposure.words import LOOK_TEXT
from lucid_ridge.reports.figures import (
    Readout,
    aperture_text,
    degrees_text,
    distance_text,
    duration_text,
    iso_text,
    micrometres_text,
    minutes_text,
    shutter_text,
    significant,
    stops_words,
)
from lucid_ridge.reports.frame.words import KEEP_BACK
from lucid_ridge.reports.light.words import condition_words, when_text


@dataclass(frozen=True)
class Said:
    """A tension in words. ``explain`` is the key of the number by which the want is broken, "" for an input."""

    title: str
    sentence: str
    value: float | None
    text: str
    explain: str = ""

    @property
    def figure(self) -> Readout:
        """By how much."""
        return Readout(value=self.value, text=self.text, explain=self.explain)


@dataclass(frozen=True)
class Words:
    """What a kind of tension says where it is found, and where no change mends it."""

    say: Callable[[State, Found], Said]
    no_mend: str


def thirds(stops: float) -> str:
    """An amount of stops in words, to the nearest third."""
    return stops_words(round(abs(stops) * 3) / 3)


def _capital(text: str) -> str:
    return text[0].upper() + text[1:]


def _amount(found: Found) -> float:
    """The amount of a kind that always has one."""
    assert found.amount is not None
    return found.amount


def _element(state: State, found: Found) -> Element:
    return next(one for one in state.scene.composition.elements if one.id == found.element_id)


def _soft(state: State, found: Found) -> Said:
    blur, element = _amount(found), _element(state, found)
    return Said(
        f"{_capital(element.name)} is soft",
        f"{micrometres_text(blur)} blur at {distance_text(found.at, state.scene.units)}, "
        f"{micrometres_text(state.depth.circle_of_confusion_mm)} allowed.",
        blur * 1000,
        micrometres_text(blur),
        f"depth.{found.kind}:{element.id}",
    )


def _diffraction(state: State, found: Found) -> Said:
    airy, depth = _amount(found), state.depth
    working = airy / float(airy_disk_mm(1.0))
    return Said(
        "Diffraction softens everything" if airy <= depth.airy_mm * 1.001 else "Diffraction softens what is near",
        f"At a working {aperture_text(working)} the Airy disk is {micrometres_text(airy)}; "
        f"{micrometres_text(depth.circle_of_confusion_mm)} allowed for {STANDARD_TEXT[state.scene.composition.wants.sharpness_standard]}.",
        airy * 1000,
        micrometres_text(airy),
        "depth.airy_most",
    )


def _focuses(state: State) -> tuple[str, str]:
    nearest, farthest = focus_span_m(state.scene.kit.lens, state.scene.composition.settings.focal_length_mm)
    return distance_text(nearest, state.scene.units), distance_text(farthest, state.scene.units)


def _farthest_focus(state: State, found: Found) -> Said:
    nearest, farthest = _focuses(state)
    wanted = distance_text(_amount(found), state.scene.units)
    return Said(
        "Farther than the lens focuses with what is on it",
        f"Focus at {wanted} from the lens; with the gear on, it focuses {nearest} to {farthest}.",
        None,
        wanted,
        "depth.farthest_wanted",
    )


def _minimum_focus(state: State, found: Found) -> Said:
    wanted = distance_text(_amount(found), state.scene.units)
    return Said(
        "Closer than the lens focuses",
        f"Focus at {wanted} from the lens; it focuses down to {_focuses(state)[0]}.",
        found.amount,
        wanted,
        "depth.closest_wanted",
    )


def _background(state: State, found: Found) -> Said:
    share, wanted = _amount(found), state.scene.composition.wants.smooth_background or 0.0
    text = f"{significant(share * 100, 2)}%"
    return Said(
        "The background is not smooth enough",
        f"Its blur disk is {text} of the picture's width; you want {significant(wanted * 100, 2)}%.",
        share,
        text,
        "depth.background",
    )


def _hand_held(state: State, found: Found) -> Said:
    over, shutter = _amount(found), shutter_text(state.exposure.settings.shutter_s)
    limit = shutter_text(state.hand_held_limit_s)
    return Said(
        "Too slow by hand",
        f"{shutter} is {thirds(over)} slower than the hand-held limit of {limit}.",
        over,
        thirds(over),
        "motion.hand_over",
    )


def _support(state: State, found: Found) -> Said:
    over, shutter = _amount(found), shutter_text(state.exposure.settings.shutter_s)
    return Said(
        f"Too slow on the {state.scene.kit.support.name}",
        f"It moves: {shutter} is {thirds(over)} slower than the {shutter_text(state.steadiness_s)} that stay sharp.",
        over,
        thirds(over),
        "motion.support_over",
    )


def _drifts_off(state: State, found: Found) -> Said:
    takes, holds = duration_text(_amount(found)), duration_text(state.sway.holds_s)
    return Said(
        "The framing drifts off meanwhile",
        f"On the {state.scene.kit.support.name} a framing holds for {holds}; the sequence takes {takes}.",
        found.amount,
        takes,
        "sequence.total",
    )


def window_text(window_s: tuple[float, float]) -> str:
    """A span of shutter times in words, to the nearest marks."""
    low, high = (nearest_third(t, "shutter") if 0 < t < 1 else t for t in window_s)
    if low <= 0:
        return f"up to {shutter_text(high)}"
    return f"{shutter_text(low)} to {shutter_text(high)}" if math.isfinite(high) else f"{shutter_text(low)} or longer"


def own_text(own: OwnLook) -> str:
    """What somebody's own takes say of a look, beside common practice."""
    takes = f"{own.takes} take{'s' * (own.takes != 1)}"
    return f"your own: {window_text((own.shortest_s, own.longest_s))} from {takes}; common practice {window_text(LOOK_SECONDS[own.look])}"


def look_text(state: State) -> str:
    """The shutter times that the wanted look takes, and whose they are."""
    wants = state.scene.composition.wants
    own = wants.own_look(wants.water_look)
    by_travel = wants.motion_school == "travel" and water_heights_per_s(state) > 0
    return window_text(look_window(state)) if own is None or by_travel else own_text(own)


def _water_look(state: State, found: Found) -> Said:
    look, shutter = state.scene.composition.wants.water_look, shutter_text(_amount(found))
    words = LOOK_TEXT[look]
    return Said(
        f"Water will not be {words}" if look == "freeze" else f"Not the wanted water: {words}",
        f"The shutter is open {shutter}; this look takes {look_text(state)}.",
        found.amount,
        shutter,
        "motion.look",
    )


def _frozen_wave(state: State, found: Found) -> Said:
    shutter = shutter_text(_amount(found))
    return Said(
        "No frame has the wave frozen",
        f"The shortest frame is open {shutter}; a frozen wave takes {window_text(look_window(state, 'freeze'))}.",
        found.amount,
        shutter,
        "motion.frozen",
    )


def _foliage(state: State, found: Found) -> Said:
    travel, element = _amount(found), _element(state, found)
    return Said(
        f"{_capital(element.name)} blurs in the wind",
        f"At {element.speed_m_s:g} m/s it moves {micrometres_text(travel)} in {shutter_text(found.at)}; "
        f"{micrometres_text(state.depth.circle_of_confusion_mm)} allowed.",
        travel * 1000,
        micrometres_text(travel),
        f"motion.foliage:{element.id}",
    )


def _range(state: State, found: Found) -> Said:
    spread, held = state.range, state.range.held
    names = {e.id: e.name for e in state.scene.composition.elements}
    parts = []
    worst = max((abs(held.miss(s)) for s, _ in spread.bounded), default=0.0)
    if held.lost_between > RANGE_STOPS and worst == held.lost and found.element_id:
        parts.append(f"{names[found.element_id]} falls between the frames by {thirds(held.lost_between)}")
    if held.lost_above > RANGE_STOPS and spread.brightest_id:
        parts.append(f"{names[spread.brightest_id]} clips by {thirds(held.lost_above)}")
    if held.lost_below > RANGE_STOPS and spread.darkest_id:
        parts.append(f"{names[spread.darkest_id]} blocks up by {thirds(held.lost_below)}")
    frames = len(state.offsets)
    end = f" with these {frames} frames." if frames > 1 else f"; one frame holds {spread.usable:.1f} stops at this ISO."
    return Said("Range not held", _capital(" and ".join(parts) + end), held.lost, thirds(held.lost), "range.lost")


def _iso(state: State, found: Found) -> Said:
    over, iso = _amount(found), iso_text(state.exposure.settings.iso)
    most = iso_text(state.scene.composition.wants.highest_iso)
    return Said(
        "A higher ISO than you want",
        f"ISO {iso} is {thirds(over)} above ISO {most}.",
        over,
        thirds(over),
        "exposure.iso_over",
    )


def _bulb(state: State, found: Found) -> Said:
    shutter = shutter_text(_amount(found))
    return Said(
        "Longer than the body times",
        f"{shutter} needs bulb; the body times up to {shutter_text(state.scene.kit.body.longest_timed_s)}.",
        found.amount,
        shutter,
        "exposure.shutter",
    )


def _exposure(_state: State, found: Found) -> Said:
    off = _amount(found)
    return Said(
        f"The picture comes out {thirds(off)} {'brighter' if off > 0 else 'darker'}",
        "Shutter and ISO leave no room to balance the account.",
        off,
        thirds(off),
        "exposure.off",
    )


def _reach(state: State, found: Found) -> Said:
    units, support = state.scene.units, state.scene.kit.support
    low, high = heights_in_reach(state.scene, state.steady)
    height = distance_text(_amount(found), units)
    return Said(
        "Out of the support's reach",
        f"The lens is at {height}; the {support.name} reaches {distance_text(low, units)} to {distance_text(high, units)}.",
        found.amount,
        height,
    )


def _standing(state: State, found: Found) -> Said:
    composition = state.scene.composition
    line = crossed_line(composition, composition.east_m, composition.north_m)
    beyond = distance_text(_amount(found), state.scene.units)
    return Said(
        f"You stand beyond the {line.name if line else 'line'}", f"By {beyond}. {KEEP_BACK}", found.amount, beyond
    )


def _horizon(_state: State, found: Found) -> Said:
    tilt = _amount(found)
    text = degrees_text(abs(tilt), 1)
    return Said(
        "The horizon is tilted",
        f"By {text}, down to the {'right' if tilt < 0 else 'left'}; half a degree is seen.",
        tilt,
        text,
        "framing.tilt",
    )


def _frames(state: State, found: Found) -> Said:
    count, most = f"{_amount(found):,}", state.scene.composition.wants.most_frames
    return Said(
        "More frames than you want",
        f"{count} frames; you want {most:,} at most.",
        found.amount,
        count,
        "sequence.frames",
    )


def _light(state: State, found: Found) -> Said:
    today = light_today(state)
    nearest = today.nearest_to(state.unix_s) if today else None
    lacking = ", ".join(condition_words(state, one) for one in today.lacking) if today else ""
    when, text = "It does not come on this day.", "not today"
    if nearest is not None and found.amount is not None:
        when = f"It is there {when_text(state, nearest[0])} to {when_text(state, nearest[1])}."
        text = f"in {minutes_text(found.amount)}" if found.amount > 0 else f"{minutes_text(-found.amount)} ago"
    return Said(
        "Not the light you want",
        f"Lacking at {when_text(state, state.unix_s)}: {lacking or 'long enough'}. {when}",
        found.amount,
        text,
        "light.wish",
    )


def _light_ends(state: State, found: Found) -> Said:
    over, takes = _amount(found), sequence_s(state)
    return Said(
        "The light is gone before the sequence is done",
        f"It stays until {when_text(state, found.at)}; the sequence takes {duration_text(takes)}, "
        f"{duration_text(over)} too long.",
        over,
        duration_text(over),
        "sequence.over",
    )


_NOTHING_HOLDS = "No aperture or stack within the locks holds it."

WORDS: dict[TensionKind, Words] = {
    "near_soft": Words(_soft, _NOTHING_HOLDS),
    "gap_soft": Words(_soft, _NOTHING_HOLDS),
    "far_soft": Words(_soft, _NOTHING_HOLDS),
    "diffraction": Words(_diffraction, "The lens does not open far enough, or the aperture is locked."),
    "farthest_focus": Words(_farthest_focus, "Take off the gear that extends the lens."),
    "minimum_focus": Words(_minimum_focus, "Step back or change the lens."),
    "hand_held": Words(_hand_held, "Nothing free reaches that shutter time within the ISO you allow."),
    "support": Words(
        _support,
        "Nothing free reaches that shutter time within the ISO you allow; go ashore, or use a shorter lens.",
    ),
    "drifts_off": Words(_drifts_off, "Take fewer frames, or stand on firm ground."),
    "water_look": Words(_water_look, "No filter owned, aperture or ISO that is free reaches that time."),
    "frozen_wave": Words(
        _frozen_wave, "Nothing free, and no layer, reaches that shutter time within the ISO you allow."
    ),
    "foliage": Words(_foliage, "Nothing free reaches that shutter time within the ISO you allow; wait for a lull."),
    "range": Words(_range, "No bracket holds this range."),
    "iso": Words(_iso, "Free the aperture or the shutter, or allow a higher ISO."),
    "frames": Words(
        _frames, "A wider aperture range, a larger circle of confusion or fewer brackets would take fewer."
    ),
    "bulb": Words(_bulb, "The body has no bulb, and nothing free shortens the time enough."),
    "reach": Words(_reach, "Set the camera height within the reach, or change the support."),
    "standing": Words(_standing, "Several lines are in the way: choose another standpoint in the plan."),
    "horizon": Words(_horizon, "Level the camera by its level, or leave it tilted on purpose."),
    "exposure": Words(_exposure, "Free the shutter or the ISO."),
    "background": Words(
        _background, "A step nearer to the subject, a longer lens or a background farther off makes it smoother."
    ),
    "light": Words(_light, "Look for another day among the windows on the Light bench, or change what is wanted."),
    "light_ends": Words(_light_ends, "Take fewer frames, or shorter ones."),
}


def said(state: State, found: Found) -> Said:
    """A tension in words."""
    return WORDS[found.kind].say(state, found)
