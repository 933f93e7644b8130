"""Tensions of sharpness: soft places, diffraction, the reach of the focus, a smooth background."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from lucid_ridge.core.camera.mounted_lens import focus_span_m
from lucid_ridge.core.changes.check import widest_aperture
from lucid_ridge.core.changes.kinds import Change, ChooseStandard, SetTo, TakeSlices
from lucid_ridge.core.changes.lens_changes import MountGear
from lucid_ridge.core.exposure.tolerances import BACKGROUND, is_soft
from lucid_ridge.core.optics.focus_schools import balanced_focus_m
from lucid_ridge.core.optics.slices import least_blur
from lucid_ridge.core.state.background import background_share
from lucid_ridge.core.state.depth import FARTHEST_FOCUSED_M
from lucid_ridge.core.state.state import State
from lucid_ridge.core.tensions.levers import (
    after,
    apertures,
    element_id_of,
)
from lucid_ridge.core.tensions.rule import Candidate, Found, Rule, TensionKind

_NEARLY = 1.25
"""Of the circle of confusion: a lens that breathes shows a little more or less of an element when it is focused anew."""
_ADDS_LITTLE = 0.2
"""Of the Airy disk: less defocus adds two per cent to it."""


def _too_soft(defocus: float, airy: float, total: float, allowed: float) -> bool:
    """Whether a blur (mm, with its parts) is too large because of the focus.

    Where diffraction alone is too much, and defocus adds little, defocus is not what to mend.
    """
    return is_soft(total, allowed) and not (is_soft(airy, allowed) and defocus < airy * _ADDS_LITTLE)


def _soft(state: State) -> Iterator[Found]:
    """The worst soft place in front of, between and behind the focused distances."""
    depth = state.depth
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
            if not _too_soft(defocus, airy, total, depth.circle_of_confusion_mm):
                continue
            kind: TensionKind = (
                "near_soft" if distance < min(foci) else "far_soft" if distance > max(foci) else "gap_soft"
            )
            if total > worst.get(kind, (0.0, 0, 0.0))[0]:
                worst[kind] = (total, i, distance)
    for kind, (total, i, distance) in worst.items():
        yield Found(kind, total, element_id_of(state, i), distance)


def _diffraction(state: State) -> Iterator[Found]:
    depth = state.depth
    critical = [i for i, e in enumerate(state.scene.composition.elements) if e.sharp and state.geometry.seen(i)]
    # Of a stack the frame that is focused closest has the largest Airy disk.
    ends = [float(one.airy_mm[i]) for i in critical for one in (depth.blur_near, depth.blur_far)]
    airy = max(ends, default=depth.airy_mm)
    if is_soft(airy, depth.circle_of_confusion_mm):
        yield Found("diffraction", airy)


def _minimum_focus(state: State) -> Iterator[Found]:
    lens, settings = state.scene.kit.lens, state.scene.composition.settings
    nearest, farthest = focus_span_m(lens, settings.focal_length_mm)
    closest, most = float(state.depth.focused_m.min()), float(state.depth.focused_m.max())
    if most > farthest * (1 + 1e-6):
        yield Found("farthest_focus", most)
    if closest < nearest * (1 - 1e-6):
        yield Found("minimum_focus", closest)


def _background(state: State) -> Iterator[Found]:
    """A background less smooth than the photographer wants."""
    wanted = state.scene.composition.wants.smooth_background
    if wanted is None:
        return
    share = background_share(state)
    if share < wanted * (1 - BACKGROUND):
        yield Found("background", share)


def _diffraction_limit(state: State) -> float:
    """Largest f-number whose Airy disk stays within the circle of confusion, the lens extended as it is."""
    depth = state.depth
    # The Airy disk grows in proportion to the f-number.
    return state.scene.composition.settings.aperture_n * depth.circle_of_confusion_mm / depth.airy_mm


def _sharper(state: State) -> Iterator[Candidate]:
    scene, depth = state.scene, state.depth
    settings, locks = scene.composition.settings, scene.composition.locks
    f = settings.focal_length_mm
    if "focus" not in locks and scene.composition.technique.slices == "one":
        focus = balanced_focus_m(depth.near_m, depth.far_m)
        if _may_hold(state, focus):
            yield (SetTo(setting="focus", value=focus),)
    if "aperture" not in locks:
        limit = _diffraction_limit(state)
        narrower = [n for n in apertures(state) if settings.aperture_n * 1.01 < n <= limit]
        sharp = [i for i, e in enumerate(scene.composition.elements) if e.sharp and state.geometry.seen(i)]
        defocus = max((float(depth.worse.defocus_mm[i]) for i in sharp), default=0.0)
        for n in narrower:
            stopped = n / settings.aperture_n
            if not is_soft(math.hypot(defocus / stopped, depth.airy_mm * stopped), depth.circle_of_confusion_mm):
                yield (SetTo(setting="aperture", value=n),)
                break
    stacked = TakeSlices(mode="gapless")
    yield from _stack(state, (stacked,))
    if "aperture" not in locks:
        # Where the aperture in use leaves too little for defocus, a wider one with a stack does.
        for n in (8.0, 5.656854249492381, 4.0):
            if widest_aperture(scene.kit.lens, f) <= n < settings.aperture_n:
                yield from _stack(state, (SetTo(setting="aperture", value=n), stacked))


def _may_hold(state: State, focus_m: float) -> bool:
    """Whether one frame focused there may be sharp at both ends of what must be; a state is only built where it may."""
    depth = state.depth
    ends = np.minimum(np.array([depth.near_m, depth.far_m]), FARTHEST_FOCUSED_M)
    blur = least_blur(depth.optics, np.array([min(focus_m, FARTHEST_FOCUSED_M)]), ends)
    defocus, airy, total = (one / _NEARLY for one in blur)
    allowed = depth.circle_of_confusion_mm
    return not any(
        _too_soft(float(d), float(a * _NEARLY), float(t), allowed) for d, a, t in zip(defocus, airy, total, strict=True)
    )


def _stack(state: State, changes: tuple[Change, ...]) -> Iterator[Candidate]:
    if not after(state, changes).depth.slices_problem:
        yield changes


def _less_diffraction(state: State) -> Iterator[Candidate]:
    scene, limit = state.scene, _diffraction_limit(state)
    fitting = [n for n in apertures(state) if n <= limit]
    if fitting and "aperture" not in scene.composition.locks:
        yield (SetTo(setting="aperture", value=fitting[-1]),)
    if scene.composition.wants.sharpness_standard != "print":
        yield (ChooseStandard(standard="print"),)


def _focus_at_minimum(state: State) -> Iterator[Candidate]:
    settings, lens = state.scene.composition.settings, state.scene.kit.lens
    nearest, _ = focus_span_m(lens, settings.focal_length_mm)
    technique = state.scene.composition.technique
    if technique.slices == "manual":
        foci = tuple(max(s, nearest) for s in technique.manual_foci_m)
        change: Change = TakeSlices(mode="manual", foci_m=foci)
    elif technique.slices == "gapless":
        change = TakeSlices(mode="one")
    else:
        change = SetTo(setting="focus", value=nearest)
    yield (change,)


def _focus_within(state: State) -> Iterator[Candidate]:
    """Take the extending gear off where the focus is wanted far; else focus as far as it goes."""
    composition = state.scene.composition
    yield (MountGear(mounted=()),)
    _, farthest = focus_span_m(state.scene.kit.lens, composition.settings.focal_length_mm)
    if math.isfinite(farthest) and composition.technique.slices == "one":
        yield (SetTo(setting="focus", value=farthest),)


def _smoother(state: State) -> Iterator[Candidate]:
    """The narrowest aperture that is open enough; one focus instead of slices that hold the background too."""
    composition, wanted = state.scene.composition, state.scene.composition.wants.smooth_background
    if wanted is None:
        return
    if "aperture" not in composition.locks:
        needed = composition.settings.aperture_n * background_share(state) / wanted
        opened = [n for n in apertures(state) if n <= needed * 1.02]
        if opened:
            yield (SetTo(setting="aperture", value=opened[-1]),)
    if composition.technique.slices != "one":
        yield (TakeSlices(mode="one"),)


NEAR_SOFT = Rule(
    kind="near_soft",
    find=_soft,
    candidates=_sharper,
    severity="spoils",
    searched=True,
)

GAP_SOFT = Rule(
    kind="gap_soft",
    find=_soft,
    candidates=_sharper,
    severity="spoils",
    searched=True,
)

FAR_SOFT = Rule(
    kind="far_soft",
    find=_soft,
    candidates=_sharper,
    severity="spoils",
    searched=True,
)

DIFFRACTION = Rule(
    kind="diffraction",
    find=_diffraction,
    candidates=_less_diffraction,
    searched=True,
)

FARTHEST_FOCUS = Rule(
    kind="farthest_focus",
    find=_minimum_focus,
    candidates=_focus_within,
    severity="spoils",
)

MINIMUM_FOCUS = Rule(
    kind="minimum_focus",
    find=_minimum_focus,
    candidates=_focus_at_minimum,
    severity="spoils",
)

SMOOTH_BACKGROUND = Rule(
    kind="background",
    find=_background,
    candidates=_smoother,
    searched=True,
)
