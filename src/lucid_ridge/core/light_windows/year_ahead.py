"""When the light that is wanted comes in the twelve months ahead, minute by minute."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.daylight.day import PHASES, phase_codes, subject_index
from lucid_ridge.core.light.direction import SUN_UP_DEG
from lucid_ridge.core.light_windows.light_wish import (
    Condition,
    Mask,
    Months,
    check_wish,
    conditions,
    horizon_by_id,
    months_ahead,
    windows,
)
from lucid_ridge.core.model.wanted import LightWish
from lucid_ridge.core.state.state import State

SHADE = len(PHASES)
"""Code of minutes with the sun up, but not on what is to be lit."""


@dataclass(frozen=True, eq=False)
class YearAhead:
    """A wish for light over the months ahead.

    ``conditions`` tell the minutes (M,) in which each holds; ``windows`` (W, 2) the first and last minute of each stretch in
    which all do, for as long as is wanted; ``codes`` (M,) the phase of the day as in `PHASES`, or `SHADE`, of what stands
    under ``lit_id`` (None is the standpoint).
    """

    wish: LightWish
    months: Months
    conditions: tuple[tuple[Condition, Mask], ...]
    windows: NDArray[np.intp]
    codes: NDArray[np.int8]
    lit_id: str | None

    def windows_without(self, index: int) -> int:
        """How many windows there would be without one condition."""
        others = [mask for i, (_, mask) in enumerate(self.conditions) if i != index]
        return len(windows(others, self.wish, len(self.codes))) if others else 0

    def windows_of_any_length(self) -> int:
        """How many windows there would be if they need not last."""
        brief = replace(self.wish, shortest_min=1.0)
        return len(windows([mask for _, mask in self.conditions], brief, len(self.codes)))


def _lit_id(state: State, wish: LightWish) -> str | None:
    """Whose light is told: the first element the wish names, else the subject."""
    if wish.lit:
        return wish.lit[0].element_id
    subject = subject_index(state.scene)
    return None if subject is None else state.scene.composition.elements[subject].id


def year_ahead(state: State, wish: LightWish) -> YearAhead:
    """The months ahead for a wish.

    Raises
    ------
    SceneError
        If the wish contradicts itself, see `check_wish`.

    """
    check_wish(state, wish)
    months = months_ahead(state)
    t = months.track
    asked = tuple(conditions(state, wish, months))
    found = windows([m for _, m in asked], wish, len(t.unix_s)) if asked else np.empty((0, 2), dtype=np.intp)
    lit_id = _lit_id(state, wish)
    codes = phase_codes(t.sun_altitude_deg, state.scene.composition.golden_hour)
    hidden = (t.sun_altitude_deg >= SUN_UP_DEG) & ~horizon_by_id(state, lit_id).clears(
        t.sun_azimuth_deg, t.sun_altitude_deg
    )
    codes[hidden] = SHADE
    return YearAhead(wish, months, asked, found, codes, lit_id)
