"""Outings: days by the clock, chances, ways, weather, readiness, and what is planned from now on."""

from __future__ import annotations

import math
import random
from dataclasses import replace
from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np
import pytest

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.light.ephemeris import sun_place
from lucid_ridge.core.light.terrain import Terrain, apart_m, position_of
from lucid_ridge.core.light.tide import tide_height
from lucid_ridge.core.light_windows.now import light_today
from lucid_ridge.core.model.outing import (
    DoneVisit,
    Outing,
    OutingDay,
    OutingVisit,
    Pace,
    Ride,
    Spot,
)
from lucid_ridge.core.model.place import Forecast, ForecastHour, TideConstituent, TideStation
from lucid_ridge.core.model.wanted import LightWish, LitWish
from lucid_ridge.core.outing.chances import chances_of, light_spans
from lucid_ridge.core.outing.check import check_outing
from lucid_ridge.core.outing.day_times import days_of, ends_of, instant, minute_of, when
from lucid_ridge.core.outing.legs import Closed, Path, Point, legs_between
from lucid_ridge.core.outing.planning import Candidate, moved_to, put_together, stands_at, ways_of
from lucid_ridge.core.outing.readiness import charges, cold_share, demand_of, use_of
from lucid_ridge.core.outing.schedule import schedule
from lucid_ridge.core.outing.task import Day
from lucid_ridge.core.outing.weather import Need, judge, needs_of
from lucid_ridge.core.state.state import build_state
from lucid_ridge.reports.outing.words import leg_words

LONDON = "Europe/London"
CAR = Spot(name="car park", latitude_deg=54.095, longitude_deg=-2.39, elevation_m=300, time_zone=LONDON)


def _outing(day: date, leave: time, back: time, start: Spot = CAR, **rest) -> Outing:
    return Outing(days=(OutingDay(date=day, leave_from=leave, back_by=back),), start=start, **rest)


@pytest.mark.parametrize(
    ("day", "leave", "back", "minutes"),
    [
        (date(2026, 3, 28), time(0, 30), time(3), 150),
        (date(2026, 3, 29), time(0, 30), time(3), 90),
        (date(2026, 10, 25), time(0, 30), time(3), 210),
        (date(2026, 3, 28), time(22), time(22), 23 * 60),
        (date(2026, 10, 24), time(22), time(22), 25 * 60),
        (date(2026, 6, 1), time(22), time(2), 240),
        (date(2026, 12, 31), time(23, 59), time(0, 1), 2),
    ],
    ids=["plain", "an hour is lost", "an hour comes twice", "23 hours", "25 hours", "over midnight", "over the year"],
)
def test_a_day_by_the_clock(day, leave, back, minutes):
    made = days_of(_outing(day, leave, back))[0]
    assert made.back_by - made.leave_from == minutes
    assert when(made.leave_from).astimezone(ZoneInfo(LONDON)).time() == leave
    assert when(made.back_by).astimezone(ZoneInfo(LONDON)).time() == back


def test_a_day_with_a_start_of_its_own_comes_back_to_it():
    madrid = replace(CAR, name="hut", time_zone="Europe/Madrid")
    day = OutingDay(date=date(2026, 7, 1), leave_from=time(8), back_by=time(12), start=madrid)
    outing = Outing(days=(day,), start=CAR, end=replace(CAR, name="home"))
    assert ends_of(outing, 0) == (madrid, madrid)
    assert days_of(outing)[0].back_by - days_of(outing)[0].leave_from == 240


def test_a_time_that_the_clock_jumps_over_or_shows_twice():
    assert when(instant(date(2026, 3, 29), time(1, 30), LONDON)) == datetime(2026, 3, 29, 1, 30, tzinfo=UTC)
    assert when(instant(date(2026, 10, 25), time(1, 30), LONDON)) == datetime(2026, 10, 25, 0, 30, tzinfo=UTC)


def test_a_day_over_a_border_between_zones():
    west = replace(CAR, name="over the border", time_zone="Europe/Lisbon")
    east = replace(CAR, time_zone="Europe/Madrid")
    made = days_of(_outing(date(2026, 7, 1), time(8), time(12), start=east, end=west))[0]
    assert (when(made.leave_from).hour, when(made.back_by).hour) == (6, 11)


@pytest.mark.parametrize(
    ("latitude", "day", "light"),
    [(72.0, date(2026, 6, 21), 24 * 60 - 1), (79.0, date(2026, 12, 21), 0), (72.0, date(2026, 12, 21), None)],
    ids=["polar day", "polar night", "polar twilight"],
)
def test_light_to_walk_by_near_the_pole(latitude, day, light):
    spot = replace(CAR, latitude_deg=latitude, longitude_deg=20.0, time_zone="UTC")
    made = days_of(_outing(day, time(0), time(23, 59), start=spot))[0]
    minutes = sum(b - a for a, b in made.light)
    assert minutes == light if light is not None else 0 < minutes < 6 * 60


WISHES = (
    LightWish(),
    LightWish(around="sunrise", before_min=30, after_min=45),
    LightWish(sides=("side_right", "back_right", "front"), highest_deg=20.0),
    LightWish(lowest_deg=-6.0, highest_deg=2.0),
    LightWish(lit=(LitWish(element_id="boathouse"),), from_hour=6, to_hour=12),
)
TIDE = TideStation(
    name="Samphire Sands", mean_m=5.0, constituents=(TideConstituent(name="M2", amplitude_m=3.0, phase_deg=120.0),)
)


NO_WISH = LightWish()


def _state(wish: LightWish = NO_WISH, **place):
    composition = replace(TARN_SCENE.composition, light_wish=wish)
    return build_state(replace(TARN_SCENE, composition=composition, place=replace(TARN_SCENE.place, **place)))


@pytest.mark.parametrize("wish", WISHES[1:], ids=str)
def test_windows_between_two_instants_are_those_of_the_day(wish):
    state = _state(wish)
    today = light_today(state)
    day = datetime(2026, 10, 18, tzinfo=ZoneInfo(LONDON))
    first, last = minute_of(day), minute_of(day + timedelta(days=1))
    found = light_spans(state, first, last)
    inside = [(math.ceil(a / 60), math.floor(b / 60)) for a, b in today.windows if b / 60 > first and a / 60 < last]
    assert found == inside and found


@pytest.mark.parametrize("seed", range(40))
def test_chances_are_just_the_minutes_in_which_all_holds(seed):
    r = random.Random(seed)
    state = _state(r.choice(WISHES), tide=TIDE)
    begins = minute_of(datetime(2026, 10, 18, r.randint(0, 10), tzinfo=UTC))
    days = (Day(begins, begins + r.randint(200, 900), ()), Day(begins + 1440, begins + 1440 + 700, ()))
    visit = OutingVisit(
        id="v",
        composition_id="c",
        goal=r.choice(["light", "light", "moment", "any"]),
        moment=time(r.randint(5, 18), r.randint(0, 59)),
        tolerance_min=r.choice([0, 5, 40]),
        day=r.choice([None, None, 0, 1]),
        set_up_min=r.choice([0, 10]),
        margin_min=r.choice([0, 15]),
        daylight_only=r.random() < 0.4,
        tide_below_m=r.choice([None, 4.0, 6.0]),
        tide_above_m=r.choice([None, None, 3.0]),
    )
    frames = r.choice([1, 12, 45])
    found = chances_of(state, visit, days, frames)
    minutes = range(begins - 60, begins + 1440 + 800)
    spans = light_spans(state, days[0].leave_from, days[1].back_by)

    def wanted(f: int) -> bool:
        if visit.goal == "any":
            return True
        if visit.goal == "moment":
            at = [instant(date(2026, 10, d), visit.moment, LONDON) for d in (17, 18, 19, 20)]
            return any(abs(f - m) <= visit.tolerance_min for m in at)
        return any(a <= f and f + frames <= b for a, b in spans)

    tide = [(c.name, c.amplitude_m, c.phase_deg) for c in TIDE.constituents]
    every = np.arange(begins - 1500, begins + 4000)
    heights = tide_height(every * 60.0, TIDE.mean_m, tide)
    sun = sun_place(every * 60.0, TARN_SCENE.place.latitude_deg, TARN_SCENE.place.longitude_deg).altitude_deg
    open_ = np.ones(len(every), dtype=bool)
    open_ &= (visit.tide_below_m is None) | (heights <= (visit.tide_below_m or 0))
    open_ &= (visit.tide_above_m is None) | (heights >= (visit.tide_above_m or 0))
    open_ &= (not visit.daylight_only) | (sun >= -6)

    def there(f: int) -> bool:
        low, high = f - visit.set_up_min - every[0], f + frames + visit.margin_min - every[0]
        return bool(open_[low : high + 1].all())

    for d, day in enumerate(days):
        holds = {
            f
            for f in minutes
            if day.leave_from <= f <= day.back_by and visit.day in (None, d) and wanted(f) and there(f)
        }
        said = {
            f
            for c in found.chances
            if c.day == d
            for f in range(c.first_from, c.first_to + 1)
            if day.leave_from <= f <= day.back_by
        }
        assert said == holds
    assert (found.cause == "none") == bool(found.chances)


def test_what_is_nailed_is_a_single_minute_and_asks_no_light():
    at = datetime(2026, 10, 18, 12, 34, tzinfo=UTC)
    visit = OutingVisit(id="v", composition_id="c", first_at=at)
    day = Day(minute_of(at) - 300, minute_of(at) + 300, ())
    (chance,) = chances_of(_state(WISHES[1]), visit, (day,), 5).chances
    assert chance.first_from == chance.first_to == minute_of(at)


def test_each_cause_is_told():
    begins = minute_of(datetime(2026, 10, 18, 3, tzinfo=UTC))
    morning, dead_of_night = Day(begins, begins + 600, ()), Day(begins - 180, begins, ())
    visit = OutingVisit(id="v", composition_id="c")

    def cause(state, visit=visit, day=morning, frames=5):
        return chances_of(state, visit, (day,), frames).cause

    assert cause(_state()) == "none"
    assert cause(_state(), frames=300) == "short"
    assert cause(_state(LightWish(lowest_deg=80.0))) == "light"
    assert cause(_state(LightWish(lit=(LitWish(element_id="gone"),)))) == "wish_gone"
    assert cause(_state(), replace(visit, goal="moment", moment=time(20)), morning) == "hours"
    assert cause(_state(), replace(visit, tide_below_m=1.0)) == "no_tide"
    assert cause(_state(tide=TIDE), replace(visit, tide_below_m=-1.0)) == "tide"
    assert cause(_state(), replace(visit, goal="any", daylight_only=True), dead_of_night) == "dark"


PACE = Pace(darkness=1.5)
FLAT = Terrain(np.full((120, 120), 100.0, dtype=np.float32), 25.0, -1500.0, -1500.0, 54.0, -2.0)


def _at(east: float, north: float) -> Point:
    return Point(*position_of(54.0, -2.0, east, north))


def test_ways_without_anything_known_are_straight_with_a_detour():
    a, b = Point(54.0, -2.0, 100), Point(54.01, -2.0, 400)
    ways = legs_between([a, b], (), (), None, PACE, 1.3)
    apart = apart_m(54.0, -2.0, 54.01, -2.0)
    up, down = ways[0][1], ways[1][0]
    assert up.stretches[0].by == "straight"
    # Naismith as usually stated: 5 km in an hour, 600 m up in another.
    assert up.leg.light_min == math.ceil(apart * 1.3 / 5000 * 60 + 30)
    assert down.leg.light_min == math.ceil(apart * 1.3 / 5000 * 60)
    assert up.leg.dark_min == math.ceil((apart * 1.3 / 5000 * 60 + 30) * 1.5)
    assert ways[0][0].leg.light_min == 0


def test_over_open_ground_the_terrain_is_walked_on():
    ways = legs_between([_at(-1000, 0), _at(1000, 0)], (), (), FLAT, PACE, 1.3)
    leg = ways[0][1]
    assert [s.by for s in leg.stretches] == ["terrain"]
    assert leg.leg.light_min == 24


def test_a_path_near_both_ends_is_taken_where_it_is_faster():
    line = tuple((*_at(e, 30).position, None) for e in range(-1200, 1201, 50))
    wall = FLAT.heights_m.copy()
    wall[:59, 58:62] = 900.0
    wall[60:, 58:62] = 900.0
    walled = Terrain(wall, 25.0, -1500.0, -1500.0, 54.0, -2.0)
    a, b = _at(-1000, 0), _at(1000, 0)
    ways = legs_between([a, b], (), (Path("lane", line),), None, PACE, 1.3)
    assert [s.by for s in ways[0][1].stretches] == ["straight", "path", "straight"]
    assert ways[0][1].stretches[1].name == "lane"
    assert ways[0][1].leg.light_min == pytest.approx(2000 / 5000 * 60 + 2 * 30 * 1.3 / 5000 * 60, abs=1.01)
    # The terrain's own way is straight here, and so faster than going to the lane first.
    assert legs_between([a, b], (), (Path("lane", line),), FLAT, PACE, 1.3)[0][1].stretches[0].by == "terrain"
    over = legs_between([a, b], (), (), walled, PACE, 1.3)[0][1]
    assert over.stretches[0].length_m > 2000


def test_rides_are_walked_to_and_taken_both_ways():
    near, far = _at(0, 0), Point(54.4, -2.0)
    park = Spot(name="here", latitude_deg=_at(400, 0).latitude_deg, longitude_deg=_at(400, 0).longitude_deg)
    there = Spot(name="there", latitude_deg=54.402, longitude_deg=-2.0)
    assert legs_between([near, far], (), (), None, PACE, 1.3)[0][1] is None
    ride = Ride(from_spot=park, to_spot=there, minutes=50)
    ways = legs_between([near, far], (ride,), (), None, PACE, 1.0)
    for i, j in ((0, 1), (1, 0)):
        assert [s.by for s in ways[i][j].stretches] == ["straight", "car", "straight"]
        walked = 400 + apart_m(54.4, -2.0, 54.402, -2.0)
        assert ways[i][j].leg.light_min == math.ceil(50 + walked / 5000 * 60)
        said = leg_words(ways[i][j], 50, False, "metric")
        assert said.index("on foot") < said.index("by car 50 min") < said.rindex("on foot")
        # A car has lights.
        assert ways[i][j].leg.dark_min == math.ceil(50 + walked / 5000 * 60 * 1.5)


def test_a_path_over_the_date_line():
    points = [Point(10.0, 179.99, 5), Point(10.0, -179.99, 5)]
    line = tuple((10.0, (lon + 180) % 360 - 180, 5.0) for lon in np.linspace(179.985, 180.015, 9).tolist())
    way = legs_between(points, (), (Path("beach", line),), None, PACE, 1.3)[0][1]
    assert "path" in [s.by for s in way.stretches]
    assert sum(s.length_m for s in way.stretches) == pytest.approx(apart_m(10.0, 179.99, 10.0, -179.99), rel=0.01)


def _forecast(**changed) -> Forecast:
    start = datetime(2026, 10, 18, 0, tzinfo=UTC)
    values = {
        "cloud_low": 0.0, "cloud_middle": 0.0, "cloud_high": 0.0, "wind_m_s": 1.0, "gust_m_s": 2.0, "rain_mm_h": 0.0,
        "visibility_km": 40.0,
    } | changed  # fmt: skip
    hours = tuple(ForecastHour(at_utc=start + timedelta(hours=h), **values) for h in range(24))
    return Forecast(source="made up", simulated=True, made_at_utc=start, hours=hours)


@pytest.mark.parametrize(
    ("need", "changed", "verdict", "figure"),
    [
        (Need("sun"), {}, "yes", 1.0),
        (Need("sun"), {"cloud_low": 0.5}, "perhaps", 0.5),
        (Need("sun"), {"cloud_low": 0.9}, "no", 0.1),
        (Need("even"), {"cloud_low": 0.9}, "yes", 0.9),
        (Need("even"), {}, "no", 0.0),
        (Need("break"), {"cloud_low": 0.5}, "perhaps", 0.5),
        (Need("calm", 3.0), {"wind_m_s": 3.0}, "yes", 3.0),
        (Need("calm", 1.5), {"wind_m_s": 3.0}, "perhaps", 3.0),
        (Need("calm", 1.5), {"wind_m_s": 3.1}, "no", 3.1),
        (Need("clear_air", 15.0), {"visibility_km": 9.0}, "perhaps", 9.0),
        (Need("dry", 0.2), {"rain_mm_h": 2.0}, "no", 2.0),
    ],
    ids=str,
)
def test_needs_against_a_forecast(need, changed, verdict, figure):
    at = datetime(2026, 10, 18, 7, 10, tzinfo=UTC).timestamp()
    found = judge(need, _forecast(**changed), at, at + 1800)
    assert (found.verdict, found.figure) == (verdict, pytest.approx(figure))
    assert judge(need, _forecast(**changed), at + 86400 * 3, at + 86400 * 3 + 60).verdict == "unknown"
    assert judge(need, None, at, at + 60).verdict == "unknown"


def test_what_a_picture_asks_of_the_weather():
    plain = TARN_SCENE.composition

    def kinds(**changed):
        return {n.kind for n in needs_of(replace(plain, **changed))}

    assert "sun" in kinds() and "dry" in kinds()
    assert "break" in kinds(light_wish=LightWish(around="sunset")) and "sun" not in kinds(
        light_wish=LightWish(around="sunset")
    )
    assert "even" in kinds(light_wish=LightWish(lit=(LitWish(lit=False),)))
    leaves = tuple(replace(e, motion="foliage", sharp=True) for e in plain.elements[:1])
    assert "calm" in kinds(elements=leaves)


def test_charges_and_cards_by_hand():
    # A charge of 400 frames at room temperature; two and a half hours of open shutter take another.
    assert charges(400, 0, 400, 20) == pytest.approx(1)
    assert charges(0, 9000, 400, 20) == pytest.approx(1)
    assert charges(400, 0, 400, 0) == pytest.approx(1 / 0.8)
    assert cold_share(-40) == 0.5 and cold_share(30) == 1.0 and cold_share(-5) == pytest.approx(0.725)
    use = use_of(_state())
    (one,) = demand_of([use, use], 20)
    assert one.frames == math.ceil(2 * use.frames * 1.5)
    assert one.card_mb == pytest.approx(one.frames * 8192 * 5460 / 1e6 * 1.3)
    other = replace(use, body="second body")
    assert [d.body for d in demand_of([use, other, use], 20)] == [use.body, "second body"]


def _candidates(count: int) -> list[Candidate]:
    state = _state()
    visits = [
        OutingVisit(id=f"v{k}", composition_id="c", goal="moment", moment=time(9 + k), tolerance_min=20, margin_min=0)
        for k in range(count)
    ]
    return [Candidate(v, v.id, state, stands_at(state)) for v in visits]


def test_planned_from_now_on_what_is_done_stays_done():
    candidates = _candidates(4)
    outing = _outing(date(2026, 10, 18), time(6), time(16), visits=tuple(c.visit for c in candidates))
    ways = ways_of(outing, candidates, (), None)
    put = put_together(outing, candidates, ways)
    assert [put.candidates[i].visit.id for i in schedule(put.task).kept] == ["v0", "v1", "v2", "v3"]
    left = datetime(2026, 10, 18, 9, 50, tzinfo=UTC)
    under_way = replace(outing, done=(DoneVisit(visit_id="v1", left_at=left),))
    now = minute_of(left)
    later = put_together(under_way, candidates, ways, now)
    plan = schedule(later.task)
    kept = [later.candidates[i].visit.id for i in plan.kept]
    assert kept == ["v2", "v3"] and [c.visit.id for c in later.candidates] == ["v0", "v2", "v3"]
    assert plan.days[0].leave >= now
    # From where the last one was left it is no way at all; from the start it is half an hour.
    first = plan.days[0].visits[0]
    assert later.way(later.task.start(0), first.visit).leg.light_min == 0


def test_the_same_outing_on_another_date():
    two = Outing(
        days=(
            OutingDay(date=date(2026, 10, 24), leave_from=time(6), back_by=time(18)),
            OutingDay(date=date(2026, 10, 26), leave_from=time(6), back_by=time(18)),
        ),
        start=CAR,
        visits=(OutingVisit(id="v", composition_id="c", first_at=datetime(2026, 10, 24, 8, tzinfo=UTC)),),
    )
    moved = moved_to(two, date(2026, 12, 31))
    assert [d.date for d in moved.days] == [date(2026, 12, 31), date(2027, 1, 2)]
    assert moved.visits[0].first_at is None


def test_an_outing_that_contradicts_itself_says_where():
    good = _outing(date(2026, 10, 18), time(6), time(16), visits=(OutingVisit(id="v", composition_id="c"),))
    assert check_outing(good) == []

    def wrong(outing: Outing) -> set[str]:
        found = check_outing(outing)
        assert all(p.message.endswith(".") for p in found)
        return {p.pointer for p in found}

    def visit(**changed):
        return replace(good, visits=(replace(good.visits[0], **changed),))

    assert wrong(visit(goal="moment")) == {"/outing/visits/0/moment"}
    assert wrong(visit(day=3)) == {"/outing/visits/0/day"}
    assert wrong(visit(tide_below_m=1.0, tide_above_m=2.0)) == {"/outing/visits/0/tide_below_m"}
    assert wrong(visit(first_at=datetime(2026, 10, 18, 8))) == {"/outing/visits/0/first_at"}
    assert wrong(replace(good, visits=good.visits * 2)) == {"/outing/visits/1/id"}
    assert wrong(replace(good, start=replace(CAR, time_zone="Moon/Sea"))) == {"/outing/start/time_zone"}
    day = good.days[0]
    assert wrong(replace(good, days=(replace(day, date=date(1850, 1, 1)),))) == {"/outing/days/0/date"}
    assert wrong(replace(good, days=(day, day))) == {"/outing/days/1/date"}


def test_water_is_walked_round_and_a_fence_not_crossed():
    a, b = _at(-600, 0), _at(600, 0)

    def length(*closed: Closed) -> float:
        way = legs_between([a, b], (), (), FLAT, PACE, 1.3, closed)[0][1]
        return sum(s.length_m for s in way.stretches)

    corners = ((-300, -400), (-300, 400), (300, 400), (300, -400))
    tarn = Closed(tuple(_at(e, n).position for e, n in corners))
    fence = Closed((_at(0, -800).position, _at(0, 500).position))
    # By the corners, plus what moves on a grid are longer and a cell of room.
    assert length() == pytest.approx(1200, rel=0.01)
    assert length(tarn) == pytest.approx(2 * math.hypot(300, 400) + 600, rel=0.07)
    assert length(fence) == pytest.approx(2 * math.hypot(600, 500), rel=0.07)
    # Whoever stands at the edge of the water gets away from it.
    shore = legs_between([_at(-300, 0), b], (), (), FLAT, PACE, 1.3, (tarn,))[0][1]
    assert shore is not None and sum(s.length_m for s in shore.stretches) > 900
