"""Ways, layers and what they are made of: an independent brute force, properties, and plain answers."""

from __future__ import annotations

import itertools
import math
from dataclasses import replace
from datetime import timedelta
from functools import lru_cache

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.changes.kinds import PutOn, SetBulb, SetTo, TakeBracket, TakeLayers, TakeSlices
from lucid_ridge.core.model.wanted import LightWish
from lucid_ridge.core.state.layers import layer_brightness_stops, layer_reaching
from lucid_ridge.core.state.subject_motion import foliage_freezing_s, look_window
from lucid_ridge.core.stops.filters import Filter, FilterInUse
from lucid_ridge.core.stops.scales import on_third
from lucid_ridge.core.ways.choose import find_wanted
from lucid_ridge.core.ways.search import BEST_APERTURES, LEAST_BLUR_PX, LEAST_SECONDS, LEAST_TRAVEL_PX, explore
from lucid_ridge.demo.compositions import BECK
from lucid_ridge.reports.evaluate import changed_state, evaluate
from lucid_ridge.reports.explain import explain
from lucid_ridge.reports.light.year import light_windows
from lucid_ridge.reports.sequence.build import build_sequence
from lucid_ridge.reports.ways.report import ways
from lucid_ridge.reports.ways.why import why_not

from .conftest import changed
from .test_technique import figure_keys

BECK_SCENE = replace(TARN_SCENE, composition=BECK)


def small(scene, nd, isos, look, foliage, hold):
    """A small problem: a lens of few apertures, a few ISO marks, one density filter."""
    body = replace(scene.kit.body, highest_iso=on_third(isos, "iso") * 100)
    lens = replace(
        scene.kit.lens, widest_f_number=8.0, widest_f_number_long=8.0, narrowest_f_number=on_third(24, "aperture")
    )
    filters = (Filter(id="nd", name=f"ND {nd}", kind="nd", stops=float(nd)),)
    made = changed(
        scene,
        settings={"aperture_n": 8.0, "filters": (), "iso": 100.0},
        wants={"water_look": look, "sharp_foliage": foliage, "hold_range": hold, "highest_iso": 100 * 2 ** (isos / 3)},
        locks=("focal_length",),
        technique={"layers": (), "slices": "one", "bracket": "none"},
    )
    return replace(made, kit=replace(scene.kit, body=body, lens=lens, filters=filters))


def costs_of(state):
    """What the issue of the search counts, from the sequence and the state alone."""
    sequence, body = build_sequence(state), state.scene.kit.body
    pitch = body.sensor_width_mm / body.pixels_across
    critical = [
        i
        for i, e in enumerate(state.scene.composition.elements)
        if e.sharp and not math.isnan(state.geometry.near_m[i])
    ]
    blur = max(float(state.depth.worse.total_mm[i]) for i in critical)
    layers = state.scene.composition.technique.layers
    leaves = next((one.shutter_s for one in layers if one.purpose == "foliage"), state.exposure.settings.shutter_s)
    travel = max(
        (
            e.speed_m_s * leaves * state.depth.image_distance_mm / max(float(state.geometry.near_m[i]), 0.01) / pitch
            for i, e in enumerate(state.scene.composition.elements)
            if e.motion == "foliage" and not math.isnan(state.geometry.near_m[i])
        ),
        default=0.0,
    )
    n = state.exposure.settings.aperture_n
    return (
        len(sequence.frames),
        max(sequence.total.value, LEAST_SECONDS),
        max(blur / pitch, LEAST_BLUR_PX),
        max([state.exposure.settings.iso, *(one.iso for one in layers)]),
        max(travel, LEAST_TRAVEL_PX),
        max(BEST_APERTURES[0] / n, n / BEST_APERTURES[1], 1.0),
    )


def brute_force(state):
    """Every technique of a small problem by itself, judged by its own tensions: nothing of the search is used."""
    found = []
    apertures = [on_third(k, "aperture") for k in range(18, 25)]
    isos = [
        100 * 2 ** (k / 3) for k in range(round(3 * math.log2(state.scene.composition.wants.highest_iso / 100)) + 1)
    ]
    kits = [(), (FilterInUse(filter_id="nd"),)]
    for aperture, iso, uses, slices, bracket, leaves in itertools.product(
        apertures, isos, kits, ("one", "gapless"), ("none", "range"), (False, True)
    ):
        if leaves and not state.scene.composition.wants.sharp_foliage:
            continue
        changes = [
            SetTo(setting="aperture", value=aperture), SetTo(setting="iso", value=iso), PutOn(filters=uses),
            TakeSlices(mode=slices), TakeBracket(mode=bracket), TakeLayers(),
        ]  # fmt: skip
        made = changed_state(state.scene, changes)
        if leaves:
            layer = layer_reaching(made, "foliage", foliage_freezing_s(made))
            if layer is None:
                continue
            changes.append(TakeLayers(layers=(layer,)))
        changes.append(SetBulb(on=made.exposure.settings.shutter_s > 36))
        made = changed_state(state.scene, changes)
        if made.depth.slices_problem or made.range.bracket_problem or find_wanted(made):
            continue
        found.append(costs_of(made))
    return found


PROBLEMS = [
    (TARN_SCENE, 3, 4, "texture", False, True),
    (TARN_SCENE, 6, 3, "soft", False, True),
    (TARN_SCENE, 10, 2, "glass", False, False),
    (BECK_SCENE, 3, 15, "texture", True, False),
    (BECK_SCENE, 6, 12, "any", True, False),
    (BECK_SCENE, 3, 3, "freeze", False, False),
]


@lru_cache(maxsize=1)
def leaving_light():
    """The tarn a minute before the light that is wanted goes: what takes longer is no way."""
    wished = changed(TARN_SCENE, light_wish=LightWish(lowest_deg=4.0, highest_deg=6.0))
    end = next(w for c in light_windows(changed_state(wished)).today if (w := c.end_utc).hour < 12)
    return changed(wished, moment_utc=end - timedelta(seconds=60))


# A far wall behind the beck is blurred a little at best: asked for nearly all that the widest aperture gives.
SMOOTH = changed(BECK_SCENE, wants={"smooth_background": 0.0009})
PROBLEMS += [
    (leaving_light(), 3, 4, "any", False, True),
    (leaving_light(), 6, 2, "soft", False, True),
    (SMOOTH, 3, 3, "any", False, False),
]


@pytest.mark.parametrize("problem", PROBLEMS)
def test_ways_against_a_brute_force(problem):
    state = changed_state(small(*problem))
    every, report = brute_force(state), ways(state)
    assert report.found == bool(every)
    for way in report.ways if report.found else ():
        made = changed_state(state.scene, way.changes)
        assert not find_wanted(made)
        mine = costs_of(made)
        for other in every:
            # None is beaten: as good in everything and better in something, by more than rounding.
            beaten = all(o <= m * 1.001 for o, m in zip(other, mine, strict=True)) and any(
                o < m * 0.99 for o, m in zip(other, mine, strict=True)
            )
            assert not beaten, (way.name, mine, other)
        for other in report.ways:
            if other is not way:
                theirs = costs_of(changed_state(state.scene, other.changes))
                assert any(a < b * 0.9999 for a, b in zip(mine, theirs, strict=True))
    if every:
        best = [min(column) for column in zip(*every, strict=True)]
        kept = [costs_of(changed_state(state.scene, way.changes)) for way in report.ways]
        # The best of each cost is shown, or something within a tenth of it.
        for k, column in enumerate(best):
            assert min(one[k] for one in kept) <= column * 1.21


def test_ways_are_the_same_every_time_and_keep_the_locks():
    state = changed_state(BECK_SCENE)
    first, second = ways(state), ways(changed_state(BECK_SCENE))
    assert [w.changes for w in first.ways] == [w.changes for w in second.ways]
    assert 2 <= len(first.ways) <= 6
    locked = changed(BECK_SCENE, locks=("focal_length", "aperture", "iso"), settings={"aperture_n": 8.0})
    for way in ways(changed_state(locked)).ways:
        settings_then = changed_state(locked, way.changes).scene.composition.settings
        assert (settings_then.aperture_n, settings_then.iso) == (8.0, locked.composition.settings.iso)


def test_the_beck_in_wind_is_taken_with_a_layer():
    state = changed_state(BECK_SCENE)
    report = ways(state)
    assert report.found
    for way in report.ways:
        made = changed_state(BECK_SCENE, way.changes)
        assert [one.purpose for one in made.scene.composition.technique.layers] == ["foliage"]
        low, high = look_window(made)
        assert low / 1.13 <= made.exposure.settings.shutter_s <= high * 1.13
        # Bound to a moment, so taken first, before density goes on.
        first = way.sequence.frames[0]
        assert first.layer == "foliage" and first.exposure_s <= foliage_freezing_s(made) * 1.13


def test_nothing_owned_everything_locked_and_wants_that_contradict():
    bare = replace(TARN_SCENE, kit=replace(TARN_SCENE.kit, filters=()))
    glass = ways(changed_state(changed(bare, settings={"filters": ()}, wants={"water_look": "glass"})))
    assert not glass.found and "Without the look of the water there are ways." in glass.relax
    assert len(glass.ways) == 1 and glass.ways[0].broken
    every = ("focal_length", "aperture", "shutter", "iso", "focus", "filters")
    locked = ways(changed_state(changed(TARN_SCENE, locks=every)))
    assert not locked.found and "Locked are" in locked.sentence
    against = changed(
        BECK_SCENE, wants={"water_look": "glass", "sharp_foliage": True, "highest_iso": 100.0, "most_frames": 1}
    )
    told = ways(changed_state(against))
    assert not told.found and told.relax and told.ways[0].broken


def test_zero_light_is_answered():
    night = changed(TARN_SCENE, moment_utc=TARN_SCENE.composition.moment_utc.replace(hour=0), reading=None)
    report = ways(changed_state(night))
    assert report.sentence and report.ways


def test_why_not_one_frame():
    state = changed_state(TARN_SCENE)
    told = why_not(state, (SetTo(setting="aperture", value=16.0), TakeSlices(mode="one"), TakeBracket(mode="none")))
    assert told.broken and "break" in told.verdict
    assert any("soft" in one.title for one in told.broken)
    fine = ways(state).ways[0]
    again = why_not(state, fine.changes)
    assert not again.broken and again.verdict.startswith("It gives all that you want.")


# --- layers ----------------------------------------------------------------------------------------


@given(st.floats(0.001, 0.5), st.integers(0, 3))
@settings(max_examples=40)
def test_a_layer_is_as_bright_as_the_base(slowest, density):
    uses = {
        0: (),
        1: (FilterInUse(filter_id="nd3"),),
        2: (FilterInUse(filter_id="nd6"),),
        3: (FilterInUse(filter_id="nd3"), FilterInUse(filter_id="nd6")),
    }
    state = changed_state(changed(TARN_SCENE, wants={"highest_iso": 25600.0}), [PutOn(filters=uses[density])])
    layer = layer_reaching(state, "foliage", slowest)
    if layer is not None:
        assert abs(layer_brightness_stops(state, layer)) <= 1 / 6 + 1e-6
        assert layer.shutter_s <= slowest * 2 ** (1 / 3) + 1e-9
        assert layer.iso >= 99 and not layer.filters


def test_the_frozen_wave_is_asked_for_and_mended_by_a_layer():
    scene = changed(
        TARN_SCENE, wants={"frozen_wave": True, "highest_iso": 25600.0}, settings={"aperture_n": 2.8284271247461903}
    )
    bright = replace(
        scene, composition=replace(scene.composition, reading=replace(scene.composition.reading, shutter_s=1 / 64))
    )
    found = next(t for t in evaluate(bright).tensions if t.kind == "frozen_wave")
    assert found.mend is not None and "A layer for the wave" in found.mend.label
    made = evaluate(bright, found.mend.changes)
    assert not [t for t in made.tensions if t.kind == "frozen_wave"]
    frame = made.sequence.frames[0]
    assert frame.layer == "wave" and "Wait for the wave" in frame.actions
    assert made.sequence.layer_count == 1


def test_density_goes_on_after_the_layer():
    state = changed_state(BECK_SCENE, [PutOn(filters=(FilterInUse(filter_id="pol"), FilterInUse(filter_id="nd3")))])
    layer = layer_reaching(state, "foliage", foliage_freezing_s(state))
    assert layer is not None
    first, base = build_sequence(changed_state(state.scene, [TakeLayers(layers=(layer,))])).frames[:2]
    assert any("no density yet" in action for action in first.actions)
    assert "Put on ND 3 stops, after focusing" in base.actions
    # What is put on, focused and waited for is the same as without the layer, and the layer's own time more.
    alone = build_sequence(state)
    both = build_sequence(changed_state(state.scene, [TakeLayers(layers=(layer,))]))
    assert both.total.value - alone.total.value == pytest.approx(
        2 + state.scene.composition.settings.timer_s + layer.shutter_s + 1, abs=0.01
    )
    assert [use.filter_id for use in layer.filters] == ["pol"]


def test_what_a_way_costs_explains_itself():
    for way in ways(changed_state(BECK_SCENE)).ways:
        made = changed_state(BECK_SCENE, way.changes)
        for key in set(figure_keys(way)) - {""}:
            assert explain(made, key).source


def test_the_space_counts_what_it_judges():
    space = explore(changed_state(small(*PROBLEMS[0])))
    # Seven apertures, five ISO marks, with and without the filter, two foci and slices, with and without a bracket.
    assert space.broken.shape[1] % (7 * 5 * 2) == 0
    assert space.index.shape == (space.broken.shape[1], 6)


def test_a_drawer_full_of_filters_is_searched_in_time_and_memory():
    many = tuple(Filter(id=f"n{k}", name=f"ND {k / 3:.2f}", kind="nd", stops=k / 3) for k in range(1, 38))
    lens = replace(TARN_SCENE.kit.lens, widest_f_number=0.5, widest_f_number_long=0.5, narrowest_f_number=256.0)
    body = replace(TARN_SCENE.kit.body, base_iso=1.0, highest_iso=10_000_000.0)
    kit = replace(TARN_SCENE.kit, lens=lens, body=body, filters=(*TARN_SCENE.kit.filters, *many)[:40])
    wide = changed(replace(TARN_SCENE, kit=kit), wants={"highest_iso": 10_000_000.0}, locks=())
    space = explore(changed_state(wide))
    assert space.broken.shape[1] < 1_000_000
    assert len({one.stops for one in space.filters}) > 20
