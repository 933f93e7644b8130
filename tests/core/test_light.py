"""Days, directions and illuminance."""

from __future__ import annotations

import gc
import math
import weakref
from dataclasses import replace
from datetime import UTC, datetime
from uuid import UUID

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.light.day import light_day, minutes_per_stop
from lucid_ridge.core.light.direction import SIDES, light_side
from lucid_ridge.core.light.ephemeris import sun_place
from lucid_ridge.core.light.illuminance import illuminance_lux, log10_illuminance, stops_between
from lucid_ridge.core.light.refraction import refraction_deg
from lucid_ridge.core.light.remembered import remembered_by_terrain
from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.formats.relief_tiles import relief_tile
from lucid_ridge.reports.evaluate import evaluate

from .conftest import changed


def day_of(year, month, day, latitude, longitude):
    start = datetime(year, month, day, tzinfo=UTC).timestamp()
    return light_day(latitude, longitude, start, start + 86400)


@given(st.floats(-20, 90), st.floats(0.01, 5))
def test_a_higher_sun_never_gives_less_light(altitude, more):
    assert log10_illuminance(min(altitude + more, 90)) >= log10_illuminance(altitude) - 1e-9


@given(st.floats(-18, 60), st.floats(-18, 60), st.floats(-18, 60))
def test_stops_between_moments_add_up(a, b, c):
    assert stops_between(a, b) + stops_between(b, c) == pytest.approx(float(stops_between(a, c)), abs=1e-9)


def test_refraction_fades_out_below_the_horizon():
    h = np.linspace(-6, 20, 2601)
    lift = refraction_deg(h)
    assert (lift >= 0).all()
    assert lift[h < -3].max() == 0
    # Lifted altitudes keep their order: no body overtakes another.
    assert (np.diff(h + lift) > 0).all()


@pytest.mark.parametrize(
    ("sun", "side"),
    [(180, "front"), (0, "back_right"), (90, "side_right"), (270, "side_left"), (350, "back_left"), (140, "front")],
)
def test_direction_is_told_relative_to_the_view(sun, side):
    assert SIDES[int(light_side(sun, 10.0, 0.0))] == side
    assert SIDES[int(light_side(sun, -1.0, 0.0))] == "none"


def test_events_come_in_order_and_where_the_altitude_says():
    day = day_of(2026, 3, 20, 54.1, -2.4)
    assert list(day.events) == sorted(day.events)
    rising = ["astronomical_dawn", "nautical_dawn", "blue_morning", "blue_morning_end", "sunrise", "golden_morning_end"]
    setting = ["golden_evening", "sunset", "blue_evening", "blue_evening_end", "nautical_dusk", "astronomical_dusk"]
    order = [name for _, name in day.events if name in {*rising, "noon", *setting}]
    assert order == [*rising, "noon", *setting]
    at = {name: t for t, name in day.events}
    assert sun_place(at["sunrise"], 54.1, -2.4).altitude_deg == pytest.approx(-0.833, abs=1e-3)
    assert sun_place(at["civil_dusk"], 54.1, -2.4).altitude_deg == pytest.approx(-6, abs=1e-3)


def test_polar_day_and_night_are_told():
    assert day_of(2026, 6, 21, 78, 16).sun_state == "up_all_day"
    assert day_of(2026, 12, 21, 78, 16).sun_state == "down_all_day"
    assert [n for _, n in day_of(2026, 6, 21, 78, 16).events if n in ("sunrise", "sunset")] == []


def test_the_pole_itself_is_a_place_like_any_other():
    day = day_of(2026, 6, 21, 90, 0)
    assert day.sun_state == "up_all_day"
    assert np.ptp(day.altitude_deg) < 0.02


def test_one_stop_takes_its_time_at_dusk():
    # science: 4.2 min at -6 degrees, 54.1 N, 20 March; 2.8 min at 28 N.
    for latitude, minutes in ((54.1, 4.2), (28.0, 2.8)):
        day = day_of(2026, 3, 20, latitude, 0)
        dusk = next(t for t, name in day.events if name == "civil_dusk")
        assert -minutes_per_stop(day, dusk) == pytest.approx(minutes, abs=0.15)


@pytest.mark.parametrize(
    ("zone", "date", "hours"),
    [("Europe/London", (2026, 3, 29), 23), ("Europe/London", (2026, 10, 25), 25), ("Asia/Kathmandu", (2026, 10, 25), 24),
     ("Pacific/Kiritimati", (2026, 1, 1), 24)],
)  # fmt: skip
def test_a_day_is_as_long_as_its_clock_says(tarn, zone, date, hours):
    moment = datetime(*date, 12, tzinfo=UTC) if zone != "Pacific/Kiritimati" else datetime(2025, 12, 31, 22, tzinfo=UTC)
    scene = changed(replace(tarn, place=replace(tarn.place, time_zone=zone)), moment_utc=moment)
    ribbon = evaluate(scene).light.ribbon
    assert (ribbon.end_utc - ribbon.start_utc).total_seconds() == hours * 3600
    assert ribbon.ticks[0].text == "00:00"
    assert {tick.text for tick in ribbon.ticks} <= {f"{h:02d}:00" for h in range(0, 24, 3)}
    assert all(0 <= p <= 1 for p, _ in ribbon.hill)


def test_the_first_and_last_day_of_the_ephemeris_are_whole(tarn):
    for moment in (datetime(1900, 1, 1, 0, 5, tzinfo=UTC), datetime(2050, 12, 31, 23, 55, tzinfo=UTC)):
        for zone in ("Pacific/Auckland", "America/Anchorage"):
            scene = changed(replace(tarn, place=replace(tarn.place, time_zone=zone)), moment_utc=moment, reading=None)
            assert evaluate(scene).light.ribbon.segments


def test_illuminance_spans_day_and_night():
    lux = illuminance_lux(np.array([-30, -18, 0, 45, 90]))
    assert lux[0] == lux[1]
    assert lux[-1] > 100_000
    assert math.log2(lux[3] / lux[0]) > 25


def test_a_terrain_that_is_no_longer_used_is_let_go_and_what_followed_from_it_with_it():
    def used(number):
        heights = np.full((60, 60), 300.0 + number, dtype=np.float32)
        terrain = Terrain(heights, 50.0, -1500.0, -1500.0, 54.1, -2.4)
        place = replace(
            TARN_SCENE.place, horizon="terrain", terrain_id=str(UUID(int=number)), latitude_deg=54.1, longitude_deg=-2.4
        )
        evaluate(replace(TARN_SCENE, place=place), terrain=terrain)
        relief_tile([terrain], 12, 2020, 1310)
        return weakref.ref(terrain)

    kept = [used(number) for number in range(40)]
    gc.collect()
    # Those of the last scenes are kept for the next change; all others are gone.
    assert sum(one() is not None for one in kept) <= 6


def test_what_follows_from_a_terrain_is_worked_out_once_and_the_oldest_forgotten():
    asked = []

    @remembered_by_terrain(most=3)
    def twice(terrain, number):
        asked.append((terrain.cell_m, number))
        return 2 * number * terrain.cell_m

    one, other = (Terrain(np.zeros((3, 3), np.float32), cell, 0.0, 0.0, 54.1, -2.4) for cell in (1.0, 5.0))
    assert [twice(one, n) for n in (1, 2, 1, 3)] == [2, 4, 2, 6]
    assert twice(other, 1) == 10
    assert twice(one, 4) == 8
    asked.clear()
    assert [twice(one, n) for n in (1, 4, 3)] == [2, 8, 6] and asked == []
    assert twice(one, 2) == 4 and asked == [(1.0, 2)]
