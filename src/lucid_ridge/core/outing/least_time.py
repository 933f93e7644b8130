"""The way over open ground that takes the least time, by the terrain's heights alone.

An estimate of time, not a route: it knows nothing of streams, walls, bog, cliffs lower than a cell, or whose ground it is.

References
----------
.. [1] E. W. Dijkstra, "A note on two problems in connexion with graphs", Numerische Mathematik 1 (1959) 269; here by SciPy.
.. [2] W. Tobler (1993), whose function depends on the direction in which a slope is walked; see `walking`.

"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array
from scipy.sparse.csgraph import dijkstra

from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.core.model.outing import Pace
from lucid_ridge.core.outing.walking import Profile, walking_s
from lucid_ridge.core.records import record

Array = NDArray[np.float64]
Closed = NDArray[np.bool_]

STEEPEST_DEG = 35.0
"""Nothing steeper is gone over (common practice: hands are needed from about there)."""
MOST_CELLS = 60_000
"""Of the ground between two points; a larger piece is looked at by fewer of its cells."""
_MARGIN = 0.5
"""How far beyond two points, as a share of their distance, a way may lead."""
_LEAST_MARGIN_M = 300.0
# Eight neighbours and the eight moves of a knight: straight ways come out at most 2.7 % too long.
_MOVES = [(0, 1), (1, 0), (1, 1), (1, -1), (1, 2), (2, 1), (2, -1), (1, -2)]


@record
class Way:
    """A way: its points in the terrain's metres, east and north, its profile, and how long it takes, seconds."""

    points_m: tuple[tuple[float, float], ...]
    profile: Profile
    seconds: float


class Ground(NamedTuple):
    """A piece of ground: heights (rows, columns) from south to north, NaN where unknown, and what is closed of it.

    ``west_m`` and ``south_m`` are the place of the first height.
    """

    heights_m: Array
    closed: Closed
    cell_m: float
    west_m: float
    south_m: float

    def cell_at(self, east_m: float, north_m: float) -> tuple[int, int]:
        """The nearest cell, by row and column; within the piece."""
        rows, columns = self.heights_m.shape
        row = min(max(round((north_m - self.south_m) / self.cell_m), 0), rows - 1)
        return row, min(max(round((east_m - self.west_m) / self.cell_m), 0), columns - 1)


def ground_between(terrain: Terrain, start_m: tuple[float, float], end_m: tuple[float, float]) -> Ground:
    """The ground around two points of a terrain, none of it closed; thinned out to `MOST_CELLS` where there is more."""
    return ground_around(terrain, [start_m, end_m])


def ground_around(terrain: Terrain, points_m: Sequence[tuple[float, float]]) -> Ground:
    """The ground around points of a terrain, likewise; half as far again as the points lie apart."""
    lows, highs = (
        [min(axis) for axis in zip(*points_m, strict=True)],
        [max(axis) for axis in zip(*points_m, strict=True)],
    )
    margin = max(math.dist(lows, highs) * _MARGIN, _LEAST_MARGIN_M)
    rows, columns = terrain.heights_m.shape

    def reach(axis: int, origin: float, count: int) -> tuple[int, int]:
        low, high = lows[axis] - margin, highs[axis] + margin
        first = min(max(math.floor((low - origin) / terrain.cell_m), 0), count - 2)
        return first, max(min(math.ceil((high - origin) / terrain.cell_m) + 1, count), first + 2)

    left, right = reach(0, terrain.west_m, columns)
    foot, top = reach(1, terrain.south_m, rows)
    thin = max(1, math.ceil(math.sqrt((right - left) * (top - foot) / MOST_CELLS)))
    heights = terrain.heights_m[foot:top:thin, left:right:thin].astype(np.float64)
    return Ground(
        heights,
        np.zeros(heights.shape, dtype=bool),
        terrain.cell_m * thin,
        terrain.west_m + left * terrain.cell_m,
        terrain.south_m + foot * terrain.cell_m,
    )


def _part(array: NDArray[Any], down: int, right: int, there: bool) -> NDArray[Any]:
    """Where a move begins, or where it leads (*there*), for all cells from which it stays on the ground."""
    rows, columns = array.shape
    if there:
        return array[down:, max(right, 0) : columns + min(right, 0)]
    return array[: rows - down, max(-right, 0) : columns - max(right, 0)]


def _links(ground: Ground) -> tuple[Closed, Closed]:
    """Whether one may step from each cell to the next north (rows - 1, columns), and to the next east (rows, columns - 1)."""
    open_ = ~ground.closed & np.isfinite(ground.heights_m)
    filled = np.where(open_, ground.heights_m, 0.0)
    highest = ground.cell_m * math.tan(math.radians(STEEPEST_DEG))
    north = open_[:-1] & open_[1:] & (np.abs(np.diff(filled, axis=0)) <= highest)
    east = open_[:, :-1] & open_[:, 1:] & (np.abs(np.diff(filled, axis=1)) <= highest)
    return north, east


def _may(links: tuple[Closed, Closed], down: int, right: int) -> Closed:
    """Whether a move may be made, from all cells from which it stays on the ground.

    Every step within the rectangle that it crosses must be one that may be made: nothing slips through a slanting line, or over
    a step on the slant.
    """
    north, east = links
    rows, columns = east.shape[0], north.shape[1]
    wide = abs(right)
    shape = (rows - down, columns - wide)
    made = np.ones(shape, dtype=bool)
    for r in range(down + 1):
        for c in range(wide + 1):
            if r < down:
                made &= north[r : r + shape[0], c : c + shape[1]]
            if c < wide:
                made &= east[r : r + shape[0], c : c + shape[1]]
    return made


def _moves(ground: Ground, pace: Pace) -> csr_array:
    """Seconds of each move from cell to cell, both ways; a move through what is closed or too steep is none."""
    heights, links = ground.heights_m, _links(ground)
    numbers = np.arange(heights.size).reshape(heights.shape)
    froms, tos, costs = [], [], []
    for down, right in _MOVES:
        level = ground.cell_m * math.hypot(down, right)
        may = _may(links, down, right)
        a, b = _part(numbers, down, right, False)[may], _part(numbers, down, right, True)[may]
        up = heights.ravel()[b] - heights.ravel()[a]
        for begin, finish, rises in ((a, b, up), (b, a, -up)):
            froms.append(begin)
            tos.append(finish)
            costs.append(walking_s(np.full(rises.shape, level), rises, pace))
    shape = (heights.size, heights.size)
    return csr_array((np.concatenate(costs), (np.concatenate(froms), np.concatenate(tos))), shape=shape)


def least_time(ground: Ground, start_m: tuple[float, float], end_m: tuple[float, float], pace: Pace) -> Way | None:
    """The way from the cell nearest to one point to that nearest to another that takes the least time; None without any.

    Parameters
    ----------
    ground
        What is gone over.
    start_m, end_m
        East and north, in its metres.
    pace
        How somebody walks; with Tobler's rule a slope costs differently up and down.

    """
    return least_times(ground, [start_m, end_m], pace, [0])[0, 1]


def least_times(
    ground: Ground, points_m: Sequence[tuple[float, float]], pace: Pace, starts: Sequence[int] | None = None
) -> dict[tuple[int, int], Way | None]:
    """The ways that take the least time from each point, or those of *starts*, to every other; see `least_time`."""
    columns = ground.heights_m.shape[1]
    cells = [row * columns + column for row, column in (ground.cell_at(*p) for p in points_m)]
    moves = _moves(ground, pace)
    made: dict[tuple[int, int], Way | None] = {}
    for i in range(len(points_m)) if starts is None else starts:
        seconds, before = dijkstra(moves, indices=cells[i], return_predecessors=True)
        for j, finish in enumerate(cells):
            if j != i:
                made[i, j] = _traced(ground, seconds, before, cells[i], finish)
    return made


def _traced(ground: Ground, seconds: Array, before: NDArray[np.int32], begin: int, finish: int) -> Way | None:
    """The way that a search found, from its end back to its beginning."""
    if not math.isfinite(seconds[finish]):
        return None
    cells = [finish]
    while cells[-1] != begin:
        cells.append(int(before[cells[-1]]))
    at = np.array(cells[::-1])
    row, column = np.divmod(at, ground.heights_m.shape[1])
    east, north = ground.west_m + column * ground.cell_m, ground.south_m + row * ground.cell_m
    level = np.hypot(np.diff(east), np.diff(north))
    rise = np.diff(ground.heights_m.ravel()[at])
    return Way(
        points_m=tuple(zip(east.tolist(), north.tolist(), strict=True)),
        profile=Profile(level_m=tuple(level.tolist()), rise_m=tuple(rise.tolist())),
        seconds=float(seconds[finish]),
    )
