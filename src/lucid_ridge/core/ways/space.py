"""The space of techniques: every aperture, ISO, focus, filters, bracket and layer that is free, as arrays.

A *plan* is a choice of focus (one of a few distances, or slices), whether to bracket, and which layers to add.
For each plan the apertures, ISO marks and filter sets span one grid of shape (apertures, isos, filters).
"""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.camera.critical import critical_span, critical_spans
from lucid_ridge.core.camera.geometry import focus_distance
from lucid_ridge.core.camera.mounted_lens import focus_span_m
from lucid_ridge.core.changes.apply import aperture_marks_between
from lucid_ridge.core.optics.focus_schools import balanced_focus_m
from lucid_ridge.core.optics.pupils import Optics
from lucid_ridge.core.optics.slices import MOST_SLICES, Slice, gapless_count, least_blur
from lucid_ridge.core.state.background import background_m
from lucid_ridge.core.state.depth import FARTHEST_FOCUSED_M, slices_planned
from lucid_ridge.core.state.state import State
from lucid_ridge.core.stops.filters import Filter, FilterInUse, cost_stops, graduated_cost
from lucid_ridge.core.stops.scales import nearest_third, third_index

Array = NDArray[np.float64]

MOST_TOGETHER = 2
VARIABLE_STEPS = 5
MOST_SETS, MOST_GRADS = 32, 4
MOST_CELLS = 30_000
"""Of apertures by ISO marks by filter sets; with more, ISO marks are left out."""


@dataclass(frozen=True)
class FilterSet:
    """Filters in front of the lens: those in use that stay, and density or a grad that is tried."""

    uses: tuple[FilterInUse, ...]
    stops: float
    """Taken from the whole frame."""
    density: float
    """Of that, by neutral density, which a layer takes off."""
    element_stops: Array
    """Taken by graduated filters from each element, shape (elements,)."""


@dataclass(frozen=True)
class FocusPlan:
    """A focus for every aperture, shapes (apertures,).

    Frames, the worst blur of what must be sharp and the background's blur disk, both in mm.
    """

    kind: str
    focus_m: float | None
    frames: NDArray[np.int_]
    worst_mm: Array
    background_mm: Array


def aperture_marks(state: State) -> Array:
    """The apertures that may be taken; the one in use where it is locked or is no mark of the lens."""
    settings = state.scene.composition.settings
    if "aperture" in state.scene.composition.locks:
        return np.array([settings.aperture_n])
    return np.array(aperture_marks_between(state.scene.kit, settings.focal_length_mm))


def iso_marks(state: State) -> Array:
    """The ISO marks that may be taken, up to what is wanted at most; the one in use where it is locked."""
    body, composition = state.scene.kit.body, state.scene.composition
    if "iso" in composition.locks:
        return np.array([composition.settings.iso])
    low = round(third_index(nearest_third(body.base_iso, "iso"), "iso"))
    most = max(min(composition.wants.highest_iso, body.highest_iso), body.base_iso)
    high = round(third_index(nearest_third(most, "iso"), "iso"))
    return np.asarray(100.0 * 2 ** (np.arange(low, max(high, low) + 1) / 3))


def _density_sets(owned: tuple[Filter, ...]) -> list[tuple[tuple[FilterInUse, ...], float]]:
    """Neutral density that may go on: none, up to two solid ones, or a variable one at whole steps of its safe span."""
    solid = [f for f in owned if f.kind == "nd"]
    sets: list[tuple[tuple[FilterInUse, ...], float]] = []
    for k in range(MOST_TOGETHER + 1):
        for chosen in itertools.combinations(solid, k):
            uses = tuple(FilterInUse(filter_id=f.id) for f in chosen)
            sets.append((uses, sum(f.stops for f in chosen)))
    for f in owned:
        if f.kind == "variable_nd" and f.stops > f.least_stops:
            most = min(f.safe_stops if f.safe_stops is not None else f.stops, f.stops)
            for stops in np.linspace(f.least_stops, most, VARIABLE_STEPS).tolist():
                use = FilterInUse(filter_id=f.id, strength=(stops - f.least_stops) / (f.stops - f.least_stops))
                sets.append(((use,), stops))
    # Of sets that take the same, the one of fewest pieces; of very many, some spread evenly over what they take.
    alike: dict[int, tuple[tuple[FilterInUse, ...], float]] = {}
    for one in sorted(sets, key=lambda s: len(s[0])):
        alike.setdefault(round(one[1] * 12), one)
    ranked = [alike[k] for k in sorted(alike)]
    step = max(1, math.ceil(len(ranked) / MOST_SETS))
    return ranked[::step]


def grad_edge(state: State) -> float:
    """Height in the frame at which a graduated filter's edge would be set: the foot of the sky, or the horizon."""
    geometry = state.geometry
    feet = [geometry.area(i).bounds[3] for i, e in enumerate(geometry.elements) if e.role == "sky" and geometry.seen(i)]
    horizon = geometry.camera.horizon_y()
    at = max(feet) if feet else sum(horizon) / 2 if horizon else 0.4
    return float(min(max(at, 0.0), 1.0))


def held_tones(state: State) -> list[tuple[int, float]]:
    """Position and EV, behind the polariser in use, of all in the frame that must hold detail and whose brightness is known."""
    return [
        (i, tone.ev100 - tone.polarised_stops)
        for i, e in enumerate(state.scene.composition.elements)
        if e.holds_detail and not math.isnan(state.geometry.near_m[i])
        for tone in [state.tones[i]]
        if tone is not None
    ]


def _wide_range(state: State) -> bool:
    """Whether the scene asks for so much range that a graduated filter could help: within a stop of a frame's."""
    tones = [ev for _, ev in held_tones(state)]
    return bool(tones) and max(tones) - min(tones) > state.scene.kit.body.usable_range_stops - 1


def filter_sets(state: State) -> list[FilterSet]:
    """Every set of owned filters that may go on; only the one in use where filters are locked."""
    composition, owned = state.scene.composition, state.scene.kit.filters
    by_id = {f.id: f for f in owned}
    y = state.geometry.middle_y

    def made(uses: tuple[FilterInUse, ...], density: float) -> FilterSet:
        whole = sum(cost_stops(by_id[u.filter_id], u) for u in uses)
        graduated = sum(
            (
                graduated_cost(by_id[u.filter_id], u, np.nan_to_num(y))
                for u in uses
                if by_id[u.filter_id].kind == "graduated"
            ),
            np.zeros(len(y)),
        )
        return FilterSet(uses=uses, stops=whole, density=density, element_stops=np.asarray(graduated))

    now = composition.settings.filters
    if "filters" in composition.locks:
        density = sum(
            cost_stops(by_id[u.filter_id], u) for u in now if by_id[u.filter_id].kind in ("nd", "variable_nd")
        )
        return [made(now, density)]
    kept = tuple(u for u in now if by_id[u.filter_id].kind == "polariser")
    grads: list[tuple[FilterInUse, ...]] = [()]
    if composition.wants.hold_range and _wide_range(state):
        edge = grad_edge(state)
        grads += [(FilterInUse(filter_id=f.id, edge_at=edge),) for f in owned if f.kind == "graduated"][:MOST_GRADS]
    sets = []
    for uses, stops in _density_sets(owned):
        for grad in grads:
            sets.append(made((*kept, *uses, *grad), stops))
    return sets


def focus_plans(state: State, apertures: Array) -> list[FocusPlan]:
    """One frame at a few foci, and the fewest slices, at every aperture."""
    scene, depth, lens = state.scene, state.depth, state.scene.kit.lens
    composition, settings = scene.composition, scene.composition.settings
    now = depth.optics
    n = apertures * (now.f_number / settings.aperture_n)
    stopped = n / now.f_number
    spans = [(a, min(b, FARTHEST_FOCUSED_M)) for a, b in critical_spans(scene, state.geometry)]
    near, far = critical_span(scene, state.geometry)
    ends = np.array([end for span in spans for end in span] or [near, min(far, FARTHEST_FOCUSED_M)])
    nearest, farthest = focus_span_m(lens, settings.focal_length_mm)

    behind = np.array([background_m(state)])

    def blurred(foci: list[float], moved_m: Array | None = None) -> tuple[Array, Array]:
        """Worst blur of what must be sharp, and the background's disk, at every aperture."""
        finite = np.minimum(foci, FARTHEST_FOCUSED_M)
        if len(finite) == 1:
            # Of one frame defocus falls with the f-number and the Airy disk grows with it.
            here, there = (least_blur(now, finite, at, moved_m) for at in (ends, behind))
            every = np.hypot(here.defocus_mm / stopped[:, None], here.airy_mm * stopped[:, None])
            return every.max(axis=1), there.defocus_mm[0] / stopped
        lenses = [now.at_aperture(float(one)) for one in n]
        worst = [float(least_blur(lens, finite, ends, moved_m).total_mm.max()) for lens in lenses]
        disks = [float(least_blur(lens, finite, behind, moved_m).defocus_mm[0]) for lens in lenses]
        return np.array(worst), np.array(disks)

    ones = np.ones(len(apertures), dtype=int)
    if "focus" in composition.locks:
        foci = np.minimum(depth.focused_m, FARTHEST_FOCUSED_M).tolist()
        return [FocusPlan("kept", None, ones * len(foci), *blurred(foci, depth.moved_m))]
    plans = []
    tried = {round(min(max(at, nearest), farthest), 9) for at in (focus_distance(scene), balanced_focus_m(near, far))}
    for at in sorted(tried):
        plans.append(FocusPlan("one", at, ones, *blurred([at])))
    frames, blurs, behinds = [], [], []
    for aperture in n.tolist():
        lens_then = now.at_aperture(aperture)
        wanted = _count_at(state, lens_then, (near, far))
        if wanted > min(composition.wants.most_frames, MOST_SLICES):
            # More than may be taken: counted, not planned. Sharp they would be.
            frames.append(min(wanted, 10 * MOST_SLICES))
            blurs.append(depth.circle_of_confusion_mm)
            behinds.append(0.0)
            continue
        slices = _slices_at(state, lens_then, (near, far))
        reached = [nearest * (1 - 1e-6) <= one.focus_m <= farthest * (1 + 1e-6) for one in slices]
        if not slices or not all(reached):
            frames.append(0)
            blurs.append(math.inf)
            behinds.append(0.0)
            continue
        frames.append(len(slices))
        foci = np.minimum([one.focus_m for one in slices], FARTHEST_FOCUSED_M)
        blurs.append(float(least_blur(lens_then, foci, ends).total_mm.max()))
        behinds.append(float(least_blur(lens_then, foci, behind).defocus_mm[0]))
    plans.append(FocusPlan("gapless", None, np.array(frames, dtype=int), np.array(blurs), np.array(behinds)))
    return plans


def _count_at(state: State, optics: Optics, span: tuple[float, float]) -> int:
    """How many slices the whole span takes; none where no number does, or where only what must be sharp is held."""
    if state.scene.composition.technique.only_critical:
        return 0
    try:
        return gapless_count(optics, state.depth.sharp, *span, state.scene.composition.technique.overlap)
    except ValueError:
        return 0


def _slices_at(state: State, optics: Optics, span: tuple[float, float]) -> tuple[Slice, ...]:
    """The fewest slices at an aperture; none where no number of them does."""
    try:
        return slices_planned(state.scene, state.geometry, optics, state.depth.sharp, span)
    except ValueError:
        return ()
