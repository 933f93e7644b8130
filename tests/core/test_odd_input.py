"""Odd input: each a clear refusal that names its field, or a sound result."""

from __future__ import annotations

import json
import math
import time
from dataclasses import replace
from datetime import UTC, datetime

import pytest

from lucid_ridge import cli
from lucid_ridge.calc.topics import TOPICS
from lucid_ridge.core.model.kit import Kit
from lucid_ridge.core.records import SceneError
from lucid_ridge.reports.evaluate import evaluate

from .conftest import changed


def refused(scene):
    with pytest.raises(SceneError) as caught:
        evaluate(scene)
    return {problem.pointer: problem.message for problem in caught.value.problems}


def test_focal_length_outside_the_lens_names_its_reach(tarn):
    found = refused(changed(tarn, settings={"focal_length_mm": 200.0}))
    assert "24 to 70 mm" in found["/composition/settings/focal_length_mm"]


def test_aperture_wider_than_the_lens(tarn):
    found = refused(changed(tarn, settings={"aperture_n": 1.4}))
    assert "f/2.8" in found["/composition/settings/aperture_n"]


def test_focus_inside_the_focal_length(tarn):
    assert "/composition/settings/focus_m" in refused(changed(tarn, settings={"focus_m": 0.01}))


@pytest.mark.parametrize("year", [1800, 1899, 2051, 2100])
def test_years_outside_the_ephemeris(tarn, year):
    found = refused(changed(tarn, moment_utc=datetime(year, 6, 1, tzinfo=UTC)))
    assert "1900 to 2050" in found["/composition/moment_utc"]


def test_a_time_without_its_offset(tarn):
    assert "/composition/moment_utc" in refused(changed(tarn, moment_utc=datetime(2026, 6, 1)))


@pytest.mark.parametrize(("latitude", "month"), [(90, 6), (90, 12), (-90, 6), (78, 6), (78, 12)])
def test_poles_and_suns_that_never_set(tarn, latitude, month):
    place = replace(tarn.place, latitude_deg=latitude, time_zone="UTC")
    scene = changed(replace(tarn, place=place), moment_utc=datetime(2026, month, 21, 9, tzinfo=UTC), reading=None)
    made = evaluate(scene)
    assert made.light.ribbon.sun_text
    assert math.isfinite(made.ledger.shutter.value)


def test_an_unknown_time_zone(tarn):
    found = refused(replace(tarn, place=replace(tarn.place, time_zone="Middle/Earth")))
    assert "Middle/Earth" in found["/place/time_zone"]
    assert "/place/time_zone" in refused(replace(tarn, place=replace(tarn.place, time_zone="../../etc/passwd")))


def test_no_elements_no_reading_no_filters_is_an_answer(tarn):
    bare = Kit(body=tarn.kit.body, lens=tarn.kit.lens, support=tarn.kit.support)
    scene = changed(replace(tarn, kit=bare), elements=(), reading=None, settings={"filters": ()})
    made = evaluate(scene)
    assert made.sequence.frames
    assert made.framing.elements == ()


def test_a_filter_that_is_not_owned(tarn):
    bare = Kit(body=tarn.kit.body, lens=tarn.kit.lens, support=tarn.kit.support)
    assert "/composition/settings/filters/0/filter_id" in refused(replace(tarn, kit=bare))


def test_two_elements_with_one_id(tarn):
    twice = (*tarn.composition.elements, tarn.composition.elements[0])
    assert "/composition/elements" in refused(changed(tarn, elements=twice))


def test_five_hundred_elements(tarn):
    many = tuple(
        replace(tarn.composition.elements[-1], id=f"e{i}", east_m=math.sin(i) * (1 + i / 9), north_m=1 + i / 5)
        for i in range(500)
    )
    scene = changed(tarn, elements=many, reading=None)
    evaluate(scene)
    start = time.perf_counter()
    made = evaluate(scene)
    assert len(made.framing.elements) == 500
    assert len(made.separation) <= 60
    assert time.perf_counter() - start < 2


def test_elements_around_and_behind_the_camera(tarn):
    around = tuple(
        replace(
            tarn.composition.elements[-1], id=f"e{i}", east_m=0.0, north_m=0.0, turned_deg=i * 45, width_m=w, depth_m=2
        )
        for i, w in enumerate([0.0, 0.5, 3, 100_000])
    )
    made = evaluate(changed(tarn, elements=around, reading=None))
    assert all(e.distance.value == 0 for e in made.framing.elements)


@pytest.mark.parametrize(
    ("topic", "field", "value", "words"),
    [
        ("depth", "f_number", 0, "0.5"),
        ("depth", "focus_m", -3, "0.002"),
        ("depth", "blur_um", "twenty", "number"),
        ("depth", "focus_m", 0.01, "focal length"),
        ("slices", "near_m", 500, None),
        ("slices", "f_number", 64, "iffraction"),
        ("brackets", "darkest_stops", 9, "brighter"),
        ("light-day", "moment_utc", "2026-06-01T00:00:00", "offset"),
    ],
)
def test_calc_refuses_by_name(topic, field, value, words, capsys, monkeypatch):
    request = json.loads(TOPICS[topic].example.model_dump_json())
    request[field] = value
    if topic == "slices" and field == "near_m":
        request["far_m"], words = 2.0, "beyond the farthest"
    status, out, err = run_calc(topic, request, capsys, monkeypatch)
    assert status == 2
    assert out == ""
    assert words in json.dumps(json.loads(err)["errors"])


def run_calc(topic, request, capsys, monkeypatch):
    class Standard:
        class buffer:  # noqa: N801
            read = staticmethod(lambda: json.dumps(request).encode())

    monkeypatch.setattr("sys.stdin", Standard)
    status = cli.main(["calc", topic])
    captured = capsys.readouterr()
    return status, captured.out, captured.err


@pytest.mark.parametrize("topic", TOPICS)
def test_calc_answers_its_own_example(topic, capsys, monkeypatch):
    assert cli.main(["calc", topic, "--example"]) == 0
    example = json.loads(capsys.readouterr().out)
    assert cli.main(["calc", topic, "--schema"]) == 0
    assert set(json.loads(capsys.readouterr().out)) == {"request", "answer"}
    status, out, _ = run_calc(topic, example, capsys, monkeypatch)
    assert status == 0
    assert json.loads(out)
