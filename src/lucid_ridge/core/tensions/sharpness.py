"""Tensions of sharpness: soft places, diffraction, the reach of the focus, a smooth background."""

from __future__ import annotations

import math
from collections.abc import Iterator

from lucid_ridge.core.camera.mounted_lens import focus_span_m
from lucid_ridge.core.changes.check import widest_aperture
from lucid_ridge.core.changes.kinds import Change, ChooseCriterion, SetTo, TakeSlices
from lucid_ridge.core.changes.lens_changes import MountGear
from lucid_ridge.core.exposure.tolerances import BACKGROUND, is_soft
from lucid_ridge.core.figures import Figure, distance_text, micrometres_text, significant
from lucid_ridge.core.optics.criteria import CRITERION_TEXT
from lucid_ridge.core.optics.depth_of_field import airy_disk_mm
from lucid_ridge.core.optics.focus_schools import balanced_focus_m
from lucid_ridge.core.state.background import background_share
from lucid_ridge.core.state.state import State
from lucid_ridge.core.stops.scales import aperture_text
from lucid_ridge.core.tensions.levers import (
    after,
    apertures,
    element_id_of,
    element_name,
    focus_then,
    said,
    set_aperture,
)
from lucid_ridge.core.tensions.rule import Candidate, Found, Rule, TensionKind

_ADDS_LITTLE = 0.2
"""Of the Airy disk: less defocus adds two per cent to it."""


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
        name = element_name(state, i)
        yield Found(
            kind,
            f"{name[0].upper()}{name[1:]} is soft",
            f"{micrometres_text(total)} blur at {distance_text(distance, units)}, "
            f"{micrometres_text(depth.criterion_mm)} allowed.",
            Figure(value=total * 1000, text=micrometres_text(total), explain=f"depth.{kind}:{element_id_of(state, i)}"),
            element_id_of(state, i),
        )


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


def _diffraction_limit(state: State) -> float:
    """Largest f-number whose Airy disk stays within the criterion, the lens extended as it is."""
    depth = state.depth
    # The Airy disk grows in proportion to the f-number.
    return state.scene.composition.settings.aperture_n * depth.criterion_mm / depth.airy_mm


def _sharper(state: State) -> Iterator[Candidate]:
    scene, depth = state.scene, state.depth
    settings, locks = scene.composition.settings, scene.composition.locks
    f = settings.focal_length_mm
    if "focus" not in locks and scene.composition.technique.slices == "one":
        focus = balanced_focus_m(depth.near_m, depth.far_m)
        yield Candidate(label=lambda s: f"Focus at {focus_then(s)}", changes=(SetTo(setting="focus", value=focus),))
    if "aperture" not in locks:
        limit = _diffraction_limit(state)
        narrower = [n for n in apertures(state) if settings.aperture_n * 1.01 < n <= limit]
        sharp = [i for i, e in enumerate(scene.composition.elements) if e.sharp and state.geometry.seen(i)]
        defocus = max((float(depth.worse.defocus_mm[i]) for i in sharp), default=0.0)
        for n in narrower:
            stopped = n / settings.aperture_n
            if not is_soft(math.hypot(defocus / stopped, depth.airy_mm * stopped), depth.criterion_mm):
                yield set_aperture(n, "Stop down to")
                break
    stacked = TakeSlices(mode="gapless")
    yield from _stack(state, (stacked,))
    if "aperture" not in locks:
        # Where the aperture in use leaves too little for defocus, a wider one with a stack does.
        for n in (8.0, 5.656854249492381, 4.0):
            if widest_aperture(scene.kit.lens, f) <= n < settings.aperture_n:
                yield from _stack(state, (SetTo(setting="aperture", value=n), stacked))


def _stack(state: State, changes: tuple[Change, ...]) -> Iterator[Candidate]:
    tried = after(state, changes)
    if not tried.depth.slices_problem:
        count = len(tried.depth.slices)
        words = f"Take {count} slices" if count > 1 else "Take the slice that holds both"
        if len(changes) > 1:
            words += f" at {aperture_text(tried.exposure.settings.aperture_n)}"
        yield Candidate(label=said(words), changes=changes)


def _less_diffraction(state: State) -> Iterator[Candidate]:
    scene, limit = state.scene, _diffraction_limit(state)
    fitting = [n for n in apertures(state) if n <= limit]
    if fitting and "aperture" not in scene.composition.locks:
        yield set_aperture(fitting[-1], "Open to")
    if scene.composition.wants.criterion != "print":
        yield Candidate(label=said("Judge by the print"), changes=(ChooseCriterion(criterion="print"),))


def _focus_at_minimum(state: State) -> Iterator[Candidate]:
    settings, lens = state.scene.composition.settings, state.scene.kit.lens
    nearest, _ = focus_span_m(lens, settings.focal_length_mm)
    technique = state.scene.composition.technique
    if technique.slices == "hand":
        foci = tuple(max(s, nearest) for s in technique.hand_foci_m)
        change: Change = TakeSlices(mode="hand", foci_m=foci)
    elif technique.slices == "gapless":
        change = TakeSlices(mode="one")
    else:
        change = SetTo(setting="focus", value=nearest)
    yield Candidate(label=said(f"Focus at {distance_text(nearest, state.scene.units)}"), changes=(change,))


def _focus_within(state: State) -> Iterator[Candidate]:
    """Take the extending gear off where the focus is wanted far; else focus as far as it goes."""
    composition = state.scene.composition
    yield Candidate(label=said("Take the close-up gear off"), changes=(MountGear(mounted=()),))
    _, farthest = focus_span_m(state.scene.kit.lens, composition.settings.focal_length_mm)
    if math.isfinite(farthest) and composition.technique.slices == "one":
        yield Candidate(label=lambda s: f"Focus at {focus_then(s)}", changes=(SetTo(setting="focus", value=farthest),))


def _smoother(state: State) -> Iterator[Candidate]:
    """The narrowest aperture that is open enough; one focus instead of slices that hold the background too."""
    composition, wanted = state.scene.composition, state.scene.composition.wants.smooth_background
    if wanted is None:
        return
    if "aperture" not in composition.locks:
        needed = composition.settings.aperture_n * background_share(state) / wanted
        opened = [n for n in apertures(state) if n <= needed * 1.02]
        if opened:
            yield set_aperture(opened[-1], "Open to")
    if composition.technique.slices != "one":
        yield Candidate(label=said("One focus"), changes=(TakeSlices(mode="one"),))


NEAR_SOFT = Rule(
    kind="near_soft",
    find=_soft,
    candidates=_sharper,
    no_mend="No aperture or stack within the locks holds it.",
    severity="spoils",
    searched=True,
)

GAP_SOFT = Rule(
    kind="gap_soft",
    find=_soft,
    candidates=_sharper,
    no_mend="No aperture or stack within the locks holds it.",
    severity="spoils",
    searched=True,
)

FAR_SOFT = Rule(
    kind="far_soft",
    find=_soft,
    candidates=_sharper,
    no_mend="No aperture or stack within the locks holds it.",
    severity="spoils",
    searched=True,
)

DIFFRACTION = Rule(
    kind="diffraction",
    find=_diffraction,
    candidates=_less_diffraction,
    no_mend="The lens does not open far enough, or the aperture is locked.",
    searched=True,
)

FARTHEST_FOCUS = Rule(
    kind="farthest_focus",
    find=_minimum_focus,
    candidates=_focus_within,
    no_mend="Take off the gear that extends the lens.",
    severity="spoils",
)

MINIMUM_FOCUS = Rule(
    kind="minimum_focus",
    find=_minimum_focus,
    candidates=_focus_at_minimum,
    no_mend="Step back or change the lens.",
    severity="spoils",
)

SMOOTH_BACKGROUND = Rule(
    kind="background",
    find=_background,
    candidates=_smoother,
    no_mend="A step nearer to the subject, a longer lens or a background farther off makes it smoother.",
    searched=True,
)
