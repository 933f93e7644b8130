"""Every kind of tension has all its parts: a rule, a finder that finds it, mends, and what is said without one."""

from __future__ import annotations

import math
import random
from dataclasses import replace
from typing import get_args

import numpy as np
import pytest

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.model.scene import KeepOutLine
from lucid_ridge.core.model.wanted import LightWish
from lucid_ridge.core.records import SceneError
from lucid_ridge.core.tensions.find import RULE, RULES, find
from lucid_ridge.core.tensions.levers import after
from lucid_ridge.core.tensions.rule import Severity, TensionKind
from lucid_ridge.reports.evaluate import changed_state
from lucid_ridge.reports.explain import explain
from lucid_ridge.reports.tensions.report import tensions
from lucid_ridge.reports.tensions.words import WORDS

from .conftest import changed
from .scenes import random_scene


def test_there_is_one_rule_for_every_kind():
    kinds = [rule.kind for rule in RULES]
    assert len(kinds) == len(set(kinds)) and set(kinds) == set(get_args(TensionKind)) == set(RULE)
    assert all(rule.severity in get_args(Severity) for rule in RULES)
    assert set(WORDS) == set(kinds)
    for kind, words in WORDS.items():
        assert words.no_mend.endswith(".") and words.no_mend[0].isupper(), kind


def _odd_scenes():
    """Scenes of every sort, and some that are pushed to where single rules lie in wait."""
    yield from (random_scene(seed) for seed in range(160))
    rng = random.Random(1)
    for seed in range(160, 260):
        scene = random_scene(seed)
        support = replace(scene.kit.support, rocking_deg_s=0.5, drift_deg_s=5.0) if seed % 3 else scene.kit.support
        body = replace(scene.kit.body, longest_timed_s=0.5)
        yield changed(
            replace(scene, kit=replace(scene.kit, support=support, body=body)),
            roll_deg=rng.choice([0.0, 2.0]),
            keep_out_lines=(KeepOutLine(name="edge", from_east_m=5, from_north_m=50, to_east_m=5, to_north_m=-50),),
            camera_height_m=rng.choice([0.05, 3.0, 6.0]),
            light_wish=LightWish(
                sides=rng.choice([("side_left",), ()]), lowest_deg=rng.choice([-6.0, 0.0]), shortest_min=1.0
            ),
            wants={"most_frames": 2, "highest_iso": 50.0, "smooth_background": 0.9},
            settings={"iso": 3200.0, "shutter_s": rng.choice([1e-4, 30.0])},
            locks=rng.choice([(), ("shutter", "iso"), ("iso",)]),
        )


@pytest.fixture(scope="module")
def found():
    """For each kind a state that has the tension."""
    states: dict[str, object] = {}
    for scene in _odd_scenes():
        try:
            state = changed_state(scene)
        except SceneError:
            continue
        for one in find(state):
            states.setdefault(one.kind, state)
    return states


@pytest.mark.parametrize("kind", get_args(TensionKind))
def test_every_kind_is_found_somewhere_and_told_whole(kind, found):
    state = found[kind]
    told = next(one for one in tensions(state) if one.kind == kind)
    assert told.severity == RULE[kind].severity
    assert told.title and told.sentence.endswith(".") and told.figure.text
    assert bool(told.mend) != bool(told.why_no_mend)
    if told.figure.explain:
        assert told.figure.text in explain(state, told.figure.explain).result
    if told.mend:
        # What is offered removes it.
        assert kind not in {one.kind for one in find(after(state, told.mend.changes))}


def test_a_scene_that_breaks_nothing_is_left_alone():
    state = changed_state(changed(TARN_SCENE, elements=(), reading=None, wants={"water_look": "any"}))
    assert tensions(state) == ()


@pytest.mark.parametrize(("roll", "side"), [(0.8, "left"), (-3.0, "right")])
def test_a_tilted_horizon_is_told_and_levelled(roll, side):
    state = changed_state(changed(TARN_SCENE, roll_deg=roll))
    told = next(one for one in tensions(state) if one.kind == "horizon")
    assert f"down to the {side}" in told.sentence and told.mend and told.mend.label == "Level the camera"
    assert after(state, told.mend.changes).scene.composition.roll_deg == 0.0
    # By another route: the far shore's ends in the picture lie lower on the side that is told.
    camera = state.geometry.camera
    away = [math.radians(state.scene.composition.azimuth_deg + turn) for turn in (-10, 10)]
    ends = camera.project(np.array([[1e6 * math.sin(a), 1e6 * math.cos(a), camera.position_m[2]] for a in away]))[:, 1]
    assert (ends[0] > ends[1]) == (side == "left")


@pytest.mark.parametrize("unseen", [{"roll_deg": 0.4}, {"roll_deg": 5.0, "pitch_deg": -70.0}])
def test_a_roll_that_nobody_sees_is_no_tilt(unseen):
    assert "horizon" not in {one.kind for one in find(changed_state(changed(TARN_SCENE, **unseen)))}
