"""Drills: what is asked, and what is right. A drill is the same for the same scene, seed and level."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal, get_args

import numpy as np
from shapely import box

from lucid_ridge.core.camera.geometry import Geometry
from lucid_ridge.core.exposure.closing import bracket_shutter_s
from lucid_ridge.core.optics.slices import gapless_slices
from lucid_ridge.core.rehearsal.mishaps import KINDS, USUAL_SIZE, Mishap, MishapKind, possible
from lucid_ridge.core.rehearsal.shots import Shot, shots_of
from lucid_ridge.core.state.state import State
from lucid_ridge.core.state.subject_motion import element_travel_mm, moving_elements
from lucid_ridge.core.stops.filters import Filter
from lucid_ridge.core.stops.scales import nearest_third, on_third

DrillKind = Literal["mishap", "shutter", "stops", "focus", "slices"]
DRILL_KINDS: tuple[DrillKind, ...] = get_args(DrillKind)
LEVELS = 4
"""From what anybody sees to what one just can."""
NOTHING = "nothing"
"""The answer where nothing went wrong."""

_CHOICES = 4
_SIZES = (2.0, 1.0, 0.6, 0.4)
_SHUTTER_STEPS = (9, 6, 5, 3)
_UNTOUCHED = 0.2
_LEAST_MOVING = 0.04
_TOLD_APART = 1 / 40
_STOPS_NEAR = (1 / 3, 1 / 3, 1 / 6, 1 / 6)
_FOCUS_NEAR = (0.25, 0.18, 0.12, 0.08)
_DENSITIES = (3.0, 6.0, 10.0)
_MOST_SLICES = 12


class NoDrill(ValueError):
    """A composition gives no drill of a kind."""


@dataclass(frozen=True)
class Drill:
    """What is asked of a scene.

    ``truth`` is the right answer: one of ``options`` where there are any, else a number. ``near`` is how far off a number may
    be: in stops where it is a time, as a share where it is a distance, in whole ones where it counts. ``mishap`` is what
    went wrong in the frame ``number`` that is shown beside the planned one; ``shutter_s`` the time that a frame is shown at.
    ``given`` are the numbers that the question names, by name.
    """

    kind: DrillKind
    truth: str | float
    options: tuple[str | float, ...] = ()
    near: float = 0.0
    mishap: Mishap | None = None
    number: int | None = None
    shutter_s: float | None = None
    filters: tuple[Filter, ...] = ()
    given: tuple[tuple[str, float], ...] = ()

    def number_of(self, name: str) -> float:
        """One of the numbers that the question names."""
        return dict(self.given)[name]

    def right(self, answer: str | float) -> bool:
        """Whether an answer is right."""
        if isinstance(self.truth, str):
            return answer == self.truth
        if isinstance(answer, str) or not math.isfinite(answer) or answer <= 0:
            return False
        if self.options:
            return abs(math.log2(answer / self.truth)) < 1e-3
        if self.kind == "stops":
            return abs(math.log2(answer / self.truth)) <= self.near + 1e-6
        if self.kind == "focus":
            return abs(answer / self.truth - 1) <= self.near + 1e-9
        return abs(answer - self.truth) <= self.near


def drill_of(state: State, key: str, seed: int, level: int) -> Drill:
    """A drill of a scene. *key* is a kind, or ``mishap:`` and the one that is to be found.

    Raises
    ------
    NoDrill
        If the scene gives none: nothing moves in it, or it cannot go wrong in that way.

    """
    kind, _, what = key.partition(":")
    rng = np.random.default_rng((seed, level))
    if kind == "mishap":
        return _mishap(state, what, rng, level)
    if kind not in _MAKERS:
        raise NoDrill(key)
    return _MAKERS[kind](state, rng, level)


def keys() -> tuple[str, ...]:
    """Every drill there is, each a card of its own."""
    return (*(f"mishap:{kind}" for kind in KINDS), "shutter", "stops", "focus", "slices")


def _mishap(state: State, what: str, rng: np.random.Generator, level: int) -> Drill:
    shots = shots_of(state)
    there = possible(state, shots)
    kind = next((one for one in there if one == what), None)
    if kind is None or len(there) < 2:
        raise NoDrill(what)
    frame = _frame_for(kind, shots, rng)
    untouched = bool(rng.random() < _UNTOUCHED)
    others = [one for one in there if one != kind and not _alike(one, kind)]
    rng.shuffle(others)
    options = [kind, *others[: _CHOICES - 2]]
    rng.shuffle(options)
    return Drill(
        kind="mishap",
        truth=NOTHING if untouched else kind,
        options=(*options, NOTHING),
        mishap=None if untouched else Mishap(kind=kind, frame=frame, size=USUAL_SIZE[kind] * _SIZES[level]),
        number=frame if kind != "sinking" else min(frame + 2, len(shots)),
    )


def _frame_for(kind: MishapKind, shots: tuple[Shot, ...], rng: np.random.Generator) -> int:
    """A frame in which it shows: the camera is never where it was not knocked before the second."""
    if kind in ("camera_moved", "sinking", "missed_slice") and len(shots) > 1:
        later = (
            [one.number for one in shots if one.slice_at > 0]
            if kind == "missed_slice"
            else [s.number for s in shots[1:]]
        )
        return int(rng.choice(later or [len(shots)]))
    return int(rng.integers(1, len(shots) + 1))


def _alike(one: MishapKind, other: MishapKind) -> bool:
    """Whether nobody could tell two apart from a single pair of frames."""
    pairs = (
        {"camera_moved", "sinking"},
        {"focus_off", "missed_slice"},
        {"clipped_red", "forgotten_polariser"},
    )
    return any({one, other} == pair for pair in pairs)


def _shutter(state: State, rng: np.random.Generator, level: int) -> Drill:
    moving = moving_elements(state, "water") or moving_elements(state, "foliage")
    geometry = state.geometry
    rate = max((element_travel_mm(state, i, 1.0) for i in moving), default=0.0) / geometry.camera.frame_height_mm
    if not rate or sum(area_in_frame(geometry, i) for i in moving) < _LEAST_MOVING:
        raise NoDrill("too little moves")
    step = _SHUTTER_STEPS[level]
    # In the middle of what can be told apart: it goes a fortieth of the picture's height.
    middle = round(3 * math.log2(_TOLD_APART / rate))
    first = middle - step * int(rng.integers(0, _CHOICES))
    options = tuple(on_third(first + step * k, "shutter") for k in range(_CHOICES))
    truth = float(rng.choice(options))
    return Drill(kind="shutter", truth=truth, options=options, shutter_s=truth)


def area_in_frame(geometry: Geometry, index: int) -> float:
    """Share of the frame that a thing covers, whatever hides it."""
    return float(geometry.area(index).intersection(box(0, 0, geometry.aspect, 1)).area / geometry.aspect)


def _stops(state: State, rng: np.random.Generator, level: int) -> Drill:
    """From a metered time through filters, and from the second level on another aperture, to the time to set."""
    body = state.scene.kit.body
    owned = [f for f in state.scene.kit.filters if f.kind in ("nd", "polariser")]
    some = [owned[i] for i in rng.permutation(len(owned))[: 1 + int(level > 1 and len(owned) > 1)]]
    taken = sum(f.stops for f in some) if some else float(rng.choice(_DENSITIES))
    metered = on_third(3 * int(rng.integers(-8, -1)), "shutter")
    narrower = 0.0 if level == 0 else float(rng.integers(1, 4)) * (1.0 if level < 3 else 1 / 3)
    truth = bracket_shutter_s(replace(body, reciprocity_p=None), metered * 2 ** (taken + narrower), 0.0)
    return Drill(
        kind="stops",
        truth=truth,
        near=_STOPS_NEAR[level],
        filters=tuple(some),
        given=(("metered", metered), ("taken", taken), ("narrower", narrower)),
    )


def _span(state: State, rng: np.random.Generator) -> tuple[float, float]:
    near, far = state.depth.near_m, state.depth.far_m
    if not (math.isfinite(near) and near > 0) or far <= near * 1.05:
        raise NoDrill("no depth")
    far = min(far, near * 60)
    return near * float(rng.uniform(0.8, 1.3)), far * float(rng.uniform(0.8, 1.2))


def _focus(state: State, rng: np.random.Generator, level: int) -> Drill:
    """Where both ends are equally soft: the harmonic mean of their distances."""
    near, far = (_handy(one) for one in _span(state, rng))
    if far <= near:
        raise NoDrill("no depth")
    return Drill(
        kind="focus", truth=2 * near * far / (near + far), near=_FOCUS_NEAR[level], given=(("near", near), ("far", far))
    )


def _handy(metres: float) -> float:
    """A distance as one would say it: two digits."""
    digits = 1 - math.floor(math.log10(metres))
    return round(metres, digits)


def _slices(state: State, rng: np.random.Generator, level: int) -> Drill:
    """How many frames hold a span without a gap, at an aperture."""
    near, far = (_handy(one) for one in _span(state, rng))
    overlap = state.scene.composition.technique.overlap
    for k in rng.permutation(np.array([9, 12, 15, 18, 21])):
        aperture = nearest_third(on_third(int(k), "aperture"), "aperture")
        optics = state.depth.optics.at_aperture(
            state.depth.optics.f_number * aperture / state.exposure.settings.aperture_n
        )
        try:
            count = len(gapless_slices(optics, state.depth.sharp, near, far, overlap))
        except ValueError:
            continue
        if 2 <= count <= _MOST_SLICES:
            given = (("near", near), ("far", far), ("aperture", aperture), ("overlap", overlap))
            return Drill(kind="slices", truth=float(count), near=1.0 if level < 2 else 0.0, given=given)
    raise NoDrill("one frame holds it, or a dozen do not")


_MAKERS: dict[str, Callable[[State, np.random.Generator, int], Drill]] = {
    "shutter": _shutter,
    "stops": _stops,
    "focus": _focus,
    "slices": _slices,
}
