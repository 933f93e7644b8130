"""Published tables and standards: neutral density, APEX, depth of field, trade values."""

from __future__ import annotations

import math

import pytest

from lucid_ridge.core.light.illuminance import illuminance_lux
from lucid_ridge.core.motion.travel import LOOK_SECONDS, equivalent_focal_length_mm, within_look
from lucid_ridge.core.optics.depth_of_field import defocus_blur_mm, far_limit_m, hyperfocal_m, near_limit_m
from lucid_ridge.core.optics.pupils import Optics, Sharpness
from lucid_ridge.core.optics.slices import gapless_slices
from lucid_ridge.core.optics.thin_lens import image_distance_mm, magnification
from lucid_ridge.core.stops.filters import density_to_stops, factor_to_stops, stops_to_transmission
from lucid_ridge.core.stops.scales import exposure_value, on_third
from lucid_ridge.reports.figures import shutter_text

# Neutral density and percent transmittance as printed in filter handbooks
# (Kodak Publication B-3, table of neutral density filters).
HANDBOOK_DENSITY = {
    0.1: 80, 0.2: 63, 0.3: 50, 0.4: 40, 0.5: 32, 0.6: 25, 0.7: 20, 0.8: 16, 0.9: 13, 1.0: 10, 2.0: 1, 3.0: 0.1,
    4.0: 0.01,
}  # fmt: skip


@pytest.mark.parametrize(("density", "percent"), HANDBOOK_DENSITY.items())
def test_neutral_density_handbook(density, percent):
    through = 100 * float(stops_to_transmission(density_to_stops(density)))
    assert through == pytest.approx(percent, abs=0.6 if percent > 5 else percent * 0.01)


def test_a_factor_of_1000_is_not_ten_stops():
    # Arithmetic: log2(1000).
    assert float(factor_to_stops(1000)) == pytest.approx(9.9658, abs=1e-4)


# APEX (CIPA DC-008, Annex on APEX): Av of the f-number and Tv of the time, by the standard's tables.
APEX_AV = {1: 0, 1.4: 1, 2: 2, 2.8: 3, 4: 4, 5.6: 5, 8: 6, 11: 7, 16: 8, 22: 9, 32: 10}
APEX_TV = {30: -5, 15: -4, 8: -3, 4: -2, 2: -1, 1: 0, 1 / 2: 1, 1 / 4: 2, 1 / 8: 3, 1 / 15: 4, 1 / 30: 5, 1 / 60: 6,
           1 / 125: 7, 1 / 250: 8, 1 / 500: 9, 1 / 1000: 10, 1 / 2000: 11}  # fmt: skip


@pytest.mark.parametrize(("nominal", "av"), APEX_AV.items())
def test_apex_aperture_values(nominal, av):
    assert float(exposure_value(nominal, 1.0)) == pytest.approx(av, abs=0.1)
    assert float(exposure_value(on_third(3 * av, "aperture"), 1.0)) == pytest.approx(av, abs=1e-12)


@pytest.mark.parametrize(("nominal", "tv"), APEX_TV.items())
def test_apex_time_values(nominal, tv):
    assert float(exposure_value(1.0, nominal)) == pytest.approx(tv, abs=0.1)
    assert float(exposure_value(1.0, on_third(-3 * tv, "shutter"))) == pytest.approx(tv, abs=1e-12)


def test_apex_speed():
    # APEX: Ev = Av + Tv = Bv + Sv; one step of Sv is a doubling of ISO.
    assert float(exposure_value(8, 1 / 64, 400)) == pytest.approx(float(exposure_value(8, 1 / 64)) - 2)


# Hand-worked with H = f^2/(N c) + f and the limits of Ray, Applied Photographic Optics, 3rd ed.
def test_hyperfocal_worked_by_hand():
    assert float(hyperfocal_m(24, 11, 0.030)) * 1000 == pytest.approx(576 / 0.33 + 24, rel=1e-12)
    assert float(hyperfocal_m(24, 11, 0.030)) * 1000 == pytest.approx(1769.4545454545, rel=1e-12)
    assert float(hyperfocal_m(50, 8, 0.030)) * 1000 == pytest.approx(10466.6666666667, rel=1e-12)


def test_limits_worked_by_hand():
    h = hyperfocal_m(24, 11, 0.030)
    # s (H - f)/(H + s - 2f) = 800 * 1745.4545 / 2521.4545, and s (H - f)/(H - s).
    assert float(near_limit_m(24, h, 0.8)) * 1000 == pytest.approx(800 * 1745.4545454545 / 2521.4545454545, rel=1e-9)
    assert float(near_limit_m(24, h, 0.8)) * 1000 == pytest.approx(553.7929, abs=1e-4)
    assert float(far_limit_m(24, h, 0.8)) * 1000 == pytest.approx(1440.3601, abs=1e-4)


def test_blur_worked_by_hand():
    # f 50, N 2, s 2 m, D 4 m: 2500/2 * 2000 / (4000 * 1950) = 0.320513 mm.
    assert float(defocus_blur_mm(50, 2, 2.0, 4.0)) == pytest.approx(1250 * 2000 / (4000 * 1950), rel=1e-12)


@pytest.mark.parametrize(
    ("aperture", "foci_mm", "with_overlap"), [(8, [401.2, 548.6, 885.0, 2424.0], 5), (11, [424.9, 676.0, 1769.5], 3)]
)
def test_slices_worked_by_hand(aperture, foci_mm, with_overlap):
    # Worked with a depth of focus of N c on either side of each focus and even steps of image distance;
    # the exact limits v/(1 -+ k) and even ratios used here move the foci by up to 2 percent close to the lens.
    lens, plain = Optics(24, aperture), Sharpness(0.030, diffraction=False)
    made = gapless_slices(lens, plain, 0.35, math.inf)
    assert [s.focus_m * 1000 for s in made] == pytest.approx(foci_mm, rel=0.025)
    k = 0.030 * aperture / 24
    assert made[-1].focus_m * 1000 == pytest.approx(24 * (1 + k) / k, rel=1e-9)
    assert made[0].near_m == pytest.approx(0.35, rel=1e-9)
    overlapping = gapless_slices(lens, plain, 0.35, math.inf, overlap=0.2)
    # ln(25.7669/24)/ln((1 + k)/(1 - k)) is 3.552 and 2.583 slices: with a fifth of overlap
    # ceil(2.552/0.8) + 1 = 5 and ceil(1.583/0.8) + 1 = 3.
    assert len(overlapping) == with_overlap


def test_thin_lens_by_ray_construction():
    # Independent of the formulas: the ray through the lens's centre and the one parallel to the
    # axis, bent through the focal point, meet in the image.
    f, s, height = 100.0, 350.0, 10.0
    # centre ray: y = -height/s * x; parallel ray after the lens: y = height - height/f * x.
    x = height / (height / f - height / s)
    assert float(image_distance_mm(f, s / 1000)) == pytest.approx(x, rel=1e-12)
    assert float(magnification(f, s / 1000)) == pytest.approx((height / s * x) / height, rel=1e-12)


def test_trade_values():
    # Common practice: ten stops on 1/8 s take about two minutes.
    assert shutter_text(on_third(-9, "shutter") * 2**10) == "2 min 08 s"
    # Common practice: texture from 1/4 to 2 s, force at 5 to 7 s, freezing from 1/1000.
    assert (
        within_look(LOOK_SECONDS["texture"], 0.5)
        and within_look(LOOK_SECONDS["soft"], 6)
        and within_look(LOOK_SECONDS["freeze"], 1 / 1000)
    )
    # Common practice: 200 mm cropped to two thirds frames like 300 mm.
    assert float(equivalent_focal_length_mm(200, 24, 16)) == pytest.approx(300)


@pytest.mark.parametrize(
    ("altitude", "lux", "within"), [(0, 758.6, 0.02), (6, 5624, 0.02), (-6, 3.41, 0.02), (45, 77848, 0.001)]
)
def test_illuminance_of_circular_171(altitude, lux, within):
    # Janiczek and DeYoung, USNO Circular 171 (1987); coefficients from memory, values computed from
    # them by hand. Near a join the pieces are blended, so two percent is allowed there.
    assert float(illuminance_lux(altitude)) == pytest.approx(lux, rel=within)
