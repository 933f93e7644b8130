"""What goes wrong on purpose leaves the traces by which it is told afterwards, each found by a check of its own."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise

import cv2
import numpy as np
import pytest

from lucid_ridge.core.model.scene import Technique
from lucid_ridge.core.rehearsal.mishaps import USUAL_SIZE, Mishap
from lucid_ridge.core.rehearsal.rehearsal import Rehearsal
from lucid_ridge.core.state.state import build_state
from lucid_ridge.demo.valley import scene_of

LONGEST_PX = 700


def _bracketed(name: str = "boathouse"):
    """A scene without water that moves, of three frames."""
    scene = scene_of(name)
    still = tuple(replace(e, motion="still" if e.motion == "water" else e.motion) for e in scene.composition.elements)
    technique = Technique(bracket="manual", manual_offsets_stops=(-0.33, 0.0, 0.33))
    return build_state(replace(scene, composition=replace(scene.composition, elements=still, technique=technique)))


def _pair(state, kind, frame=2, size=None, longest=LONGEST_PX):
    mishap = Mishap(kind=kind, frame=frame, size=size or USUAL_SIZE[kind])
    return Rehearsal(state, longest), Rehearsal(state, longest, mishaps=[mishap])


def _grey(light: np.ndarray) -> np.ndarray:
    return np.sqrt(np.maximum(light @ np.array([0.2126, 0.7152, 0.0722], np.float32), 0)).astype(np.float64)


def _shift(one: np.ndarray, other: np.ndarray) -> tuple[float, float]:
    window = cv2.createHanningWindow(one.shape[::-1], cv2.CV_64F)
    return cv2.phaseCorrelate(one, other, window)[0]


def _power_along(grey: np.ndarray, angle: float) -> float:
    """Power of the waves that run within some degrees of a direction; a line lets pass what runs across it."""
    inner = grey * np.outer(np.hanning(grey.shape[0]), np.hanning(grey.shape[1]))
    power = np.abs(np.fft.fft2(inner)) ** 2
    fy, fx = np.fft.fftfreq(grey.shape[0])[:, None], np.fft.fftfreq(grey.shape[1])[None, :]
    off = np.abs((np.arctan2(fy, fx) - angle + math.pi / 2) % math.pi - math.pi / 2)
    size = np.hypot(fx, fy)
    return float(power[(off < math.radians(10)) & (size > 0.06) & (size < 0.25)].sum())


def _fine_over_coarse(grey: np.ndarray) -> float:
    fine = grey - cv2.GaussianBlur(grey, (0, 0), 1.0)
    coarse = cv2.GaussianBlur(grey, (0, 0), 2.0) - cv2.GaussianBlur(grey, (0, 0), 4.0)
    return float((fine**2).mean() / (coarse**2).mean())


def test_a_knock_shifts_every_frame_from_then_on_and_none_before():
    state = _bracketed()
    clean, wrong = _pair(state, "camera_moved", size=60)
    wide = clean.window.across / clean.window.width
    for a, b in zip(clean.shots, wrong.shots, strict=True):
        found = _shift(_grey(clean.light(a)), _grey(wrong.light(b)))
        put_in = tuple(v * wide for v in b.wrong.shift)
        assert found == pytest.approx(put_in, abs=0.5)
        assert (put_in == (0.0, 0.0)) == (b.number < 2)


def test_a_sinking_tripod_shifts_each_frame_by_as_much_again():
    _, wrong = _pair(_bracketed(), "sinking", frame=1, size=40)
    lights = [_grey(wrong.light(one)) for one in wrong.shots]
    # Each is as bright as the first, so that the bracket is no difference.
    lights = [one / one.mean() for one in lights]
    steps = [_shift(a, b)[1] for a, b in pairwise(lights)]
    assert all(step < -1 for step in steps)
    assert steps[0] == pytest.approx(steps[1], abs=0.6)


def test_shake_takes_detail_along_its_own_direction_and_hardly_across():
    clean, wrong = _pair(_bracketed(), "shake", size=90)
    way = wrong.shots[1].wrong.shake
    angle = math.atan2(way[1], way[0])
    before, after = (_grey(one.light(one.shots[1])) for one in (clean, wrong))
    along, across = (_power_along(after, a) / _power_along(before, a) for a in (angle, angle + math.pi / 2))
    assert along < 0.3 * across and across > 0.5


def test_a_focus_that_is_off_takes_fine_detail_in_all_directions():
    state = build_state(scene_of("sundew"))
    number = len(state.depth.slices) // 2
    clean, wrong = _pair(state, "focus_off", frame=number, size=6)
    before, after = (_grey(one.light(one.shots[number - 1])) for one in (clean, wrong))
    assert wrong.shots[number - 1].focus_m < clean.shots[number - 1].focus_m
    assert _fine_over_coarse(after) < 0.9 * _fine_over_coarse(before)


def test_a_missed_slice_is_the_one_before_once_more():
    state = build_state(scene_of("sundew"))
    _, wrong = _pair(state, "missed_slice", frame=5)
    fourth, fifth, sixth = (wrong.light(wrong.shots[k]) for k in (3, 4, 5))
    # But for the light, which goes on.
    assert np.abs(fourth - fifth).max() < 0.05 * np.abs(fifth - sixth).max()


def test_an_old_exposure_is_darker_by_what_the_light_fell_from_then_on():
    clean, wrong = _pair(_bracketed(), "stale_exposure", size=1.3)
    falls = [
        float(np.median(np.log2(wrong.light(b)[..., 1] / clean.light(a)[..., 1])))
        for a, b in zip(clean.shots, wrong.shots, strict=True)
    ]
    assert falls == pytest.approx([0, -1.3, -1.3], abs=0.02)


def test_a_forgotten_polariser_leaves_the_picture_as_much_brighter_as_it_costs():
    state = build_state(scene_of("stones"))
    cost = next(f.stops for f in state.scene.kit.filters if f.kind == "polariser")
    clean, wrong = _pair(state, "forgotten_polariser", frame=1)
    brighter = np.log2(wrong.light(wrong.shots[0])[..., 1] / clean.light(clean.shots[0])[..., 1])
    # Dry things by the cost alone; what shines or is sky gains more.
    assert float(np.percentile(brighter, 10)) == pytest.approx(cost, abs=0.2)
    assert float(np.percentile(brighter, 90)) > cost + 0.3


def test_a_gust_moves_the_leaves_and_nothing_else():
    state = build_state(scene_of("stones"))
    clean, wrong = _pair(state, "gust", frame=1, size=8)
    differ = np.abs(_grey(clean.light(clean.shots[0])) - _grey(wrong.light(wrong.shots[0])))
    bracken = next(i for i, e in enumerate(state.geometry.elements) if e.motion == "foliage")
    box = np.concatenate([np.array(o.points) for o in state.geometry.outlines(bracken)])
    low, high = (clean.window.to_pixels(p) for p in (box.min(axis=0), box.max(axis=0)))
    mask = np.zeros(differ.shape, bool)
    reach = 60
    mask[max(int(low[1]) - reach, 0) : int(high[1]) + reach, max(int(low[0]) - reach, 0) : int(high[0]) + reach] = True
    assert differ[mask].max() > 0.02 > 10 * differ[~mask].max()


def test_exposed_by_the_overall_brightness_what_is_warm_fills_its_red_channel_first():
    scene = scene_of("sundew")
    warm = tuple(replace(e, warm=True) if e.role == "subject" else e for e in scene.composition.elements)
    state = build_state(replace(scene, composition=replace(scene.composition, elements=warm)))
    clean, wrong = _pair(state, "clipped_red", frame=1, size=2.0)
    before, after = (one.frame(one.shots[0]).picture for one in (clean, wrong))
    full = [(p >= 254).mean(axis=(0, 1)) for p in (before, after)]
    assert full[1][0] > full[0][0] + 0.001
    assert full[1][0] > 3 * max(full[1][1], full[1][2])
