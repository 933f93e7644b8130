"""Close-up optics and gear: closed forms, hand-worked values, properties and the trade's own numbers."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from lucid_ridge.core.changes.kinds import Change, SetTo, TakeSlices
from lucid_ridge.core.changes.lens_changes import MountGear, SetFramedWidth, SetMagnification
from lucid_ridge.core.light.lamps import flash_stops, lamp_stops, power_for_stops, recycle_s, together_stops
from lucid_ridge.core.model.gear import LightInUse, MountedGear, check_gear
from lucid_ridge.core.model.scene import Reading
from lucid_ridge.core.optics.close_up import (
    background_disk_mm,
    background_width_mm,
    close_up_lens_focal_mm,
    extension_for_mm,
    factor_from_extension,
    factor_from_f_numbers,
    factor_from_target,
    focal_length_from,
    magnification_at_distance,
    magnification_of_width,
    size_ratio,
    subject_from_lens_mm,
    subject_from_sensor_mm,
)
from lucid_ridge.core.optics.pupils import Optics, Sharpness
from lucid_ridge.core.optics.slices import gapless_slices, slices_over
from lucid_ridge.core.optics.stacks import (
    burst_seconds,
    close_up_depth_mm,
    diffraction_depth_mm,
    positions_mm,
    ring_step_dioptres,
    ring_step_mm,
    stepped_seconds,
)
from lucid_ridge.core.optics.thin_lens import close_up_loss_stops, image_distance_mm, working_f_number
from lucid_ridge.core.records import SceneError
from lucid_ridge.core.state.close_up import near
from lucid_ridge.reports.close_up.report import close_up_report
from lucid_ridge.reports.depth.words import no_slices_words
from lucid_ridge.reports.evaluate import changed_state, evaluate
from lucid_ridge.reports.explain import explain
from lucid_ridge.reports.sequence.build import build_sequence

from .near import LONG, MACRO, SHORT, TUBE, near_scene
from .test_technique import figure_keys

MAGNIFICATIONS = st.floats(0.02, 5)
FOCALS = st.floats(20, 300)


def on(*pieces: str, draw: float = 0.0) -> MountGear:
    return MountGear(mounted=tuple(MountedGear(gear_id=one, draw_mm=draw) for one in pieces))


# --- closed forms ----------------------------------------------------------------------------------


def test_life_size_by_hand():
    # At life size subject and image lie two focal lengths from the lens (any optics text).
    assert float(subject_from_lens_mm(100, 1)) == pytest.approx(200, rel=1e-12)
    assert float(subject_from_sensor_mm(100, 1)) == pytest.approx(400, rel=1e-12)
    assert float(working_f_number(8, 1)) == pytest.approx(16, rel=1e-12)
    assert float(close_up_loss_stops(1)) == pytest.approx(2, rel=1e-12)


def test_depth_and_stack_of_the_design_notes():
    # 1:1, f/8, 0.030 mm: depth 2 N c (1 + m)/m^2 = 0.960 mm, step with 20 % overlap 0.768, 16 frames for 12 mm.
    depth = float(close_up_depth_mm(8, 0.030, 1))
    assert depth == pytest.approx(0.96, rel=1e-9)
    assert len(positions_mm(12, depth, depth * 0.8)) == 16
    # 2:1, f/5.6 (nominal), 0.010 mm: the wave term 0.155 mm exceeds 0.084 mm by geometry.
    assert float(close_up_depth_mm(5.6, 0.010, 2)) == pytest.approx(0.084, abs=5e-4)
    assert float(diffraction_depth_mm(5.6, 2)) == pytest.approx(0.155, abs=1e-3)


def test_the_trades_own_numbers():
    # Common practice: a 17.3 mm sensor that sees 21 mm of a ruler is at 0.82x.
    assert float(magnification_of_width(17.3, 21)) == pytest.approx(0.82, abs=0.005)
    # Common practice: 300 mm on a 150 mm lens is four times the exposure, two stops.
    assert float(factor_from_extension(300, 150)) == pytest.approx(2, rel=1e-12)
    # Common practice: a 180 mm macro works at nearly twice the distance of a 100 mm at life size.
    ratio = float(subject_from_lens_mm(180, 1) / subject_from_lens_mm(100, 1))
    assert 1.7 < ratio < 2
    # A close-up lens of 3 dioptres on a 100 mm lens at infinity: m = f D/1000 = 0.3 (any optics text).
    f = float(close_up_lens_focal_mm(100, 3))
    assert 100 / f - 1 == pytest.approx(0.3, rel=1e-12)


@given(FOCALS, MAGNIFICATIONS)
def test_magnification_goes_round(f, m):
    assert f / (float(subject_from_lens_mm(f, m)) - f) == pytest.approx(m, rel=1e-9)
    assert float(focal_length_from(subject_from_sensor_mm(f, m), m)) == pytest.approx(f, rel=1e-9)
    image = f + float(extension_for_mm(f, m))
    assert image / f - 1 == pytest.approx(m, rel=1e-9)
    if m < 0.99:
        assert float(magnification_at_distance(f, subject_from_sensor_mm(f, m))) == pytest.approx(m, rel=1e-6)
    assert math.isnan(float(magnification_at_distance(f, 3.9 * f)))


@given(FOCALS, MAGNIFICATIONS)
def test_the_three_factors_agree(f, m):
    image = f * (1 + m)
    wanted = 2 * math.log2(1 + m)
    assert float(factor_from_extension(image, f)) == pytest.approx(wanted, rel=1e-9)
    assert float(factor_from_f_numbers(image, f)) == pytest.approx(wanted, rel=1e-9)
    assert float(factor_from_target(50, 50 * m)) == pytest.approx(wanted, rel=1e-9)


@given(FOCALS, st.floats(1, 32), MAGNIFICATIONS, st.floats(1, 1e5))
def test_the_background_disk_is_the_blur_formula(f, n, m, behind):
    # c = f^2/N |D - s|/(D (s - f)) with D = s + b.
    s = f * (1 + 1 / m)
    d = s + behind
    assert float(background_disk_mm(f, n, m, behind)) == pytest.approx(f * f / n * behind / (d * (s - f)), rel=1e-9)
    assert float(background_disk_mm(f, n, m, math.inf)) == pytest.approx(f * m / n, rel=1e-9)


@given(FOCALS, MAGNIFICATIONS, st.floats(1, 100))
def test_a_longer_lens_draws_flatter_and_takes_in_less(f, m, deep):
    short, long = float(subject_from_lens_mm(f, m)), float(subject_from_lens_mm(2 * f, m))
    assert float(size_ratio(long, deep)) < float(size_ratio(short, deep))
    wide, narrow = (float(background_width_mm(36, m, s, 1000)) for g, s in ((f, short), (2 * f, long)))
    assert narrow < wide


# --- stacks ----------------------------------------------------------------------------------------


@given(st.floats(0, 50), st.floats(0.05, 5), st.floats(0, 0.7))
def test_positions_cover_the_subject_and_no_frame_is_over(deep, depth, overlap):
    step = depth * (1 - overlap)
    assume((deep - depth) / step < 390)
    planes = positions_mm(deep, depth, step)
    assert planes[0] <= depth / 2 + 1e-9
    assert planes[-1] + depth / 2 >= deep - 1e-6
    assert (np.diff(planes) <= depth + 1e-9).all()
    if len(planes) > 1:
        assert planes[-2] + depth / 2 < deep


SPANS = st.lists(
    st.tuples(st.floats(0.3, 50), st.floats(1.0001, 4)).map(lambda p: (p[0], p[0] * p[1])), min_size=1, max_size=5
)


@given(SPANS, st.floats(16, 85), st.floats(4, 16), st.floats(0, 0.5))
def test_slices_over_spans_leave_nothing_soft(spans, f, n, overlap):
    allowance = 0.03
    lens, sharp = Optics(f, n), Sharpness(allowance, diffraction=False)
    slices = slices_over(lens, sharp, tuple(spans), overlap)
    for near_m, far_m in spans:
        for at in np.geomspace(near_m, far_m, 25):
            assert any(one.near_m * (1 - 1e-6) <= at <= one.far_m * (1 + 1e-6) for one in slices)
    whole = gapless_slices(lens, sharp, min(a for a, _ in spans), max(b for _, b in spans), 0.0)
    if overlap == 0:
        assert len(slices) <= len(whole)


def test_a_burst_slows_when_the_buffer_is_full():
    # 10 a second into a buffer of 20 that empties at 2 a second: 25 frames at full rate, then 2 a second.
    short, long = burst_seconds(20, 10, 20, 2), burst_seconds(45, 10, 20, 2)
    assert (short.seconds, short.pace) == (2, "burst")
    assert long.frames_before_buffer == 25 and long.pace == "buffer"
    assert long.seconds == pytest.approx(2.5 + 20 / 2)


def test_a_flash_sets_the_pace_where_it_recycles_slower():
    assert stepped_seconds(10, 0.1, 1, 1).seconds == pytest.approx(10 * 0.1 + 2 + 9 * 2)
    slow = stepped_seconds(10, 0.1, 1, 1, recycle_s=5)
    assert slow.pace == "recycle" and slow.seconds == pytest.approx(10 * 0.1 + 2 + 9 * 4.9)
    assert ring_step_mm(0.5, 2) == pytest.approx(2.0)
    assert ring_step_dioptres(1, 200) == pytest.approx(1 / 0.2 - 1 / 0.201, rel=1e-12)


# --- gear ------------------------------------------------------------------------------------------


def test_a_tube_takes_infinity_and_gives_magnification():
    state = changed_state(near_scene(), [on("tube"), SetMagnification(magnification=1.4)])
    low, high = near(state).reach
    # The tube adds e/f: 50/100.
    assert (low, high) == (pytest.approx(0.5), pytest.approx(1.5))
    assert near(state).magnification == pytest.approx(1.4, rel=1e-9)
    far = changed_state(near_scene(), [on("tube"), SetTo(setting="focus", value=None)])
    assert near(far).magnification == pytest.approx(0.5, rel=1e-9)


def test_focus_left_beyond_the_tube_is_told_with_its_mend():
    scene = near_scene(settings={"focus_m": 5.0}, close_up={"mounted": (MountedGear(gear_id="tube"),)})
    found = next(t for t in evaluate(scene).tensions if t.kind == "farthest_focus")
    assert found.mend.label == "Take the close-up gear off"
    assert not any(t.kind == "farthest_focus" for t in evaluate(scene, found.mend.changes).tensions)


def test_a_converter_is_the_lens_that_the_camera_sees():
    state = changed_state(near_scene(), [on("converter")])
    settings = state.scene.composition.settings
    assert (settings.focal_length_mm, settings.aperture_n) == (200, pytest.approx(16))
    assert near(state).reach[1] == pytest.approx(2.0)
    # Taken off again, everything is as before.
    again = changed_state(state.scene, [on()])
    assert again.scene.kit.lens == MACRO and again.scene.composition.settings.focal_length_mm == 100


def test_a_close_up_lens_takes_no_light():
    scene = near_scene(settings={"focus_m": None})
    plain, helped = changed_state(scene), changed_state(scene, [on("dioptre"), SetTo(setting="focus", value=None)])
    # At its infinity it focuses at 1/D: a third of a metre.
    assert helped.scene.composition.settings.focus_m == pytest.approx(1 / 3, rel=1e-9)
    assert near(helped).magnification == pytest.approx(0.3, rel=1e-9)
    # The working f-number is the marked lens's at infinity.
    assert near(helped).working_f_number == pytest.approx(8, rel=1e-9)
    assert helped.exposure.settings.shutter_s == plain.exposure.settings.shutter_s


def test_a_hand_held_meter_does_not_see_the_extension():
    moment = near_scene().composition.moment_utc
    taken = Reading(aperture_n=8, shutter_s=1 / 8, iso=100, taken_at_utc=moment, through_lens=False)
    lines = changed_state(near_scene(reading=taken)).exposure.ledger.lines
    assert [one.stops for one in lines if one.kind == "working"] == [pytest.approx(-2)]
    seen = changed_state(near_scene(reading=replace(taken, through_lens=True))).exposure.ledger.lines
    assert not [one for one in seen if one.kind == "working"]


def test_bellows_and_the_turned_lens():
    drawn = changed_state(near_scene(), [on("bellows", draw=120), SetMagnification(magnification=2.0)])
    assert near(drawn).magnification == pytest.approx(2.0)
    turned = changed_state(near_scene(lens=replace(SHORT, pupil_magnification=1.5)), [on("ring")])
    low, high = near(turned).reach
    # Common practice: turned round, a lens draws about its distance from the sensor over its focal length.
    assert low == high == pytest.approx(46 / 35)
    assert turned.scene.kit.lens.pupil_magnification == pytest.approx(1 / 1.5)


def test_framed_width_keeps_the_subject_where_it_is():
    scene = near_scene(azimuth_deg=90.0, pitch_deg=0.0)
    state = changed_state(scene, [SetFramedWidth(width_mm=72)])
    assert near(state).magnification == pytest.approx(0.5, rel=1e-9)
    # The camera went back by as much as the focus grew.
    moved = scene.composition.east_m - state.scene.composition.east_m
    assert moved == pytest.approx(state.scene.composition.settings.focus_m - 0.2, abs=1e-9)


# --- the bench -------------------------------------------------------------------------------------


def test_a_short_lens_a_macro_and_a_long_macro_side_by_side():
    made = close_up_report(changed_state(near_scene()), (MACRO, LONG, SHORT))
    rows = {row.name: row for row in made.lenses}
    assert [row.name for row in made.lenses] == ["35 mm", "100 mm macro", "180 mm macro"]
    assert rows["180 mm macro"].reaches == "by itself"
    assert "tube" in rows["35 mm"].reaches or "bellows" in rows["35 mm"].reaches
    short, middle, long = (rows[name] for name in ("35 mm", "100 mm macro", "180 mm macro"))
    # Lens to subject at life size is 2 f; sensor to front is told: 400 - 165 and 720 - 225.
    assert middle.working_distance.value == pytest.approx(235)
    assert long.working_distance.value == pytest.approx(495)
    assert short.size_ratio.value > middle.size_ratio.value > long.size_ratio.value
    assert short.background_width.value > middle.background_width.value > long.background_width.value
    assert short.disk.value < middle.disk.value < long.disk.value
    # At one magnification and f-number the depth is the same whatever the lens; behind a converter f/8 is the lens's
    # own f/4, and light sees 8 (1 + 1/2) instead of 8 (1 + 1).
    assert middle.depth.value == pytest.approx(long.depth.value, rel=1e-6)
    assert "next to the body" in short.reaches and short.depth.value < long.depth.value
    used = changed_state(replace(near_scene(), kit=replace(near_scene().kit, lens=SHORT)), short.changes)
    assert near(used).magnification == pytest.approx(1.0, rel=1e-6)


def test_what_cannot_be_had_says_so():
    beyond = close_up_report(changed_state(near_scene(settings={"focus_m": 0.15})))
    assert "more than the 100 mm macro draws" in beyond.problem
    deep = near_scene(close_up={"subject_depth_mm": 90.0, "mounted": (MountedGear(gear_id="rail"),)})
    state = changed_state(deep, [TakeSlices(mode="rail")])
    assert "of travel and the rail has 60 mm" in no_slices_words(state.depth.slices_problem)
    rail = next(p for p in close_up_report(state).stacks if p.means == "rail")
    assert "60 mm" in rail.problem
    with pytest.raises(SceneError, match="not among the gear owned"):
        changed_state(near_scene(close_up={"mounted": (MountedGear(gear_id="gone"),)}))


def test_a_rail_stack_is_sharp_from_front_to_back_and_its_sequence_moves_the_camera():
    scene = near_scene(close_up={"mounted": (MountedGear(gear_id="rail"),)})
    state = changed_state(scene, [TakeSlices(mode="rail")])
    one = near(state).depth.counted
    assert len(state.depth.slices) == math.ceil((12 - one) / (one * 0.8) - 1e-9) + 1
    # Focus stays; the camera goes on.
    assert np.allclose(state.depth.focused_m, 0.2)
    sequence = build_sequence(state)
    assert sequence.frames[1].actions[0].startswith("Rail ")
    assert {frame.focus.text for frame in sequence.frames} == {"200 mm"}
    assert sequence.frames[0].actions[0].startswith("Set the focus and leave it")
    plan = next(p for p in close_up_report(state).stacks if p.means == "rail")
    assert plan.in_use and plan.frames == len(sequence.frames)


@pytest.mark.parametrize("means", ["rail", "sway"])
def test_close_up_numbers_explain_themselves(means):
    scene = near_scene(
        close_up={
            "mounted": (MountedGear(gear_id="rail"), MountedGear(gear_id="tube")),
            "lights": (LightInUse(light_id="flash"), LightInUse(light_id="lamp")),
            "speed_mm_s": 5.0,
        }
    )
    state = changed_state(scene, [TakeSlices(mode=means)])
    keys = set(figure_keys(close_up_report(state, (MACRO, LONG, SHORT)))) - {""}
    assert {"close.depth", "close.disk", "close.flash:flash", "close.sway"} <= keys
    for key in keys:
        assert explain(state, key, (MACRO, LONG, SHORT)).source


# --- lights ----------------------------------------------------------------------------------------


def test_the_guide_number_is_distance_times_f_number():
    # ISO 1230: a flash of guide number 24 exposes rightly at f/8 from 3 m at ISO 100.
    assert float(flash_stops(24, 1, 3, 8, 100)) == pytest.approx(0, abs=1e-12)
    # Twice as far takes two stops, a quarter of the power two, ISO 400 gives two.
    assert float(flash_stops(24, 1, 6, 8, 100)) == pytest.approx(-2, abs=1e-12)
    assert float(flash_stops(24, 0.25, 3, 8, 400)) == pytest.approx(0, abs=1e-12)
    assert power_for_stops(24, 1.5, 8, 100, 0) == pytest.approx(0.25)
    assert float(recycle_s(4, 1 / 16)) == 0.25
    # A lamp read as EV 6 from 1 m: at 1 m, f/8 and 1 s are EV 6.
    assert float(lamp_stops(6, 1, 8, 1, 100)) == pytest.approx(0, abs=1e-12)
    assert together_stops([0, 0]) == pytest.approx(1)


def test_extension_takes_from_a_flash_what_it_takes_from_the_day():
    lit = {"lights": (LightInUse(light_id="flash", distance_m=0.3, power=1 / 16),)}
    macro = close_up_report(changed_state(near_scene(close_up=lit)))
    account = next(a for a in macro.lights.accounts if a.kind == "flash")
    # By hand: 24 / (0.3 x 16) = 5, 2 log2 5 = 4.644, less 4 stops of power.
    assert account.stops.value == pytest.approx(2 * math.log2(5) - 4, abs=1e-9)


def test_a_flash_beyond_its_sync_time_is_told():
    lit = {"lights": (LightInUse(light_id="flash"),)}
    fast = near_scene(close_up=lit, settings={"shutter_s": 1 / 1024}, locks=("shutter",))
    assert any("sync time" in text for text in close_up_report(changed_state(fast)).lights.problems)
    assert any("eye" in text for text in close_up_report(changed_state(fast)).cautions)


def test_tube_of_no_length_is_refused():
    assert check_gear(replace(TUBE, extension_mm=0.0))[0].pointer == "/extension_mm"
    assert image_distance_mm(100, 0.2) == pytest.approx(200)


@pytest.mark.parametrize(
    "change", [{"kind": "framed", "width_mm": 5e-324}, {"kind": "magnification", "magnification": 5e-324}]
)
def test_a_size_that_no_lens_draws_is_refused_before_it_is_divided_by(change):
    with pytest.raises(ValidationError, match="greater than or equal to"):
        TypeAdapter(Change).validate_python(change)
    smallest = {"framed": {"width_mm": 0.01}, "magnification": {"magnification": 1e-6}}[change["kind"]]
    made = TypeAdapter(Change).validate_python({"kind": change["kind"], **smallest})
    assert changed_state(near_scene(), [made]).depth
