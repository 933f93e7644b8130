"""The schedule of an outing against trying everything, against delays, and against what it says itself."""

import math
import random
import time
from dataclasses import replace

import pytest

from lucid_ridge.core.outing.left_out import changed, left_out, what_falls
from lucid_ridge.core.outing.rough import orders_value, rough
from lucid_ridge.core.outing.schedule import schedule
from lucid_ridge.core.outing.task import WANTED, Chance, Day, Leg, Task, Visit
from lucid_ridge.core.outing.timing import DayPlan, Failure, after_delay, arrival, latest_leave, run
from tests.core.outings_drawn import best_by_trying, drawn


def _holds(task: Task, plan) -> None:
    """Everything a plan promises, checked from the definitions."""
    kept = plan.kept
    assert len(set(kept)) == len(kept) and sorted([*kept, *plan.left_out]) == list(range(len(task.visits)))
    for day in plan.days:
        out, at, now = task.days[day.day], task.start(day.day), day.leave
        assert now >= out.leave_from and day.back <= out.back_by
        for t in day.visits:
            visit, leg = task.visits[t.visit], task.legs[at][t.visit]
            by_day = any(a <= t.arrive - leg.light_min and t.arrive <= b for a, b in out.light)
            assert t.arrive - now >= (leg.light_min if by_day else leg.dark_min)
            assert t.chance in visit.chances and t.chance.day == day.day
            assert t.chance.first_from <= t.first <= t.chance.first_to
            assert t.chance.ground_from <= t.arrive and t.leave <= t.chance.ground_to
            assert t.ready - t.arrive == visit.set_up_min and t.first >= t.ready
            assert t.done - t.first == visit.frames_min and t.leave - t.done == visit.margin_min
            at, now = t.visit, t.leave


@pytest.mark.parametrize("seed", range(300))
def test_a_schedule_is_as_good_as_trying_everything(seed):
    r = random.Random(seed)
    days = 2 if seed % 5 == 0 else 1
    task = drawn(r, 1 + seed % (4 if days == 2 else 7), days)
    plan = schedule(task)
    _holds(task, plan)
    assert plan.proven and plan.value == plan.most
    assert (plan.value, plan.short_min, plan.idle_min) == best_by_trying(task)


def _reason_is_true(task: Task, plan, told) -> None:
    visit = task.visits[told.visit]
    if told.kind == "no_chance":
        assert not visit.chances
    if told.change is not None:
        change = told.change
        kept = {*plan.kept, told.visit}

        def fits(minutes: int) -> bool:
            tried = changed(task, replace(change, minutes=minutes))
            only = Task(
                tried.days,
                tuple(v if i in kept else replace(v, chances=()) for i, v in enumerate(tried.visits)),
                tried.legs,
            )
            return set(schedule(only).kept) == kept

        assert fits(change.minutes) and change.smallest
        assert not fits(change.minutes - 1)
    if told.instead is not None:
        assert told.change is None
        others = {*plan.kept, told.visit} - set(told.instead)
        only = Task(
            task.days, tuple(v if i in others else replace(v, chances=()) for i, v in enumerate(task.visits)), task.legs
        )
        assert set(schedule(only).kept) == others
    if told.kind in ("late", "ground", "back", "pushes"):
        assert told.by_min > 0
        if told.kind == "late":
            lasts = [c.first_to for c in visit.chances if c.day == told.day]
            assert any(told.would - told.by_min == last for last in lasts)
            assert told.arrive + visit.set_up_min <= told.would


@pytest.mark.parametrize("seed", range(60))
def test_every_stated_reason_is_true_when_tried(seed):
    r = random.Random(1000 + seed)
    task = drawn(r, 3 + seed % 6, 1 + seed % 2)
    plan = schedule(task)
    told = left_out(task, plan, 60)
    assert [one.visit for one in told] == list(plan.left_out)
    for one in told:
        _reason_is_true(task, plan, one)


@pytest.mark.parametrize("seed", range(80))
def test_slack_is_just_what_may_slip(seed):
    task = drawn(random.Random(2000 + seed), 2 + seed % 6)
    for day in schedule(task).days:
        for position in range(-1, len(day.visits)):
            slack = day.slack_min if position < 0 else day.visits[position].slack_min
            assert slack >= 0
            for late in {0, slack // 2, slack}:
                assert isinstance(after_delay(task, day, position, late), DayPlan)
            assert isinstance(after_delay(task, day, position, slack + 1), Failure)
            falls = what_falls(task, day, position)
            assert falls is not None and (falls.visit is None or falls.visit in [t.visit for t in day.visits])


def test_twenty_visits_are_answered_in_time_and_with_a_bound():
    for seed in range(3):
        task = drawn(random.Random(3000 + seed), 20, 1 + seed % 2)
        began = time.monotonic()
        plan = schedule(task)
        # Five seconds of search, and what building it takes.
        assert time.monotonic() - began < 7
        _holds(task, plan)
        assert plan.most >= plan.value and (plan.proven <= (plan.most == plan.value))


def _dawns_and_dusks(count: int, days: int) -> Task:
    """What is hard about real ones: each picture has its light at the same times, morning and evening, every day."""
    r = random.Random(count)
    outs = tuple(Day(1440 * d + 300, 1440 * d + 1200, ((1440 * d + 420, 1440 * d + 1100),)) for d in range(days))

    def chances() -> tuple[Chance, ...]:
        opens = [1440 * d + at + r.randint(-5, 15) for d in range(days) for at in (430, 980)]
        return tuple(Chance(at // 1440, at, at + 50, -9999, 99999, at) for at in opens)

    visits = tuple(Visit(str(i), r.choice(WANTED), 10, r.choice([1, 5, 20]), 15, 30, chances()) for i in range(count))
    points = [(r.uniform(0, 90), r.uniform(0, 90)) for _ in range(count + 2 * days)]
    legs = tuple(tuple(Leg(int(math.dist(a, b)), int(1.3 * math.dist(a, b))) for b in points) for a in points)
    return Task(outs, visits, legs)


@pytest.mark.parametrize(("count", "days"), [(20, 2), (20, 7), (40, 3)])
def test_many_that_want_the_same_light_get_a_good_answer_in_time(count, days):
    task = _dawns_and_dusks(count, days)
    began = time.monotonic()
    plan = schedule(task)
    assert time.monotonic() - began < 8
    _holds(task, plan)
    at_once = rough(task, 0.1)
    assert plan.value >= orders_value(task, at_once) > (0, 0, 0)
    assert plan.most >= plan.value and (plan.proven <= (plan.most == plan.value))
    reasons = left_out(task, plan)
    assert [one.visit for one in reasons] == list(plan.left_out)
    for one in reasons[:3]:
        if one.instead:
            others = {*plan.kept, one.visit} - set(one.instead)
            only = tuple(v if i in others else replace(v, chances=()) for i, v in enumerate(task.visits))
            assert set(schedule(replace(task, visits=only)).kept) == others


def test_no_time_at_all_is_an_honest_answer():
    task = drawn(random.Random(5), 20, 2)
    plan = schedule(task, 0.0)
    _holds(task, plan)
    assert plan.most >= plan.value


def _one(chances, **changed_) -> Visit:
    visit = Visit("v", "must", 5, 10, 15, 0, tuple(chances))
    return replace(visit, **changed_)


def _straight(count: int, minutes: int = 20) -> tuple:
    return tuple(tuple(Leg(minutes if a != b else 0, minutes) for b in range(count)) for a in range(count))


@pytest.mark.parametrize(
    ("chances", "kept"),
    [
        ([], []),
        ([Chance(0, 100, 100, 0, 1000, 100)], [0]),
        ([Chance(0, 100, 99, 0, 1000, 100)], []),
        ([Chance(0, 24, 24, 0, 1000, 24)], []),
        ([Chance(0, 25, 25, 0, 1000, 25)], [0]),
        ([Chance(0, 100, 200, 0, 124, 100)], []),
        ([Chance(0, 100, 200, 0, 125, 100)], [0]),
        ([Chance(0, 100, 200, 101, 130, 100)], []),
    ],
    ids=[
        "no window",
        "a window of no length",
        "an empty one",
        "a minute too early",
        "just in time",
        "cut off",
        "just not",
        "opens late",
    ],
)
def test_one_visit_to_the_minute(chances, kept):
    task = Task((Day(0, 400, ((0, 400),)),), (_one(chances),), _straight(3))
    assert schedule(task).kept == kept


def test_when_nothing_is_possible_everything_says_why():
    visits = tuple(_one([Chance(0, 10, 12, 0, 1000, 10)], key=f"v{i}") for i in range(4))
    task = Task((Day(0, 400, ()),), visits, _straight(6))
    plan = schedule(task)
    assert plan.days == () and plan.left_out == (0, 1, 2, 3) and plan.proven
    for one in left_out(task, plan):
        assert (one.kind, one.by_min, one.arrive, one.would) == ("late", 13, 20, 25)
        assert one.change is not None and (one.change.kind, one.change.minutes) == ("earlier", 13)
    assert schedule(Task((), visits, _straight(4))).left_out == (0, 1, 2, 3)


def test_a_visit_twice_is_two_visits():
    chances = [Chance(0, 60, 80, 0, 1000, 60)], [Chance(0, 300, 320, 0, 1000, 300)]
    task = Task((Day(0, 400, ()),), tuple(_one(c, key="same") for c in chances), _straight(4))
    assert schedule(task).kept == [0, 1]


def test_daylight_is_waited_for_where_that_arrives_sooner():
    leg = Leg(20, 60)
    assert [arrival(t, leg, ((100, 200),)) for t in (0, 50, 70, 100, 180, 181)] == [60, 110, 120, 120, 200, 241]
    for light in ((), ((100, 200),), ((100, 130), (150, 200)), ((0, 1000),)):
        for by in range(0, 400, 7):
            last = latest_leave(by, leg, light)
            assert arrival(last, leg, light) <= by < arrival(last + 1, leg, light)


def test_a_must_outweighs_any_number_of_wants():
    wants = tuple(
        _one(
            [Chance(0, 100 + 20 * i, 110 + 20 * i, 0, 1000, 100)],
            wanted="want",
            key=f"w{i}",
            margin_min=0,
            frames_min=5,
            set_up_min=5,
        )
        for i in range(6)
    )
    must = _one([Chance(0, 100, 100, 0, 1000, 100)], frames_min=125, margin_min=0)
    task = Task((Day(0, 400, ()),), (*wants, must), _straight(9, 5))
    assert schedule(task).kept == [6]
    plain = run(task, 0, ((0, wants[0].chances[0]),), 0)
    assert isinstance(plain, DayPlan)
