"""Tries: other takes on a composition to look at side by side, and the card each is compared by."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from lucid_ridge.core.camera.reach import heights_in_reach
from lucid_ridge.core.changes.apply import apply_changes
from lucid_ridge.core.changes.camera_moves import Hold, SetCrop, SetHeight
from lucid_ridge.core.changes.kinds import Change, SetTo
from lucid_ridge.core.framing.crop import Crop
from lucid_ridge.core.records import record
from lucid_ridge.core.sequence.timing import scheduled_frames
from lucid_ridge.core.state.state import State, build_state
from lucid_ridge.core.tensions.find import find
from lucid_ridge.reports.figures import Readout, aperture_text, distance_text, iso_text, micrometres_text, shutter_text
from lucid_ridge.reports.frame.separation import separation
from lucid_ridge.reports.frame.view import FramingReport, framing_report
from lucid_ridge.reports.sequence.build import build_sequence
from lucid_ridge.reports.tensions.words import said

_SAME_M = 0.05
_CLOSE_RATIO = 1.15


@record
class Card:
    """What variants are compared by: the picture, its figures, what it breaks and what meets in it."""

    picture: FramingReport
    lens: str
    settings: str
    height: Readout
    view: Readout
    pixels: Readout
    sky: Readout
    foreground: Readout
    worst_blur: Readout
    frames: Readout
    takes: Readout
    tensions: tuple[str, ...]
    meetings: tuple[str, ...]


@record
class Try:
    """Another take on the composition: its name, the changes that make it, and its card."""

    name: str
    changes: tuple[Change, ...]
    card: Card


def _worst_blur(state: State) -> Readout:
    """Blur at the worst place that must be sharp, with diffraction."""
    wanted = np.array([e.sharp for e in state.scene.composition.elements], dtype=bool)
    total = state.depth.worse.total_mm
    seen = wanted & ~np.isnan(total) if len(wanted) else np.zeros(0, dtype=bool)
    if not seen.any():
        return Readout(value=None, text="nothing must be sharp")
    blur = float(total[seen].max())
    return Readout(value=blur * 1000, text=micrometres_text(blur))


def card(state: State) -> Card:
    """The card of a composition."""
    scene, settings = state.scene, state.exposure.settings
    picture = framing_report(state)
    built, first = build_sequence(state), scheduled_frames(state)[0]
    iso = first.layer.iso if first.layer else settings.iso
    height = scene.composition.camera_height_m
    return Card(
        picture=picture,
        lens=f"{settings.focal_length_mm:.4g} mm, {scene.composition.orientation}",
        settings=f"{aperture_text(settings.aperture_n)}, {shutter_text(first.shutter_s)}, ISO {iso_text(iso)}",
        height=Readout(value=height, text=distance_text(height, scene.units)),
        view=picture.horizontal_view,
        pixels=picture.cropped_pixels,
        sky=picture.sky,
        foreground=picture.foreground,
        worst_blur=_worst_blur(state),
        frames=built.count,
        takes=built.total,
        tensions=tuple(said(state, one).title for one in find(state)),
        meetings=tuple(one.sentence for one in separation(state)),
    )


def _ideas(state: State) -> Iterator[tuple[str, tuple[Change, ...]]]:
    composition, lens = state.scene.composition, state.scene.kit.lens
    focal, height, crop = composition.settings.focal_length_mm, composition.camera_height_m, composition.crop
    if composition.orientation == "landscape":
        yield "portrait", (Hold(orientation="portrait"),)
    else:
        yield "landscape", (Hold(orientation="landscape"),)
    low, high = heights_in_reach(state.scene, state.steady)
    lower, higher = max(low, height / 2), min(high, height * 1.6)
    if height - lower > _SAME_M:
        yield "lower", (SetHeight(camera_height_m=round(lower, 2)),)
    if higher - height > _SAME_M:
        yield "higher", (SetHeight(camera_height_m=round(higher, 2)),)
    if "focal_length" not in composition.locks:
        wide, long = max(lens.shortest_mm, focal / 1.5), min(lens.longest_mm, focal * 1.6)
        if focal / wide > _CLOSE_RATIO:
            yield "wide", (SetTo(setting="focal_length", value=round(wide)),)
        if long / focal > _CLOSE_RATIO:
            yield "long", (SetTo(setting="focal_length", value=round(long)),)
    for name, aspect in (("square", 1.0), ("wide strip", 2.4), ("five to four", 1.25)):
        if crop.aspect is None or abs(crop.aspect - aspect) > 0.01:
            yield name, (SetCrop(crop=replace(crop, aspect=aspect, scale=1.0)),)
    if crop.scale > 0.8:
        yield "tighter crop", (SetCrop(crop=Crop(aspect=crop.aspect, scale=2 / 3)),)


def tries(state: State) -> tuple[Try, ...]:
    """Takes that people commonly try: the other orientation, lower, higher, wide, long, and crops."""
    found = []
    for name, changes in _ideas(state):
        after = build_state(apply_changes(state.scene, changes), terrain=state.terrain)
        found.append(Try(name=name, changes=changes, card=card(after)))
    return tuple(found)
