"""What a hand or a mend does to a composition: marks, limits and what gives way."""

from __future__ import annotations

import itertools
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.changes.apply import aperture_marks_between, apply_change
from lucid_ridge.core.changes.camera_moves import MoveElement
from lucid_ridge.core.changes.kinds import (
    ChooseStandard,
    FitToKit,
    Nudge,
    PutOn,
    SetBulb,
    SetCompensation,
    SetHandHeld,
    SetLock,
    SetTimer,
    SetTo,
    TakeBracket,
    TakeSlices,
)
from lucid_ridge.core.optics.thin_lens import nearest_subject_m
from lucid_ridge.core.stops.filters import FilterInUse
from lucid_ridge.core.stops.scales import on_third, third_index
from lucid_ridge.reports.evaluate import evaluate
from lucid_ridge.reports.figures import aperture_text, iso_text, shutter_text

KIT = TARN_SCENE.kit
FREE = replace(TARN_SCENE.composition, locks=())


def after(change, composition=FREE, kit=KIT):
    return apply_change(composition, kit, change)


@given(st.integers(-60, 60))
def test_apertures_stay_within_the_lens_and_on_marks(steps):
    n = after(Nudge(setting="aperture", steps=steps)).settings.aperture_n
    assert on_third(9, "aperture") - 1e-9 <= n <= on_third(27, "aperture") + 1e-9
    assert third_index(n, "aperture") == pytest.approx(round(third_index(n, "aperture")), abs=1e-9)


@given(st.integers(-60, 60))
def test_iso_stays_within_the_body(steps):
    iso = after(Nudge(setting="iso", steps=steps)).settings.iso
    assert 99 < iso < 25700


@given(st.integers(-60, 60))
def test_focal_lengths_are_whole_millimetres_of_the_zoom(steps):
    f = after(Nudge(setting="focal_length", steps=steps)).settings.focal_length_mm
    assert 24 <= f <= 70
    assert f == round(f)


def test_a_nudge_of_focal_length_always_moves():
    f = FREE.settings.focal_length_mm
    for _ in range(60):
        longer = after(
            Nudge(setting="focal_length", steps=1), replace(FREE, settings=replace(FREE.settings, focal_length_mm=f))
        )
        if f >= 70:
            break
        assert longer.settings.focal_length_mm > f
        f = longer.settings.focal_length_mm
    assert f == 70


@given(st.lists(st.integers(-8, 8), max_size=12))
def test_focus_walks_from_the_nearest_to_infinity_and_never_beyond(walk):
    composition = FREE
    nearest = nearest_subject_m(24, KIT.lens.minimum_focus_m)
    for steps in walk:
        composition = after(Nudge(setting="focus", steps=steps), composition)
        focus = composition.settings.focus_m
        assert focus is None or nearest - 1e-9 <= focus <= 1000


def test_focus_steps_are_even_in_dioptres():
    foci = [after(Nudge(setting="focus", steps=-n)).settings.focus_m for n in range(1, 5)]
    inverse = [1 / f for f in foci]
    gaps = [b - a for a, b in itertools.pairwise(inverse)]
    assert gaps == pytest.approx([gaps[0]] * 3)


def test_nominal_values_are_set_as_their_marks():
    assert aperture_text(after(SetTo(setting="aperture", value=11)).settings.aperture_n) == "f/11"
    assert after(SetTo(setting="aperture", value=11)).settings.aperture_n == pytest.approx(2**3.5)
    assert iso_text(after(SetTo(setting="iso", value=640)).settings.iso) == "640"
    assert after(SetTo(setting="focus", value=None)).settings.focus_m is None


def test_a_shutter_moved_by_hand_takes_iso_with_it():
    moved = after(Nudge(setting="shutter", steps=-3))
    assert moved.settings.iso == pytest.approx(200)
    made = evaluate(replace(TARN_SCENE, composition=moved))
    assert shutter_text(made.composition.settings.shutter_s) == "1/15 s"


def test_a_shutter_moved_with_iso_locked_makes_the_picture_brighter():
    locked = replace(FREE, locks=("iso",))
    moved = after(Nudge(setting="shutter", steps=2), locked)
    assert moved.settings.compensation_stops == pytest.approx(2 / 3)
    made = evaluate(replace(TARN_SCENE, composition=moved))
    choice = next(row for row in made.ledger.rows if row.kind == "choice")
    assert choice.label == "Exposed ⅔ stop brighter than metered"
    assert choice.stops.value == pytest.approx(-2 / 3)


def test_a_typed_shutter_is_reached():
    made = evaluate(replace(TARN_SCENE, composition=FREE), [SetTo(setting="shutter", value=1 / 30)])
    assert shutter_text(made.composition.settings.shutter_s) == "1/30 s"


@pytest.mark.parametrize("setting", ["focal_length", "aperture", "shutter", "iso", "focus"])
def test_a_locked_setting_does_not_move(setting):
    locked = replace(FREE, locks=(setting,))
    assert after(Nudge(setting=setting, steps=2), locked) is locked
    assert after(SetTo(setting=setting, value=5.0), locked) is locked


def test_locks_go_on_and_off_once():
    once = after(SetLock(setting="iso", on=True))
    assert after(SetLock(setting="iso", on=True), once).locks == ("iso",)
    assert after(SetLock(setting="iso", on=False), once).locks == ()


def test_switches():
    assert after(SetBulb(on=True)).settings.bulb
    assert after(SetTimer(seconds=5)).settings.timer_s == 5
    assert after(SetHandHeld(on=True)).hand_held
    assert after(SetCompensation(stops=-1)).settings.compensation_stops == -1
    assert after(ChooseStandard(standard="pixel")).wants.sharpness_standard == "pixel"
    assert after(PutOn(filters=(FilterInUse(filter_id="nd3"),))).settings.filters[0].filter_id == "nd3"


def test_hand_set_foci_and_offsets_are_sorted_and_remembered():
    foci = after(TakeSlices(mode="manual", foci_m=(5.0, 0.7, 1.4)))
    assert foci.technique.manual_foci_m == (0.7, 1.4, 5.0)
    again = after(TakeSlices(mode="manual"), after(TakeSlices(mode="one"), foci))
    assert again.technique.manual_foci_m == (0.7, 1.4, 5.0)
    bracket = after(TakeBracket(mode="manual", offsets_stops=(2.0, -2.0, 0.0)))
    assert bracket.technique.manual_offsets_stops == (-2.0, 0.0, 2.0)


@given(st.floats(-360, 360), st.floats(0.1, 5000))
def test_a_placed_element_stands_where_it_was_put(bearing, distance):
    placed = after(MoveElement(element_id="boulder", bearing_deg=bearing, distance_m=distance))
    boulder = next(e for e in placed.elements if e.id == "boulder")
    assert (boulder.east_m**2 + boulder.north_m**2) ** 0.5 == pytest.approx(distance, rel=1e-9)
    assert [e for e in placed.elements if e.id != "boulder"] == [e for e in FREE.elements if e.id != "boulder"]


def test_an_unknown_element_is_not_placed():
    assert after(MoveElement(element_id="nobody", bearing_deg=1, distance_m=1)).elements == FREE.elements


def test_fitting_drops_what_is_not_owned_and_clamps_the_rest():
    bare = replace(KIT, filters=(), body=replace(KIT.body, highest_iso=400.0))
    wild = replace(
        FREE,
        settings=replace(
            FREE.settings, iso=6400.0, focal_length_mm=200.0, aperture_n=1.4, filters=(FilterInUse(filter_id="pol"),)
        ),
    )
    fitted = after(FitToKit(), wild, bare)
    assert fitted.settings.filters == ()
    assert fitted.settings.iso == pytest.approx(400)
    assert fitted.settings.focal_length_mm == 70
    evaluate(replace(TARN_SCENE, kit=bare, composition=fitted))


def test_a_zoom_that_closes_towards_its_long_end():
    lens = replace(KIT.lens, widest_f_number=on_third(11, "aperture"), widest_f_number_long=on_third(15, "aperture"))
    kit = replace(KIT, lens=lens)
    open_wide = replace(FREE, settings=replace(FREE.settings, aperture_n=on_third(11, "aperture")))
    zoomed = after(SetTo(setting="focal_length", value=70), open_wide, kit)
    assert aperture_text(zoomed.settings.aperture_n) == "f/5.6"
    assert next(aperture_text(n) for n in aperture_marks_between(kit, 70)) == "f/5.6"
    assert next(aperture_text(n) for n in aperture_marks_between(kit, 24)) == "f/3.5"
