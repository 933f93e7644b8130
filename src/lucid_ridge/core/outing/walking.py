"""Walking times: by Naismith's rule, with Langmuir's corrections, and by Tobler's hiking function.

An estimate of time on foot, for planning. It knows nothing of paths, rivers or snow, and recommends no route.

References
----------
.. [1] W. W. Naismith, "Excursions: Cruach Ardran, Stobinian, and Ben More", Scottish Mountaineering Club Journal 2 (1892) 136,
   as usually stated: an hour for every three miles and an hour more for every 2,000 feet of ascent; in metres 5 km/h and 600 m/h.
.. [2] E. Langmuir, Mountaincraft and Leadership (1984): ten minutes less for every 300 m of descent on slopes of 5 to 12 degrees,
   ten minutes more for every 300 m of descent on steeper ones.
.. [3] W. Tobler, Three Presentations on Geographical Analysis and Modeling, NCGIA Technical Report 93-1 (1993):
   6 exp(-3.5 |slope + 0.05|) km/h on a footpath, six tenths of that off it.

"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

from lucid_ridge.core.light.terrain import line_length_m
from lucid_ridge.core.model.outing import Pace, WalkingRule
from lucid_ridge.core.records import record

Array = NDArray[np.float64]
RULES: tuple[WalkingRule, ...] = ("naismith", "langmuir", "tobler")

LEVEL_M_S = 5000 / 3600
CLIMB_M_S = 600 / 3600
DESCENT_S_M = 600 / 300
"""Langmuir's ten minutes for three hundred metres."""
GENTLE_DEG, STEEP_DEG = 5.0, 12.0
TOBLER_FASTEST_M_S = 6000 / 3600
OFF_PATH = 0.6
STEEPEST = 1.0
"""Beyond 45 degrees one climbs, and no rule of walking holds: counted as that steep, with the same rise."""
NOISE_M = 4.0
"""What heights along a recorded way are uncertain by (common practice: 3 to 5 m): smaller ups and downs are none."""


def walking_s(level_m: ArrayLike, rise_m: ArrayLike, pace: Pace) -> Array:
    """Seconds that stretches take.

    Parameters
    ----------
    level_m
        Their level lengths in metres, any shape.
    rise_m
        How much each goes up, negative down; of the same shape.
    pace
        By which rule, and how somebody walks.

    Returns
    -------
    ndarray
        Of the same shape. Never negative: Langmuir's gain on long gentle descents ends where no time would be left.

    """
    level, rise = np.asarray(level_m, dtype=float), np.asarray(rise_m, dtype=float)
    if pace.rule == "tobler":
        walked = np.maximum(level, np.abs(rise) / STEEPEST)
        slope = rise / np.where(walked > 0, walked, 1.0)
        speed = TOBLER_FASTEST_M_S * np.exp(-3.5 * np.abs(slope + 0.05)) * (OFF_PATH if pace.off_path else 1.0)
        return np.asarray(walked / speed * pace.factor, dtype=float)
    taken: Array = level / LEVEL_M_S + np.maximum(rise, 0) / CLIMB_M_S
    if pace.rule == "langmuir":
        down = np.maximum(-rise, 0)
        angle = np.degrees(np.arctan2(down, level))
        gain = np.where((angle >= GENTLE_DEG) & (angle <= STEEP_DEG), -1.0, np.where(angle > STEEP_DEG, 1.0, 0.0))
        taken = np.maximum(taken + gain * down * DESCENT_S_M, 0.0)
    timed: Array = taken * pace.factor
    return timed


def without_noise(height_m: ArrayLike, noise_m: float = NOISE_M) -> Array:
    """Heights along a way with ups and downs of less than *noise_m* taken out, (N,); gaps (NaN) filled between their ends.

    A height follows only once the given one is more than half the noise away from it.

    Raises
    ------
    ValueError
        If none of them is known.

    """
    given = np.asarray(height_m, dtype=float)
    known = np.isfinite(given)
    if not known.any():
        raise ValueError("no height along the way is known")
    filled = np.interp(np.arange(len(given)), np.flatnonzero(known), given[known])
    half = noise_m / 2
    made: Array = np.empty(len(filled))
    now = filled[0]
    for i, height in enumerate(filled):
        now = min(max(now, height - half), height + half)
        made[i] = now
    return made


@record
class Profile:
    """A way from its start to its end: stretches with level length and rise, metres."""

    level_m: tuple[float, ...]
    rise_m: tuple[float, ...]

    @property
    def length_m(self) -> float:
        """Level length of all of it."""
        return float(sum(self.level_m))

    @property
    def ascent_m(self) -> float:
        """All that goes up."""
        return float(sum(r for r in self.rise_m if r > 0))

    @property
    def descent_m(self) -> float:
        """All that goes down, as a positive number."""
        return float(-sum(r for r in self.rise_m if r < 0))

    def reversed(self) -> Profile:
        """The way back."""
        return Profile(level_m=self.level_m[::-1], rise_m=tuple(-r for r in self.rise_m[::-1]))

    def seconds(self, pace: Pace) -> float:
        """How long it takes to walk."""
        return float(walking_s(self.level_m, self.rise_m, pace).sum())


STRETCH_M = 50.0
"""Slopes are taken over so much of a way: that of two neighbouring points of a recorder is chance."""


def profile(
    latitude_deg: ArrayLike, longitude_deg: ArrayLike, height_m: ArrayLike, noise_m: float = NOISE_M
) -> Profile:
    """The profile of a way through positions (N,), in stretches of about `STRETCH_M`; unknown heights are NaN.

    Raises
    ------
    ValueError
        If there are fewer than two positions, or no height is known.

    """
    latitude, longitude = np.asarray(latitude_deg, dtype=float), np.asarray(longitude_deg, dtype=float)
    if latitude.size < 2:
        raise ValueError("a way has at least two positions")
    pieces = [line_length_m(latitude[i : i + 2], longitude[i : i + 2]) for i in range(latitude.size - 1)]
    along = np.concatenate([[0.0], np.cumsum(pieces)])
    heights = without_noise(height_m, noise_m)
    ends = np.linspace(0.0, along[-1], max(1, round(float(along[-1]) / STRETCH_M)) + 1)
    at = np.interp(ends, along, heights)
    return Profile(level_m=tuple(np.diff(ends).tolist()), rise_m=tuple(np.diff(at).tolist()))
