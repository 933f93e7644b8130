"""Filters in the field: the table to carry, what reaches a wanted time, and whether it fits."""

from __future__ import annotations

import itertools
import math

import numpy as np

from lucid_ridge.core.changes.kinds import Change, PutOn, SetBulb
from lucid_ridge.core.exposure.closing import filters_in_use, set_shutter_s
from lucid_ridge.core.exposure.tolerances import MARK
from lucid_ridge.core.framing.camera import field_of_view_deg
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.core.state.subject_motion import look_window
from lucid_ridge.core.stops.film import gathered_s, held_open_s
from lucid_ridge.core.stops.filters import Filter, FilterInUse
from lucid_ridge.reports.figures import shutter_text, stops_text, stops_words

MOST_COLUMNS = 6
_TABLE_FROM, _TABLE_TO = -9, 0
"""Whole stops of the base shutter from 1/512 s to 1 s."""
_CLOSE_STOPS = 1 / 6
ROOM_MM = 7.0
"""Free beside the corners' rays before a lens's own thread (common practice: one slim ring before the widest lenses)."""


@record
class FieldRow:
    """A base shutter time, and what it becomes behind each column's filters."""

    base: str
    filtered: tuple[str, ...]


@record
class FieldTable:
    """Base shutter to filtered shutter for what is carried. Columns name the filters and their stops."""

    columns: tuple[str, ...]
    stops: tuple[str, ...]
    rows: tuple[FieldRow, ...]
    film_text: str


@record
class FilterReach:
    """A set of owned filters that comes near a wanted time."""

    name: str
    shutter: str
    off: str
    reaches: bool
    changes: tuple[Change, ...]


@record
class FilterNote:
    """Something to know about a filter on this lens."""

    name: str
    text: str
    warns: bool


@record
class FilterStudy:
    """Filters on this lens, at this exposure."""

    table: FieldTable
    wanted: str
    reach: tuple[FilterReach, ...]
    notes: tuple[FilterNote, ...]


def _solid_sets(owned: tuple[Filter, ...]) -> list[tuple[Filter, ...]]:
    solid = [f for f in owned if f.kind == "nd"]
    return [c for k in (1, 2) for c in itertools.combinations(solid, k)]


def field_table(state: State) -> FieldTable:
    """The card to carry: single filters first, then pairs, the weakest first."""
    power = state.scene.kit.body.reciprocity_p
    ranked = sorted(_solid_sets(state.scene.kit.filters), key=lambda c: (len(c), sum(f.stops for f in c)))
    sets = ranked[:MOST_COLUMNS]
    rows = []
    for k in range(_TABLE_FROM, _TABLE_TO + 1):
        base = 2.0**k
        rows.append(
            FieldRow(
                base=shutter_text(base),
                filtered=tuple(
                    shutter_text(float(held_open_s(base * 2 ** sum(f.stops for f in c), power))) for c in sets
                ),
            )
        )
    return FieldTable(
        columns=tuple(" + ".join(f.name for f in c) for c in sets),
        stops=tuple(stops_text(-sum(f.stops for f in c)) for c in sets),
        rows=tuple(rows),
        film_text="" if power is None else f"Beyond one second with the film's own time, t to the power of {power:g}.",
    )


def wanted_time_s(state: State, wanted_s: float | None) -> float:
    """The time that is looked for: as asked, else the middle of the wanted look, else a minute."""
    if wanted_s is not None:
        return wanted_s
    low, high = look_window(state)
    if low > 0 and math.isfinite(high):
        return math.sqrt(low * high)
    return low * 2 if low > 0 else 60.0


def reach_of(state: State, wanted_s: float) -> tuple[FilterReach, ...]:
    """The owned density that comes nearest to a time at this aperture and ISO; polarisers and grads stay on."""
    kept = tuple(u for f, u in filters_in_use(state.scene) if f.kind not in ("nd", "variable_nd"))
    now = sum(
        f.stops if f.kind == "nd" else f.least_stops + u.strength * (f.stops - f.least_stops)
        for f, u in filters_in_use(state.scene)
        if f.kind in ("nd", "variable_nd")
    )
    body = state.scene.kit.body
    bare = state.exposure.asked_s / 2**now
    need = math.log2(float(gathered_s(wanted_s, body.reciprocity_p)) / bare)
    tried: list[tuple[float, int, str, float, tuple[FilterInUse, ...]]] = []
    for chosen in [(), *_solid_sets(state.scene.kit.filters)]:
        stops = sum(f.stops for f in chosen)
        uses = tuple(FilterInUse(filter_id=f.id) for f in chosen)
        tried.append((abs(stops - need), len(chosen), " + ".join(f.name for f in chosen) or "no density", stops, uses))
    for f in state.scene.kit.filters:
        if f.kind == "variable_nd" and f.stops > f.least_stops:
            most = min(f.safe_stops if f.safe_stops is not None else f.stops, f.stops)
            stops = float(np.clip(need, f.least_stops, most))
            use = FilterInUse(filter_id=f.id, strength=(stops - f.least_stops) / (f.stops - f.least_stops))
            tried.append((abs(stops - need), 1, f"{f.name} at {stops:.1f} stops", stops, (use,)))
    found = []
    for off, _, name, stops, uses in sorted(tried, key=lambda one: (round(one[0], 6), one[1]))[:3]:
        shutter = set_shutter_s(body, float(held_open_s(bare * 2**stops, body.reciprocity_p)))
        found.append(
            FilterReach(
                name=name,
                shutter=shutter_text(shutter),
                off="as wanted"
                if off <= _CLOSE_STOPS
                else f"{stops_words(round(off * 3) / 3)} {'longer' if stops > need else 'shorter'}",
                reaches=off <= _CLOSE_STOPS,
                changes=(
                    PutOn(filters=(*kept, *uses)),
                    SetBulb(on=shutter > body.longest_timed_s * MARK and body.has_bulb),
                ),
            )
        )
    return tuple(found)


def _cut_corners(state: State, used: list[Filter]) -> str:
    """Whether the front rim of the stack may stand in the way of the corners' rays; empty where it should not.

    The ray to a corner runs ``t tan(w/2)`` outward on its way through a stack t thick, w the diagonal view. A lens's
    thread leaves about `ROOM_MM` for that, a larger thread half of what it is larger besides.
    """
    camera, thread = state.geometry.camera, state.scene.kit.lens.filter_thread_mm
    diagonal = float(
        field_of_view_deg(math.hypot(camera.frame_width_mm, camera.frame_height_mm), camera.image_distance_mm)
    )
    thick = 0.0
    for f in used:
        thick += f.thickness_mm
        out = thick * math.tan(math.radians(diagonal / 2))
        wider = (f.thread_mm - thread) / 2 if f.thread_mm is not None and thread is not None else 0.0
        if out > ROOM_MM + max(wider, 0.0):
            return (
                f"Before a view of {diagonal:.0f}° the corners' rays run {out:.0f} mm outward through {thick:g} mm of "
                f"filters; about {ROOM_MM + max(wider, 0.0):.0f} mm are free: corners may darken. Turn the stack and "
                "look at them."
            )
    return ""


def notes_on(state: State) -> tuple[FilterNote, ...]:
    """Fit, order, corners, colour and the variable filter's cross."""
    lens = state.scene.kit.lens
    used = [f for f, _ in filters_in_use(state.scene)]
    notes = []
    for f, use in filters_in_use(state.scene):
        if f.thread_mm is not None and lens.filter_thread_mm is not None and f.thread_mm < lens.filter_thread_mm:
            text = f"{f.thread_mm:g} mm is smaller than the lens's {lens.filter_thread_mm:g} mm: it cuts the corners."
            notes.append(FilterNote(name=f.name, text=text, warns=True))
        elif f.thread_mm is not None and lens.filter_thread_mm is not None and f.thread_mm > lens.filter_thread_mm:
            text = f"Needs a ring from {lens.filter_thread_mm:g} to {f.thread_mm:g} mm."
            notes.append(FilterNote(name=f.name, text=text, warns=False))
        if f.cast:
            notes.append(
                FilterNote(
                    name=f.name,
                    text=f"Colour: {f.cast}. Fix the white balance by hand, the same for every frame.",
                    warns=False,
                )
            )
        if f.kind == "variable_nd":
            turned = f.least_stops + use.strength * (f.stops - f.least_stops)
            most = f.safe_stops if f.safe_stops is not None else f.stops
            if turned > most + 0.05:
                text = f"Turned to {turned:.1f} stops; beyond {most:g} a dark cross shows, soonest on wide lenses."
                notes.append(FilterNote(name=f.name, text=text, warns=True))
    cut = _cut_corners(state, used)
    if cut:
        notes.append(FilterNote(name="corners", text=cut, warns=True))
    if len(used) > 1:
        text = "Density next to the lens, then the polariser so that it turns, the graduated filter in its holder last. Focus and meter before the density goes on."
        notes.append(FilterNote(name="order", text=text, warns=False))
    return tuple(notes)


def filter_study(state: State, wanted_s: float | None = None) -> FilterStudy:
    """Everything about the filters carried."""
    wanted = wanted_time_s(state, wanted_s)
    return FilterStudy(
        table=field_table(state), wanted=shutter_text(wanted), reach=reach_of(state, wanted), notes=notes_on(state)
    )
