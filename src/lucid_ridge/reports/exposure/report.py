"""Exposure: the settings rail, the stop ledger, range and motion."""

from __future__ import annotations

import math

from lucid_ridge.core.camera.panorama import brightest_reading
from lucid_ridge.core.exposure.closing import filters_in_use
from lucid_ridge.core.exposure.tones import doubt_stops
from lucid_ridge.core.light.drift import STALE_DRIFT_STOPS
from lucid_ridge.core.light.falling import LONG_S, NOTICED_STOPS, seconds_in_changing_light
from lucid_ridge.core.model.scene import LockName
from lucid_ridge.core.motion.travel import within_look
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.core.state.subject_motion import element_travel_mm, look_window
from lucid_ridge.core.stops.filters import cost_stops
from lucid_ridge.core.stops.ledger import EntryKind
from lucid_ridge.reports.exposure.freshness import Freshness, freshness
from lucid_ridge.reports.exposure.words import LOOK_TEXT, ledger_label
from lucid_ridge.reports.figures import (
    Readout,
    aperture_text,
    distance_text,
    duration_text,
    iso_text,
    micrometres_text,
    shutter_text,
    stops_text,
)
from lucid_ridge.reports.light.words import light_words


@record
class SettingSummary:
    """One chip of the settings rail."""

    setting: LockName
    label: str
    text: str
    note: str
    locked: bool


@record
class LedgerRow:
    """One line of the account as shown."""

    kind: EntryKind
    label: str
    stops: Readout
    shutter: Readout
    scope_name: str


@record
class ReadText:
    """What the meter showed, by the names of its marks."""

    aperture: str
    shutter: str
    iso: str


@record
class LedgerReport:
    """The account, with its reading on top and the shutter at its foot.

    ``read`` and ``freshness`` are None where nothing is metered.

    ``changing`` is the time that the changing light asks for where that differs by a twelfth of a stop
    or more from the shutter's; its value is None where the light goes faster than it can be gathered.
    """

    metered_on: str
    predicted: bool
    read: ReadText | None
    rows: tuple[LedgerRow, ...]
    total: Readout
    shutter: Readout
    balance_stops: float
    bulb: bool
    changing: Readout | None
    freshness: Freshness | None


@record
class MotionRow:
    """Something that moves: how far it travels in the frame while the shutter is open."""

    id: str
    name: str
    travel: Readout
    share: Readout


@record
class MotionReport:
    """Motion and holding by hand."""

    hand_held_limit: Readout
    steady: bool
    look: str
    look_holds: bool
    rows: tuple[MotionRow, ...]


def _filters_chip(state: State) -> str:
    parts = []
    for owned, use in filters_in_use(state.scene):
        short = {"polariser": "Pol", "nd": "ND", "variable_nd": "VND", "graduated": "Grad"}[owned.kind]
        cost = owned.stops if owned.kind == "graduated" else cost_stops(owned, use)
        parts.append(f"{short} {stops_text(-cost)}")
    return "  ".join(parts) or "nothing"


def _shutter_note(state: State) -> str:
    stale = abs(state.exposure.metered.light_since_stops) > STALE_DRIFT_STOPS
    notes = ["bulb" if state.exposure.settings.bulb else "", "stale reading" if stale else ""]
    return ", ".join(note for note in notes if note)


_TOO_DARK_S = 3600.0
"""Nobody holds a picture of the land open for longer: the rail says in words that it is night (common practice)."""


def _shutter_chip(state: State, shutter_s: float, locked: bool) -> SettingSummary:
    """The shutter time, or that it is too dark to expose; what the account comes to stands in the ledger."""
    if shutter_s > _TOO_DARK_S and state.exposure.metered.predicted:
        return SettingSummary(setting="shutter", label="Shutter", text="too dark", note="night", locked=locked)
    return SettingSummary(
        setting="shutter", label="Shutter", text=shutter_text(shutter_s), note=_shutter_note(state), locked=locked
    )


def setting_summaries(state: State) -> tuple[SettingSummary, ...]:
    """The settings rail from left to right."""
    settings, locks = state.exposure.settings, state.scene.composition.locks
    focus = settings.focus_m

    def chip(setting: LockName, label: str, text: str, note: str = "") -> SettingSummary:
        return SettingSummary(setting=setting, label=label, text=text, note=note, locked=setting in locks)

    return (
        chip("focal_length", "Focal length", f"{settings.focal_length_mm:g} mm"),
        chip("aperture", "Aperture", aperture_text(settings.aperture_n)),
        _shutter_chip(state, settings.shutter_s, "shutter" in locks),
        chip("iso", "ISO", iso_text(settings.iso)),
        chip("focus", "Focus", "∞" if focus is None else distance_text(focus, state.scene.units)),
        chip("filters", "In front of the lens", _filters_chip(state)),
    )


def _changing_light(state: State) -> Readout | None:
    """What a long exposure takes as the light changes while it is open."""
    shutter = state.exposure.ledger.shutter_s
    if shutter < LONG_S:
        return None
    taken = seconds_in_changing_light(shutter, state.unix_s, state.metered_light.lux)
    if math.isinf(taken):
        return Readout(value=None, text="never: the light fades faster", explain="exposure.changing")
    if abs(math.log2(taken / shutter)) < NOTICED_STOPS:
        return None
    return Readout(value=taken, text=duration_text(taken), explain="exposure.changing")


def ledger_report(state: State) -> LedgerReport:
    """The stop ledger as shown."""
    metered, ledger = state.exposure.metered, state.exposure.ledger
    reading = state.scene.composition.reading
    names = {e.id: e.name for e in state.scene.composition.elements}
    what = f"{aperture_text(metered.aperture_n)}, ISO {iso_text(metered.iso)}"
    if metered.predicted:
        thing = f"the {names[metered.element_id]}" if metered.element_id else "level ground"
        doubt = doubt_stops(state.scene, state.sun_altitude_deg)
        on = f"Predicted from the light on {thing}, {light_words(state, state.lighting.target)}, ±{doubt:g} stops, {what}"
    elif reading is not None and reading.incident:
        on = f"Incident light metered, {what}"
    elif brightest_reading(state.scene.composition) is not None:
        on = f"Metered on the brightest panel, {what}"
    elif metered.element_id:
        on = f"Metered on the {names[metered.element_id]}, {what}"
    else:
        on = f"Metered, {what}"
    rows = [
        LedgerRow(
            kind="reading",
            label=on,
            stops=Readout(value=None, text=""),
            shutter=Readout(value=metered.shutter_s, text=shutter_text(metered.shutter_s), explain="exposure.reading"),
            scope_name="",
        )
    ]
    for i, line in enumerate(ledger.lines):
        frame = line.scope == "frame"
        rows.append(
            LedgerRow(
                kind=line.kind,
                label=ledger_label(state, line),
                stops=Readout(value=line.stops, text=stops_text(line.stops), explain=f"exposure.line:{i}"),
                shutter=Readout(
                    value=line.shutter_s if frame else None, text=shutter_text(line.shutter_s) if frame else "its own"
                ),
                scope_name="" if frame else names.get(line.scope, ""),
            )
        )
    return LedgerReport(
        metered_on=on,
        predicted=metered.predicted,
        read=None
        if reading is None
        else ReadText(
            aperture=aperture_text(reading.aperture_n),
            shutter=shutter_text(reading.shutter_s),
            iso=iso_text(reading.iso),
        ),
        rows=tuple(rows),
        total=Readout(value=ledger.total_stops, text=stops_text(ledger.total_stops), explain="exposure.total"),
        shutter=Readout(value=ledger.shutter_s, text=shutter_text(ledger.shutter_s), explain="exposure.shutter"),
        balance_stops=ledger.balance,
        bulb=state.exposure.settings.bulb,
        changing=_changing_light(state),
        freshness=freshness(state),
    )


def motion_report(state: State) -> MotionReport:
    """Travel of everything that moves, and the hand-held limit."""
    rows = []
    frame_height = state.geometry.camera.frame_height_mm
    for i, element in enumerate(state.scene.composition.elements):
        if element.motion == "still" or element.speed_m_s == 0 or math.isnan(state.geometry.near_m[i]):
            continue
        travel = element_travel_mm(state, i)
        share = travel / frame_height
        rows.append(
            MotionRow(
                id=element.id,
                name=element.name,
                travel=Readout(
                    value=travel * 1000, text=micrometres_text(travel), explain=f"motion.travel:{element.id}"
                ),
                share=Readout(
                    value=share,
                    text=f"{share:.1%} of the height" if share < 1 else f"{share:.1f} frame heights",
                    explain=f"motion.share:{element.id}",
                ),
            )
        )
    look = state.scene.composition.wants.water_look
    return MotionReport(
        hand_held_limit=Readout(
            value=state.hand_held_limit_s, text=shutter_text(state.hand_held_limit_s), explain="motion.hand_held"
        ),
        steady=state.steady,
        look=LOOK_TEXT[look],
        look_holds=within_look(look_window(state), state.exposure.settings.shutter_s),
        rows=tuple(rows),
    )
