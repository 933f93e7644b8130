"""Pupils against rays through lenses of two thin groups with a stop between them.

A lens is two thin groups f1 and f2, d apart, with a stop a behind the first. Paraxial rays are traced by
y' = y + u t and u' = u - y/f (Hecht, Optics, on ray tracing). From the rays alone come focal length, principal planes,
pupils and their magnification, then where the cone of light from a point meets the sensor. Nothing here uses the
formulas under test.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
import pytest

from lucid_ridge.calc.example import FULL_FRAME
from lucid_ridge.core.camera.mounted_lens import mounted_lens, whole_optics
from lucid_ridge.core.model.kit import Lens
from lucid_ridge.core.model.scene import Settings
from lucid_ridge.core.optics.close_up import background_disk_mm, background_width_mm, size_ratio, subject_from_pupil_mm
from lucid_ridge.core.optics.pupils import Optics, Sharpness
from lucid_ridge.core.optics.slices import gapless_slices, least_blur, slice_at


@dataclass(frozen=True)
class TwoGroups:
    """Two thin groups with a stop of radius r between them; a close-up lens may stand at the front principal plane."""

    f1: float
    f2: float
    d: float
    stop_at: float
    stop_radius: float

    def through(self, y: float, u: float, up_to_stop: bool = False) -> tuple[float, float]:
        """Height and slope behind the second group (or at the stop) of a ray that meets the first group so."""
        u = u - y / self.f1
        if up_to_stop:
            return y + u * self.stop_at, u
        y = y + u * self.d
        return y, u - y / self.f2

    def turned(self) -> TwoGroups:
        return TwoGroups(self.f2, self.f1, self.d, self.d - self.stop_at, self.stop_radius)

    @property
    def focal(self) -> float:
        _, u = self.through(1.0, 0.0)
        return -1.0 / u

    @property
    def front_principal(self) -> float:
        """Distance of the front principal plane behind the first group, by a ray through the lens from behind."""
        return self.turned().rear_principal

    @property
    def rear_principal(self) -> float:
        """Distance of the rear principal plane in front of the second group: a ray that came in level, produced back."""
        y, u = self.through(1.0, 0.0)
        return (1.0 - y) / u * -1.0

    @property
    def entrance_pupil(self) -> tuple[float, float]:
        """Distance behind the first group, and radius: the stop seen through that group."""
        # Rays from the stop's middle, traced backwards, seem to come from there.
        u = 1.0
        y = u * self.stop_at
        behind = -y / (u - y / self.f1)
        scale = 1.0 / (1.0 - self.stop_at / self.f1)
        return -behind, self.stop_radius * scale

    @property
    def exit_radius(self) -> float:
        rest = self.d - self.stop_at
        return self.stop_radius / (1.0 - rest / self.f2)

    @property
    def pupil_magnification(self) -> float:
        return self.exit_radius / self.entrance_pupil[1]

    def disk(self, focus: float, point: float) -> float:
        """Diameter on the sensor of the light of a point on the axis; both distances from the front principal plane."""
        front = self.front_principal
        sensor = self._image_behind(focus - front)
        edge = self._marginal(point - front)
        heights = []
        for start in (edge, -edge):
            y, u = self.through(start * (point - front), start)
            heights.append(y + u * sensor)
        return abs(heights[0] - heights[1])

    def _image_behind(self, away: float) -> float:
        y, u = self.through(away, 1.0) if math.isfinite(away) else self.through(1.0, 0.0)
        return -y / u

    def _marginal(self, away: float) -> float:
        """Slope of the ray from a point on the axis that just passes the stop."""
        y, _ = self.through(away, 1.0, up_to_stop=True)
        return self.stop_radius / y

    def cone(self, focus: float) -> float:
        """f-number of the cone of light that reaches the sensor at a focus."""
        front = self.front_principal
        u = self._marginal(focus - front)
        _, after = self.through(u * (focus - front), u)
        return 1.0 / (2 * abs(after))


LENSES = {
    "symmetric": TwoGroups(120.0, 120.0, 20.0, 10.0, 6.0),
    "long": TwoGroups(80.0, -120.0, 35.0, 12.0, 7.0),
    "retrofocus": TwoGroups(-90.0, 55.0, 40.0, 33.0, 5.0),
    "stop in front": TwoGroups(100.0, 300.0, 30.0, 4.0, 5.0),
}


def optics(lens: TwoGroups) -> Optics:
    f = lens.focal
    return Optics(f, f / (2 * lens.entrance_pupil[1]), lens.pupil_magnification)


@pytest.mark.parametrize("name", LENSES)
def test_the_entrance_pupil_stands_where_the_rays_say(name):
    lens = LENSES[name]
    at, _ = lens.entrance_pupil
    assert optics(lens).pupil_ahead_m * 1000 == pytest.approx(lens.front_principal - at, rel=1e-9, abs=1e-9)


def test_the_lenses_are_of_many_kinds():
    ratios = sorted(one.pupil_magnification for one in LENSES.values())
    assert ratios[0] < 0.8 and ratios[-1] > 1.3


@pytest.mark.parametrize("m", [0.01, 0.3, 1.0, 2.0])
@pytest.mark.parametrize("name", LENSES)
def test_blur_background_and_cone_are_those_of_the_rays(name, m):
    lens, o = LENSES[name], optics(LENSES[name])
    s = o.focal_length_mm * (1 + 1 / m)
    assert o.working_f_number(m) == pytest.approx(lens.cone(s), rel=1e-9)
    for off in (-0.2, -0.01, 0.02, 0.5, 20.0):
        point = s * (1 + off)
        if point - lens.front_principal <= 1 or point / 1000 <= o.pupil_ahead_m:
            continue
        traced = lens.disk(s, point)
        assert float(o.defocus_mm(s / 1000, point / 1000)) == pytest.approx(traced, rel=1e-8)
        found = least_blur(o, np.array([s / 1000]), np.array([point / 1000]))
        if point / 1000 - o.pupil_ahead_m > o.thin_focal_mm / 1000:
            assert float(found.defocus_mm[0]) == pytest.approx(traced, rel=1e-8)
        if off > 0:
            disk = background_disk_mm(o.focal_length_mm, o.f_number, m, point - s, o.pupil_magnification)
            assert float(disk) == pytest.approx(traced, rel=1e-8)


@pytest.mark.parametrize("name", LENSES)
def test_a_lens_turned_round_has_the_marked_f_number_over_its_pupil_magnification(name):
    # Marked N stands for the entrance pupil as engraved; turned, light enters by the old exit pupil.
    lens = LENSES[name]
    turned, straight = optics(lens.turned()), optics(lens)
    assert turned.pupil_magnification == pytest.approx(1 / straight.pupil_magnification, rel=1e-9)
    assert turned.f_number == pytest.approx(straight.f_number / straight.pupil_magnification, rel=1e-9)
    for m in (0.5, 1.0, 3.0):
        s = turned.focal_length_mm * (1 + 1 / m)
        traced = lens.turned().cone(s)
        assert traced == pytest.approx(straight.f_number * (m + 1 / straight.pupil_magnification), rel=1e-9)
        assert turned.working_f_number(m) == pytest.approx(traced, rel=1e-9)


KIT_LENS = Lens(
    name="50 mm", shortest_mm=50, longest_mm=50, widest_f_number=2.0, widest_f_number_long=2.0, minimum_focus_m=0.5,
    pupil_magnification=2.0,
)  # fmt: skip


def test_a_ring_turns_the_lens_of_the_kit():
    from tests.core.near import CONVERTER, RING

    turned = whole_optics(mounted_lens(KIT_LENS, ((RING, 0.0),)), 50, 8)
    assert (turned.f_number, turned.pupil_magnification) == (pytest.approx(4.0), pytest.approx(0.5))
    assert turned.working_f_number(1.0) == pytest.approx(8 * (1 + 1 / 2))
    # A converter behind doubles focal length and f-number; the cone is that of the lens alone, twice as slow.
    doubled = whole_optics(mounted_lens(KIT_LENS, ((CONVERTER, 0.0),)), 100, 16)
    assert doubled.working_f_number(2.0) == pytest.approx(2 * 8 * (1 + 1.0 / 2.0))


@pytest.mark.parametrize("dioptres", [2.0, 5.0])
@pytest.mark.parametrize("pupils", [0.6, 1.0, 1.8])
def test_a_close_up_lens_leaves_the_cone_that_the_extension_makes(dioptres, pupils):
    # The close-up lens is no part of the image side: from the lens to the sensor light sees N (1 + m0/p), m0 the
    # lens's own extension over its focal length.
    from tests.core.near import DIOPTRE

    lens = replace(KIT_LENS, pupil_magnification=pupils)
    whole = whole_optics(mounted_lens(lens, ((replace(DIOPTRE, dioptres=dioptres), 0.0),)), 50, 8)
    assert whole.focal_length_mm == pytest.approx(50 / (1 + 50 * dioptres / 1000))
    for m in (0.1, 0.5, 1.0):
        own = whole.focal_length_mm * (1 + m) / 50 - 1
        assert whole.working_f_number(m) == pytest.approx(8 * (1 + own / pupils), rel=1e-9)


@pytest.mark.parametrize("name", LENSES)
def test_slices_by_the_ring_leave_no_gap_that_rays_can_find(name):
    lens, o = LENSES[name], optics(LENSES[name])
    sharp = Sharpness(0.030, diffraction=False)
    near = 3.2 * o.focal_length_mm / 1000
    made = gapless_slices(o, sharp, near, near * 1.5, 0.1)
    assert len(made) > 3
    for point in np.linspace(near, near * 1.5, 200) * 1000:
        assert min(lens.disk(one.focus_m * 1000, point) for one in made) <= 0.030 * (1 + 1e-6)
    # At both ends of a slice the rays spread over just what is allowed.
    held = slice_at(o, sharp, near * 1.2)
    for end in (held.near_m, held.far_m):
        assert lens.disk(near * 1200, end * 1000) == pytest.approx(0.030, rel=1e-6)


@pytest.mark.parametrize("name", LENSES)
def test_perspective_is_drawn_from_the_entrance_pupil(name):
    lens, o, m = LENSES[name], optics(LENSES[name]), 0.5
    f = o.focal_length_mm
    s, front = f * (1 + 1 / m), lens.front_principal
    sensor, pupil_at = lens._image_behind(s - front), lens.entrance_pupil[0]

    def drawn(point: float) -> float:
        """Height on the sensor of a thing 1 mm tall, by its chief ray."""
        slope = -1.0 / (point - front + pupil_at)
        y, u = lens.through(1.0 + slope * (point - front), slope)
        return abs(y + u * sensor)

    assert drawn(s) == pytest.approx(m, rel=1e-9)
    from_pupil = float(subject_from_pupil_mm(f, m, o.pupil_magnification))
    assert drawn(s) / drawn(s + 12) == pytest.approx(float(size_ratio(from_pupil, 12.0)), rel=1e-9)
    taken = float(background_width_mm(FULL_FRAME.sensor_width_mm, m, from_pupil, 300.0))
    assert taken == pytest.approx(FULL_FRAME.sensor_width_mm / drawn(s + 300), rel=1e-9)
    assert o.perspective_mm(m) == pytest.approx(drawn(s) * from_pupil, rel=1e-9)


def test_settings_take_the_marked_numbers():
    marked = Settings(focal_length_mm=50, aperture_n=8, shutter_s=1, iso=100, focus_m=0.3)
    assert whole_optics(KIT_LENS, marked.focal_length_mm, marked.aperture_n) == Optics(50, 8, 2.0)
