"""Brackets of all techniques at once."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.exposure.kernels import set_times
from lucid_ridge.core.exposure.tolerances import MARK
from lucid_ridge.core.range.brackets import bracket_choices, held, usable_range_stops
from lucid_ridge.core.state.state import State
from lucid_ridge.core.stops.film import gathered_s, held_open_s
from lucid_ridge.core.ways.space import FilterSet, held_tones

Array = NDArray[np.float64]


BRACKETS = 3
"""The handiest bracket, and up to two with fewer frames; see `bracket_choices`."""


@dataclass(frozen=True)
class Bracketing:
    """Brackets over the grid (choices, apertures, isos, filters): frames, seconds open, presses and what is lost.

    ``lost_alone`` is what is lost without any, over (apertures, isos, filters).
    """

    frames: Array
    open_s: Array
    presses: Array
    lost: Array
    lost_alone: Array

    def fitting(self, most: Array) -> tuple[Array, Array, Array, Array]:
        """Frames, seconds, presses and loss of the handiest bracket with no more than so many frames, else of the first."""
        fits = self.frames <= most[None] + 1e-9
        chosen = np.where(fits.any(axis=0), fits.argmax(axis=0), 0)[None]
        parts = (self.frames, self.open_s, self.presses, self.lost)
        frames, open_s, presses, lost = (np.take_along_axis(one, chosen, axis=0)[0] for one in parts)
        return frames, open_s, presses, lost


def bracketing_of(state: State, isos: Array, filters: list[FilterSet], times: Array, brighter: Array) -> Bracketing:
    """What bracket each technique asks for. Few differ, by grad, ISO and rounding: each of those is planned once."""
    scene, exposure, body = state.scene, state.exposure, state.scene.kit.body
    base = scene.composition.settings.compensation_stops - exposure.metered.now_ev100
    tones = [(i, ev + base) for i, ev in held_tones(state)]
    ends = [[stops - float(f.element_stops[i]) for i, stops in tones] or [0.0] for f in filters]
    low = np.array([min(one) for one in ends])[None, None, :] + brighter
    high = np.array([max(one) for one in ends])[None, None, :] + brighter
    shape = times.shape
    # Few differ: by grad, ISO, and how the time came onto a mark. One whole number tells them apart.
    _, k, c = np.indices(shape)
    same = {f.element_stops.tobytes(): n for n, f in enumerate(filters)}
    grad = np.array([same[f.element_stops.tobytes()] for f in filters])
    codes = ((grad[c] * len(isos) + k) * 1_000_000 + np.round((brighter + 40) * 1e4).astype(int)).ravel()
    unique, first, inverse = np.unique(codes, return_index=True, return_inverse=True)
    flat, light = times.ravel(), gathered_s(times, body.reciprocity_p).ravel()
    alone = np.zeros(len(flat))
    count, presses, lost = (
        np.ones((BRACKETS, len(flat))),
        np.ones((BRACKETS, len(flat))),
        np.zeros((BRACKETS, len(flat))),
    )
    opened = np.tile(flat, (BRACKETS, 1))
    limit = body.longest_timed_s * MARK
    slice_by_slice = scene.composition.technique.order == "brackets_inside"
    lows, highs, marks_iso = (
        low.ravel()[first],
        high.ravel()[first],
        np.broadcast_to(isos[None, :, None], shape).ravel()[first],
    )
    groups = np.split(np.argsort(inverse, kind="stable"), np.cumsum(np.bincount(inverse, minlength=len(unique)))[:-1])
    for darkest, brightest, iso, members in zip(lows.tolist(), highs.tolist(), marks_iso.tolist(), groups, strict=True):
        usable = usable_range_stops(body.usable_range_stops, iso, body.base_iso)
        headroom = min(body.headroom_stops, usable)
        alone[members] = held((darkest, brightest), (0.0,), usable, headroom).lost
        lost[:, members] = alone[members]
        try:
            choices = bracket_choices(darkest, brightest, usable, headroom, body.bracket_modes)
        except ValueError:
            continue
        for n, plan in enumerate((*choices, *choices[-1:] * (BRACKETS - len(choices)))[:BRACKETS]):
            lost[n, members] = held((darkest, brightest), plan.offsets_stops, usable, headroom).lost
            series = light[members, None] * 2 ** np.array(plan.offsets_stops)[None, :]
            opened[n, members] = set_times(body, held_open_s(series, body.reciprocity_p)).sum(axis=1)
            count[n, members] = len(plan.offsets_stops)
            by_body = plan.by_body and slice_by_slice and len(plan.offsets_stops) > 1
            most = limit if body.reciprocity_p is None else min(limit, 1.0)
            presses[n, members] = np.where(by_body & (series.max(axis=1) <= most), 1.0, float(len(plan.offsets_stops)))
    by_choice = (BRACKETS, *shape)
    return Bracketing(
        frames=count.reshape(by_choice),
        open_s=opened.reshape(by_choice),
        presses=presses.reshape(by_choice),
        lost=lost.reshape(by_choice),
        lost_alone=alone.reshape(shape),
    )
