"""Drills: what is right is right by another route, and what is asked can be seen."""

from __future__ import annotations

import math

import numpy as np
import pytest

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.practice.drills import DRILL_KINDS, LEVELS, NOTHING, NoDrill, drill_of, keys
from lucid_ridge.core.practice.pairs import difference, pair_of
from lucid_ridge.core.rehearsal.mishaps import KINDS
from lucid_ridge.core.state.state import build_state
from lucid_ridge.demo.compositions import COMPOSITIONS
from lucid_ridge.demo.valley import scene_of
from lucid_ridge.reports.practice.words import answer, question, title_of

from .scenes import random_scene

TARN = build_state(TARN_SCENE)


def drills(state, level=0, seeds=range(4)):
    for key in keys():
        for seed in seeds:
            try:
                yield key, seed, drill_of(state, key, seed, level)
            except NoDrill:
                continue


@pytest.mark.parametrize("seed", range(8))
def test_every_drill_of_a_drawn_scene_has_words_a_right_answer_and_wrong_ones(seed):
    state = build_state(random_scene(seed))
    for _key, _, drill in drills(state, level=seed % LEVELS):
        asked = question(state, drill)
        assert asked.title and asked.question.endswith("?") and (asked.options or asked.unit)
        assert answer(state, drill, drill.truth).right
        assert answer(state, drill, drill.truth).reasons
        wrong = [o for o in drill.options if o != drill.truth] or [float(drill.truth) * 4]
        assert not any(answer(state, drill, one).right for one in wrong)
        for nonsense in ("", "soon", math.inf, math.nan, -1.0, 0.0):
            assert not drill.right(nonsense)


def test_every_kind_has_a_title_and_is_met_in_the_demo():
    met = set()
    for name in COMPOSITIONS:
        met |= {key for key, _, _ in drills(build_state(scene_of(name)), seeds=range(1))}
    assert {key.partition(":")[0] for key in met} == set(DRILL_KINDS)
    assert {key.partition(":")[2] for key in met if ":" in key} >= set(KINDS) - {"clipped_red"}
    assert len({title_of(key) for key in keys()}) == len(keys())


def test_the_stops_are_counted_as_by_hand():
    """From the question's own numbers: time times two to the stops, to the nearest third."""
    for _, _, drill in drills(TARN, level=3, seeds=range(30)):
        if drill.kind != "stops":
            continue
        stops = drill.number_of("taken") + drill.number_of("narrower")
        assert abs(math.log2(float(drill.truth) / (drill.number_of("metered") * 2**stops))) <= 1 / 6 + 0.05


def test_the_focus_asked_for_leaves_both_ends_equally_soft():
    for _, _, drill in drills(TARN, seeds=range(10)):
        if drill.kind != "focus":
            continue
        focus, near, far = float(drill.truth), drill.number_of("near"), drill.number_of("far")
        ends = TARN.depth.optics.defocus_mm(focus, np.array([near, far]))
        assert ends[0] == pytest.approx(ends[1], rel=0.05)


def test_the_same_seed_asks_the_same_and_levels_get_narrower():
    assert drill_of(TARN, "shutter", 5, 1) == drill_of(TARN, "shutter", 5, 1)
    steps = [
        math.log2(float(d.options[1]) / float(d.options[0]))
        for d in (drill_of(TARN, "shutter", 5, level) for level in range(LEVELS))
    ]
    assert steps == sorted(steps, reverse=True) and steps[-1] < steps[0]
    nears = [drill_of(TARN, "focus", 5, level).near for level in range(LEVELS)]
    assert nears == sorted(nears, reverse=True)


@pytest.mark.parametrize("kind", [k for k in KINDS if k != "clipped_red"])
def test_what_went_wrong_can_be_seen_and_what_did_not_cannot(kind):
    """At the hardest step of all: the picture alone decides."""
    for name in COMPOSITIONS:
        state = build_state(scene_of(name))
        for seed in range(12):
            try:
                drill = drill_of(state, f"mishap:{kind}", seed, LEVELS - 1)
            except NoDrill:
                break
            if drill.truth == NOTHING:
                continue
            pair = pair_of(state, drill, f"mishap:{kind}", seed)
            assert difference(pair.planned, pair.came_back) >= 10
            return
    pytest.fail(f"no composition can go wrong by {kind}")


def test_two_frames_of_nothing_wrong_differ_by_noise_alone():
    state = build_state(scene_of("stones"))
    for seed in range(60):
        drill = drill_of(state, "mishap:shake", seed, 0)
        if drill.truth == NOTHING:
            pair = pair_of(state, drill, "mishap:shake", seed)
            assert difference(pair.planned, pair.came_back) < 10
            return
    pytest.fail("never nothing")
