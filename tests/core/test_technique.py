"""Exposure, tensions with their mends, sequences, explanations: the whole scene."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lucid_ridge.calc.example import F8, TARN_SCENE
from lucid_ridge.core.changes.apply import apply_change
from lucid_ridge.core.changes.camera_moves import MoveElement
from lucid_ridge.core.changes.kinds import FitToKit, Nudge, PutOn, SetTo, TakeBracket, TakeSlices
from lucid_ridge.core.solve.wishes import Anchor, CropInstead, PlaceTwo, ShareOf, SizeRatio
from lucid_ridge.core.stops.filters import FilterInUse
from lucid_ridge.core.stops.scales import on_third
from lucid_ridge.core.tensions.find import find
from lucid_ridge.demo.framing_cases import MIRROR, VALLEY_HEAD
from lucid_ridge.reports.evaluate import changed_state, evaluate
from lucid_ridge.reports.explain import explain
from lucid_ridge.reports.frame.answers import answer_to

from .conftest import changed

POL = FilterInUse(filter_id="pol", strength=2 / 3)
ND10 = FilterInUse(filter_id="nd10")


def kinds(evaluation):
    return {tension.kind for tension in evaluation.tensions}


def test_ten_stops_on_an_eighth_are_two_minutes_with_the_polariser_counted(tarn):
    before = evaluate(tarn)
    assert before.ledger.shutter.text == "1/8 s"
    after = evaluate(tarn, [PutOn(filters=(POL, ND10))])
    assert [row.kind for row in after.ledger.rows] == ["reading", "polariser", "nd"]
    assert [row.stops.text for row in after.ledger.rows[1:]] == ["−1⅓", "−10"]
    assert after.ledger.shutter.text == "2 min 08 s"
    assert after.ledger.shutter.value == pytest.approx(128, rel=1e-9)


@settings(max_examples=60, deadline=None)
@given(
    steps=st.lists(
        st.tuples(st.sampled_from(["aperture", "iso", "shutter", "focal_length", "focus"]), st.integers(-5, 5)),
        max_size=6,
    ),
    locks=st.sets(st.sampled_from(["aperture", "iso", "shutter", "focus", "filters"])),
    filters=st.lists(st.sampled_from(["pol", "nd3", "nd6", "nd10", "grad3"]), unique=True),
    minutes=st.integers(-600, 600),
)
def test_the_account_balances_and_locks_hold_whatever_is_done(steps, locks, filters, minutes):
    scene = changed(
        TARN_SCENE,
        locks=tuple(sorted(locks)),
        moment_utc=TARN_SCENE.composition.moment_utc + timedelta(minutes=minutes),
    )
    changes = [PutOn(filters=tuple(FilterInUse(filter_id=f) for f in filters))]
    changes += [Nudge(setting=name, steps=n) for name, n in steps]
    made = evaluate(scene, changes)
    assert abs(made.ledger.balance_stops) < 1e-9
    before, after = scene.composition.settings, made.composition.settings
    for name in locks - {"filters", "focus"}:
        field = {"aperture": "aperture_n", "iso": "iso", "shutter": "shutter_s"}[name]
        assert getattr(after, field) == getattr(before, field)


def test_with_the_shutter_locked_iso_gives_way_and_then_brightness(tarn):
    locked = changed(tarn, locks=("shutter",))
    made = evaluate(locked, [SetTo(setting="aperture", value=16)])
    assert made.composition.settings.shutter_s == 0.125
    assert made.composition.settings.iso == pytest.approx(200)
    both = evaluate(changed(tarn, locks=("shutter", "iso")), [SetTo(setting="aperture", value=16)])
    assert both.composition.settings.iso == 100
    assert both.ledger.rows[-1].label == "Exposed 1 stop darker than metered"
    assert "exposure" in kinds(both)


def test_a_stale_reading_is_brought_to_the_moment(tarn):
    later = evaluate(changed(tarn, moment_utc=tarn.composition.moment_utc + timedelta(minutes=30)))
    light = next(row for row in later.ledger.rows if row.kind == "light")
    # The far shore stands in its own shade: its light grows with the sky's, more slowly than on level ground.
    assert light.stops.value > 0.2
    assert later.composition.settings.shutter_s < 0.125


def test_without_a_reading_the_exposure_is_predicted_and_says_so(tarn):
    made = evaluate(changed(tarn, reading=None))
    assert made.ledger.predicted
    assert made.ledger.rows[0].label.startswith("Predicted")


# One scene for each kind of tension; the mend that is offered must remove it.
TENSE = {
    "near_soft": changed(TARN_SCENE, settings={"focus_m": 30.0}),
    "far_soft": changed(TARN_SCENE, settings={"focus_m": 0.8}),
    "gap_soft": changed(
        TARN_SCENE,
        technique={"slices": "manual", "manual_foci_m": (0.6, 400.0)},
        settings={"aperture_n": on_third(12, "aperture")},
        elements=(
            replace(TARN_SCENE.composition.elements[-1], depth_m=3.0), *TARN_SCENE.composition.elements[:-1],
        ),
    ),
    "hand_held": changed(TARN_SCENE, hand_held=True),
    "water_look": TARN_SCENE,
    "foliage": changed(
        TARN_SCENE,
        locks=("focal_length",),
        wants={"sharp_foliage": True, "highest_iso": 6400.0},
        elements=(
            *TARN_SCENE.composition.elements,
            replace(TARN_SCENE.composition.elements[-2], id="reeds", motion="foliage", speed_m_s=0.2),
        ),
    ),
    "range": TARN_SCENE,
    "diffraction": changed(
        TARN_SCENE, settings={"aperture_n": on_third(27, "aperture")}, wants={"sharpness_standard": "pixel"}
    ),
    "bulb": changed(TARN_SCENE, settings={"filters": (POL, ND10)}),
    "minimum_focus": changed(TARN_SCENE, technique={"slices": "manual", "manual_foci_m": (0.2, 1.0)}),
    "exposure": changed(
        TARN_SCENE, locks=("shutter", "iso"), settings={"aperture_n": on_third(15, "aperture")}
    ),
}  # fmt: skip


@pytest.mark.parametrize("kind", TENSE)
def test_each_tension_has_its_number_and_a_mend_that_removes_it(kind):
    made = evaluate(TENSE[kind])
    tension = next(t for t in made.tensions if t.kind == kind)
    assert tension.figure.text and any(c.isdigit() for c in tension.sentence + tension.figure.text)
    assert tension.mend is not None, tension.why_no_mend
    assert kind not in kinds(evaluate(TENSE[kind], tension.mend.changes))


@settings(max_examples=40, deadline=None)
@given(
    aperture=st.integers(9, 27), focus=st.floats(0.4, 50), camera=st.floats(0.2, 1.6),
    look=st.sampled_from(["any", "freeze", "texture", "soft", "glass"]), hand_held=st.booleans(),
    criterion=st.sampled_from(["print", "large_print", "pixel"]), filters=st.sampled_from([(), (POL,), (POL, ND10)]),
)  # fmt: skip
def test_every_mend_offered_works(aperture, focus, camera, look, hand_held, criterion, filters):
    scene = changed(
        TARN_SCENE,
        camera_height_m=camera,
        hand_held=hand_held,
        wants={"water_look": look, "sharpness_standard": criterion},
        settings={"aperture_n": on_third(aperture, "aperture"), "focus_m": focus, "filters": filters},
    )
    for tension in evaluate(scene).tensions:
        if tension.mend is None:
            assert tension.why_no_mend
        else:
            after = changed_state(scene, tension.mend.changes)
            assert tension.kind not in {found.kind for found in find(after)}


def test_mends_respect_locks(tarn):
    every = ("focal_length", "aperture", "shutter", "iso", "focus", "filters")
    made = evaluate(changed(tarn, locks=every))
    for tension in made.tensions:
        for change in tension.mend.changes if tension.mend else ():
            assert not isinstance(change, (SetTo, Nudge, PutOn))


def test_a_slices_by_brackets_sequence_in_order(tarn):
    made = evaluate(tarn, [TakeSlices(mode="gapless"), TakeBracket(mode="range")])
    sequence = made.sequence
    assert (sequence.slice_count, sequence.bracket_count) == (3, 3)
    assert [(f.slice_number, f.bracket_number) for f in sequence.frames] == [
        (s, b) for s in (1, 2, 3) for b in (1, 2, 3)
    ]
    assert [f.focus.value for f in sequence.frames] == sorted(f.focus.value for f in sequence.frames)
    assert sequence.total.value == pytest.approx(sum(f.duration_s for f in sequence.frames))
    assert sequence.frames[0].starts_after_s == 0
    for before, after in zip(sequence.frames, sequence.frames[1:], strict=False):
        assert after.starts_after_s == pytest.approx(before.starts_after_s + before.duration_s)
    # The body takes the rest of each bracket by itself, but not what it cannot time.
    assert [f.goes_on for f in sequence.frames] == [False, True, True] * 3
    long = evaluate(tarn, [PutOn(filters=(POL, ND10)), TakeSlices(mode="gapless"), TakeBracket(mode="range")])
    assert not any(f.goes_on for f in long.sequence.frames)
    refocused = [f.number for f in sequence.frames if "focus" in f.changed]
    assert refocused == [1, 4, 7]
    ratio = sequence.frames[1].exposure_s / sequence.frames[0].exposure_s
    step = sequence.frames[1].offset_stops - sequence.frames[0].offset_stops
    assert step >= 1 and math.log2(ratio) == pytest.approx(step, abs=1e-9)
    other = evaluate(
        changed(tarn, technique={"order": "slices_inside"}), [TakeSlices(mode="gapless"), TakeBracket(mode="range")]
    ).sequence
    assert [f.bracket_number for f in other.frames] == [1, 1, 1, 2, 2, 2, 3, 3, 3]


def test_a_dark_frame_takes_as_long_again(tarn):
    with_nd = [PutOn(filters=(POL, ND10))]
    dark = replace(tarn, kit=replace(tarn.kit, body=replace(tarn.kit.body, dark_frame=True)))
    extra = evaluate(dark, with_nd).sequence.total.value - evaluate(tarn, with_nd).sequence.total.value
    assert extra == pytest.approx(128, rel=1e-6)
    assert evaluate(tarn, with_nd).sequence.frames[0].dark_frame_s == 0


def test_a_swapped_lens_is_fitted_to(tarn):
    tele = replace(tarn.kit.lens, name="100-400 mm", shortest_mm=100, longest_mm=400, widest_f_number=F8,
                   widest_f_number_long=F8, minimum_focus_m=1.4)  # fmt: skip
    scene = replace(tarn, kit=replace(tarn.kit, lens=tele))
    made = evaluate(scene, [FitToKit()])
    assert made.composition.settings.focal_length_mm == 100
    assert made.composition.settings.focus_m >= 1.2


def test_an_element_is_placed_by_bearing_and_distance(tarn):
    moved = apply_change(
        tarn.composition, tarn.kit, MoveElement(element_id="boathouse", bearing_deg=48, distance_m=148)
    )
    made = evaluate(replace(tarn, composition=moved))
    drawn = next(e for e in made.framing.elements if e.id == "boathouse")
    assert (drawn.bearing.text, drawn.distance.text) == ("48°", "148 m")


def test_feet_are_worded_by_the_server(tarn):
    made = evaluate(replace(tarn, units="feet"))
    assert made.section.camera.text == "1 ft 11 in"
    assert "ft" in made.depth.hyperfocal.text


def figure_keys(record):
    """Every explain key in a nest of records."""
    if hasattr(record, "explain"):
        yield record.explain
    if hasattr(record, "__dataclass_fields__"):
        for name in record.__dataclass_fields__:
            yield from figure_keys(getattr(record, name))
    elif isinstance(record, tuple):
        for one in record:
            yield from figure_keys(one)


def test_every_shown_number_explains_itself(tarn):
    changes = [PutOn(filters=(POL, ND10)), TakeSlices(mode="gapless"), TakeBracket(mode="range")]
    scene = changed(
        tarn, moment_utc=tarn.composition.moment_utc + timedelta(minutes=40), settings={"compensation_stops": 1 / 3}
    )
    keys = set(figure_keys(evaluate(scene, changes))) - {""}
    assert len(keys) > 40
    state = changed_state(scene, changes)
    _all_explained(state, keys)


@pytest.mark.parametrize("composition", [MIRROR, VALLEY_HEAD], ids=["mirror", "panorama"])
def test_reflections_and_panels_explain_themselves(tarn, composition):
    scene = replace(tarn, composition=composition)
    keys = set(figure_keys(evaluate(scene))) - {""}
    assert any(k.startswith("panorama." if composition.panorama.on else "framing.reflection") for k in keys)
    _all_explained(changed_state(scene), keys)


def test_the_numbers_of_answers_explain_themselves(tarn):
    state = changed_state(replace(tarn, composition=MIRROR))
    wishes = (
        ShareOf(of="reflection", element_id="skarn", percent=78),
        PlaceTwo(first=Anchor(element_id="reeds", x=1 / 3), second=Anchor(element_id="boathouse", x=2 / 3)),
        SizeRatio(keep_id="reeds", change_id="boathouse", factor=1.3),
        CropInstead(focal_length_mm=60),
    )
    answers = [answer_to(state, wish) for wish in wishes]
    assert all(answer.changes for answer in answers), [a.why_not for a in answers]
    _all_explained(state, {f.figure.explain for a in answers for f in a.facts})


def _all_explained(state, keys):
    for key in keys:
        made = explain(state, key)
        assert made.formula and made.source and made.result and made.title
