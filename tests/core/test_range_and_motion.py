"""Brackets, looks and limits."""

from __future__ import annotations

import math
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lucid_ridge.core.motion.travel import freezing_shutter_s, hand_held_limit_s, look_window_s, travel_mm, within_look
from lucid_ridge.core.range.brackets import BracketMode, held, plan_bracket, usable_range_stops

MODES = (
    BracketMode(frames=3, step_stops=1), BracketMode(frames=3, step_stops=2), BracketMode(frames=5, step_stops=2),
)  # fmt: skip


def holds(look, shutter_s):
    """By the seconds school."""
    return within_look(look_window_s(look, "seconds", 0.0, 0.0), shutter_s)


@given(st.floats(-15, 5), st.floats(0, 20), st.floats(4, 12), st.floats(1, 3.5))
def test_a_planned_bracket_holds_both_ends(darkest, span, usable, headroom):
    brightest = darkest + span
    plan = plan_bracket(darkest, brightest, usable, headroom, MODES)
    offsets = plan.offsets_stops if plan else (0.0,)
    result = held((darkest, brightest), offsets, usable, headroom)
    assert result.lost_above < 1e-6
    assert result.lost_below < 1e-6
    # No hole between neighbouring frames.
    assert all(b - a <= usable + 1e-9 for a, b in pairwise(offsets))


def test_the_bodys_own_modes_come_before_frames_set_by_hand():
    plan = plan_bracket(-6.5, 3, 8, 2.5, MODES)
    assert plan is not None
    assert (len(plan.offsets_stops), plan.step_stops, plan.by_body) == (3, 1, True)
    wide = plan_bracket(-14, 6, 6, 2.5, MODES)
    assert wide is not None
    assert not wide.by_body
    # ceil((scene - usable)/step) + 1 frames, and one more at most where thirds do not fall right.
    assert len(wide.offsets_stops) in (8, 9)


def test_a_scene_within_one_frame_is_exposed_for_not_bracketed():
    plan = plan_bracket(-2, 4, 8, 2.5, MODES)
    assert plan is not None
    assert plan.offsets_stops == (pytest.approx(-5 / 3),)


@given(
    st.lists(st.floats(-20, 20), min_size=1, max_size=12), st.lists(st.floats(-12, 12), min_size=1, max_size=6),
    st.floats(2, 12), st.floats(0.5, 2),
)  # fmt: skip
def test_what_is_held_is_the_union_of_the_frames(tones, offsets, usable, headroom):
    found = held(tones, tuple(offsets), usable, headroom)

    def miss(tone):
        """By brute force: how far the tone lies from the nearest frame's span."""
        return min(max(headroom - usable - o - tone, tone - (headroom - o), 0.0) for o in offsets)

    assert found.lost == pytest.approx(max(miss(t) for t in tones), abs=1e-9)
    for tone in tones:
        assert abs(found.miss(tone)) == pytest.approx(miss(tone), abs=1e-8)


def test_a_set_by_hand_with_a_hole_in_it_holds_nothing_there():
    # Frames of eight stops at -9 and +9 leave everything about the mid-tone in neither.
    tones = (-5, -3, -1, 0, 1, 2, 3)
    found = held(tones, (-9.0, 9.0), 8, 2.5)
    assert all(found.miss(tone) for tone in tones)
    assert found.lost_between > 4 and found.lost_above == found.lost_below == 0


@given(st.floats(-15, 0), st.floats(8, 25), st.floats(5, 10), st.integers(2, 7))
def test_where_frames_are_counted_a_shorter_bracket_is_taken(darkest, span, usable, most):
    brightest, headroom = darkest + span, 2.5
    long = (BracketMode(frames=9, step_stops=1), BracketMode(frames=15, step_stops=2))
    usual = plan_bracket(darkest, brightest, usable, headroom, long)
    capped = plan_bracket(darkest, brightest, usable, headroom, long, most_frames=most)
    assert (usual is None) == (capped is None)
    if usual is None or capped is None:
        return
    assert held((darkest, brightest), capped.offsets_stops, usable, headroom).lost < 1e-6
    assert all(b - a <= usable + 1e-9 for a, b in pairwise(capped.offsets_stops))
    # ceil((scene - usable)/(usable - 1)) + 1 frames lap over by a stop; thirds may ask for one more.
    fewest = math.ceil(max(span - usable, 0.0) / (usable - 1) - 1e-9) + 1
    if len(usual.offsets_stops) > most >= fewest + 1:
        assert len(capped.offsets_stops) <= most and not capped.by_body
    if len(usual.offsets_stops) <= most:
        assert capped == usual


def test_range_shrinks_by_a_stop_per_doubling_of_iso():
    assert usable_range_stops(10, 800, 100) == 7
    assert usable_range_stops(10, 50, 100) == 10


def test_an_endless_range_is_refused():
    with pytest.raises(ValueError, match="frames"):
        plan_bracket(-60, 30, 2, 1, ())


@given(st.floats(0.01, 5), st.floats(0.005, 0.05), st.floats(20, 300), st.floats(0.3, 50))
def test_at_the_freezing_time_travel_is_what_is_allowed(speed, allowed, v, distance):
    t = freezing_shutter_s(speed, allowed, v, distance)
    assert travel_mm(speed, t, v, distance) == pytest.approx(allowed, rel=1e-9)


def test_the_hand_held_limit_tightens_close_up_and_eases_with_a_stabiliser():
    assert hand_held_limit_s(100) == pytest.approx(1 / 100)
    assert hand_held_limit_s(100, 3) == pytest.approx(8 / 100)
    assert hand_held_limit_s(100, 0, 1.0) == pytest.approx(1 / 200)


def test_nominal_marks_count_as_their_names():
    assert holds("freeze", 1 / 1024)
    assert holds("glass", 32.0)
    assert not holds("texture", 1 / 8)
