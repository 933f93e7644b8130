"""Walking times against the rules as they were published, and against each other where they must agree."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from geographiclib.geodesic import Geodesic
from hypothesis import given
from hypothesis import strategies as st

from lucid_ridge.core.model.outing import Pace
from lucid_ridge.core.outing.walking import RULES, STRETCH_M, Profile, profile, walking_s, without_noise

MILE_M, FOOT_M = 1609.344, 0.3048

WAYS = st.lists(st.tuples(st.floats(1, 3000), st.floats(-400, 400)), min_size=1, max_size=30)


def minutes(level, rise, rule, **more):
    return float(walking_s(level, rise, Pace(rule=rule, **more))) / 60


def test_naismith_as_usually_stated():
    """Naismith 1892: an hour for every three miles on the map, and an hour more for every 2,000 feet of ascent."""
    # His numbers in feet and miles and those in metres (5 km and 600 m) differ by up to a twenty-eighth.
    assert minutes(3 * MILE_M, 0, "naismith") == pytest.approx(60, rel=1 / 28)
    assert minutes(3 * MILE_M, 2000 * FOOT_M, "naismith") == pytest.approx(120, rel=1 / 28)
    # His own walk that day, from memory: ten miles, 6,300 feet of climbing, six and a half hours.
    assert minutes(10 * MILE_M, 6300 * FOOT_M, "naismith") == pytest.approx(6.5 * 60, rel=1 / 28)
    # In metres, by hand: 10 km and 600 m are three hours.
    assert minutes(10_000, 600, "naismith") == pytest.approx(180)
    assert minutes(10_000, -600, "naismith") == pytest.approx(120)


@pytest.mark.parametrize(
    ("slope_deg", "gain_min"), [(3, 0), (5.01, -10), (8, -10), (11.99, -10), (12.01, 10), (30, 10)]
)
def test_langmuir_on_the_way_down(slope_deg, gain_min):
    """Langmuir 1984: ten minutes less for 300 m down at 5 to 12 degrees, ten minutes more where it is steeper."""
    level = 300 / math.tan(math.radians(slope_deg))
    assert minutes(level, -300, "langmuir") - minutes(level, -300, "naismith") == pytest.approx(gain_min)
    assert minutes(level, 300, "langmuir") == pytest.approx(minutes(level, 300, "naismith"))


def test_tobler_as_published():
    """Tobler 1993: 5.04 km/h on the level, 6 km/h at its fastest, at a slope of -2.86 degrees; six tenths off a path."""
    assert 60 / minutes(1000, 0, "tobler") == pytest.approx(5.04, abs=0.005)
    slopes = np.radians(np.linspace(-20, 20, 40_001))
    speed = 3.6 * 100 / walking_s(np.full(slopes.shape, 100.0), 100 * np.tan(slopes), Pace(rule="tobler"))
    assert math.degrees(slopes[speed.argmax()]) == pytest.approx(-2.86, abs=0.01)
    assert speed.max() == pytest.approx(6.0, abs=1e-3)
    assert minutes(1000, 0, "tobler", off_path=True) == pytest.approx(minutes(1000, 0, "tobler") / 0.6)


@given(WAYS, st.sampled_from(RULES), st.floats(0.5, 3), st.floats(1, 2))
def test_time_is_that_of_the_parts_and_grows_with_each_factor(way, rule, own, dark):
    level, rise = (np.array(x) for x in zip(*way, strict=True))
    whole = walking_s(level, rise, Pace(rule=rule))
    assert (whole >= 0).all() and np.isfinite(whole).all()
    halves = walking_s(np.repeat(level / 2, 2), np.repeat(rise / 2, 2), Pace(rule=rule))
    assert halves.sum() == pytest.approx(whole.sum(), rel=1e-9)
    slowed = walking_s(level, rise, Pace(rule=rule, own=own, darkness=dark))
    assert slowed == pytest.approx(whole * own * dark)


@given(WAYS)
def test_there_and_back_by_naismith_counts_every_metre_once_up(way):
    level, rise = zip(*way, strict=True)
    there = Profile(level_m=level, rise_m=rise)
    back = there.reversed()
    assert (back.ascent_m, back.descent_m) == (pytest.approx(there.descent_m), pytest.approx(there.ascent_m))
    both = there.seconds(Pace()) + back.seconds(Pace())
    assert both == pytest.approx(2 * there.length_m * 0.72 + (there.ascent_m + there.descent_m) * 6)


def test_straight_up_and_nowhere_take_a_time_that_can_be_used():
    for rule in RULES:
        assert minutes(0, 0, rule) == 0
        assert 9.999 < minutes(0, 100, rule) < 60
        assert 49.999 < minutes(1e-9, 500, rule) < 300
    assert minutes(0, 100, "naismith") == pytest.approx(10)


@given(st.lists(st.floats(-3, 3), min_size=2, max_size=200), st.floats(0, 2000))
def test_noise_of_a_recorder_is_no_ascent(wobble, height):
    """Heights that stay within half the noise of a level are level, however often they go up and down."""
    made = without_noise(height + np.clip(wobble, -1, 1), noise_m=4.0)
    assert np.abs(np.diff(made)).sum() == 0


@given(st.lists(st.floats(0, 500), min_size=2, max_size=60))
def test_what_is_left_is_never_more_than_half_the_noise_away(heights):
    made = without_noise(heights, noise_m=6.0)
    assert np.abs(made - heights).max() <= 3.0 + 1e-9
    assert np.abs(np.diff(made)).sum() <= np.abs(np.diff(heights)).sum() + 1e-9


def test_a_profile_along_a_ramp_by_hand():
    """Two kilometres north by the geodesic, 200 m up without noise: 2 km and 200 m are 24 and 20 minutes."""
    ends = [Geodesic.WGS84.Direct(54.1, -2.4, 0, s) for s in np.linspace(0, 2000, 41)]
    heights = np.linspace(300, 500, 41)
    way = profile([e["lat2"] for e in ends], [e["lon2"] for e in ends], heights, noise_m=0.0)
    assert way.length_m == pytest.approx(2000, abs=0.01)
    assert (way.ascent_m, way.descent_m) == (pytest.approx(200), 0)
    assert len(way.level_m) == round(2000 / STRETCH_M)
    assert way.seconds(Pace()) / 60 == pytest.approx(44, abs=0.01)
    tobler = 2000 / (6000 / 3600 * math.exp(-3.5 * 0.15))
    assert way.seconds(Pace(rule="tobler")) == pytest.approx(tobler, rel=1e-4)
    assert way.seconds(Pace(load=1.25)) == pytest.approx(1.25 * way.seconds(Pace()))


def test_gaps_are_filled_and_ways_without_heights_are_none():
    way = profile([54.1, 54.11, 54.12], [-2.4] * 3, [300, float("nan"), 340], noise_m=0.0)
    assert way.ascent_m == pytest.approx(40)
    assert replace(way).reversed().descent_m == pytest.approx(40)
    with pytest.raises(ValueError, match="no height"):
        profile([54.1, 54.2], [-2.4, -2.4], [float("nan")] * 2)
    with pytest.raises(ValueError, match="two positions"):
        profile([54.1], [-2.4], [300])
