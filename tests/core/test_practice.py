"""What practice asks for beyond one settled picture: clicks, moving ground, the hand, polarisers, corners of panels."""

from __future__ import annotations

import itertools
import math
import time
from dataclasses import replace
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.calc.requests import Changes
from lucid_ridge.core.camera.moving_support import DRIFT_SHARE, MOVING_GROUND
from lucid_ridge.core.camera.panorama import panels
from lucid_ridge.core.changes.kinds import TurnPolariser
from lucid_ridge.core.exposure.polarised import passed_stops
from lucid_ridge.core.model.place import Place, SkylinePoint
from lucid_ridge.core.model.scene import Panorama
from lucid_ridge.core.motion.travel import hand_held_limit_s
from lucid_ridge.core.range.brackets import BracketMode
from lucid_ridge.core.records import SceneError
from lucid_ridge.core.sequence.timing import MOST_FRAMES, frame_count, sequence_s
from lucid_ridge.core.solve.wishes import Anchor, Part, PlaceTwo, ShareOf
from lucid_ridge.core.stops.filters import FilterInUse
from lucid_ridge.core.tensions.find import RULES
from lucid_ridge.core.tensions.levers import after
from lucid_ridge.core.ways.choose import find_wanted
from lucid_ridge.reports.evaluate import changed_state, evaluate
from lucid_ridge.reports.exposure.polariser import LOOKS, polariser_study
from lucid_ridge.reports.frame.answers import answer_to
from lucid_ridge.reports.sequence.build import build_sequence, whole_sequence
from lucid_ridge.reports.sequence.dial import clicks_words, turned_words
from lucid_ridge.reports.tensions.mend_words import mend_label
from lucid_ridge.reports.tensions.report import tensions
from lucid_ridge.reports.ways.report import ways

from .conftest import changed
from .scenes import random_scene

# --- corners of pitched rows ---------------------------------------------------------------------------------


def _ray(pitch_deg: float, azimuth_deg: float, x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Azimuth and altitude of points of a frame, by turning their rays in space; image distance 1."""
    p, a = math.radians(pitch_deg), math.radians(azimuth_deg)
    ahead = np.array([math.sin(a) * math.cos(p), math.cos(a) * math.cos(p), math.sin(p)])
    right = np.array([math.cos(a), -math.sin(a), 0.0])
    up = np.cross(right, ahead)
    rays = ahead + x[:, None] * right + y[:, None] * up
    return np.degrees(np.arctan2(rays[:, 0], rays[:, 1])), np.degrees(
        np.arctan2(rays[:, 2], np.hypot(rays[:, 0], rays[:, 1]))
    )


@settings(max_examples=60)
@given(
    st.floats(24, 70),
    st.floats(-55, 20),
    st.floats(10, 60),
    st.floats(0.15, 0.5),
    st.sampled_from(["landscape", "portrait"]),
)
def test_panels_of_pitched_rows_overlap_by_what_is_asked_at_every_height(focal, bottom, high, overlap, held):
    top = min(bottom + high, 60.0)
    assume(top - bottom > 5)
    scene = changed(
        TARN_SCENE, settings={"focal_length_mm": focal, "focus_m": None}, orientation=held,
        panorama=Panorama(on=True, from_deg=20, to_deg=200, bottom_deg=bottom, top_deg=top, overlap=overlap),
    )  # fmt: skip
    taken = panels(scene.composition, scene.kit)
    width, height = (36, 24) if held == "landscape" else (24, 36)
    side, edge = width / 2 / focal, np.linspace(-height / 2, height / 2, 41) / focal
    rows = {one.row: one.pitch_deg for one in taken}
    turned = [one.azimuth_deg for one in taken]
    step = (max(turned) - min(turned)) / max(1, *(one.column for one in taken))
    for pitch in rows.values():
        beside, _ = _ray(pitch, 0.0, np.full(41, side), edge)
        assert ((2 * beside - step) / (2 * beside)).min() >= overlap - 1e-6
    # Where two columns meet, the rows above and below still lap over.
    for lower, upper in itertools.pairwise(sorted(rows.values())):
        x = np.linspace(-side, side, 401)
        ends = []
        for pitch, y in ((lower, height / 2 / focal), (upper, -height / 2 / focal)):
            azimuth, altitude = _ray(pitch, 0.0, x, np.full(401, y))
            ends.append(np.interp(step / 2, azimuth, altitude))
        assert ends[0] >= ends[1] - 1e-6


# --- clicks --------------------------------------------------------------------------------------------------


@given(st.integers(-30, 30), st.sampled_from([1, 2, 3]))
def test_marks_of_the_dial_are_whole_clicks(clicks, per_stop):
    words = clicks_words(clicks / per_stop, per_stop)
    assert words == ("" if clicks == 0 else f"{abs(clicks)} click{'s' if abs(clicks) > 1 else ''}")


def test_a_third_is_no_whole_click_of_a_half_stop_dial():
    assert clicks_words(1 / 3, 2) == "between 0 and 1 clicks"
    assert clicks_words(-2.0, 3) == "6 clicks"


def test_what_is_turned_is_told_by_dial_and_direction():
    before = TARN_SCENE.composition.settings
    then = replace(before, aperture_n=before.aperture_n * 2**0.5, iso=before.iso * 2)
    body = replace(TARN_SCENE.kit.body, clicks_per_stop=3)
    assert turned_words(before, then, body) == "aperture 3 clicks closed, ISO 3 clicks up"
    assert turned_words(then, before, replace(body, clicks_per_stop=1)) == "aperture 1 click open, ISO 1 click down"


# --- moving ground and the hand --------------------------------------------------------------------------------


@given(st.floats(0.05, 5), st.floats(0, 1), st.floats(0, 6))
@settings(max_examples=40)
def test_moving_ground_blurs_by_the_angle_it_turns_through(rocking, drift, stabiliser):
    support = replace(TARN_SCENE.kit.support, rocking_deg_s=rocking, drift_deg_s=drift)
    body = replace(TARN_SCENE.kit.body, stabiliser_stops=stabiliser)
    lens = replace(TARN_SCENE.kit.lens, stabiliser_stops=0.0)
    state = changed_state(replace(TARN_SCENE, kit=replace(TARN_SCENE.kit, support=support, body=body, lens=lens)))
    v = state.geometry.camera.image_distance_mm
    # In the time that is allowed the axis turns by an angle; its tangent on the sensor is the blur allowed.
    angle = math.radians(state.sway.limit_s * (rocking / 2**stabiliser + drift))
    assert math.tan(angle) * v == pytest.approx(state.depth.circle_of_confusion_mm, rel=1e-3)
    if drift > 1e-3:
        wide = 2 * math.degrees(math.atan(18 / v))
        assert state.sway.holds_s * drift == pytest.approx(DRIFT_SHARE * wide, rel=1e-6)


def test_firm_ground_sets_no_limit_and_every_usual_one_does():
    assert math.isinf(changed_state(TARN_SCENE).sway.limit_s)
    for ground in MOVING_GROUND:
        support = replace(TARN_SCENE.kit.support, rocking_deg_s=ground.rocking_deg_s, drift_deg_s=ground.drift_deg_s)
        state = changed_state(changed(replace(TARN_SCENE, kit=replace(TARN_SCENE.kit, support=support)), settings={"shutter_s": 8.0}, locks=("shutter",)))  # fmt: skip
        assert state.sway.limit_s < 1
        assert any(one.kind == "support" for one in tensions(state)), ground.name


@given(st.floats(14, 600), st.floats(0, 7), st.floats(0.3, 4))
def test_the_rule_of_one_over_focal_length_holds_for_a_1500th_and_shrinks_with_the_criterion(focal, stops, factor):
    # Common practice: 1/f seconds on 35 mm film, judged by a print of a 1500th of the diagonal.
    assert float(hand_held_limit_s(focal)) == pytest.approx(1 / focal)
    two_pixels = 2 / math.hypot(8192, 5464)
    assert float(hand_held_limit_s(focal, stops, 0.0, two_pixels, factor)) == pytest.approx(
        2**stops * factor * two_pixels * 1500 / focal
    )


# --- polariser -------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("look", [name for name, _ in LOOKS])
def test_each_look_is_reached_and_told_in_use(look):
    state = changed_state(TARN_SCENE, (TurnPolariser(look=look),))
    study = polariser_study(state)
    assert study is not None and study.on
    # Of what asks for the same turn all are told.
    in_use = {row.look for row in study.looks if row.in_use}
    assert in_use == {"deep_sky", "no_glare"} if look in ("deep_sky", "no_glare") else in_use == {look}
    # Turned for the most it takes all that it can; turned away it gives; in between neither.
    for thing in study.things:
        now, most = thing.now.value or 0.0, thing.most.value or 0.0
        if look in ("deep_sky", "no_glare"):
            assert now == pytest.approx(most)
        elif look == "even":
            assert abs(now) < 1e-9
        else:
            assert now < 0


@given(st.floats(0, 1))
def test_malus_law_over_the_whole_turn(strength):
    # The mean over a full turn of the filter is what it takes from unpolarised light: nothing beyond its common loss.
    degree = 0.8
    assert 2 ** -passed_stops(degree, strength) + 2 ** -passed_stops(degree, 1 - strength) == pytest.approx(2.0)
    assert passed_stops(0.0, strength) == 0.0


# --- readings in sun and shade -----------------------------------------------------------------------------------


def test_a_reading_says_what_the_ground_cannot():
    # Hills of twenty degrees all round: an hour before, the sun stood over them; now it is behind.
    round_about = tuple(SkylinePoint(azimuth_deg=a, altitude_deg=20.0) for a in range(0, 360, 30))
    place = replace(TARN_SCENE.place, horizon="measured", skyline=round_about)
    reading, now = TARN_SCENE.composition.reading, datetime(2026, 6, 21, 18, 40, tzinfo=UTC)
    assert reading is not None
    then = now - timedelta(hours=1, minutes=30)

    def drop(said: str, place: Place = place) -> float:
        scene = changed(
            replace(TARN_SCENE, place=place), moment_utc=now, reading=replace(reading, taken_at_utc=then, light=said)
        )
        metered = changed_state(scene).exposure.metered
        return metered.now_ev100 - metered.scene_ev100

    # Known to be in the sun, it has lost the beam; a tree's shade, which the ground does not tell, lasts.
    assert drop("sun") == pytest.approx(drop("as_found")) and drop("sun") < drop("shade") - 0.5
    assert -1.5 < drop("shade") < 0
    # Without hills the sun is still there, lower.
    assert drop("sun", TARN_SCENE.place) > drop("sun") + 0.5


# --- counted first -----------------------------------------------------------------------------------------------


def test_seventy_thousand_frames_are_counted_and_refused_soon():
    scene = changed(
        TARN_SCENE, settings={"focal_length_mm": 70.0},
        panorama=Panorama(on=True, from_deg=0, to_deg=300, bottom_deg=-30, top_deg=40, overlap=0.45),
        technique={"slices": "manual", "manual_foci_m": tuple(0.5 + 0.1 * i for i in range(40)), "bracket": "manual",
                   "manual_offsets_stops": tuple(float(i) for i in range(-4, 5))},
    )  # fmt: skip
    began = time.process_time()
    state = changed_state(scene)
    count = frame_count(state)
    assert count == len(panels(state.scene.composition, state.scene.kit)) * 40 * 9 > 30_000
    built = build_sequence(state)
    assert built.frames == () and f"{count:,}" in built.problem and built.count.value == count
    assert sequence_s(state) > count
    assert any(one.kind == "frames" for one in evaluate(scene).tensions)
    with pytest.raises(SceneError, match=f"{MOST_FRAMES:,}"):
        whole_sequence(state)
    assert time.process_time() - began < 8


@pytest.mark.parametrize(
    "wish",
    [
        PlaceTwo(first=Anchor(element_id="skarn", x=0.3), second=Anchor(element_id="boathouse", x=0.7)),
        Part(element_id="boathouse", other_id="far-shore"),
        ShareOf(of="foreground", percent=12),
    ],
    ids=lambda wish: wish.kind,
)
def test_wishes_are_answered_with_a_panorama_of_many_panels(wish):
    scene = changed(
        TARN_SCENE, settings={"focal_length_mm": 70.0},
        panorama=Panorama(on=True, from_deg=0, to_deg=300, bottom_deg=-30, top_deg=40, overlap=0.4),
    )  # fmt: skip
    state = changed_state(scene)
    assert len(panels(state.scene.composition, state.scene.kit)) > 100
    began = time.process_time()
    answer = answer_to(state, wish)
    assert bool(answer.changes) != bool(answer.why_not)
    assert time.process_time() - began < 6


# --- mends and ways ----------------------------------------------------------------------------------------------

_CHANGES: TypeAdapter[Changes] = TypeAdapter(Changes)


@pytest.mark.parametrize("seed", range(20, 34))
def test_every_candidate_is_something_the_api_takes_and_says_what_follows(seed):
    state = changed_state(random_scene(seed))
    for rule in RULES:
        for candidate in itertools.islice(rule.candidates(state), 12):
            assert _CHANGES.validate_python(_CHANGES.dump_python(candidate, mode="json")) == tuple(candidate), rule.kind
            label = mend_label(state, candidate, after(state, candidate))
            assert label == mend_label(state, candidate, changed_state(state.scene, candidate, state.terrain))
            assert label[0].isupper() and not label.endswith("."), rule.kind


@pytest.mark.parametrize("seed", range(40, 52))
def test_ways_and_tensions_judge_alike(seed):
    report = ways(changed_state(random_scene(seed)))
    state = changed_state(random_scene(seed))
    for way in report.ways:
        assert bool(find_wanted(after(state, way.changes))) != report.found, (seed, way.name)


@pytest.mark.parametrize("most", [8, 5, 4])
def test_shorter_brackets_by_hand_are_tried_where_the_bodys_mode_takes_too_many(most):
    # Nine frames are all that the body can do by itself; two by hand hold the range.
    body = replace(TARN_SCENE.kit.body, bracket_modes=(BracketMode(frames=9, step_stops=1.0),), usable_range_stops=6.0)
    scene = replace(TARN_SCENE, kit=replace(TARN_SCENE.kit, body=body))
    free, capped = (ways(changed_state(changed(scene, wants={"most_frames": n}))) for n in (200, most))
    assert free.found and all(len(after(changed_state(scene), way.changes).offsets) == 9 for way in free.ways)
    assert capped.found and all((way.frames.value or 0) <= most for way in capped.ways)
    for way in capped.ways:
        made = after(changed_state(changed(scene, wants={"most_frames": most})), way.changes)
        assert made.range.held.lost <= 1 / 6 and not (made.range.bracket and made.range.bracket.by_body)


def test_a_polariser_of_the_kit_goes_on_with_its_look():
    state = changed_state(TARN_SCENE, (TurnPolariser(look="even"),))
    assert FilterInUse(filter_id="pol", strength=0.5) in state.scene.composition.settings.filters
