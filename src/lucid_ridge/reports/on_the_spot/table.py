"""The spot table: shutter, ISO, frames and time for every reading, filter and aperture, with the account of each.

Everything that is told is a text; a cell names its texts by their places, so that a phone looks up and computes nothing.
"""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime
from zoneinfo import ZoneInfo

import numpy as np

from lucid_ridge.core.exposure.closing import Exposure, bracket_shutter_s
from lucid_ridge.core.exposure.tolerances import MARK
from lucid_ridge.core.motion.travel import WaterLook, within_look
from lucid_ridge.core.on_the_spot.grid import Grid, grid_of
from lucid_ridge.core.records import record
from lucid_ridge.core.sequence.timing import light_stops
from lucid_ridge.core.state.state import State
from lucid_ridge.core.state.subject_motion import NEAREST_M, element_travel_mm, look_window
from lucid_ridge.reports.exposure.words import LOOK_TEXT, ledger_label
from lucid_ridge.reports.figures import (
    aperture_text,
    distance_text,
    duration_text,
    iso_text,
    shutter_text,
    stops_text,
    stops_words,
)
from lucid_ridge.reports.on_the_spot.soft import SoftTable, soft_table
from lucid_ridge.reports.sequence.build import drift_text

Cell = tuple[int, int, int, int, int]
Account = tuple[tuple[int, int, int], ...]
_LIGHT_MIN = range(-60, 181, 5)
_LOOKS: tuple[WaterLook, ...] = ("freeze", "texture", "soft", "glass")


@record
class SpotExposure:
    """How long a frame of a bracket is exposed."""

    seconds: float
    text: str
    bulb: bool


@record
class SpotShutter:
    """A shutter time, the frames of the plan's bracket about it in order, and what moving things make of it, one line each."""

    text: str
    bulb: bool
    bracket: tuple[SpotExposure, ...]
    moves: tuple[str, ...]


@record
class SpotAperture:
    """An aperture, and what it holds sharp."""

    text: str
    holds: str


@record
class SpotLight:
    """The light expected so many minutes after the moment planned for; ``thirds`` brighter than then, to the nearest.

    ``drifts`` are, for each of the table's totals, the place of how far it moves while frames begun then are taken.
    """

    minutes: int
    at_utc: datetime
    clock_text: str
    stops_text: str
    thirds: int
    drifts: tuple[int, ...]


@record
class SpotTable:
    """Answers to what may change on the spot.

    The meter reads ``readings`` at ``metered_at`` with nothing before the lens, the brightest light first; ``expected`` is
    the place of the reading that the plan expects. ``cells`` are by filters, apertures and readings: the places of shutter,
    ISO, total and note, and how many frames. ``ledgers`` are as ``cells``: for each line of the account the places of its
    label, its stops and the time carried down to it. ``light`` tells what to expect earlier and later.
    """

    composition_name: str
    metered_at: str
    readings: tuple[str, ...]
    expected: int
    filters: tuple[str, ...]
    apertures: tuple[SpotAperture, ...]
    own_aperture: int
    shutters: tuple[SpotShutter, ...]
    isos: tuple[str, ...]
    totals: tuple[str, ...]
    drifts: tuple[str, ...]
    notes: tuple[str, ...]
    labels: tuple[str, ...]
    stops: tuple[str, ...]
    times: tuple[str, ...]
    cells: tuple[tuple[tuple[Cell, ...], ...], ...]
    ledgers: tuple[tuple[tuple[Account, ...], ...], ...]
    light: tuple[SpotLight, ...]
    soft: SoftTable


class _Texts:
    """Texts by their places, each once."""

    def __init__(self) -> None:
        self.found: dict[str, int] = {}

    def place(self, text: str) -> int:
        return self.found.setdefault(text, len(self.found))

    @property
    def all(self) -> tuple[str, ...]:
        return tuple(self.found)


def _filters_text(state: State, grid: Grid, k: int) -> str:
    names = {f.id: f.name for f in state.scene.kit.filters}
    return " + ".join(names[use.filter_id] for use in grid.filters[k]) or "nothing"


def _holds(one: State) -> str:
    """What an aperture holds sharp with the technique as it is."""
    count = len(one.depth.slices)
    if count > 1:
        return f"{count} slices"
    held = one.depth.slices[0]
    far = "∞" if held.far_m == float("inf") else distance_text(held.far_m, one.scene.units)
    return f"{distance_text(held.near_m, one.scene.units)} to {far}"


def _moves(state: State, shutter_s: float) -> tuple[str, ...]:
    """How far each moving thing goes in a time, and how its water looks."""
    high = state.geometry.camera.frame_height_mm
    told = []
    for i, element in enumerate(state.scene.composition.elements):
        if element.motion == "still" or element.speed_m_s == 0 or not state.geometry.near_m[i] > NEAREST_M:
            continue
        share = element_travel_mm(state, i, shutter_s) / high
        far = f"{share:.1%} of the height" if share < 1 else f"{share:.1f} frame heights"
        look = next((one for one in _LOOKS if within_look(look_window(state, one), shutter_s)), None)
        looks = f", {LOOK_TEXT[look]}" if look is not None and element.motion == "water" else ""
        told.append(f"{element.name}: {far}{looks}")
    return tuple(told)


def _bracket(state: State, closed: Exposure) -> tuple[SpotExposure, ...]:
    """The frames of the plan's own bracket about an exposure."""
    body = state.scene.kit.body
    times = [
        bracket_shutter_s(body, closed.gathered_s, offset) if offset else closed.settings.shutter_s
        for offset in state.offsets
    ]
    return tuple(SpotExposure(seconds=t, text=shutter_text(t), bulb=_by_hand(state, t)) for t in times)


def _by_hand(state: State, shutter_s: float) -> bool:
    """Whether the body does not time it."""
    return shutter_s > state.scene.kit.body.longest_timed_s * MARK


def _note(state: State, closed: Exposure) -> str:
    notes = []
    if _by_hand(state, closed.settings.shutter_s):
        notes.append("bulb, timed by hand")
    off = closed.brighter_stops - state.scene.composition.settings.compensation_stops
    if abs(off) > 1 / 4:
        notes.append(f"{stops_words(off)} {'brighter' if off > 0 else 'darker'} than metered")
    if closed.settings.shutter_s <= state.scene.kit.body.shortest_shutter_s * MARK and off > 1 / 4:
        notes.append("the body has no shorter time")
    return "; ".join(notes)


def _light(state: State, totals_s: list[float], drifts: _Texts) -> tuple[SpotLight, ...]:
    """How much brighter or darker it is expected to be about the moment, and how far that moves within each total."""
    zone = ZoneInfo(state.scene.place.time_zone)
    minutes = np.array(_LIGHT_MIN)
    begun = minutes[:, None] * 60.0
    # All in one go: asking where the sun stands costs more than all the rest.
    every = light_stops(state, begun + np.array([0.0, *totals_s])[None, :])
    told = []
    for minute, (change, *ends) in zip(minutes, every, strict=True):
        at = datetime.fromtimestamp(state.unix_s + float(minute) * 60, UTC)
        thirds = round(3 * float(np.clip(change, -30, 30)))
        told.append(
            SpotLight(
                minutes=int(minute),
                at_utc=at,
                clock_text=at.astimezone(zone).strftime("%H:%M"),
                stops_text=stops_text(thirds / 3) if abs(change) < 20 else "dark",
                thirds=thirds,
                drifts=tuple(drifts.place(drift_text(float(np.clip(end - change, -30, 30)))) for end in ends),
            )
        )
    return tuple(told)


def _labels_of(state: State, closed: Exposure) -> list[tuple[str, str, str]]:
    """Label, stops and time carried, for each line that acts on the whole frame."""
    seen = replace(
        state,
        exposure=closed,
        scene=replace(state.scene, composition=replace(state.scene.composition, settings=closed.settings)),
    )
    return [
        (ledger_label(seen, line), stops_text(line.stops), shutter_text(line.shutter_s))
        for line in closed.ledger.lines
        if line.scope == "frame"
    ]


class _Told:
    """Cells and accounts in texts, each text once."""

    def __init__(self, state: State) -> None:
        self._state = state
        self._places: dict[str, int] = {}
        self.shutters: list[SpotShutter] = []
        self.totals_s: list[float] = []
        self.isos, self.totals, self.notes, self.labels, self.stops, self.times = (_Texts() for _ in range(6))

    def _shutter(self, closed: Exposure) -> int:
        time = closed.settings.shutter_s
        text = shutter_text(time)
        if text not in self._places:
            self._places[text] = len(self.shutters)
            self.shutters.append(
                SpotShutter(
                    text=text,
                    bulb=_by_hand(self._state, time),
                    bracket=_bracket(self._state, closed),
                    moves=_moves(self._state, time),
                )
            )
        return self._places[text]

    def cell(self, closed: Exposure, frames: int, total_s: float) -> Cell:
        """What one cell answers."""
        total = self.totals.place(duration_text(total_s))
        if total == len(self.totals_s):
            self.totals_s.append(total_s)
        return (
            self._shutter(closed),
            self.isos.place(iso_text(closed.settings.iso)),
            frames,
            total,
            self.notes.place(_note(self._state, closed)),
        )

    def account(self, closed: Exposure) -> Account:
        """The lines of a cell's account."""
        return tuple(
            (self.labels.place(label), self.stops.place(change), self.times.place(time))
            for label, change, time in _labels_of(self._state, closed)
        )


def spot_table(state: State, name: str) -> SpotTable:
    """The spot table of a state, with the softness of its frames."""
    grid = grid_of(state)
    told = _Told(state)
    places = [[range(len(grid.readings))] * len(grid.apertures) for _ in grid.filters]
    cells = tuple(
        tuple(
            tuple(
                told.cell(grid.exposures[f, a, r], int(grid.frames[f, a, r]), float(grid.total_s[f, a, r]))
                for r in readings
            )
            for a, readings in enumerate(rows)
        )
        for f, rows in enumerate(places)
    )
    ledgers = tuple(
        tuple(tuple(told.account(grid.exposures[f, a, r]) for r in readings) for a, readings in enumerate(rows))
        for f, rows in enumerate(places)
    )
    drifts = _Texts()
    light = _light(state, told.totals_s, drifts)
    return SpotTable(
        composition_name=name,
        metered_at=f"{aperture_text(grid.metered.aperture_n)}, ISO {iso_text(grid.metered.iso)}",
        readings=tuple(shutter_text(one) for one in grid.readings),
        expected=grid.expected,
        filters=tuple(_filters_text(state, grid, k) for k in range(len(grid.filters))),
        apertures=tuple(
            SpotAperture(text=aperture_text(n), holds=_holds(one))
            for n, one in zip(grid.apertures, grid.by_aperture, strict=True)
        ),
        own_aperture=grid.own_aperture,
        shutters=tuple(told.shutters),
        isos=told.isos.all,
        totals=told.totals.all,
        drifts=drifts.all,
        notes=told.notes.all,
        labels=told.labels.all,
        stops=told.stops.all,
        times=told.times.all,
        cells=cells,
        ledgers=ledgers,
        light=light,
        soft=soft_table(state, grid),
    )
