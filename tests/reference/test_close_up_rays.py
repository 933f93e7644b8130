"""Blur and magnification against rays: real paths through a thin lens, refracted by its own equation.

A ray leaving a point at height y0 with slope u reaches the lens at y = y0 + u s and leaves it with slope
u - y/f (paraxial refraction; Hecht, Optics, chapter on ray tracing). Nothing here uses the formulas under test.
"""

from __future__ import annotations

import numpy as np
import pytest

from lucid_ridge.core.optics.close_up import (
    background_disk_mm,
    close_up_lens_focal_mm,
    size_ratio,
    subject_from_lens_mm,
)
from lucid_ridge.core.optics.depth_of_field import defocus_blur_mm
from lucid_ridge.core.optics.stacks import close_up_depth_mm


def landed(
    f: float, height: float, away: float, image: float, across: np.ndarray, powers: tuple[float, ...] = ()
) -> np.ndarray:
    """Where rays from a point meet the sensor, through given places of the lens (and thin lenses upon it)."""
    slope = (across - height) / away
    for power in (1 / f, *powers):
        slope = slope - across * power
    return across + slope * image


@pytest.mark.parametrize("m", [0.1, 1.0, 2.0])
@pytest.mark.parametrize("f", [35.0, 100.0, 180.0])
def test_magnification_and_blur(f, m):
    n = 8.0
    across = np.linspace(-f / n / 2, f / n / 2, 201)
    s = float(subject_from_lens_mm(f, m))
    # The image distance is found by where two rays of the point on the axis meet.
    two = np.array([0.0, f / n / 2])
    slopes = (two - 0) / s - two / f
    image = -(two[1] - two[0]) / (slopes[1] - slopes[0])
    drawn = landed(f, 1.0, s, image, across)
    assert np.ptp(drawn) < 1e-9
    assert drawn.mean() == pytest.approx(-m, rel=1e-9)
    for off in (-0.05, 0.02, 0.4):
        d = s * (1 + off)
        disk = float(np.ptp(landed(f, 0.0, d, image, across)))
        assert disk == pytest.approx(float(defocus_blur_mm(f, n, s / 1000, d / 1000)), rel=1e-9)
        if off > 0:
            assert disk == pytest.approx(float(background_disk_mm(f, n, m, d - s)), rel=1e-9)
    # Half the depth in front and behind blurs as much as is allowed, to the third order of a thin slice.
    c = 1e-4
    half = float(close_up_depth_mm(n, c, m)) / 2
    for d in (s - half, s + half):
        assert float(np.ptp(landed(f, 0.0, d, image, across))) == pytest.approx(c, rel=2e-2)


def test_near_and_far_side_are_drawn_as_large_as_the_chief_rays_say():
    f, m, deep = 100.0, 1.0, 12.0
    s, image = float(subject_from_lens_mm(f, m)), 200.0
    near, far = (float(landed(f, 1.0, d, image, np.array([0.0]))[0]) for d in (s, s + deep))
    assert near / far == pytest.approx(float(size_ratio(s, deep)), rel=1e-9)


def test_two_thin_lenses_in_contact():
    f, dioptres = 100.0, 3.0
    across = np.linspace(-5, 5, 51)
    whole = float(close_up_lens_focal_mm(f, dioptres))
    # Focused at infinity: the sensor at f. A point at 1/D is drawn sharp and f D/1000 as large.
    drawn = landed(f, 1.0, 1000 / dioptres, f, across, (dioptres / 1000,))
    assert np.ptp(drawn) < 1e-9 and abs(drawn.mean()) == pytest.approx(f * dioptres / 1000, rel=1e-9)
    single = landed(whole, 1.0, 1000 / dioptres, f, across)
    assert np.allclose(drawn, single, atol=1e-9)
