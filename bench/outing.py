"""Outings: schedules against trying everything, many ways at once against one after the other."""

from __future__ import annotations

import random
import statistics
import time
from collections.abc import Callable

import numpy as np
from tests.core.outings_drawn import best_by_trying, drawn

from lucid_ridge.core.model.outing import Pace
from lucid_ridge.core.outing.least_time import Ground, least_time, least_times
from lucid_ridge.core.outing.schedule import schedule


def _seconds(call: Callable[[], object]) -> float:
    start = time.perf_counter()
    call()
    return time.perf_counter() - start


def main() -> None:
    """Print them."""
    schedule(drawn(random.Random(0), 2))
    seven = [drawn(random.Random(seed), 7) for seed in range(12)]
    ours = statistics.median(_seconds(lambda t=t: schedule(t)) for t in seven)
    tried = statistics.median(_seconds(lambda t=t: best_by_trying(t)) for t in seven)
    print(
        f"{'an outing of 7 visits, proved best':<52} {ours * 1000:9.2f} ms   {tried / ours:8.1f} × as fast as trying all (goal: under 1 s)"
    )
    twenty = [drawn(random.Random(seed), 20, 1 + seed % 3) for seed in range(12)]
    taken, proven = [], 0
    for task in twenty:
        start = time.perf_counter()
        proven += schedule(task).proven
        taken.append(time.perf_counter() - start)
    median, most = statistics.median(taken), max(taken)
    print(
        f"{'an outing of 20 visits':<52} {median * 1000:9.2f} ms   {median / ours:8.1f} × one of 7; the longest {most:.2f} s, {proven} of 12 proved (goal: 5 s)"
    )
    rng = np.random.default_rng(5)
    heights = np.cumsum(rng.normal(0, 1.5, (245, 245)), axis=0)
    ground = Ground(heights, np.zeros(heights.shape, dtype=bool), 20.0, 0.0, 0.0)
    points = [(float(x), float(y)) for x, y in rng.uniform(200, 4600, (8, 2))]
    pace = Pace(rule="tobler")
    one = _seconds(lambda: least_time(ground, points[0], points[1], pace))
    every = _seconds(lambda: least_times(ground, points, pace))
    print(f"{'a way of least time over 60,000 cells':<52} {one * 1000:9.2f} ms   (goal: under 1 s)")
    print(
        f"{'all 56 ways between 8 points on them':<52} {every * 1000:9.2f} ms   {56 * one / every:8.1f} × as fast as one by one"
    )
