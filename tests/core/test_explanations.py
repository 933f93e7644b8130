"""Every number that any report of any scene shows explains itself, and its explanation ends in that number."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import pytest

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.camera.mounted_lens import bare_lens
from lucid_ridge.core.records import SceneError
from lucid_ridge.core.solve.wishes import Anchor, CropInstead, Part, PlaceTwo, ShareOf, SizeRatio
from lucid_ridge.core.state.state import State
from lucid_ridge.core.tensions.levers import after
from lucid_ridge.demo.framing_cases import MIRROR, VALLEY_HEAD
from lucid_ridge.reports.close_up.report import close_up_report
from lucid_ridge.reports.depth.sharpness import sharpness_study
from lucid_ridge.reports.evaluate import changed_state, evaluate
from lucid_ridge.reports.explain import explain
from lucid_ridge.reports.exposure.study import exposure_study
from lucid_ridge.reports.figures import Readout
from lucid_ridge.reports.frame.answers import answer_to
from lucid_ridge.reports.light.skyline import skyline_report
from lucid_ridge.reports.shown import figures
from lucid_ridge.reports.ways.report import ways

from .near import LONG, MACRO, SHORT
from .scenes import random_scene

LENSES = (MACRO, LONG, SHORT)


def shown(state: State) -> Iterator[Readout]:
    """Every figure of every report of a scene."""
    for report in (
        evaluate(state.scene), sharpness_study(state), close_up_report(state, LENSES), exposure_study(state),
        skyline_report(state),
    ):  # fmt: skip
        yield from figures(report)


def sampled(by_key: dict[str, str]) -> Iterator[tuple[str, str]]:
    """Every key, but of many frames or panels only the first few and every fiftieth."""
    for key, text in by_key.items():
        number = key.partition(":")[2]
        if not number.isdigit() or int(number) < 6 or int(number) % 50 == 0:
            yield key, text


def check(state: State, found: list[Readout]) -> None:
    by_key: dict[str, str] = {}
    for figure in found:
        if figure.explain:
            # One key stands for one number.
            assert by_key.setdefault(figure.explain, figure.text) == figure.text, figure.explain
    told: dict[object, tuple[str, str]] = {}
    for key, text in sampled(by_key):
        assert len(key) <= 200
        made = explain(state, key, LENSES)
        assert text in made.result, (key, text, made.result)
        assert made.title and made.formula and made.source
        # Rows of one list are told apart by what went into them, or stand in one result together.
        before, shown_before = told.setdefault((key.partition(":")[0], made.title, made.inputs), (key, text))
        assert shown_before == text or shown_before in made.result, (before, shown_before, key, text)


@pytest.mark.parametrize("seed", range(13))
def test_every_key_of_a_random_scene_explains_and_ends_in_its_number(seed):
    state = changed_state(random_scene(seed))
    found = list(shown(state))
    assert sum(bool(figure.explain) for figure in found) > 40
    check(state, found)


@pytest.mark.parametrize("composition", [MIRROR, VALLEY_HEAD], ids=["mirror", "panorama"])
def test_every_key_of_reflections_and_panels(composition):
    state = changed_state(replace(TARN_SCENE, composition=composition))
    check(state, list(shown(state)))


@pytest.mark.parametrize("seed", [3, 8])
def test_the_numbers_of_ways_explain_themselves_where_they_lead(seed):
    state = changed_state(random_scene(seed))
    for way in ways(state).ways:
        check(after(state, way.changes), list(figures(way)))


def test_the_numbers_of_answers_explain_themselves_where_they_lead():
    state = changed_state(replace(TARN_SCENE, composition=MIRROR))
    ids = [e.id for e in MIRROR.elements if e.role in ("subject", "foreground", "middle")]
    wishes = (
        ShareOf(of="reflection", element_id="skarn", percent=78), ShareOf(of="foreground", percent=12),
        PlaceTwo(first=Anchor(element_id=ids[0], x=0.3), second=Anchor(element_id=ids[1], x=0.7)),
        CropInstead(focal_length_mm=60), SizeRatio(keep_id=ids[0], change_id=ids[1], factor=1.1),
        Part(element_id=ids[0], other_id=ids[1], gap_percent=3.0),
    )  # fmt: skip
    told = 0
    for wish in wishes:
        try:
            answer = answer_to(state, wish)
        except SceneError:
            continue
        there = after(state, answer.changes)
        for fact in answer.facts:
            told += 1
            assert fact.figure.text in explain(there, fact.figure.explain).result, (wish, fact)
    assert told >= 4


def test_what_is_of_the_lens_in_use_explains_itself_without_the_others():
    state = changed_state(next(s for s in map(random_scene, range(60)) if s.composition.close_up.mounted))
    keys = [f.explain for f in figures(close_up_report(state, (bare_lens(state.scene.kit.lens),))) if f.explain]
    assert len(keys) > 20
    for key in keys:
        assert explain(state, key).result, key


@pytest.mark.parametrize("key", ["", "depth", "depth.", "nothing.at.all", "depth.blur:nobody", "exposure.line:999"])
def test_a_key_that_names_nothing_is_refused(key):
    with pytest.raises(SceneError):
        explain(changed_state(TARN_SCENE), key)
