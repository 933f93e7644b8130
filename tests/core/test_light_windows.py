"""Windows, years by the place's clock, alignments, terrain shade and freshness."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from functools import lru_cache
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.daylight.surfaces import LEVEL, LitSurface
from lucid_ridge.core.light.direction import SIDES, light_side
from lucid_ridge.core.light.drift import stale_at
from lucid_ridge.core.light.ephemeris import moon_phase, moon_place, sky_place, sun_place
from lucid_ridge.core.light.horizon import flat_horizon, terrain_horizon
from lucid_ridge.core.light.illuminance import illuminance_lux
from lucid_ridge.core.light.shade import SHADED_FROM_M, shaded_ground
from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.core.light.windows import stretches
from lucid_ridge.core.light.year import clock_changes, local_clock, year_bounds
from lucid_ridge.core.light_windows.alignments import Alignment
from lucid_ridge.core.light_windows.light_wish import months_ahead
from lucid_ridge.core.model.place import Forecast, ForecastHour, SkylinePoint, TideConstituent, TideStation
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.model.wanted import LightWish, LitWish
from lucid_ridge.core.records import SceneError
from lucid_ridge.reports.evaluate import changed_state, evaluate
from lucid_ridge.reports.light.alignments import alignments
from lucid_ridge.reports.light.skyline import skyline_report
from lucid_ridge.reports.light.year import light_windows

from .conftest import changed

PLACE = TARN_SCENE.place


@lru_cache(maxsize=1)
def hill() -> Terrain:
    """Level ground at 380 m with a ridge across the south-east, 1.2 km away and 150 m high."""
    axis = (np.arange(400) - 200) * 20.0
    east, north = np.meshgrid(axis, axis)
    along = (east - north) / math.sqrt(2)
    heights = 380 + 150 * np.exp(-(((along - 1200) / 150) ** 2))
    return Terrain(heights.astype(np.float32), 20.0, axis[0], axis[0], PLACE.latitude_deg, PLACE.longitude_deg)


def on_terrain(scene: Scene = TARN_SCENE) -> Scene:
    return replace(scene, place=replace(scene.place, horizon="terrain", terrain_id="hill"))


# --- skyline ---------------------------------------------------------------------------------------


def test_a_ridge_delays_the_sun_and_says_so():
    flat = evaluate(TARN_SCENE)
    made = evaluate(on_terrain(), terrain=hill())
    rows = {row.kind: row for row in made.light.ribbon.rows}
    level = {row.kind: row for row in flat.light.ribbon.rows}
    assert rows["standpoint"].spans[0][0] > level["standpoint"].spans[0][0] + 20 / 1440
    # At the moment the sun stands 5 degrees high, the ridge 7.
    assert not made.light.direct and "behind the skyline" in made.light.side_text
    assert flat.light.direct
    # Nothing casts a shadow in the terrain's own shade.
    assert any(e.shadow for e in flat.framing.elements)
    assert not any(e.shadow for e in made.framing.elements)


def test_each_element_has_its_own_sunrise():
    # The near thing lies 1.2 km from the ridge's crest, the far one out of its shadow.
    elements = tuple(
        replace(e, east_m=-1500.0, north_m=1500.0) if e.id == "boathouse" else e
        for e in TARN_SCENE.composition.elements
    )
    state = changed_state(on_terrain(changed(TARN_SCENE, elements=elements)), terrain=hill())
    told = {one.id: one for one in skyline_report(state).arrivals}
    assert told["boathouse"].first.value < told["boulder"].first.value - 600
    assert told["boulder"].first.value == pytest.approx(told[None].first.value, abs=60)


@pytest.mark.parametrize("element", ["boulder", None])
def test_the_sun_stands_on_the_skyline_when_it_is_told_to_arrive(element):
    state = changed_state(on_terrain(), terrain=hill())
    first = next(one for one in skyline_report(state).arrivals if one.id == element).first.value
    sun = sun_place(first, PLACE.latitude_deg, PLACE.longitude_deg)
    seen = float(sun.altitude_deg) + 0.1  # refraction near 6 degrees, rounded
    assert seen + 16 / 60 == pytest.approx(float(state.horizon.at(float(sun.azimuth_deg))), abs=0.1)


def test_a_terrain_that_is_not_at_hand_or_does_not_reach_says_so():
    made = evaluate(on_terrain())
    assert "not at hand" in made.light.horizon_note
    away = replace(on_terrain(), place=replace(on_terrain().place, latitude_deg=10.0))
    made = evaluate(away, terrain=hill())
    assert "does not reach" in made.light.horizon_note
    measured = replace(TARN_SCENE, place=replace(PLACE, horizon="measured"))
    assert "No point" in evaluate(measured).light.horizon_note


def test_a_measured_skyline_hides_the_sun():
    points = (SkylinePoint(azimuth_deg=90, altitude_deg=8), SkylinePoint(azimuth_deg=150, altitude_deg=8))
    made = evaluate(replace(TARN_SCENE, place=replace(PLACE, horizon="measured", skyline=points)))
    assert not made.light.direct
    assert made.light.skyline.value == pytest.approx(8.0, abs=0.01)


def test_the_map_and_the_skyline_agree_on_what_lies_in_shade():
    # Two methods: rays along the turned grid, and the skyline at each point.
    noise = np.random.default_rng(5).standard_normal((240, 240))
    from scipy.ndimage import gaussian_filter

    land = gaussian_filter(noise, 14)
    heights = (land / land.std() * 90).astype(np.float32)
    terrain = Terrain(heights, 20.0, -2400.0, -2400.0, 54.1, -2.4)
    deep = shaded_ground(terrain, 130.0, 7.0)
    agreed = []
    for i in range(30, 210, 9):
        for j in range(30, 210, 9):
            east, north = terrain.west_m + 20.0 * j, terrain.south_m + 20.0 * i
            skyline = float(terrain_horizon(terrain, east, north, float(heights[i, j]), azimuths=360).at(130.0))
            if abs(skyline - 7.0) > 0.4:
                agreed.append(bool((deep > SHADED_FROM_M)[i, j]) == (skyline > 7.0))
    assert np.mean(agreed) > 0.97
    # The rim of what is known is no wall and no pit.
    part = heights.copy()
    part[:20] = part[:, :30] = np.nan
    cut = shaded_ground(replace(terrain, heights_m=part), 130.0, 60.0)
    assert not (cut > SHADED_FROM_M).any()
    assert (shaded_ground(terrain, 130.0, -1.0) > SHADED_FROM_M).all()
    assert not (shaded_ground(terrain, 130.0, 80.0) > SHADED_FROM_M).any()


# --- the place's clock -----------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("zone", "year", "hours", "changes"),
    [
        ("Europe/London", 2027, 8760, 2), ("Europe/London", 2028, 8784, 2), ("UTC", 2026, 8760, 0),
        ("Australia/Lord_Howe", 2026, 8760, 2), ("Asia/Kathmandu", 2026, 8760, 0), ("Pacific/Apia", 2011, 8736, 3),
    ],
)  # fmt: skip
def test_years_by_the_clock(zone, year, hours, changes):
    # Leap years have 366 days; Samoa left out 30 December 2011 when it crossed the date line.
    first, last = year_bounds(year, zone)
    assert (last - first) / 3600 == hours
    assert len(clock_changes(zone, first, last)) - 1 == changes
    clock = local_clock(zone, first, last)
    # Compared with the standard library at random minutes.
    for i in np.random.default_rng(3).integers(0, len(clock.day), 200).tolist():
        local = datetime.fromtimestamp(first + 60 * i, UTC).astimezone(ZoneInfo(zone))
        assert clock.minute[i] == local.hour * 60 + local.minute
        assert clock.day[i] == (local.date() - clock.first_day.date()).days


def test_the_doubled_hour_and_the_missing_one():
    first, last = year_bounds(2027, "Europe/London")
    clock = local_clock("Europe/London", first, last)
    october, march = (datetime(2027, *d, tzinfo=UTC).date() for d in ((10, 31), (3, 28)))
    counts = {}
    for day in (october, march):
        here = clock.minute[clock.day == (day - clock.first_day.date()).days]
        counts[day] = (len(here), int(np.count_nonzero((here >= 60) & (here < 120))))
    assert counts[october] == (25 * 60, 120)
    assert counts[march] == (23 * 60, 0)


def test_the_ribbon_has_as_many_hours_as_the_day():
    for day, hours in (((2026, 10, 25, 12), 25), ((2027, 3, 28, 12), 23), ((2028, 2, 29, 12), 24)):
        made = evaluate(changed(TARN_SCENE, moment_utc=datetime(*day, tzinfo=UTC), reading=None)).light.ribbon
        assert (made.end_utc - made.start_utc) == timedelta(hours=hours)
        noon = next(e for e in made.events if e.name == "noon")
        assert abs(sun_place(noon.at_utc.timestamp(), 54.1, -2.4).azimuth_deg - 180) < 0.5


# --- windows ---------------------------------------------------------------------------------------


@given(st.lists(st.booleans(), min_size=0, max_size=40))
def test_stretches_are_what_they_say(holds):
    mask = np.array(holds, dtype=bool)
    again = np.zeros(len(mask), dtype=bool)
    for a, b in stretches(mask).tolist():
        assert mask[a : b + 1].all()
        again[a : b + 1] = True
    assert (again == mask).all()


WISHES = st.builds(
    LightWish,
    sides=st.lists(st.sampled_from(["front", "side_left", "side_right", "back_left", "back_right"]), max_size=3, unique=True).map(tuple),
    lowest_deg=st.one_of(st.none(), st.floats(-6, 20)),
    highest_deg=st.one_of(st.none(), st.floats(21, 60)),
    moon=st.sampled_from(["any", "up", "down"]),
    from_hour=st.floats(0, 11),
    to_hour=st.floats(12, 24),
    shortest_min=st.floats(1, 90),
)  # fmt: skip


@settings(max_examples=12)
@given(WISHES, st.integers(0, 2**31))
def test_every_window_has_the_light_that_was_asked_for(wish, seed):
    # Each window is checked at minutes drawn from it, by direct calls and the standard library's clock.
    state = changed_state(TARN_SCENE)
    zone, draw = ZoneInfo(PLACE.time_zone), np.random.default_rng(seed)
    for window in light_windows(state, wish).next:
        minutes = int((window.end_utc - window.start_utc).total_seconds() // 60)
        assert minutes >= wish.shortest_min - 1
        assert window.ready_utc == window.start_utc - timedelta(minutes=wish.ready_min)
        at = window.start_utc + timedelta(minutes=int(draw.integers(0, minutes)))
        sun = sun_place(at.timestamp(), PLACE.latitude_deg, PLACE.longitude_deg)
        altitude, azimuth = float(sun.altitude_deg), float(sun.azimuth_deg)
        if wish.sides:
            # A wish for heights below the horizon asks for the glow, which has the side of the sun under it.
            glow = wish.lowest_deg is not None and wish.lowest_deg < 0
            height = max(altitude, 0) if glow else altitude
            assert SIDES[int(light_side(azimuth, height, state.scene.composition.azimuth_deg))] in wish.sides
        if wish.lowest_deg is not None:
            assert altitude > wish.lowest_deg - 0.7
        if wish.highest_deg is not None:
            assert altitude < wish.highest_deg + 0.1
        if wish.moon != "any":
            up = float(moon_place(at.timestamp(), PLACE.latitude_deg, PLACE.longitude_deg).altitude_deg) > -0.833
            assert up == (wish.moon == "up")
        local = at.astimezone(zone)
        assert wish.from_hour - 0.02 <= local.hour + local.minute / 60 <= wish.to_hour + 0.02


def test_around_the_sun_reaching_the_subject():
    state = changed_state(on_terrain(), terrain=hill())
    arrives = next(a for a in skyline_report(state).arrivals if a.id == "boathouse").first.value
    found = light_windows(state, LightWish(around="arrives", before_min=10, after_min=5))
    today = found.today[0]
    assert today.start_utc.timestamp() == pytest.approx(arrives - 600, abs=90)
    assert today.end_utc.timestamp() == pytest.approx(arrives + 300, abs=90)
    assert len(found.next) == 10 and found.count > 200


def test_the_glow_of_a_sun_below_the_horizon_counts_beside_sunset():
    # The demo's creek at dusk: looking south-west, from half an hour before sunset to twenty minutes after it.
    west = changed(TARN_SCENE, azimuth_deg=250.0)
    wish = LightWish(sides=("back_left", "back_right"), around="sunset", before_min=30, after_min=20)
    found = light_windows(changed_state(west), wish).today[0]
    sunset = next(e for e in evaluate(west).light.ribbon.events if e.name == "sunset").at_utc
    assert found.start_utc.timestamp() == pytest.approx(sunset.timestamp() - 1800, abs=90)
    assert found.end_utc.timestamp() == pytest.approx(sunset.timestamp() + 1200, abs=90)
    # Without an hour beside sunset, and without heights below the horizon, the sun must be up.
    up = light_windows(changed_state(west), LightWish(sides=("back_left", "back_right"))).today[-1]
    assert up.end_utc.timestamp() == pytest.approx(sunset.timestamp(), abs=120)


def test_direct_sun_and_shade_part_the_day():
    state = changed_state(on_terrain(), terrain=hill())
    lit, shade = (
        light_windows(state, LightWish(lit=(LitWish(element_id="boathouse", lit=on),), shortest_min=1))
        for on in (True, False)
    )
    months = months_ahead(state)
    covered = {}
    for made in (lit, shade):
        for day, from_, to in made.windows:
            covered[day] = covered.get(day, 0.0) + to - from_
    ordinary = [v for k, v in covered.items() if k not in _change_days(months)]
    assert ordinary == pytest.approx([1.0] * len(ordinary), abs=1e-3)


def _change_days(months):
    counts = np.bincount(months.clock.day)
    return {int(day) for day in np.flatnonzero(counts != 1440)}


def test_a_wish_that_nothing_grants_says_what_stands_in_the_way():
    state = changed_state(TARN_SCENE)
    made = light_windows(state, LightWish(sides=("back_left",), lowest_deg=50.0))
    assert made.count == 0 and not made.next
    # From 54 degrees north the sun stands 50 degrees high only in the south, behind the camera.
    assert made.lacking[0].windows_without > 100
    assert {one.text.split(" (")[0] for one in made.lacking} >= {"back light, left", "sun above 50°"}


def test_impossible_wishes_are_refused_by_field():
    state = changed_state(TARN_SCENE)
    wish = LightWish(lowest_deg=20, highest_deg=10, lit=(LitWish(element_id="gone"),), from_hour=5, to_hour=5)
    with pytest.raises(SceneError) as refused:
        light_windows(state, wish)
    assert {p.pointer for p in refused.value.problems} == {
        "/wish/lit/0/element_id",
        "/wish/lowest_deg",
        "/wish/to_hour",
    }
    with pytest.raises(SceneError):
        alignments(state, Alignment(element_id="gone"))


def test_a_place_without_a_sunrise():
    north = replace(
        TARN_SCENE, place=replace(PLACE, latitude_deg=78.2, longitude_deg=15.6, time_zone="Arctic/Longyearbyen")
    )
    dark = evaluate(changed(north, moment_utc=datetime(2026, 12, 21, 11, tzinfo=UTC), reading=None)).light
    assert dark.ribbon.sun_text == "the sun does not rise today"
    assert dark.ribbon.rows[0].text == "no direct sun today"
    bright = evaluate(changed(north, moment_utc=datetime(2026, 6, 21, 11, tzinfo=UTC), reading=None)).light
    assert bright.ribbon.rows[0].text == "all day"
    made = light_windows(changed_state(north), LightWish(around="sunrise"))
    # The sun rises there on some 140 days a year (from 16 February to 18 April, and from 24 August to 26 October).
    assert 90 < len({w.date_text for w in (*made.next,)}) * 10 + len(made.windows) < 320


# --- alignments ------------------------------------------------------------------------------------


@pytest.mark.parametrize("body", ["sun", "moon"])
def test_bodies_stand_where_they_are_told_to(body):
    state = changed_state(on_terrain(), terrain=hill())
    wish = Alignment(body=body, bearing_deg=125.0, tolerance_deg=0.8, moon_lit_from=0.4)
    made = alignments(state, wish)
    assert made.count > 0
    assert made.height_deg == pytest.approx(float(state.horizon.at(125.0)), abs=1e-6)
    for one in made.passings:
        place = sky_place(body, one.at_utc.timestamp(), PLACE.latitude_deg, PLACE.longitude_deg)
        across = (float(place.azimuth_deg) - 125.0) * math.cos(math.radians(made.height_deg))
        up = float(place.altitude_deg) + 0.13 - made.height_deg  # refraction there, rounded
        assert math.hypot(across, up) == pytest.approx(one.miss_deg, abs=0.08)
        assert one.miss_deg <= 0.8
        if body == "moon":
            assert float(moon_phase(one.at_utc.timestamp()).lit) >= 0.39


def test_a_body_beside_an_element_and_one_that_never_comes():
    state = changed_state(changed(TARN_SCENE, azimuth_deg=100.0))
    made = alignments(state, Alignment(body="sun", element_id="boathouse", tolerance_deg=4.0))
    assert "top of the boathouse" in made.target_text
    never = alignments(state, Alignment(body="sun", bearing_deg=0.0, height_deg=40.0))
    assert never.count == 0 and "no nearer than" in never.nearest_text


# --- freshness, tide and forecast ------------------------------------------------------------------


def test_a_reading_goes_stale_when_the_light_has_moved_a_third_of_a_stop():
    read = datetime(2026, 10, 18, 17, 0, tzinfo=UTC).timestamp()
    level = LitSurface(TARN_SCENE.place, LEVEL, flat_horizon(), 0.0)
    late = stale_at(level.lux, read)
    lux = illuminance_lux(sun_place([read, late], 54.1, -2.4).altitude_deg)
    assert abs(math.log2(lux[1] / lux[0])) == pytest.approx(1 / 3, abs=0.005)
    # What was metered stands in its own shade: its light goes with the sky's.
    state = changed_state(changed(TARN_SCENE, moment_utc=datetime.fromtimestamp(read, UTC)))
    late = stale_at(state.metered_light.lux, read)
    assert abs(math.log2(np.divide(*state.metered_light.lux([late, read])))) == pytest.approx(1 / 3, abs=0.005)
    reading = replace(TARN_SCENE.composition.reading, taken_at_utc=datetime(2026, 10, 18, 17, 0, tzinfo=UTC))
    moment = datetime.fromtimestamp(late + 30, UTC)
    fresh = evaluate(changed(TARN_SCENE, reading=reading, moment_utc=moment)).ledger.freshness
    assert fresh.stale and fresh.until_text.startswith("was good until")
    again = evaluate(
        changed(TARN_SCENE, reading=reading, moment_utc=reading.taken_at_utc + timedelta(seconds=30))
    ).ledger.freshness
    assert not again.stale and again.until_text.startswith("good until")
    assert evaluate(changed(TARN_SCENE, reading=None)).ledger.freshness is None


def test_a_bulb_frame_takes_what_the_falling_light_asks():
    dusk = datetime(2026, 10, 18, 17, 25, tzinfo=UTC)
    reading = replace(TARN_SCENE.composition.reading, taken_at_utc=dusk, shutter_s=1.0)
    made = evaluate(
        changed(TARN_SCENE, moment_utc=dusk, reading=reading, settings={"bulb": True, "filters": (), "shutter_s": 128.0, "iso": 100.0, "aperture_n": 22.6}, locks=("aperture", "iso"))
    )  # fmt: skip
    frame = made.sequence.frames[0]
    if frame.bulb:
        assert frame.exposure_s > made.ledger.shutter.value


TIDE = TideStation(name="creek", mean_m=4.0, constituents=(TideConstituent(name="M2", amplitude_m=2.0, phase_deg=0.0),))


def test_the_tide_of_a_day():
    made = evaluate(replace(TARN_SCENE, place=replace(PLACE, tide=TIDE))).light.ribbon.tide
    assert 2.0 <= made.now.value <= 6.0
    # A lunar half-day: turns 6 h 12.6 min apart on average, so four in most days.
    assert len(made.turns) in (3, 4)
    gaps = np.diff([t.position for t in made.turns]) * 24
    assert gaps == pytest.approx([6.21] * len(gaps), abs=0.1)
    wrong = replace(TIDE, constituents=(TideConstituent(name="XX", amplitude_m=1, phase_deg=0),))
    with pytest.raises(SceneError, match="no constituent"):
        evaluate(replace(TARN_SCENE, place=replace(PLACE, tide=wrong)))


def forecast(low: float) -> Forecast:
    start = datetime(2026, 10, 17, 23, tzinfo=UTC)
    hours = tuple(
        ForecastHour(
            at_utc=start + timedelta(hours=h), cloud_low=low, cloud_middle=0, cloud_high=0, wind_m_s=4, gust_m_s=7,
            rain_mm_h=0, visibility_km=30,
        )
        for h in range(26)
    )  # fmt: skip
    return Forecast(source="test", simulated=True, made_at_utc=start, hours=hours)


def test_clear_sky_and_forecast_are_never_mixed():
    for low, likely in ((0.1, True), (0.9, False)):
        made = evaluate(replace(TARN_SCENE, forecast=forecast(low))).light.ribbon
        rows = {row.kind: row for row in made.rows}
        plain = {row.kind: row for row in evaluate(TARN_SCENE).light.ribbon.rows}
        assert rows["subject"] == plain["subject"]
        assert bool(rows["forecast"].spans) == likely
        assert made.forecast.simulated and "Simulated" in made.forecast.text
        assert "forecast" not in plain
    words = light_windows(changed_state(replace(TARN_SCENE, forecast=forecast(0.9))), LightWish(lowest_deg=5.0)).today
    assert all("not likely" in one.forecast for one in words)


def test_the_polariser_is_uneven_on_a_wide_lens_and_even_on_a_long_one():
    wide = evaluate(changed(TARN_SCENE, azimuth_deg=60.0)).light.polariser
    assert wide.banded and "dark band" in wide.text
    long_lens = replace(TARN_SCENE.kit.lens, shortest_mm=24, longest_mm=400)
    far = changed(replace(TARN_SCENE, kit=replace(TARN_SCENE.kit, lens=long_lens)), settings={"focal_length_mm": 400.0})
    assert not evaluate(far).light.polariser.banded
    assert evaluate(changed(TARN_SCENE, moment_utc=datetime(2026, 10, 18, 1, tzinfo=UTC))).light.polariser is None


def test_nothing_is_promised_beyond_the_years_the_sun_is_known():
    late = changed(TARN_SCENE, moment_utc=datetime(2050, 11, 5, 12, tzinfo=UTC), reading=None)
    made = light_windows(changed_state(late), LightWish(highest_deg=-6.0))
    # Two months in the picture; ahead lie the nights of 26 days in November and 31 in December.
    assert made.days == 61 and len(made.months) == 2
    assert max(c.end_utc for c in (*made.next, *made.best)) <= datetime(2051, 1, 1, tzinfo=UTC)
    assert made.count == 26 + 31 and "2050" in made.note
