"""Whether the light that is wanted is there at the moment, how long it stays, and when else it comes that day."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np

from lucid_ridge.core.daylight.day import day_bounds, subject_index
from lucid_ridge.core.light.horizon import Horizon
from lucid_ridge.core.light.windows import stretches
from lucid_ridge.core.light_windows.light_wish import Condition, conditions, horizon_by_id, minutes_between
from lucid_ridge.core.model.place import Place
from lucid_ridge.core.model.wanted import LightWish
from lucid_ridge.core.state.state import State

# A window may run over midnight; what begins or ends within this of the day is seen whole.
_BEYOND_S = 6 * 3600.0


@dataclass(frozen=True)
class LightToday:
    """Windows (W, 2) of the light that is wanted, first and last instant in unix seconds; what is lacking now."""

    windows: tuple[tuple[float, float], ...]
    lacking: tuple[Condition, ...]

    def window_at(self, unix_s: float) -> tuple[float, float] | None:
        """The window that an instant lies in."""
        return next(((a, b) for a, b in self.windows if a <= unix_s < b), None)

    def nearest_to(self, unix_s: float) -> tuple[float, float] | None:
        """The window that begins or ends nearest to an instant outside all of them."""
        return min(self.windows, key=lambda w: max(w[0] - unix_s, unix_s - w[1]), default=None)


@dataclass(frozen=True)
class _Asked:
    """What decides the windows of a day; the state is only where the rest is looked up."""

    place: Place
    wish: LightWish
    azimuth_deg: float
    minute: int
    bounds: tuple[float, float]
    horizons: tuple[Horizon, ...]
    state: State = field(compare=False, hash=False, repr=False)


@lru_cache(maxsize=64)
def _found(asked: _Asked) -> LightToday:
    months = minutes_between(asked.state, *asked.bounds)
    masks = conditions(asked.state, asked.wish, months)
    if not masks:
        return LightToday((), ())
    holds = np.logical_and.reduce([mask for _, mask in masks])
    unix_s = months.track.unix_s
    found = stretches(holds)
    found = found[found[:, 1] - found[:, 0] + 1 >= asked.wish.shortest_min]
    now = int(np.clip(asked.minute - round(unix_s[0] / 60), 0, len(unix_s) - 1))
    return LightToday(
        tuple((float(unix_s[a]), float(unix_s[b]) + 60.0) for a, b in found.tolist()),
        tuple(condition for condition, mask in masks if not mask[now]),
    )


def light_today(state: State) -> LightToday | None:
    """The windows of the moment's day, clear sky; None where no light is wished for."""
    composition, wish = state.scene.composition, state.scene.composition.light_wish
    if wish == LightWish(shortest_min=wish.shortest_min, ready_min=wish.ready_min):
        return None
    subject = subject_index(state.scene)
    known = {e.id for e in composition.elements}
    asked = [one.element_id for one in wish.lit if one.element_id is None or one.element_id in known]
    if len(asked) < len(wish.lit):
        # A thing that is gone grants and refuses nothing; the bench says so beside the wish.
        return None
    horizons = (state.horizon, *(horizon_by_id(state, one) for one in asked), state.horizon_of(subject))
    start, end = (at.timestamp() for at in day_bounds(state.scene.place, composition.moment_utc))
    return _found(
        _Asked(
            place=state.scene.place,
            wish=wish,
            azimuth_deg=composition.azimuth_deg,
            minute=round(state.unix_s / 60),
            bounds=(start - _BEYOND_S, end + _BEYOND_S),
            horizons=horizons,
            state=state,
        )
    )


def light_left_s(state: State) -> float:
    """Seconds from the moment for which the wanted light stays; inf where none is wished for, or it is not there."""
    today = light_today(state)
    window = today.window_at(state.unix_s) if today else None
    return math.inf if window is None else window[1] - state.unix_s
