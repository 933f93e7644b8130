"""The way of least time against closed forms, and against networkx on a graph that is written down cell by cell."""

from __future__ import annotations

import itertools
import math

import networkx
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.core.model.outing import Pace
from lucid_ridge.core.outing.least_time import MOST_CELLS, STEEPEST_DEG, Ground, ground_between, least_time
from lucid_ridge.core.outing.walking import RULES, walking_s

CELL = 25.0


def ground(heights, closed=None) -> Ground:
    heights = np.asarray(heights, dtype=float)
    return Ground(heights, np.zeros(heights.shape, bool) if closed is None else np.asarray(closed), CELL, 0.0, 0.0)


def seconds(level, rise, rule="tobler") -> float:
    return float(walking_s(level, rise, Pace(rule=rule)))


@pytest.mark.parametrize("rule", RULES)
@pytest.mark.parametrize(
    ("east", "north", "length"), [(30, 0, 30), (0, 24, 24), (20, 20, 20 * math.sqrt(2)), (20, 10, 10 * math.sqrt(5))]
)
def test_over_a_plain_the_straight_way(rule, east, north, length):
    way = least_time(ground(np.zeros((40, 40))), (0, 0), (east * CELL, north * CELL), Pace(rule=rule))
    assert way.seconds == pytest.approx(seconds(length * CELL, 0, rule))
    assert way.profile.length_m == pytest.approx(length * CELL)
    assert (way.points_m[0], way.points_m[-1]) == ((0, 0), (east * CELL, north * CELL))


def test_between_the_directions_of_its_moves_it_is_at_most_a_fortieth_too_long():
    plain = ground(np.zeros((60, 60)))
    for degrees in range(0, 91, 3):
        end = (50 * CELL * math.sin(math.radians(degrees)), 50 * CELL * math.cos(math.radians(degrees)))
        way = least_time(plain, (0, 0), end, Pace())
        there = math.hypot(*(np.array(way.points_m[-1])))
        assert there <= way.profile.length_m * (1 + 1e-9) <= there * 1.028


@pytest.mark.parametrize(("slope", "up"), [(0.1, True), (0.1, False), (0.3, True), (0.3, False)])
def test_along_a_ramp_up_and_down_differ_as_tobler_says(slope, up):
    rows = np.arange(30)[:, None] * CELL * slope
    ramp = ground(np.broadcast_to(rows, (30, 12)))
    ends = ((5 * CELL, 0.0), (5 * CELL, 25 * CELL))
    way = least_time(ramp, *(ends if up else ends[::-1]), Pace(rule="tobler"))
    straight = seconds(25 * CELL, 25 * CELL * slope * (1 if up else -1))
    assert way.seconds <= straight + 1e-6
    if slope == 0.1:
        assert way.seconds == pytest.approx(straight)


def test_round_a_wall_by_its_gap():
    closed = np.zeros((21, 41), bool)
    closed[:, 20] = True
    closed[20, 20] = False
    level = ground(np.zeros((21, 41)), closed)
    way = least_time(level, (0, 0), (40 * CELL, 0), Pace())
    assert (20 * CELL, 20 * CELL) in way.points_m
    # By hand: to the gap beside the wall on a slant of one in one, across, and back.
    assert way.profile.length_m >= 2 * 20 * math.sqrt(2) * CELL
    assert way.profile.length_m < 2 * 21 * math.sqrt(2) * CELL + 2 * CELL
    closed[20, 20] = True
    assert least_time(ground(np.zeros((21, 41)), closed), (0, 0), (40 * CELL, 0), Pace()) is None


def test_nothing_slips_through_a_slanting_line():
    closed = np.eye(25, dtype=bool)
    assert least_time(ground(np.zeros((25, 25)), closed), (0, 12 * CELL), (12 * CELL, 0), Pace()) is None


@pytest.mark.parametrize(("degrees", "there"), [(STEEPEST_DEG - 1, True), (STEEPEST_DEG + 1, False)])
def test_a_step_too_steep_is_not_gone_over(degrees, there):
    heights = np.zeros((9, 20))
    heights[:, 10:] = CELL * math.tan(math.radians(degrees))
    # On the slant it would be gentler: that is no way over it either.
    assert (least_time(ground(heights), (0, 4 * CELL), (19 * CELL, 4 * CELL), Pace()) is not None) == there


def by_networkx(heights, closed, begin, finish, pace) -> float | None:
    """The same, written down cell by cell: moves to sixteen neighbours, every step within their rectangle one that may be made."""
    rows, columns = heights.shape
    free = {(r, c) for r in range(rows) for c in range(columns) if not closed[r, c] and np.isfinite(heights[r, c])}

    def may(one, other):
        return {one, other} <= free and abs(heights[one] - heights[other]) <= CELL * math.tan(
            math.radians(STEEPEST_DEG)
        )

    graph = networkx.DiGraph()
    graph.add_nodes_from((r, c) for r in range(rows) for c in range(columns))
    for r, c in free:
        for dr, dc in itertools.product(range(-2, 3), repeat=2):
            to = (r + dr, c + dc)
            if to not in free or math.gcd(dr, dc) != 1:
                continue
            box = list(
                itertools.product(range(min(r, to[0]), max(r, to[0]) + 1), range(min(c, to[1]), max(c, to[1]) + 1))
            )
            steps = [(a, b) for a, b in itertools.combinations(box, 2) if abs(a[0] - b[0]) + abs(a[1] - b[1]) == 1]
            if all(may(a, b) for a, b in steps):
                level = CELL * math.hypot(dr, dc)
                graph.add_edge((r, c), to, weight=float(walking_s(level, heights[to] - heights[r, c], pace)))
    try:
        return float(networkx.dijkstra_path_length(graph, begin, finish))
    except networkx.NetworkXNoPath:
        return None


@settings(max_examples=60)
@given(st.integers(0, 10**6), st.sampled_from(RULES), st.floats(0, 60), st.floats(0, 0.45))
def test_as_networkx_finds_it_on_any_ground(seed, rule, rough, share):
    rng = np.random.default_rng(seed)
    heights = rng.normal(0, rough / 3, (9, 11)).cumsum(axis=0)
    heights[rng.random(heights.shape) < share / 4] = np.nan
    closed = rng.random(heights.shape) < share
    begin, finish = (0, 0), (8, 10)
    pace = Pace(rule=rule, load=1.2)
    theirs = by_networkx(heights, closed, begin, finish, pace)
    ours = least_time(ground(heights, closed), (0, 0), (10 * CELL, 8 * CELL), pace)
    assert (ours is None) == (theirs is None)
    if ours is not None:
        assert ours.seconds == pytest.approx(theirs, rel=1e-9)
        assert ours.profile.seconds(pace) == pytest.approx(ours.seconds, rel=1e-9)


def test_a_large_piece_of_ground_is_thinned_out_and_a_small_one_taken_as_it_is():
    terrain = Terrain(np.zeros((1500, 1400), np.float32), 10.0, -7000.0, -7500.0, 54.1, -2.4)
    near = ground_between(terrain, (0, 0), (200, 100))
    assert near.cell_m == 10.0 and near.heights_m.size <= MOST_CELLS
    far = ground_between(terrain, (-6000, -6000), (6000, 6000))
    assert far.cell_m > 10.0 and far.heights_m.size <= MOST_CELLS * 1.05
    for piece, (east, north) in ((near, (200, 100)), (far, (6000, 6000)), (far, (-6000, -6000))):
        row, column = piece.cell_at(east, north)
        assert (
            math.hypot(piece.west_m + column * piece.cell_m - east, piece.south_m + row * piece.cell_m - north)
            <= piece.cell_m
        )
    way = least_time(far, (-6000, -6000), (6000, 6000), Pace())
    assert way.profile.length_m == pytest.approx(12_000 * math.sqrt(2), rel=0.01)


def test_from_a_cell_to_itself_is_no_way_at_all():
    way = least_time(ground(np.zeros((5, 5))), (50, 50), (51, 49), Pace())
    assert (way.seconds, way.points_m, way.profile.level_m) == (0, ((50, 50),), ())
