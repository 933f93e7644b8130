"""Properties of depth of field, slices and focus schools."""

from __future__ import annotations

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from lucid_ridge.core.optics.circle_of_confusion import circle_of_confusion_mm
from lucid_ridge.core.optics.depth_of_field import (
    airy_disk_mm,
    best_aperture,
    defocus_allowance_mm,
    defocus_blur_mm,
    far_limit_m,
    hyperfocal_m,
    near_limit_m,
    total_blur_mm,
    widest_diffraction_aperture,
)
from lucid_ridge.core.optics.focus_schools import balanced_focus_m, third_in_m
from lucid_ridge.core.optics.gaps import gaps
from lucid_ridge.core.optics.pupils import Optics, Sharpness
from lucid_ridge.core.optics.slices import TooMuchDiffraction, gapless_slices, least_blur, slice_at
from lucid_ridge.core.optics.thin_lens import (
    close_up_loss_stops,
    image_distance_mm,
    magnification,
    nearest_subject_m,
    subject_distance_m,
)

focal = st.floats(12, 600)
aperture = st.floats(1.4, 32)
criterion = st.floats(0.005, 0.05)


@given(focal, st.floats(1.02, 1e5))
def test_image_and_subject_distance_are_inverse(f, times):
    s = f * times / 1000
    assert subject_distance_m(f, image_distance_mm(f, s)) == pytest.approx(s, rel=1e-6)


@given(focal, aperture, criterion, st.floats(2, 5000))
def test_blur_at_the_limits_is_the_criterion(f, n, c, times):
    s = f * times / 1000
    h = hyperfocal_m(f, n, c)
    near, far = float(near_limit_m(f, h, s)), float(far_limit_m(f, h, s))
    assert defocus_blur_mm(f, n, s, near) == pytest.approx(c, rel=1e-6)
    if math.isfinite(far) and far < 1e6:
        assert defocus_blur_mm(f, n, s, far) == pytest.approx(c, rel=1e-4)


@given(focal, aperture, criterion)
def test_at_the_hyperfocal_half_of_it_to_infinity_is_sharp(f, n, c):
    h = float(hyperfocal_m(f, n, c))
    assert near_limit_m(f, h, h) == pytest.approx(h / 2, rel=1e-12)
    assert math.isinf(far_limit_m(f, h, h))
    assert defocus_blur_mm(f, n, h, np.inf) == pytest.approx(c, rel=1e-9)


@given(focal, aperture, st.floats(1.01, 4), st.floats(3, 1000), st.floats(1.1, 100))
def test_stopping_down_never_adds_defocus(f, n, narrower, times, farther):
    s, d = f * times / 1000, f * times * farther / 1000
    assert defocus_blur_mm(f, n * narrower, s, d) < defocus_blur_mm(f, n, s, d)


@given(st.floats(0.4, 5), st.floats(1.2, 1000))
def test_balanced_focus_blurs_both_ends_alike(near, times):
    far = near * times
    s = balanced_focus_m(near, far)
    assert defocus_blur_mm(24, 8, s, near) == pytest.approx(float(defocus_blur_mm(24, 8, s, far)), rel=1e-9)


@given(
    focal, aperture, criterion, st.floats(3, 400), st.floats(1.01, 1e4) | st.just(math.inf), st.floats(0, 0.7),
    st.floats(0.4, 3), st.booleans(),
)  # fmt: skip
def test_slices_leave_no_gap_and_one_fewer_would(f, n, c, times, deeper, overlap, pupils, diffraction):
    near = f * times / 1000
    far = near * deeper
    lens, sharp = Optics(f, n, pupils), Sharpness(c, diffraction)
    try:
        made = gapless_slices(lens, sharp, near, far, overlap)
    except ValueError:
        assume(False)
    assert gaps(lens, sharp, [s.focus_m for s in made if math.isfinite(s.focus_m)] or [1e7], near, far) == ()
    points = 1 / np.linspace(1 / near, 1e-9 if math.isinf(far) else 1 / far, 400)
    foci = np.array([min(s.focus_m, 1e9) for s in made])
    # Everything is sharp in one of them, each with an Airy disk of its own where that counts.
    least = (
        least_blur(lens, foci, points).total_mm
        if diffraction
        else np.min([lens.defocus_mm(one, points) for one in foci], axis=0)
    )
    assert least.max() <= c * (1 + 1e-6)
    if len(made) > 1:
        # Neighbours lap over by the same share, at least the one asked for, in the logarithm of the image distance.
        def image(distance):
            return math.log(float(image_distance_mm(lens.thin_focal_mm, distance - lens.pupil_ahead_m)))

        laps = [
            (image(b.near_m) - image(a.far_m)) / (image(b.near_m) - image(b.far_m)) for a, b in pairwise(made)
            if math.isfinite(b.far_m)
        ]  # fmt: skip
        # Where two slices differ in width the share is of the nearer one.
        shares = [
            (image(b.near_m) - image(a.far_m)) / (image(a.near_m) - image(a.far_m)) for a, b in pairwise(made)
        ]  # fmt: skip
        assert min(shares) >= overlap - 1e-6
        assert max(shares) - min(shares) < 1e-5
        assert len(laps) <= len(shares)
    if overlap == 0 and len(made) > 1:
        # As wide as slices ever are there, one fewer would not reach.
        widest = (
            max(image(s.near_m) - image(s.far_m) for s in made if math.isfinite(s.far_m))
            if any(math.isfinite(s.far_m) for s in made)
            else 0.0
        )
        k = sharp.allowance_mm(lens, math.inf) * lens.thin_f_number / lens.thin_focal_mm
        widest = max(widest, math.log((1 + k) / (1 - k))) if k < 1 else math.inf
        assert widest * (len(made) - 1) < image(near) - image(far) + 1e-9 or diffraction


def test_two_hand_set_points_leave_a_gap_and_it_is_told():
    # A flower at 0.4 m and a far headland, focused by hand on both: the middle stays soft.
    found = gaps(Optics(24, 11.3137), Sharpness(0.025, diffraction=False), [0.42, 300.0], 0.4, math.inf)
    assert len(found) == 1
    assert 0.42 < found[0].near_m < found[0].far_m < 300
    assert found[0].worst_blur_mm > 0.025


def test_impossible_stacks_say_why():
    plain = Sharpness(0.02, diffraction=False)
    with pytest.raises(ValueError, match="diffraction"):
        gapless_slices(Optics(24, 32), Sharpness(0.02), 1, 10)
    with pytest.raises(ValueError, match="beyond"):
        gapless_slices(Optics(24, 8), plain, 10, 1)
    with pytest.raises(ValueError, match="farther away than the focal length"):
        gapless_slices(Optics(100, 8), plain, 0.05, 1)


@given(focal, st.floats(0.3, 3), st.floats(0.2, 3), criterion)
def test_where_diffraction_takes_all_the_aperture_that_has_a_stack_is_told(f, pupils, m, c):
    # By the working f-number: 2.44 lambda N (1 + m/p) is the criterion at the f-number that is told.
    near = f * (1 + 1 / m) / 1000
    with pytest.raises(TooMuchDiffraction) as refused:
        gapless_slices(Optics(f, 64, pupils), Sharpness(c), near, near * 1.01)
    widest = 64 * refused.value.times
    assert 2.44 * 550e-6 * widest * (1 + m / pupils) == pytest.approx(c, rel=1e-9)
    gapless_slices(Optics(f, widest * 0.9, pupils), Sharpness(c), near, near * 1.0001)


def test_a_stack_at_life_size_counts_the_airy_disk_that_is_there():
    # f/16 at life size works as f/32: 2.44 x 0.55 um x 32 = 42.9 um, more than a print's 28.8 um, where the
    # marked f/16 alone would have left room (21.5 um).
    with pytest.raises(TooMuchDiffraction):
        gapless_slices(Optics(100, 16), Sharpness(0.0288), 0.2, 0.21)
    assert Optics(100, 16).airy_mm(1.0) * 1000 == pytest.approx(42.944, abs=1e-3)
    assert slice_at(Optics(100, 8), Sharpness(0.0288), 0.2).near_m < 0.2


@given(criterion, aperture)
def test_diffraction_and_allowance_make_up_the_criterion(c, n):
    airy = float(airy_disk_mm(n))
    left = defocus_allowance_mm(c, airy)
    if airy < c:
        assert total_blur_mm(left, airy) == pytest.approx(c, rel=1e-9)
    else:
        assert left == 0
    assert airy_disk_mm(widest_diffraction_aperture(c)) == pytest.approx(c, rel=1e-12)


def test_best_aperture_is_where_both_blurs_together_are_least():
    # Derivation of sqrt(375 dv): for a focus spread dv the defocus is dv/(2N), diffraction N/750
    # (about 2.44 lambda N at 550 nm); their sum in squares is least where they are equal.
    spread = 0.5
    n = np.geomspace(2, 64, 20001)
    total = np.hypot(spread / (2 * n), n / 750)
    assert n[total.argmin()] == pytest.approx(float(best_aperture(spread)), rel=1e-3)


@given(st.floats(1, 1000))
def test_magnification_round_trip(times):
    f = 100.0
    s = f * (1 + times) / 1000
    assert magnification(f, s) == pytest.approx(1 / times, rel=1e-9)


def test_life_size_costs_two_stops():
    assert close_up_loss_stops(1.0) == pytest.approx(2.0)


@given(st.floats(14, 200), st.floats(4.05, 50))
def test_minimum_focus_from_the_sensor_is_lens_plus_image_distance(f, times):
    d = f * times / 1000
    s = nearest_subject_m(f, d)
    assert s + image_distance_mm(f, s) / 1000 == pytest.approx(d, rel=1e-6)


def test_a_third_in_lies_on_the_ground_a_third_up_the_picture():
    # 1.5 m high, level camera, 53.13 degrees of view: a third up is 9.46 degrees down, 9.0 m away.
    assert third_in_m(1.5, 0.0, 2 * math.degrees(math.atan(0.5)), 1.0, math.inf) == pytest.approx(9.0, rel=1e-3)
    assert third_in_m(1.5, 40.0, 53.0, 2.0, 11.0) == pytest.approx(5.0)


def test_criteria_get_stricter():
    sensor = (36.0, 24.0, 36.0 / 8192)
    assert (
        circle_of_confusion_mm("print", *sensor)
        > circle_of_confusion_mm("large_print", *sensor)
        > circle_of_confusion_mm("pixel", *sensor)
    )
