"""The frames of a sequence as a camera gets them: focus, time, brightness, and what goes wrong."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.camera.panorama import Panel
from lucid_ridge.core.exposure.closing import filters_in_use
from lucid_ridge.core.exposure.tones import MID_TONE, reflectance_of
from lucid_ridge.core.model.scene import LayerPurpose
from lucid_ridge.core.sequence.timing import ScheduledFrame, light_stops, scheduled_frames
from lucid_ridge.core.state.depth import FARTHEST_FOCUSED_M
from lucid_ridge.core.state.layers import layer_brightness_stops
from lucid_ridge.core.state.state import State
from lucid_ridge.core.stops.film import gathered_s
from lucid_ridge.core.stops.filters import FilterInUse, cost_stops, graduated_cost

_SKY_OVER_MIDTONE = 2.0
_GROUND_REFLECTANCE = 0.14


@dataclass(frozen=True)
class Wrong:
    """What is wrong with a frame.

    ``shift`` is how far the picture lies off, in frame widths right and down, ``turned_deg`` by how much it is turned;
    ``shake`` the way that the camera moves during the exposure, in frame widths; ``stops`` by how much it is brighter;
    ``gust`` by how much more what sways does so.
    """

    shift: tuple[float, float] = (0.0, 0.0)
    turned_deg: float = 0.0
    shake: tuple[float, float] = (0.0, 0.0)
    stops: float = 0.0
    gust: float = 1.0
    without_polariser: bool = False


NOTHING_WRONG = Wrong()


@dataclass(frozen=True)
class Shot:
    """One frame to expose.

    ``focus_m`` counts from the lens where it stands for this frame, ``moved_m`` further on than at first. ``stops`` is how
    much brighter than metered what was metered comes out.
    """

    number: int
    focus_m: float
    moved_m: float
    shutter_s: float
    iso: float
    aperture_n: float
    stops: float
    starts_after_s: float
    offset_stops: float
    slice_at: int
    bracket_at: int
    panel: Panel | None
    purpose: LayerPurpose | None
    filters: tuple[FilterInUse, ...]
    wrong: Wrong = NOTHING_WRONG


def shots_of(state: State) -> tuple[Shot, ...]:
    """Every frame of the sequence in order, as it is planned."""
    frames = scheduled_frames(state)
    halfway = np.array([one.starts_after_s + one.duration_s / 2 for one in frames])
    light = light_stops(state, halfway)
    return tuple(_shot(state, i, one, float(light[i])) for i, one in enumerate(frames))


def _shot(state: State, at: int, frame: ScheduledFrame, light: float) -> Shot:
    settings, power = state.exposure.settings, state.scene.kit.body.reciprocity_p
    layer, depth = frame.layer, state.depth
    if layer is None:
        stops = math.log2(float(gathered_s(frame.shutter_s, power)) / state.exposure.gathered_s)
    else:
        stops = layer_brightness_stops(state, layer)
    return Shot(
        number=at + 1,
        focus_m=min(float(depth.focused_m[frame.slice_at]), FARTHEST_FOCUSED_M),
        moved_m=float(depth.moved_m[frame.slice_at]),
        shutter_s=frame.shutter_s,
        iso=settings.iso if layer is None else layer.iso,
        aperture_n=settings.aperture_n,
        stops=state.exposure.brighter_stops + stops + light,
        starts_after_s=frame.starts_after_s,
        offset_stops=frame.offset_stops,
        slice_at=frame.slice_at,
        bracket_at=frame.bracket_at,
        panel=frame.panel,
        purpose=None if layer is None else layer.purpose,
        filters=settings.filters if layer is None else layer.filters,
    )


@dataclass(frozen=True)
class Levels:
    """How bright things are against what is metered, stops, before graduated filters; ``assumed`` those nobody told."""

    elements: tuple[float, ...]
    sky: float
    ground: float
    assumed: tuple[str, ...]

    def of(self, index: int) -> float:
        """Of an element, or of the sky and the ground where there is none (see `layers`)."""
        return self.elements[index] if index >= 0 else self.sky if index == -1 else self.ground


def levels_of(state: State, shot: Shot) -> Levels:
    """How bright things are for a frame; those without a reading or a prediction by what such things usually give back."""
    given_back = 0.0
    if shot.wrong.without_polariser:
        given_back = sum(
            cost_stops(owned, use) for owned, use in filters_in_use(state.scene) if owned.kind == "polariser"
        )
    found: list[float] = []
    assumed: list[str] = []
    for element, tone in zip(state.scene.composition.elements, state.tones, strict=True):
        if tone is None:
            own = _SKY_OVER_MIDTONE if element.role == "sky" else math.log2(reflectance_of(element) / MID_TONE)
            assumed.append(element.id)
        else:
            own = tone.ev100 - state.exposure.metered.now_ev100
            own -= 0.0 if shot.wrong.without_polariser else tone.polarised_stops
        found.append(own)
    skies = [one for one, e in zip(found, state.scene.composition.elements, strict=True) if e.role == "sky"]
    more = shot.stops + shot.wrong.stops + given_back
    return Levels(
        elements=tuple(one + more for one in found),
        sky=(max(skies) if skies else _SKY_OVER_MIDTONE) + more,
        ground=math.log2(_GROUND_REFLECTANCE / MID_TONE) + more,
        assumed=tuple(assumed),
    )


def graduated_rows(state: State, shot: Shot, rows: NDArray[np.float32]) -> NDArray[np.float32]:
    """What is left of the light behind graduated filters at heights in the frame, (rows,)."""
    owned = {one.id: one for one in state.scene.kit.filters}
    stops = np.zeros(len(rows))
    for use in shot.filters:
        one = owned.get(use.filter_id)
        if one is not None and one.kind == "graduated":
            stops += graduated_cost(one, use, rows)
    return np.asarray(2.0**-stops, dtype=np.float32)
