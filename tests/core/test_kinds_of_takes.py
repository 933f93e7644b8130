"""What a take was goes into a number and comes out of it; sums over numbers are sums over takes."""

from __future__ import annotations

from collections import Counter
from itertools import product

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lucid_ridge.reports.logbook.kinds import (
    DIRECTIONS_DEG,
    HEIGHTS_DEG,
    LOOKS,
    SHUTTERS_S,
    WAYS,
    Kind,
    kind_from,
    kind_of,
    number_of,
)
from lucid_ridge.reports.logbook.works import KEPT_FROM, what_works

EVERY = [
    Kind(2026, *rest)
    for rest in product(
        [None, *range(len(DIRECTIONS_DEG) + 1)],
        [None, *range(len(HEIGHTS_DEG) + 1)],
        [None, *LOOKS],
        [None, *range(len(SHUTTERS_S) + 1)],
        [None, *WAYS],
    )
]
TAKES = st.lists(st.tuples(st.sampled_from(EVERY), st.none() | st.integers(0, 5)), max_size=30)


def test_every_kind_has_a_number_of_its_own_and_comes_back():
    numbers = [number_of(kind) for kind in EVERY]
    assert len(set(numbers)) == len(EVERY) and [kind_from(one) for one in numbers] == EVERY
    assert max(numbers) < 2**31 and number_of(EVERY[-1]._replace(year=9999)) < 2**31


@given(st.integers(1, 9999), st.sampled_from(EVERY))
def test_a_number_keeps_its_year(year, kind):
    assert kind_from(number_of(kind._replace(year=year))).year == year


@pytest.mark.parametrize(
    ("off", "height", "direction", "band"),
    [
        (0, 10, 0, 3),
        (44.9, 10, 0, 3),
        (45, 10, 1, 3),
        (180, 30, 2, 4),
        (10, -3, None, 1),
        (10, -7, None, 0),
        (None, 5, None, 2),
    ],
)
def test_the_sun_is_put_where_it_stood(off, height, direction, band):
    made = kind_of(2026, off, height, None, 0.5, "stack")
    assert (made.direction, made.height, made.shutter) == (direction, band, 4)


@given(TAKES)
def test_sums_over_numbers_are_sums_over_takes(takes):
    told = what_works([(number_of(k), r, n) for (k, r), n in Counter(takes).items()], [])
    rated = [r for _, r in takes if r is not None]
    assert (told.takes, told.rated) == (len(takes), len(rated))
    groups = {group.key: group.rows for group in told.groups}
    ways = Counter(k.way for k, _ in takes if k.way)
    assert sorted(row.takes for row in groups.get("way", ())) == sorted(ways.values())
    low = [r for k, r in takes if k.height == 2]
    for row in groups.get("height", ()):
        if row.name.startswith("low"):
            good = [r for r in low if r is not None]
            assert row.takes == len(low)
            assert row.mean == pytest.approx(sum(good) / len(good) / 5 if good else 0)
            assert row.kept == pytest.approx(sum(r >= KEPT_FROM for r in good) / len(good) if good else 0)
    assert sum(row.takes for row in groups.get("water", ())) == sum(
        k.look is not None and k.shutter is not None for k, _ in takes
    )
    assert sum(year.takes for year in told.years) == len(takes)
