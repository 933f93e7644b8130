"""An outing put together: its visits with their chances, the ways between them, and the schedule; also from now on, underway."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

from lucid_ridge.core.light.terrain import Terrain, position_of
from lucid_ridge.core.model.outing import Outing, OutingVisit
from lucid_ridge.core.model.place import Place
from lucid_ridge.core.outing.chances import Chances, chances_of
from lucid_ridge.core.outing.day_times import bounds_of, days_of, ends_of, minute_of
from lucid_ridge.core.outing.legs import Closed, LegWay, Path, Point, legs_between
from lucid_ridge.core.outing.schedule import SECONDS, Plan, schedule
from lucid_ridge.core.outing.task import Day, Task, Visit
from lucid_ridge.core.sequence.timing import sequence_s
from lucid_ridge.core.state.state import State


@dataclass(frozen=True, eq=False)
class Candidate:
    """A visit with the scene of its composition, and where the camera stands; ``pace`` is how many times as long as planned one takes."""

    visit: OutingVisit
    name: str
    state: State
    point: Point
    pace: float = 1.0

    @property
    def frames_min(self) -> int:
        """How long its sequence takes, minutes, rounded up and at least one."""
        if self.visit.frames_min is not None:
            return max(self.visit.frames_min, 1)
        return max(math.ceil(sequence_s(self.state) * self.pace / 60), 1)

    @property
    def ready_min(self) -> int:
        """How long before its light one wants to stand there."""
        if self.visit.ready_min is not None:
            return self.visit.ready_min
        if self.visit.goal != "light" and self.visit.first_at is None:
            return 0
        return round(self.state.scene.composition.light_wish.ready_min)


def stands_at(state: State) -> Point:
    """Where the camera of a scene stands."""
    place, composition = state.scene.place, state.scene.composition
    latitude, longitude = position_of(place.latitude_deg, place.longitude_deg, composition.east_m, composition.north_m)
    return Point(latitude, longitude, place.elevation_m + composition.ground_m)


_WIDE_M = 20.0
"""Water narrower than that is stepped or waded over, or has a bridge that nobody noted."""


def closed_in(candidates: Sequence[Candidate]) -> tuple[Closed, ...]:
    """What the scenes of an outing know that nobody walks over: wide water, and the lines that are not to be crossed."""
    made = []
    for candidate in candidates:
        place, composition = candidate.state.scene.place, candidate.state.scene.composition

        def at(east: float, north: float, place: Place = place) -> tuple[float, float]:
            return position_of(place.latitude_deg, place.longitude_deg, east, north)

        for e in composition.elements:
            if e.silhouette == "water" and min(e.width_m, e.depth_m) >= _WIDE_M and not e.ridgeline:
                turn = math.radians(e.turned_deg)
                away, side = (math.sin(turn), math.cos(turn)), (math.cos(turn), -math.sin(turn))
                corners = ((0, -0.5), (0, 0.5), (1, 0.5), (1, -0.5))
                outline = tuple(
                    at(
                        e.east_m + d * e.depth_m * away[0] + w * e.width_m * side[0],
                        e.north_m + d * e.depth_m * away[1] + w * e.width_m * side[1],
                    )
                    for d, w in corners
                )
                made.append(Closed(outline))
        for line in composition.keep_out_lines:
            made.append(Closed((at(line.from_east_m, line.from_north_m), at(line.to_east_m, line.to_north_m))))
    return tuple(dict.fromkeys(made))


@dataclass(frozen=True, eq=False)
class Put:
    """An outing as a task: visits that are left to make, in the order of ``candidates``, their chances, and the ways between all points."""

    outing: Outing
    candidates: tuple[Candidate, ...]
    chances: tuple[Chances, ...]
    ways: tuple[tuple[LegWay | None, ...], ...]
    task: Task
    left_last: tuple[str | None, ...]
    """For each day under way the name of the visit that was left last; None where it begins at its start."""

    def way(self, a: int, b: int) -> LegWay | None:
        """The way from one point of the task to another."""
        return self.ways[a][b]


def points_of(outing: Outing, candidates: Sequence[Candidate]) -> list[Point]:
    """The standpoints of an outing, then start and end of each day: the points that ways are needed between."""
    spots = [spot for d in range(len(outing.days)) for spot in ends_of(outing, d)]
    return [c.point for c in candidates] + [Point(s.latitude_deg, s.longitude_deg, s.elevation_m) for s in spots]


def ways_of(
    outing: Outing, candidates: Sequence[Candidate], paths: Sequence[Path], terrain: Terrain | None
) -> list[list[LegWay | None]]:
    """The ways between all points of an outing, over what is known of the ground."""
    points = points_of(outing, candidates)
    return legs_between(points, outing.rides, paths, terrain, outing.pace, outing.detour, closed_in(candidates))


def _underway(outing: Outing, days: tuple[Day, ...], now: int) -> tuple[tuple[Day, ...], dict[int, str]]:
    """The days as they are from now on, and for each under way the visit that was left last."""
    made, at = [], {}
    for d, day in enumerate(days):
        left = [v for v in outing.done if day.leave_from <= minute_of(v.left_at) <= day.back_by]
        if left and now <= day.back_by:
            at[d] = max(left, key=lambda v: v.left_at).visit_id
        made.append(
            Day(min(max(day.leave_from, now), day.back_by), day.back_by, day.light) if now > day.leave_from else day
        )
    return tuple(made), at


def put_together(
    outing: Outing,
    candidates: Sequence[Candidate],
    ways: Sequence[Sequence[LegWay | None]],
    now: int | None = None,
) -> Put:
    """An outing as a task.

    Parameters
    ----------
    outing
        As it is written down.
    candidates
        Its visits with their scenes, in its order.
    ways
        The ways between all its points, see `ways_of`.
    now
        From which minute on, with what is done left out and the last of it as where one is; None from the beginning.

    """
    days = days_of(outing)
    at: dict[int, str] = {}
    if now is not None:
        days, at = _underway(outing, days, now)
    done = {v.visit_id for v in outing.done} if now is not None else set()
    index = {c.visit.id: i for i, c in enumerate(candidates)}
    left = [i for i, c in enumerate(candidates) if c.visit.id not in done]
    count = len(candidates)
    order = list(left)
    for d in range(len(days)):
        order += [index.get(at[d], count + 2 * d) if d in at else count + 2 * d, count + 2 * d + 1]
    chosen = tuple(tuple(ways[a][b] for b in order) for a in order)
    chances = tuple(chances_of(candidates[i].state, candidates[i].visit, days, candidates[i].frames_min) for i in left)
    visits = tuple(
        Visit(
            key=candidates[i].visit.id,
            wanted=candidates[i].visit.wanted,
            set_up_min=candidates[i].visit.set_up_min,
            frames_min=candidates[i].frames_min,
            margin_min=candidates[i].visit.margin_min,
            ready_min=candidates[i].ready_min,
            chances=found.chances,
        )
        for i, found in zip(left, chances, strict=True)
    )
    legs = tuple(tuple(None if way is None else way.leg for way in row) for row in chosen)
    last = tuple(candidates[index[at[d]]].name if at.get(d) in index else None for d in range(len(days)))
    return Put(outing, tuple(candidates[i] for i in left), chances, chosen, Task(days, visits, legs), last)


def moved_to(outing: Outing, first: date) -> Outing:
    """The same outing with its first day on another date, the others as far behind it as they were; nailed times let go."""
    shift = first - outing.days[0].date
    days = tuple(replace(day, date=day.date + shift) for day in outing.days)
    return replace(outing, days=days, visits=tuple(replace(v, first_at=None) for v in outing.visits), done=())


@dataclass(frozen=True)
class OnDate:
    """What fits when the outing begins on a date."""

    first: date
    put: Put
    plan: Plan


def on_dates(
    outing: Outing,
    candidates: Sequence[Candidate],
    ways: Sequence[Sequence[LegWay | None]],
    first: date,
    count: int,
    seconds: float = SECONDS,
    now: int | None = None,
) -> list[OnDate]:
    """The same outing begun on each of so many dates, with what fits on each; of a day that has begun by *now*, what is left of it."""
    made = []
    for k in range(count):
        begun = first + timedelta(days=k)
        there = moved_to(outing, begun)
        visits = {v.id: v for v in there.visits}
        moved = [replace(c, visit=visits[c.visit.id]) for c in candidates]
        leave, back = bounds_of(there, 0)
        begun_already = now is not None and leave <= now <= back
        put = put_together(there, moved, ways, now if begun_already else None)
        made.append(OnDate(begun, put, schedule(put.task, seconds / count)))
    return made
