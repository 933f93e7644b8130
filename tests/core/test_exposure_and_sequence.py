"""The account under every kind of load, and the sequence's times, order and words."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import timedelta
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lucid_ridge.calc.example import MOMENT, ND3, ND6, ND10, TARN_SCENE
from lucid_ridge.core.changes.kinds import Nudge, PutOn, SetTo, TakeBracket, TakeSlices
from lucid_ridge.core.sequence.acts import BETWEEN_FRAMES_S, FILTER_S, REFOCUS_S, SETTLE_S
from lucid_ridge.core.stops.filters import Filter, FilterInUse
from lucid_ridge.core.stops.scales import on_third, third_index
from lucid_ridge.reports.evaluate import changed_state, evaluate
from lucid_ridge.reports.explain import explain
from lucid_ridge.reports.sequence.build import build_sequence

from .conftest import changed

STACK = [TakeSlices(mode="gapless"), TakeBracket(mode="range")]


def shutter(scene, *changes):
    return changed_state(scene, changes).exposure.settings.shutter_s


@given(st.sampled_from([(), ("nd3",), ("nd6",), ("nd10",), ("nd3", "nd6"), ("nd6", "nd10"), ("nd3", "nd6", "nd10")]))
def test_filters_multiply_the_time_by_two_to_their_stops(names):
    stops = sum({"nd3": ND3, "nd6": ND6, "nd10": ND10}[n].stops for n in names)
    bare = shutter(TARN_SCENE, PutOn(filters=()))
    assert shutter(TARN_SCENE, PutOn(filters=tuple(FilterInUse(filter_id=n) for n in names))) == pytest.approx(
        bare * 2**stops, rel=1e-9
    )


@given(st.integers(-9, 6))
def test_aperture_and_iso_trade_against_time_exactly(thirds):
    scene = changed(TARN_SCENE, locks=())
    state = changed_state(scene, [Nudge(setting="aperture", steps=thirds)])
    moved = third_index(state.exposure.settings.aperture_n, "aperture") - third_index(
        TARN_SCENE.composition.settings.aperture_n, "aperture"
    )
    assert state.exposure.settings.shutter_s == pytest.approx(0.125 * 2 ** (moved / 3), rel=1e-9)


@given(st.floats(0.3, 11.7))
def test_times_the_body_counts_lie_on_marks_and_bulb_times_do_not_need_to(stops):
    odd = Filter(id="odd", name="odd", kind="nd", stops=stops)
    scene = replace(TARN_SCENE, kit=replace(TARN_SCENE.kit, filters=(*TARN_SCENE.kit.filters, odd)))
    state = changed_state(scene, [PutOn(filters=(FilterInUse(filter_id="odd"),))])
    t = state.exposure.settings.shutter_s
    exact = 2 ** (-13 / 3 + stops)
    if exact <= 32:
        assert third_index(t, "shutter") == pytest.approx(round(third_index(t, "shutter")), abs=1e-9)
        assert abs(math.log2(t / exact)) <= 1 / 6 + 1e-9
    elif exact > 36:
        assert t == pytest.approx(exact, rel=1e-9)
    assert abs(state.exposure.ledger.balance) < 1e-9


def test_a_shutter_at_its_fastest_overexposes_and_says_so():
    bright = replace(TARN_SCENE.composition.reading, shutter_s=on_third(-42, "shutter"))
    made = evaluate(
        changed(
            TARN_SCENE, reading=bright, locks=("iso",), settings={"aperture_n": on_third(9, "aperture"), "filters": ()}
        )
    )
    assert made.composition.settings.shutter_s == TARN_SCENE.kit.body.shortest_shutter_s
    assert "exposure" in {t.kind for t in made.tensions}
    assert abs(made.ledger.balance_stops) < 1e-9


def test_a_hand_held_meter_does_not_see_the_extension():
    close = changed(
        replace(TARN_SCENE, kit=replace(TARN_SCENE.kit, lens=replace(TARN_SCENE.kit.lens, minimum_focus_m=0.12))),
        settings={"focus_m": 0.072, "filters": ()},
        reading=replace(TARN_SCENE.composition.reading, through_lens=False),
    )
    # 24 mm focused at 72 mm from the lens: m = 24/(72 - 24) = 1/2, 2 log2(1.5) = 1.17 stops.
    row = next(r for r in evaluate(close).ledger.rows if r.kind == "working")
    assert row.stops.value == pytest.approx(-2 * math.log2(1.5), rel=1e-9)
    seen = changed(close, reading=TARN_SCENE.composition.reading)
    assert all(r.kind != "working" for r in evaluate(seen).ledger.rows)


def test_cloud_counts_only_while_nothing_is_metered():
    cloudy = {"cloud_stops": 3.0}
    assert shutter(changed(TARN_SCENE, **cloudy)) == shutter(TARN_SCENE)
    level = {"reading": None, "elements": ()}
    clear = changed_state(changed(TARN_SCENE, **level)).exposure.metered.ev100
    assert changed_state(changed(TARN_SCENE, **level, **cloudy)).exposure.metered.ev100 == pytest.approx(clear - 3)


@given(st.integers(-300, 500))
def test_light_since_the_reading_is_the_same_both_ways(minutes):
    there = changed(TARN_SCENE, moment_utc=MOMENT + timedelta(minutes=minutes))
    back = changed(
        there,
        moment_utc=MOMENT,
        reading=replace(TARN_SCENE.composition.reading, taken_at_utc=there.composition.moment_utc),
    )
    gained = changed_state(there).exposure.metered.light_since_stops
    assert changed_state(back).exposure.metered.light_since_stops == pytest.approx(-gained, abs=1e-9)


# --- sequence ------------------------------------------------------------------------------------


def test_each_frame_takes_what_it_does():
    state = changed_state(TARN_SCENE, STACK)
    frames = build_sequence(state).frames
    first, second = frames[0], frames[1]
    timer = TARN_SCENE.composition.settings.timer_s
    assert first.duration_s == pytest.approx(
        REFOCUS_S + FILTER_S + SETTLE_S + timer + first.exposure_s + BETWEEN_FRAMES_S
    )
    assert second.duration_s == pytest.approx(second.exposure_s + BETWEEN_FRAMES_S)
    assert (first.timer_s, second.timer_s) == (timer, 0.0)
    assert frames[3].duration_s == pytest.approx(first.duration_s - FILTER_S)


def test_without_the_bodys_modes_every_frame_is_started_by_hand():
    plain = replace(TARN_SCENE, kit=replace(TARN_SCENE.kit, body=replace(TARN_SCENE.kit.body, bracket_modes=())))
    sequence = build_sequence(changed_state(plain, STACK))
    assert not sequence.by_body
    assert all(f.timer_s > 0 and not f.goes_on for f in sequence.frames)


def test_only_what_changes_is_marked_to_set_anew():
    frames = build_sequence(changed_state(TARN_SCENE, STACK)).frames
    assert set(frames[0].changed) == {"focus", "shutter", "filters", "aperture", "iso"}
    for before, frame in pairwise(frames):
        assert ("focus" in frame.changed) == (frame.slice_number != before.slice_number)
        assert ("shutter" in frame.changed) == (frame.exposure_s != before.exposure_s)
        assert not {"filters", "aperture", "iso"} & set(frame.changed)


def test_one_focuses_on_something_solid():
    for frame in build_sequence(changed_state(TARN_SCENE, STACK)).frames:
        assert "water" not in frame.title
        assert "cloud" not in frame.title
    assert build_sequence(changed_state(TARN_SCENE, STACK)).frames[0].title == "Focus on the boulder edge"


@pytest.mark.parametrize(("hours", "rises"), [(0, True), (9, False)])
def test_light_rises_in_the_morning_and_falls_in_the_evening(hours, rises):
    scene = changed(TARN_SCENE, moment_utc=MOMENT + timedelta(hours=hours))
    long = [PutOn(filters=(FilterInUse(filter_id="nd10"),)), *STACK]
    drift = build_sequence(changed_state(scene, long)).drift.value
    assert (drift > 0) == rises


def test_a_long_sequence_at_dusk_is_told_to_go_stale():
    dusk = changed(TARN_SCENE, moment_utc=MOMENT + timedelta(hours=10, minutes=20), reading=None)
    sequence = build_sequence(changed_state(dusk, [PutOn(filters=(FilterInUse(filter_id="nd6"),)), *STACK]))
    assert sequence.drift_is_stale
    assert sequence.drift.text.startswith("−")


def test_frames_longer_than_the_body_times_are_bulb():
    frames = build_sequence(changed_state(TARN_SCENE, [PutOn(filters=(FilterInUse(filter_id="nd10"),)), *STACK])).frames
    assert [f.bulb for f in frames[:3]] == [f.exposure_s > 33 for f in frames[:3]]
    assert any(f.bulb for f in frames)


# --- explanations --------------------------------------------------------------------------------


def test_the_shutters_explanation_lists_the_whole_account():
    state = changed_state(
        TARN_SCENE, [PutOn(filters=(FilterInUse(filter_id="pol", strength=2 / 3), FilterInUse(filter_id="nd10")))]
    )
    made = explain(state, "exposure.shutter")
    listed = {i.name: i.text for i in made.inputs}
    assert listed["ND 10 stops"] == "−10"
    assert listed["Polariser, turned to 67%"] == "−1⅓"
    assert "2 min 08 s" in made.result
    assert "128 s" in made.result


def test_an_explanation_follows_the_setting():
    before = explain(changed_state(TARN_SCENE), "depth.hyperfocal").result
    after = explain(changed_state(TARN_SCENE, [SetTo(setting="aperture", value=16)]), "depth.hyperfocal").result
    assert before != after


def test_the_criterions_explanation_names_its_school():
    for criterion, words in (
        ("print", "diagonal of the picture / 1500"),
        ("large_print", "acuity"),
        ("pixel", "2 × pixel pitch"),
    ):
        state = changed_state(changed(TARN_SCENE, wants={"sharpness_standard": criterion}))
        assert words in explain(state, "depth.circle_of_confusion").formula
