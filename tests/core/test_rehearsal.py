"""The simulated camera against the model that it draws, and against other ways of drawing the same."""

from __future__ import annotations

import math
from dataclasses import replace

import cv2
import numpy as np
import pytest
from scipy.ndimage import fourier_shift

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.exposure.closing import graduated_stops
from lucid_ridge.core.exposure.tones import MID_TONE
from lucid_ridge.core.model.scene import Element, Technique
from lucid_ridge.core.optics.depth_of_field import WAVELENGTH_MM
from lucid_ridge.core.rehearsal.exposing import Stage, gains_of
from lucid_ridge.core.rehearsal.mishaps import KINDS, USUAL_SIZE, Mishap, possible, with_mishap
from lucid_ridge.core.rehearsal.pixels import blurred, kernel, line_kernel
from lucid_ridge.core.rehearsal.rehearsal import Rehearsal
from lucid_ridge.core.rehearsal.shots import levels_of, shots_of
from lucid_ridge.core.rehearsal.sight import Sight
from lucid_ridge.core.rehearsal.surfaces import Drift, Surface, grain_over
from lucid_ridge.core.rehearsal.textures import tile
from lucid_ridge.core.rehearsal.tints import LUMINANCE
from lucid_ridge.core.rehearsal.window import Window, picture_window
from lucid_ridge.core.state.state import build_state
from lucid_ridge.demo.compositions import COMPOSITIONS
from lucid_ridge.demo.valley import scene_of

from .scenes import random_scene


def _width(profile: np.ndarray) -> float:
    """Four deviations of a spread along a line: a disk's diameter, where it is one."""
    x = np.arange(len(profile))
    mean = (profile * x).sum() / profile.sum()
    return float(4 * math.sqrt((profile * (x - mean) ** 2).sum() / profile.sum()))


@pytest.mark.parametrize("diameter", [2, 3.3, 5, 9, 13.9, 14.1, 25, 37, 60, 90, 150])
@pytest.mark.parametrize("sigma", [0, 0.6, 2])
def test_a_point_is_spread_as_wide_as_its_disk_and_diffraction_in_squares(diameter, sigma):
    side = 4 * round(diameter + 12) // 8 * 8 + 16
    point = np.zeros((side, side), np.float32)
    point[side // 2, side // 2] = 1
    made = blurred(point, diameter, sigma)
    assert made.sum() == pytest.approx(1, rel=0.01)
    for axis in (0, 1):
        assert _width(made.sum(axis=axis)) == pytest.approx(math.hypot(diameter, 4 * sigma), rel=0.05)
        assert (made.sum(axis=axis) * np.arange(side)).sum() == pytest.approx(side // 2, abs=0.6 + diameter / 40)


def test_a_disk_is_flat_and_round():
    """A uniform disk holds as much within half its radius as the areas tell: a quarter."""
    made = kernel(40.0, 0.0)
    middle = made.shape[0] // 2
    y, x = np.mgrid[: made.shape[0], : made.shape[0]] - middle
    assert made[np.hypot(x, y) <= 10].sum() == pytest.approx(0.25, abs=0.01)
    assert made[np.hypot(x, y) > 21].sum() == pytest.approx(0, abs=1e-6)


def _edge_scene(distance_m: float, focus_m: float, aperture: float = 4.0, focal: float = 50.0):
    """A wide upright board whose left edge stands in the middle of the frame, brighter than what is behind it."""
    board = Element(
        id="board", name="board", role="subject", silhouette="boathouse", east_m=0.0, north_m=distance_m, base_m=0.0,
        width_m=0.4 * distance_m, depth_m=0.001, height_m=3, reading_ev100=12.0,
    )  # fmt: skip
    settings = replace(
        TARN_SCENE.composition.settings, focal_length_mm=focal, aperture_n=aperture, focus_m=focus_m, filters=()
    )
    composition = replace(
        TARN_SCENE.composition, elements=(board,), settings=settings, azimuth_deg=0.0, pitch_deg=0.0, technique=Technique(),
        camera_height_m=1.5, east_m=0.0, north_m=0.0, ground_m=0.0,
    )  # fmt: skip
    kit = replace(TARN_SCENE.kit, lens=replace(TARN_SCENE.kit.lens, longest_mm=200, minimum_focus_m=0.3))
    return build_state(replace(TARN_SCENE, composition=composition, kit=kit))


@pytest.mark.parametrize(
    ("distance", "focus", "aperture"), [(4, 2.5, 5.6), (4, 6, 2.8), (3, 3, 22), (6, 2.9, 16), (2, 9, 4)]
)
def test_an_edge_in_a_frame_is_as_soft_as_the_model_says(distance, focus, aperture):
    state = _edge_scene(distance, focus, aperture)
    shot = shots_of(state)[0]
    sight = Sight(state.geometry)
    pixels = state.scene.kit.body.pixels_across
    edge = min(x for x, _ in state.geometry.outlines(0)[0].points if 0.02 < x < 0.98)
    window = Window(edge - 200 / pixels, 0.45, 400 / pixels, 40 / pixels * 1.5, 400, 40)
    made = Stage(state, sight, window, {})
    layer = next(one for one in made.layers if one.index == 0)
    seen = made._seen(layer, shot, levels_of(state, shot))
    cover = np.zeros(window.shape, np.float32)
    cover[seen.row : seen.row + seen.light.shape[0], seen.column : seen.column + seen.light.shape[1]] = (
        1 - seen.through[..., 0]
    )
    spread = np.abs(np.diff(cover[20].astype(float)))[60:-60]
    pixel_mm = window.pixel_mm(state.geometry)
    optics = state.depth.optics
    defocus = float(optics.defocus_mm(focus, distance)) / pixel_mm
    sigma = 0.42 * WAVELENGTH_MM * optics.working_f_number(optics.magnification(focus)) / pixel_mm
    # The board's own slant is left out by taking one row; a pixel's width is in what is measured.
    assert _width(spread) == pytest.approx(math.sqrt(defocus**2 + 16 * sigma**2 + 16 / 12), rel=0.05)


def test_layers_laid_over_one_another_agree_with_light_gathered_point_by_point_over_the_aperture():
    """The other route: the picture from each of many points of the aperture, sharp, its layers shifted, and all of them added."""
    posts = tuple(
        Element(
            id=f"post{i}", name="post", role="middle", silhouette="wall", east_m=east, north_m=north, base_m=0,
            width_m=wide, depth_m=0.001, height_m=high, reading_ev100=ev,
        )
        for i, (east, north, wide, high, ev) in enumerate(
            [(-2.2, 14, 6, 2.2, 11.0), (1.5, 9, 3, 1.9, 12.4), (-0.5, 6, 1.2, 1.5, 10.4), (0.6, 4.6, 0.5, 1.7, 11.8)]
        )
    )  # fmt: skip
    state = _edge_scene(4, 30.0, 2.8)
    state = build_state(replace(state.scene, composition=replace(state.scene.composition, elements=posts)))
    shot = shots_of(state)[0]
    stage = Stage(state, Sight(state.geometry), picture_window(state.geometry, 700), {})
    layers = [one for one in stage.layers if one.index != -2]
    levels = levels_of(state, shot)
    made = stage._composed(shot, levels, tuple(layers))
    optics, pixel = state.depth.optics, stage.pixel_mm
    brute, samples = np.zeros_like(made, dtype=np.float64), 0
    side = 23
    for ay in (np.arange(side) + 0.5) / side * 2 - 1:
        for ax in (np.arange(side) + 0.5) / side * 2 - 1:
            if ax * ax + ay * ay > 1:
                continue
            canvas = np.zeros_like(made)
            for layer in layers:
                sign = 1 if layer.middle_m > shot.focus_m else -1
                radius = sign * float(optics.defocus_mm(shot.focus_m, layer.middle_m)) / pixel / 2
                bright = MID_TONE * 2 ** levels.of(layer.index)
                light = np.zeros((*stage.window.shape, 4), np.float32)
                light[layer.place] = (
                    np.concatenate([layer.colour * bright, np.ones_like(layer.alpha[..., None])], axis=2)
                    * layer.alpha[..., None]
                )
                shift = np.array([[1, 0, ax * radius], [0, 1, ay * radius]])
                light = cv2.warpAffine(
                    light, shift, light.shape[1::-1], flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
                )
                canvas = canvas * (1 - light[..., 3:]) + light[..., :3]
            brute += canvas
            samples += 1
    brute /= samples
    inner = (slice(20, -20), slice(20, -20))
    error = float(np.sqrt(np.mean((made[inner] - brute[inner]) ** 2)))
    largest = max(float(optics.defocus_mm(shot.focus_m, one.middle_m)) / pixel for one in layers)
    print(f"largest blur {largest:.1f} px")
    assert largest > 2
    assert 20 * math.log10(float(brute.max()) / error) >= 45


def _length(values: np.ndarray) -> float:
    """How far along the rows neighbours are alike: where the mean autocorrelation falls to a half."""
    centred = values - values.mean(axis=1, keepdims=True)
    spectrum = np.abs(np.fft.fft(centred, axis=1)) ** 2
    correlation = np.fft.ifft(spectrum, axis=1).real.mean(axis=0)
    correlation /= correlation[0]
    below = np.flatnonzero(correlation < 0.5)
    if not len(below):
        return math.inf
    k = int(below[0])
    return k - 1 + (correlation[k - 1] - 0.5) / (correlation[k - 1] - correlation[k])


def test_a_tile_repeats_without_a_seam_and_changes_no_mean():
    for grain in ("stone", "grass", "water", "cloud", "leaf", "smooth", "turf"):
        for fine in (False, True):
            levels = tile(grain, fine)
            assert abs(levels[0].mean()) < 1e-4 and levels[0].std() == pytest.approx(1, rel=1e-3)
            seam = np.abs(levels[0][:, 0] - levels[0][:, -1]).mean()
            assert seam < 1.5 * np.abs(np.diff(levels[0], axis=1)).mean()


def test_water_averaged_over_its_way_is_the_mean_of_many_moments():
    """The other route: the tile at many moments of its way, moved there by SciPy, added."""
    way = (0.13, -0.07)
    made, at_rest = tile("water", False, way)[0], np.fft.fft2(tile("water")[0])
    texels = at_rest.shape[0]
    moments = [
        np.fft.ifft2(fourier_shift(at_rest, (way[1] * t * texels, way[0] * t * texels))).real
        for t in (np.arange(60) + 0.5) / 60
    ]
    assert np.abs(made - np.mean(moments, axis=0)).max() < 0.01


def test_water_goes_on_between_the_frames_of_a_sequence():
    """What is here at the start of a frame that begins two seconds later was two seconds' travel up the stream before."""
    u, v = np.meshgrid(np.arange(900, dtype=np.float32) / 300, np.arange(200, dtype=np.float32) / 300)
    surface = Surface(u=u, v=v, depth_m=4.0, frame_width=1.0, pixel=1 / 1600)
    upstream = Surface(u=u - np.float32(0.5), v=v + np.float32(0.2), depth_m=4.0, frame_width=1.0, pixel=1 / 1600)
    later = grain_over("water", surface, Drift(0.25, -0.1, 0.02, 2.0))
    before = grain_over("water", upstream, Drift(0.25, -0.1, 0.02, 0.0))
    assert np.abs(later - before).max() < 0.05 * before.std()


def test_frozen_water_and_that_of_a_second_and_of_half_a_minute_differ_as_their_travel_says():
    """Across the picture neighbours are alike as far as they went: a box as long as the travel halves in its middle."""
    u, v = np.meshgrid(np.arange(1600, dtype=np.float32) / 400, np.arange(300, dtype=np.float32) / 400)
    surface = Surface(u=u, v=v, depth_m=4.0, frame_width=1.0, pixel=1 / 1600)
    frozen, second, half_minute = (
        grain_over("water", surface, Drift(0.4, 0.0, seconds, 0.0)) for seconds in (1 / 1000, 1.0, 30.0)
    )
    travel_px = 0.4 * 400
    short, middle, long = _length(frozen), _length(second), _length(half_minute)
    assert short < 0.5 * travel_px
    assert middle == pytest.approx(travel_px / 2, rel=0.4)
    assert middle > 1.5 * short
    # After twelve metres only what lies along the way is left.
    assert long > 3 * middle or half_minute.std(axis=1).max() < 0.02
    assert half_minute.std() < second.std() < frozen.std()


@pytest.mark.parametrize("name", list(COMPOSITIONS))
def test_what_is_seen_of_each_thing_is_as_bright_as_the_account_says(name):
    _levels_agree(build_state(scene_of(name)))


@pytest.mark.parametrize("seed", range(12))
def test_so_it_is_in_scenes_drawn_at_random(seed):
    _levels_agree(build_state(random_scene(seed)))


def _levels_agree(state):
    shot = shots_of(state)[0]
    sight = Sight(state.geometry)
    stage = Stage(
        state, sight, Window(0, 0, 1, 1, 600, round(600 / state.geometry.aspect)), gains_of(state, sight, shot)
    )
    # Sharp and at rest: what blurs and sways mixes with its neighbours.
    shot = replace(shot, aperture_n=200.0)
    levels = levels_of(state, shot)
    canvas = np.zeros((*stage.window.shape, 3), np.float32)
    seen = np.full(stage.window.shape, -9)
    for layer in stage.layers:
        colour = layer.colour
        if layer.kind == "water":
            colour = stage._water(layer, shot)
        elif layer.kind == "mirror":
            colour = stage._mirror(layer, shot, levels) / stage.gain(layer.index)
        bright = MID_TONE * 2 ** levels.of(layer.index) * stage.gain(layer.index)
        alpha = layer.alpha[..., None]
        canvas[layer.place] = canvas[layer.place] * (1 - alpha) + colour * bright * alpha
        seen[layer.place][layer.alpha > 0.99] = layer.index
        seen[layer.place][(layer.alpha > 0.01) & (layer.alpha <= 0.99)] = -9
    checked = 0
    for i, element in enumerate(state.geometry.elements):
        mask = seen == i
        if mask.sum() < 150:
            continue
        stops = math.log2(float((canvas[mask] @ LUMINANCE).mean()) / MID_TONE)
        # Few pixels of a thing show few of its features.
        near = 0.1 if mask.sum() > 3000 else 0.25
        assert stops == pytest.approx(levels.elements[i], abs=near), element.name
        checked += 1
    assert (
        checked
        or not state.geometry.elements
        or not any(state.geometry.seen(i) for i in range(len(state.geometry.elements)))
    )


def test_levels_are_those_of_the_range_with_graduated_filters_put_on_in_the_picture():
    state = build_state(TARN_SCENE)
    levels = levels_of(state, shots_of(state)[0])
    ledger = dict(state.range.element_stops)
    for i, element in enumerate(state.geometry.elements):
        if element.id in ledger:
            behind = graduated_stops(state.scene, float(state.geometry.middle_y[i]))
            assert levels.elements[i] - behind == pytest.approx(ledger[element.id], abs=0.12)


def test_the_same_seed_gives_the_same_bytes_and_another_does_not():
    state = build_state(scene_of("stones"))
    first, again, other = (Rehearsal(state, 400, seed) for seed in (5, 5, 6))
    pictures = [one.frame(one.shots[0]).picture for one in (first, again, other)]
    assert np.array_equal(pictures[0], pictures[1])
    assert not np.array_equal(pictures[0], pictures[2])


def test_histograms_count_every_pixel_once():
    rehearsal = Rehearsal(build_state(scene_of("stones")), 400)
    frame = rehearsal.frame(rehearsal.shots[0])
    rows, columns, _ = frame.picture.shape
    assert frame.histogram.sum(axis=1).tolist() == [rows * columns] * 3
    assert 0 <= frame.clipped_share <= 1 and 0 <= frame.blocked_share <= 1


def test_a_piece_at_the_sensors_pixels_is_the_picture_enlarged():
    rehearsal = Rehearsal(build_state(scene_of("stones")), 1200)
    shot = rehearsal.shots[0]
    whole = rehearsal.light(shot)
    at = (0.5, 0.72)
    piece = rehearsal.piece(shot, at)
    close = rehearsal.light(shot, piece)
    corners = rehearsal.window.to_pixels(
        np.array([[piece.left, piece.top], [piece.left + piece.width, piece.top + piece.height]])
    )
    (x0, y0), (x1, y1) = np.round(corners).astype(int)
    small = cv2.resize(close, (int(x1 - x0), int(y1 - y0)), interpolation=cv2.INTER_AREA) @ LUMINANCE
    same = whole[y0:y1, x0:x1] @ LUMINANCE
    assert small.mean() == pytest.approx(float(same.mean()), rel=0.06)
    assert np.corrcoef(small.ravel(), same.ravel())[0, 1] > 0.8


def test_a_missed_slice_leaves_something_soft_that_the_whole_stack_does_not():
    technique = Technique(slices="gapless")
    settings = replace(TARN_SCENE.composition.settings, aperture_n=4.0)
    state = build_state(
        replace(TARN_SCENE, composition=replace(TARN_SCENE.composition, technique=technique, settings=settings))
    )
    assert len(state.depth.slices) > 3
    whole = Rehearsal(state, 500)
    shots = whole.merged()
    kind = Mishap(kind="missed_slice", frame=next(one.number for one in shots if one.slice_at == 1), size=1)
    lacking = Rehearsal(state, 500, mishaps=[kind])
    _, soft = whole._soft(whole.merged(), whole.window)
    _, more = lacking._soft(lacking.merged(), lacking.window)
    assert set(soft) <= set(more) and set(more) != set(soft)


def test_every_fault_can_be_put_in_somewhere_and_changes_frames():
    met = set()
    for name in COMPOSITIONS:
        state = build_state(scene_of(name))
        shots = shots_of(state)
        for kind in possible(state, shots):
            changed = with_mishap(state, shots, Mishap(kind=kind, frame=min(2, len(shots)), size=USUAL_SIZE[kind]))
            assert len(changed) == len(shots)
            if changed != shots:
                met.add(kind)
    assert met >= set(KINDS) - {"clipped_red"}


def test_a_camera_that_moved_is_found_again_by_phase_correlation():
    """The check of the Review: the shift between two frames is the one that was put in."""
    state = build_state(scene_of("valley"))
    clean = Rehearsal(state, 800)
    mishap = Mishap(kind="camera_moved", frame=2, size=40)
    moved = Rehearsal(state, 800, mishaps=[mishap])
    a, b = (one.light(one.shots[1])[..., 1] for one in (clean, moved))
    (dx, dy), _ = cv2.phaseCorrelate(
        np.sqrt(a).astype(np.float64), np.sqrt(b).astype(np.float64), cv2.createHanningWindow(a.shape[::-1], cv2.CV_64F)
    )
    wide = moved.window.across / moved.window.width
    shift = moved.shots[1].wrong.shift
    assert (dx, dy) == pytest.approx((shift[0] * wide, shift[1] * wide), abs=0.4)


def test_a_line_kernel_is_as_long_as_the_way():
    for dx, dy in ((6, 0), (0, 9.5), (5, -7)):
        made = line_kernel(dx, dy)
        y, x = np.mgrid[: made.shape[0], : made.shape[1]]
        variance = ((x - x.mean()) ** 2 * made).sum() + ((y - y.mean()) ** 2 * made).sum()
        # An even line's variance is a twelfth of its length squared; sharing out between pixels adds a little.
        assert math.sqrt(12 * variance) == pytest.approx(math.hypot(dx, dy), rel=0.15)


def test_frames_are_brought_to_one_size_before_they_are_merged():
    """Focusing makes the picture larger; merged unaligned every edge would stand there twice."""
    technique = Technique(slices="manual", manual_foci_m=(0.8, 40.0))
    state = build_state(replace(TARN_SCENE, composition=replace(TARN_SCENE.composition, technique=technique)))
    rehearsal = Rehearsal(state, 700)
    near, far = rehearsal.merged()
    a, b = (rehearsal.frame(one) for one in (near, far))
    aligned = [rehearsal._aligned(one.picture, one.shot, rehearsal.window) for one in (a, b)]

    def apart(one, other):
        corner = (slice(60, 260), slice(-330, -30))
        grey = [cv2.cvtColor(p[corner], cv2.COLOR_RGB2GRAY).astype(np.float64) for p in (one, other)]
        return float(np.hypot(*cv2.phaseCorrelate(*grey)[0]))

    assert apart(a.picture, b.picture) > 2
    assert apart(*aligned) < 1
