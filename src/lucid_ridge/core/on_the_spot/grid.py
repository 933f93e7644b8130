"""The account closed for every reading, filter and aperture that may be met on the spot.

The axes are thirds of a stop of the meter's shutter time about what the light is expected to be, sets of the owned
filters, and the lens's apertures in thirds. Everything else stays as the sequence has it.
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.camera.geometry import focus_distance
from lucid_ridge.core.camera.mounted_lens import extension_loss_stops, optics_of
from lucid_ridge.core.exposure.closing import Exposure, Metered, close_exposure
from lucid_ridge.core.model.scene import Reading, Scene
from lucid_ridge.core.records import SceneError
from lucid_ridge.core.sequence.timing import frame_count, sequence_s
from lucid_ridge.core.state.state import State, build_state
from lucid_ridge.core.state.tonal_range import Range, range_of
from lucid_ridge.core.stops.filters import FilterInUse
from lucid_ridge.core.stops.scales import exposure_value, on_third, third_index

READING_THIRDS = 15
"""Thirds of a stop up and down: light that is five stops off the plan is another picture (common practice)."""
MOST_SETS, _MOST_APERTURES = 16, 20
_MANY_FRAMES, _FEW_SETS, _NEAR_THIRDS = 60, 6, 3
"""Of a sequence of so many frames fewer answers are worked out, about the one that is planned: each takes long."""


@dataclass(frozen=True, eq=False)
class Grid:
    """The answers, arrays of (filters, apertures, readings).

    ``readings`` are the meter's shutter times in seconds at ``metered``'s aperture and ISO, the shortest first, and
    ``expected`` is the place of the one expected; ``filters`` and ``apertures`` the other axes, with the sequence's own
    first and at ``own_aperture``. ``exposures`` hold the closed accounts, ``total_s`` how long all frames take.
    """

    metered: Metered
    readings: tuple[float, ...]
    expected: int
    filters: tuple[tuple[FilterInUse, ...], ...]
    apertures: tuple[float, ...]
    own_aperture: int
    exposures: NDArray[np.object_]
    frames: NDArray[np.int64]
    total_s: NDArray[np.float64]
    by_aperture: tuple[State, ...]


def filter_sets(scene: Scene) -> tuple[tuple[FilterInUse, ...], ...]:
    """What may stand in front of the lens: as planned, nothing, each owned filter, and pairs of a polariser and a density.

    A graduated filter lies where the plan has it, and is left out of other sets: its edge is set by eye.
    """
    own = scene.composition.settings.filters
    solid = [f for f in scene.kit.filters if f.kind in ("nd", "polariser")]
    singles = [(FilterInUse(filter_id=f.id),) for f in solid]
    pairs = [
        (FilterInUse(filter_id=a.id), FilterInUse(filter_id=b.id))
        for a, b in itertools.combinations(sorted(solid, key=lambda f: f.kind != "polariser"), 2)
        if "polariser" not in (b.kind,)
    ]
    found = dict.fromkeys([own, (), *singles, *pairs])
    return tuple(found)[:MOST_SETS]


def apertures_of(state: State) -> tuple[float, ...]:
    """The lens's apertures at the focal length in use, in thirds, the widest first; the one in use among them."""
    lens, settings = state.scene.kit.lens, state.scene.composition.settings
    span = lens.longest_mm - lens.shortest_mm
    share = 0.0 if span <= 0 else (settings.focal_length_mm - lens.shortest_mm) / span
    widest = lens.widest_f_number + min(max(share, 0.0), 1.0) * (lens.widest_f_number_long - lens.widest_f_number)
    first = math.ceil(third_index(widest, "aperture") - 0.35)
    last = round(third_index(lens.narrowest_f_number, "aperture"))
    marks = [on_third(k, "aperture") for k in range(first, last + 1)][-_MOST_APERTURES:]
    own = settings.aperture_n
    if not any(math.isclose(own, one, rel_tol=1e-6) for one in marks):
        marks.append(own)
    return tuple(sorted(marks))


def _metered_anew(state: State) -> tuple[Scene, Metered]:
    """The scene as if it were metered at the moment, in the light expected then, with nothing before the lens."""
    metered, scene = state.exposure.metered, state.scene
    ev = metered.now_ev100
    if metered.predicted:
        # On the spot it is metered through the lens, which sees what its extension takes.
        ev -= extension_loss_stops(scene.kit.lens, scene.composition.settings, state.depth.magnification)
    aperture, iso = metered.aperture_n, metered.iso
    shutter = on_third(round(third_index(aperture**2 / 2**ev * 100 / iso, "shutter")), "shutter")
    reading = scene.composition.reading
    taken = Reading(
        aperture_n=aperture,
        shutter_s=shutter,
        iso=iso,
        taken_at_utc=scene.composition.moment_utc,
        element_id=metered.element_id,
        through_lens=reading is None or reading.through_lens,
        incident=reading is not None and reading.incident,
    )
    scene = replace(scene, composition=replace(scene.composition, reading=taken))
    return scene, _at(metered, shutter)


def _at(metered: Metered, shutter_s: float) -> Metered:
    return Metered(
        aperture_n=metered.aperture_n,
        shutter_s=shutter_s,
        iso=metered.iso,
        ev100=float(exposure_value(metered.aperture_n, shutter_s, metered.iso)),
        predicted=False,
        element_id=metered.element_id,
        light_since_stops=0.0,
    )


def _with(scene: Scene, **settings: object) -> Scene:
    composition = scene.composition
    return replace(scene, composition=replace(composition, settings=replace(composition.settings, **settings)))  # type: ignore[arg-type]


def _built(scene: Scene, state: State) -> State | None:
    """The state of a changed scene; None where it cannot be computed."""
    try:
        return build_state(scene, earlier=state, terrain=state.terrain)
    except (SceneError, ValueError):
        return None


def grid_of(state: State) -> Grid:
    """Close the account for every reading, filter set and aperture about a state."""
    scene, metered = _metered_anew(state)
    base = third_index(metered.shutter_s, "shutter")
    readings = tuple(on_third(round(base) + k, "shutter") for k in range(-READING_THIRDS, READING_THIRDS + 1))
    filters, apertures = filter_sets(scene), apertures_of(state)
    if frame_count(state) > _MANY_FRAMES:
        own_third = third_index(scene.composition.settings.aperture_n, "aperture")
        filters = filters[:_FEW_SETS]
        apertures = tuple(n for n in apertures if abs(third_index(n, "aperture") - own_third) < _NEAR_THIRDS + 0.5)
    # Elements that were read earlier stand as they are expected at the moment: as in the plan, not as if read then.
    opened = [(n, _built(_with(state.scene, aperture_n=n), state)) for n in apertures]
    by_aperture = [(n, one) for n, one in opened if one is not None]
    own = scene.composition.settings.aperture_n
    behind = [_built(_with(state.scene, filters=one), state) for one in filters]
    kept = [(f, one) for f, one in zip(filters, behind, strict=True) if one is not None]
    shape = (len(kept), len(by_aperture), len(readings))
    exposures, frames = np.empty(shape, dtype=object), np.zeros(shape, dtype=np.int64)
    total = np.zeros(shape)
    cells = _Cells(state)
    for f, (set_, behind_state) in enumerate(kept):
        for a, (n, opened_state) in enumerate(by_aperture):
            there = _with(scene, aperture_n=n, filters=set_)
            element_y = {
                e.id: float(opened_state.geometry.middle_y[i])
                for i, e in enumerate(there.composition.elements)
                if not math.isnan(opened_state.geometry.near_m[i])
            }
            m = optics_of(there.kit.lens, there.composition.settings).magnification(focus_distance(there))
            for r, shutter in enumerate(readings):
                closed = close_exposure(there, _at(metered, shutter), m, element_y)
                exposures[f, a, r] = closed
                frames[f, a, r], total[f, a, r] = cells.of(opened_state, behind_state, there, closed)
    return Grid(
        metered=metered,
        readings=readings,
        expected=READING_THIRDS,
        filters=tuple(f for f, _ in kept),
        apertures=tuple(n for n, _ in by_aperture),
        own_aperture=next(k for k, (n, _) in enumerate(by_aperture) if math.isclose(n, own, rel_tol=1e-6)),
        exposures=exposures,
        frames=frames,
        total_s=total,
        by_aperture=tuple(one for _, one in by_aperture),
    )


class _Cells:
    """How many frames a cell takes and for how long; cells that differ in nothing that matters share the answer."""

    def __init__(self, state: State) -> None:
        self._planned = state.exposure.metered
        self._ranges: dict[tuple[object, ...], Range] = {}
        self._known: dict[tuple[object, ...], tuple[int, float]] = {}

    def of(self, opened: State, behind: State, scene: Scene, closed: Exposure) -> tuple[int, float]:
        """Frames and seconds of a cell: its depth by the aperture, its range by the filters, its times by the account."""
        settings, count = closed.settings, len(opened.depth.slices)
        ranged = (id(behind), count, settings.iso, round(closed.brighter_stops, 9))
        if ranged not in self._ranges:
            # All of the picture gets more or less light together: against it, elements stand as they were planned.
            as_planned = replace(closed, metered=self._planned)
            self._ranges[ranged] = range_of(scene, opened.geometry, as_planned, count, behind.tones)
        range_ = self._ranges[ranged]
        # Where slices are taken by moving, how far that is hangs on the aperture too.
        moves = id(opened) if scene.composition.technique.slices in ("rail", "sway") else count
        key = (moves, len(settings.filters), settings.shutter_s, range_.bracket)
        if key not in self._known:
            cell = replace(
                opened,
                scene=replace(scene, composition=replace(scene.composition, settings=settings)),
                exposure=closed,
                range=range_,
            )
            # What light falls hangs on none of the three; it is sampled once.
            cell.__dict__["light_curve"] = opened.light_curve
            self._known[key] = frame_count(cell), sequence_s(cell)
        return self._known[key]
