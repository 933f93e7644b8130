"""What the screens draw: positions between 0 and 1, tones, words, and agreement between views."""

from __future__ import annotations

import itertools
import math
from dataclasses import fields, replace
from datetime import UTC, datetime, timedelta
from typing import get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.changes.camera_moves import MoveElement
from lucid_ridge.core.changes.kinds import PutOn, TakeBracket, TakeSlices
from lucid_ridge.core.framing.crop import Crop
from lucid_ridge.core.stops.filters import FilterInUse
from lucid_ridge.reports.evaluate import evaluate
from lucid_ridge.reports.figures import (
    degrees_text,
    distance_text,
    duration_text,
    micrometres_text,
    significant,
    stops_text,
    stops_words,
)
from lucid_ridge.reports.workbench import Bench, workbench_report

from .conftest import changed
from .scenes import random_scene


@pytest.fixture(scope="module")
def made():
    return evaluate(TARN_SCENE)


@pytest.mark.parametrize(
    ("metres", "metric", "feet"),
    [(0.012, "12.0 mm", "0.472 in"), (0.62, "0.62 m", "2 ft"), (1.9, "1.90 m", "6 ft 3 in"), (148, "148 m", "486 ft"),
     (3900, "3.9 km", "2.4 mi"), (math.inf, "∞", "∞")],
)  # fmt: skip
def test_distances_read_as_photographers_say_them(metres, metric, feet):
    assert distance_text(metres) == metric
    assert distance_text(metres, "feet") == feet


@pytest.mark.parametrize(
    ("stops", "text"),
    [
        (-4 / 3, "−1⅓"),
        (10, "+10"),
        (0, "0"),
        (1 / 6, "+⅙"),
        (-0.5, "−½"),
        (9.966, "+9.97"),
        (-1e-9, "0"),
        (math.inf, "∞"),
    ],
)
def test_stops_read_in_sixths_with_a_true_minus(stops, text):
    assert stops_text(stops) == text


def test_words_for_amounts():
    assert [stops_words(s) for s in (2 / 3, 1, 4 / 3)] == ["⅔ stop", "1 stop", "1⅓ stops"]
    assert [duration_text(s) for s in (0.5, 9.94, 59.6, 128, 3661)] == [
        "0.50 s",
        "9.9 s",
        "1 min 00 s",
        "2 min 08 s",
        "1 h 01 min",
    ]
    assert [micrometres_text(mm) for mm in (0.0288, 0.0052, 12.0)] == ["29 µm", "5.2 µm", "12 mm"]
    assert [degrees_text(a) for a in (-0.4, -8, 40.4)] == ["0°", "−8°", "40°"]


@given(st.floats(1e-6, 1e6), st.integers(1, 5))
def test_significant_digits_keep_the_value(value, digits):
    assert float(significant(value, digits)) == pytest.approx(value, rel=0.6 * 10 ** (1 - digits))


def test_far_elements_are_drawn_first_and_paler(made):
    drawn = made.framing.elements
    assert drawn[0].name == "eastern sky"
    assert drawn[-1].name == "boulder edge"
    tones = {e.id: e.tone for e in drawn}
    assert tones["skarn"] < tones["far-shore"] < tones["boulder"]


def test_what_is_soft_is_told_alike_everywhere(made):
    view = {e.id for e in made.framing.elements if e.soft}
    bench = {e.id for e in made.depth.elements if e.soft}
    tensed = {t.element_id for t in made.tensions if t.kind.endswith("_soft")}
    assert view == bench
    assert tensed <= bench
    assert {"boulder", "skarn"} <= bench


def test_softness_is_drawn_only_beyond_the_criterion(made):
    for element in made.framing.elements:
        assert (element.softness > 0) == (
            element.blur.value is not None and element.blur.value > made.depth.circle_of_confusion.value
        )


def test_the_ruler_is_even_in_dioptres_and_in_order(made):
    ticks = [t for t in made.depth.ticks if t.text.endswith(" m")]
    metres = [float(t.text.removesuffix(" m")) for t in ticks]
    slope = (ticks[-1].position - ticks[0].position) / (1 / metres[-1] - 1 / metres[0])
    for tick, distance in zip(ticks, metres, strict=True):
        assert tick.position == pytest.approx(ticks[0].position + slope * (1 / distance - 1 / metres[0]), abs=1e-9)
    assert made.depth.ticks[0].text == "∞"
    for element in made.depth.elements:
        assert 0 <= element.left <= element.right <= 1


def test_slices_on_the_ruler_meet_and_gaps_vanish(made):
    assert made.depth.gaps
    stacked = evaluate(TARN_SCENE, [TakeSlices(mode="gapless")]).depth
    assert stacked.gaps == ()
    ordered = sorted(stacked.slices, key=lambda s: s.left)
    for far, near in itertools.pairwise(ordered):
        assert far.right > near.left
    assert not any(e.soft for e in stacked.elements)


def test_equal_slices_are_nearly_equally_wide():
    close = evaluate(TARN_SCENE, [TakeSlices(mode="gapless")]).depth.slices
    widths = [s.right - s.left for s in close]
    assert max(widths) / min(widths) < 1.25


def test_schools_differ_and_each_has_its_worst_blur(made):
    by_name = {s.school: s for s in made.depth.schools}
    assert set(by_name) == {"hyperfocal", "third_in", "subject", "balanced"}
    assert by_name["balanced"].worst.value == min(s.worst.value for s in made.depth.schools)
    assert by_name["subject"].focus.value == pytest.approx(75.4, abs=0.2)


def test_the_close_up_ruler_zooms_in():
    from lucid_ridge.demo.compositions import PLACES, SUNDEW
    from lucid_ridge.demo.kit import FILTERS, FULL_FRAME, GEAR, LOW_TRIPOD, MACRO

    gear = tuple(GEAR.values())
    kit = replace(
        TARN_SCENE.kit, body=FULL_FRAME, lens=MACRO, support=LOW_TRIPOD, filters=tuple(FILTERS.values()), gear=gear
    )
    made = evaluate(replace(TARN_SCENE, place=PLACES["moss"], kit=kit, composition=SUNDEW))
    leaf = next(e for e in made.depth.elements if e.id == "leaf")
    assert made.depth.ticks[0].text != "∞"
    assert 0.7 < made.depth.magnification.value < 1.1
    assert leaf.near.text.endswith("mm")
    assert len(made.depth.slices) > 8
    # Tones follow depth also where everything is near.
    tones = {e.id: e.tone for e in made.framing.elements}
    assert tones["moss"] != tones["leaf"] or made.framing.elements[0].id == "moss"


def test_the_stop_scale_holds_what_the_frames_hold():
    made = evaluate(TARN_SCENE).range
    assert not made.held
    assert {m.id for m in made.marks if m.clipped} == {"cloud"}
    bracketed = evaluate(TARN_SCENE, [TakeBracket(mode="range")]).range
    assert bracketed.held
    assert len(bracketed.frames) == 3
    for mark in bracketed.marks:
        assert any(f.left - 0.02 <= mark.position <= f.right + 0.02 for f in bracketed.frames)
    positions = [m.position for m in sorted(made.marks, key=lambda m: m.stops.value)]
    assert positions == sorted(positions)


def test_a_graduated_filter_darkens_the_sky_and_not_the_ground():
    plain = {m.id: m.stops.value for m in evaluate(TARN_SCENE).range.marks}
    graded = evaluate(
        TARN_SCENE,
        [PutOn(filters=(FilterInUse(filter_id="pol", strength=2 / 3), FilterInUse(filter_id="grad3", edge_at=0.42)))],
    )
    after = {m.id: m.stops.value for m in graded.range.marks}
    assert after["cloud"] < plain["cloud"] - 1.5
    assert after["boulder"] == pytest.approx(plain["boulder"], abs=1e-6)
    scopes = [row.scope_name for row in graded.ledger.rows if row.kind == "graduated"]
    assert "eastern sky" in scopes
    assert "boulder edge" not in scopes
    assert graded.ledger.shutter.text == "1/8 s"


def test_the_plan_keeps_the_subject_and_points_at_the_sun(made):
    plan = made.plan
    boathouse = next(e for e in plan.elements if e.id == "boathouse")
    assert all(abs(x) < plan.half_m * 2 and abs(y) < plan.half_m * 2 for x, y in boathouse.foot)
    assert plan.sun == pytest.approx(
        (math.sin(math.radians(made.light.azimuth.value)), math.cos(math.radians(made.light.azimuth.value)))
    )
    assert plan.scale_bar_m in {1, 2, 5, 10, 20, 50, 100, 200}
    night = evaluate(changed(TARN_SCENE, moment_utc=TARN_SCENE.composition.moment_utc - timedelta(hours=6)))
    assert night.plan.sun is None
    assert night.light.side == "none"


def test_the_section_shows_reach_and_what_the_frame_clears(made):
    section = made.section
    assert (section.reach_low_m, section.reach_high_m) == (0.12, 1.62)
    assert section.lower_edge_end[1] == pytest.approx(0, abs=1e-6) or section.lower_edge_end[0] == section.length_m
    assert "boulder" in {box.id for box in section.boxes}


def test_upright_swaps_the_sides():
    level, upright = evaluate(TARN_SCENE).framing, evaluate(changed(TARN_SCENE, orientation="portrait")).framing
    assert upright.aspect == pytest.approx(1 / level.aspect)
    assert upright.horizontal_view.text == level.vertical_view.text


def test_a_crop_costs_pixels():
    half = evaluate(changed(TARN_SCENE, crop=Crop(aspect=1.5, scale=0.5))).framing
    assert half.cropped_pixels.value == pytest.approx(evaluate(TARN_SCENE).framing.cropped_pixels.value / 4, rel=0.01)


def test_the_sun_is_drawn_where_it_stands():
    facing = evaluate(changed(TARN_SCENE, azimuth_deg=114.0))
    x, y = facing.framing.sun
    assert x == pytest.approx(0.5, abs=0.02)
    left, _ = facing.framing.horizon
    assert y < left
    assert evaluate(TARN_SCENE).framing.sun is None


def test_motion_is_told_for_what_moves(made):
    rows = {row.id: row for row in made.motion.rows}
    assert set(rows) == {"water"}
    longer = evaluate(TARN_SCENE, [PutOn(filters=(FilterInUse(filter_id="nd10"),))]).motion
    assert longer.rows[0].travel.value > rows["water"].travel.value * 300
    assert longer.rows[0].share.text.endswith("frame heights")


def test_a_moved_element_moves_in_every_view():
    moved = evaluate(TARN_SCENE, [MoveElement(element_id="boathouse", bearing_deg=30, distance_m=300)])
    view = next(e for e in moved.framing.elements if e.id == "boathouse")
    bench = next(e for e in moved.depth.elements if e.id == "boathouse")
    assert view.distance.text == "300 m"
    assert bench.near.value == pytest.approx(300 * math.cos(math.radians(10)), rel=0.03)


def test_chips_say_what_is_set(made):
    assert [c.text for c in made.setting_summaries] == ["24 mm", "f/11", "1/8 s", "100", "1.90 m", "Pol −1⅓"]
    assert [c.setting for c in made.setting_summaries if c.locked] == ["focal_length", "iso"]


@pytest.mark.parametrize("seed", [None, 3, 17, 31])
def test_the_workbench_shows_what_the_whole_evaluation_does(seed):
    scene = TARN_SCENE if seed is None else random_scene(seed)
    whole = evaluate(scene)
    seen = set()
    for bench in get_args(Bench):
        made = workbench_report(scene, (), bench)
        assert made.bench == bench and made.ribbon == whole.light.ribbon
        for field in fields(made):
            value = getattr(made, field.name)
            if field.name in ("bench", "ribbon") or value is None:
                continue
            seen.add(field.name)
            if field.name == "framing" and bench != "frame":
                nothing = value.sky
                assert value == replace(whole.framing, sky=nothing, foreground=nothing) and nothing.text == ""
                continue
            assert value == getattr(whole, field.name), (bench, field.name)
    told = {one.name for one in fields(whole)}
    assert seen == told - ({"panorama"} if whole.panorama is None else set())


def test_a_night_without_a_moon_says_so_instead_of_an_absurd_time():
    dark = replace(
        TARN_SCENE,
        composition=replace(
            TARN_SCENE.composition, moment_utc=datetime(2026, 10, 11, 1, 45, tzinfo=UTC), reading=None, cloud_stops=3.0
        ),
    )
    shutter = next(c for c in evaluate(dark).setting_summaries if c.setting == "shutter")
    assert (shutter.text, shutter.note) == ("too dark", "night")
    # The account itself stays exact, and a reading taken at night is believed.
    assert evaluate(dark).ledger.shutter.value > 3600
