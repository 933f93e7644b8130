"""Scales, filters and the ledger."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lucid_ridge.core.stops.filters import Filter, FilterInUse, cost_stops, graduated_cost
from lucid_ridge.core.stops.ledger import LedgerEntry, close_ledger
from lucid_ridge.core.stops.scales import nearest_third, nudge, on_third, third_index
from lucid_ridge.reports.figures import aperture_text, iso_text, shutter_text


@pytest.mark.parametrize("scale", ["aperture", "shutter", "iso"])
@given(index=st.integers(-10, 20), thirds=st.integers(-9, 9))
def test_nudges_walk_the_scale_and_back(scale, index, thirds):
    start = on_third(index, scale)
    there = nudge(start, thirds, scale)
    assert third_index(there, scale) == pytest.approx(index + thirds, abs=1e-9)
    assert nudge(there, -thirds, scale) == pytest.approx(start, rel=1e-12)


@given(st.integers(-39, 15))
def test_a_third_of_a_stop_of_time_is_a_cube_root_of_two(index):
    assert on_third(index + 3, "shutter") / on_third(index, "shutter") == pytest.approx(2, rel=1e-12)


@pytest.mark.parametrize(
    ("scale", "nominal"),
    [("aperture", [1.4, 2.8, 5.6, 11, 22, 3.5, 6.3, 13]), ("iso", [125, 640, 1250, 6400])],
)
def test_nominal_values_find_their_own_mark(scale, nominal):
    text = {"aperture": lambda v: float(aperture_text(v)[2:]), "iso": lambda v: float(iso_text(v))}[scale]
    for value in nominal:
        assert text(nearest_third(value, scale)) == value


@pytest.mark.parametrize(
    ("seconds", "words"),
    [(1 / 128, "1/125 s"), (1 / 8, "1/8 s"), (2 ** (-4 / 3), "0.4 s"), (2.0, "2 s"), (32.0, "30 s"),
     (128.0, "2 min 08 s"), (144.2, "2 min 24 s"), (3900.0, "1 h 05 min"), (1 / 8192, "1/8000 s")],
)  # fmt: skip
def test_shutter_times_read_as_on_a_camera(seconds, words):
    assert shutter_text(seconds) == words


@pytest.mark.parametrize("bad", [0.0, -8.0, math.nan, math.inf])
def test_there_is_no_mark_for_nothing(bad):
    with pytest.raises(ValueError, match="above zero"):
        nearest_third(bad, "aperture")


entries = st.lists(
    st.builds(
        LedgerEntry,
        kind=st.sampled_from(["nd", "aperture", "iso", "choice", "polariser"]),
        stops=st.floats(-20, 20) | st.integers(-45, 45).map(lambda k: k / 3),
        scope=st.sampled_from(["frame", "frame", "element"]),
    ),
    max_size=12,
)


@given(st.floats(1e-4, 1e3), entries)
def test_the_ledger_balances(metered, lines):
    ledger = close_ledger(metered, lines)
    assert abs(ledger.balance) < 1e-9
    assert ledger.total_stops == math.fsum(e.stops for e in lines if e.scope == "frame")


@given(st.floats(1e-4, 1e3), entries)
def test_a_line_of_one_element_leaves_the_shutter_alone(metered, lines):
    with_element = [*lines, LedgerEntry(kind="graduated", stops=-3, scope="sky")]
    assert close_ledger(metered, with_element).shutter_s == close_ledger(metered, lines).shutter_s


def test_the_shutter_is_carried_down_line_by_line():
    ledger = close_ledger(1 / 16, [LedgerEntry(kind="polariser", stops=-1), LedgerEntry(kind="nd", stops=-10)])
    assert [line.shutter_s for line in ledger.lines] == [1 / 8, 128.0]


@given(st.floats(0, 1))
def test_a_turned_filter_costs_between_its_ends(strength):
    variable = Filter(id="v", name="v", kind="variable_nd", stops=5, least_stops=1)
    cost = cost_stops(variable, FilterInUse(filter_id="v", strength=strength))
    assert 1 <= cost <= 5


@given(st.floats(0, 1), st.floats(0, 1))
def test_a_graduated_filter_darkens_from_the_top_down(a, b):
    grad = Filter(id="g", name="g", kind="graduated", stops=3, edge="soft")
    use = FilterInUse(filter_id="g", edge_at=0.4)
    high, low = graduated_cost(grad, use, min(a, b)), graduated_cost(grad, use, max(a, b))
    assert 0 <= low <= high <= 3
    assert graduated_cost(grad, use, 0.4) == pytest.approx(1.5)
    assert cost_stops(grad, use) == 0
