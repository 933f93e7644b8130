"""Ways between all points of an outing: along paths, over the terrain, else straight with a detour; and by what was typed.

Times on foot are estimates, and none of these is a recommended route.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.sparse.csgraph import connected_components

from lucid_ridge.core.light.terrain import Terrain, apart_m, height_of, lie_of, line_length_m, position_of
from lucid_ridge.core.model.outing import Pace, Ride
from lucid_ridge.core.outing.least_time import Ground, ground_around, least_times
from lucid_ridge.core.outing.task import Leg
from lucid_ridge.core.outing.walking import Profile, profile

By = Literal["path", "terrain", "straight", "car", "boat", "other", "here"]
ON_FOOT: tuple[By, ...] = ("path", "terrain", "straight")
Position = tuple[float, float]
Array = NDArray[np.float64]

NEAR_PATH_M = 200.0
"""A path is taken from points that lie this near to it."""
FARTHEST_WALK_M = 25_000.0
"""Nobody walks farther between two pictures (in a straight line)."""
_HERE_M = 3.0
_LINKED_M = 6000.0


@dataclass(frozen=True)
class Point:
    """A position with its height, metres above sea level, None where it is not known."""

    latitude_deg: float
    longitude_deg: float
    height_m: float | None = None

    @property
    def position(self) -> Position:
        """Latitude and longitude."""
        return self.latitude_deg, self.longitude_deg


@dataclass(frozen=True)
class Path:
    """A path as it was recorded or drawn: points with heights or None."""

    name: str
    points: tuple[tuple[float, float, float | None], ...]


@dataclass(frozen=True)
class Closed:
    """What nobody walks over: an outline of positions (water, filled), or a line of two (an edge, a fence)."""

    outline: tuple[Position, ...]


@dataclass(frozen=True)
class Stretch:
    """A part of a way, in one manner: its line, how long and how much up and down, and minutes by day and in the dark."""

    by: By
    name: str
    line: tuple[Position, ...]
    length_m: float
    ascent_m: float
    descent_m: float
    light_min: float
    dark_min: float


@dataclass(frozen=True)
class LegWay:
    """How one gets from one point to another: stretches in order."""

    stretches: tuple[Stretch, ...]

    @property
    def leg(self) -> Leg:
        """Its times in whole minutes, rounded up."""
        light, dark = (sum(getattr(s, name) for s in self.stretches) for name in ("light_min", "dark_min"))
        return Leg(math.ceil(light - 1e-6), math.ceil(max(dark, light) - 1e-6))


def _stretch(by: By, name: str, line: Sequence[Position], way: Profile, pace: Pace) -> Stretch:
    by_day = replace(pace, darkness=1.0)
    return Stretch(
        by=by,
        name=name,
        line=tuple(line),
        length_m=way.length_m,
        ascent_m=way.ascent_m,
        descent_m=way.descent_m,
        light_min=way.seconds(by_day) / 60,
        dark_min=way.seconds(pace) / 60,
    )


def _straight(a: Point, b: Point, pace: Pace, detour: float) -> Stretch:
    apart = apart_m(*a.position, *b.position) * detour
    rise = 0.0 if a.height_m is None or b.height_m is None else b.height_m - a.height_m
    way = Profile(level_m=(apart,), rise_m=(rise,))
    by: By = "here" if apart <= _HERE_M else "straight"
    return _stretch(by, "", (a.position, b.position), way, replace(pace, off_path=pace.rule == "tobler"))


@dataclass(frozen=True)
class _Line:
    """A path with how far along it each point lies, and heights from the terrain where it has none."""

    name: str
    latitude: Array
    longitude: Array
    height: Array
    along: Array


def _line(path: Path, terrain: Terrain | None) -> _Line:
    latitude = np.array([p[0] for p in path.points], dtype=float)
    # A path over the date line goes on beyond 180 degrees.
    longitude = np.unwrap(np.array([p[1] for p in path.points], dtype=float), period=360)
    heights = [height_of(terrain, p[0], p[1]) if p[2] is None and terrain else p[2] for p in path.points]
    pieces = [line_length_m(latitude[i : i + 2], longitude[i : i + 2]) for i in range(len(latitude) - 1)]
    height = np.array([math.nan if h is None else h for h in heights])
    return _Line(path.name, latitude, longitude, height, np.concatenate([[0.0], np.cumsum(pieces)]))


def _foot(line: _Line, point: Point) -> tuple[float, float]:
    """How far from a path a point lies, and where along it that is, on the plane around the point."""
    north = (line.latitude - point.latitude_deg) * 111_200
    around = (point.longitude_deg - line.longitude[0] + 180) % 360 - 180 + line.longitude[0]
    east = (line.longitude - around) * 111_200 * math.cos(math.radians(point.latitude_deg))
    de, dn = np.diff(east), np.diff(north)
    squared = np.maximum(de * de + dn * dn, 1e-9)
    share = np.clip(-(east[:-1] * de + north[:-1] * dn) / squared, 0, 1)
    away = np.hypot(east[:-1] + share * de, north[:-1] + share * dn)
    k = int(np.argmin(away))
    return float(away[k]), float(line.along[k] + share[k] * (line.along[k + 1] - line.along[k]))


def _along(line: _Line, begin: float, finish: float) -> tuple[Array, Array, Array]:
    """Latitudes, longitudes and heights of a path between two points along it, in the order in which they are walked."""
    low, high = min(begin, finish), max(begin, finish)
    inside = (line.along > low) & (line.along < high)
    at = np.concatenate([[low], line.along[inside], [high]])
    if begin > finish:
        at = at[::-1]
    known = np.isfinite(line.height)
    height = np.interp(at, line.along[known], line.height[known]) if known.any() else np.zeros(len(at))
    longitude = (np.interp(at, line.along, line.longitude) + 180) % 360 - 180
    return np.interp(at, line.along, line.latitude), longitude, height


def _by_path(line: _Line, a: Point, b: Point, pace: Pace, detour: float) -> LegWay | None:
    (off_a, begin), (off_b, finish) = _foot(line, a), _foot(line, b)
    if off_a > NEAR_PATH_M or off_b > NEAR_PATH_M or abs(finish - begin) < off_a + off_b:
        return None
    latitude, longitude, height = _along(line, begin, finish)
    on, off = (Point(float(latitude[k]), float(longitude[k]), float(height[k])) for k in (0, -1))
    walked = profile(latitude, longitude, height)
    positions = list(zip(latitude.tolist(), longitude.tolist(), strict=True))
    parts = [
        _straight(a, on, pace, detour),
        _stretch("path", line.name, positions, walked, replace(pace, off_path=False)),
        _straight(off, b, pace, detour),
    ]
    return LegWay(tuple(p for p in parts if p.by != "here"))


_FREE_CELLS = 1.6
"""A standpoint at the water's edge can be left: so many cells around it are never closed."""


def _close(ground: Ground, outlines: Sequence[Array], points_m: Sequence[tuple[float, float]]) -> Ground:
    """The ground with cells under water closed and those that a line runs through; points keep room to be left."""
    rows, columns = ground.heights_m.shape
    east = ground.west_m + np.arange(columns) * ground.cell_m
    north = ground.south_m + np.arange(rows) * ground.cell_m
    e, n = np.meshgrid(east, north)
    closed = ground.closed.copy()
    for outline in outlines:
        if len(outline) > 2:
            closed |= shapely.contains_xy(shapely.Polygon(outline), e, n)
        else:
            steps = max(int(math.dist(*outline) / ground.cell_m * 2), 1)
            for x, y in np.linspace(outline[0], outline[-1], steps + 1):
                row, column = ground.cell_at(float(x), float(y))
                inside = abs(east[column] - x) <= ground.cell_m and abs(north[row] - y) <= ground.cell_m
                closed[row, column] |= inside
    for x, y in points_m:
        closed &= np.hypot(e - x, n - y) > _FREE_CELLS * ground.cell_m
    return ground._replace(closed=closed)


def _over_terrain(
    terrain: Terrain, points: Sequence[Point], closed: Sequence[Closed], pace: Pace
) -> dict[tuple[int, int], LegWay]:
    """Ways of least time between points that lie on a terrain and near to each other, round what is closed."""
    outlines = []
    for one in closed:
        corners = [lie_of(terrain, *position) for position in one.outline]
        outlines.append(np.array([(lie.east_m, lie.north_m) for lie in corners]))
    lies = [lie_of(terrain, *p.position) for p in points]
    on = [k for k, lie in enumerate(lies) if math.isfinite(float(terrain.height_at(lie.east_m, lie.north_m)))]
    at = {k: (lies[k].east_m, lies[k].north_m) for k in on}
    near = np.array([[math.dist(at[i], at[j]) <= _LINKED_M for j in on] for i in on]).reshape(len(on), len(on))
    walked = replace(pace, off_path=pace.rule == "tobler")
    made: dict[tuple[int, int], LegWay] = {}
    groups = connected_components(near)[1] if on else []
    for g in set(groups):
        members = [on[k] for k in range(len(on)) if groups[k] == g]
        if len(members) < 2:
            continue
        places = [at[k] for k in members]
        ground = _close(ground_around(terrain, places), outlines, places)
        for (i, j), way in least_times(ground, places, replace(walked, darkness=1.0)).items():
            a, b = members[i], members[j]
            # Within two cells of each other the grid says nothing.
            if way is None or math.dist(at[a], at[b]) < 2 * ground.cell_m:
                continue
            inner = [position_of(terrain.latitude_deg, terrain.longitude_deg, e, n) for e, n in way.points_m[1:-1]]
            positions = [points[a].position, *inner, points[b].position]
            made[a, b] = LegWay((_stretch("terrain", "", positions, way.profile, walked),))
    return made


def _rides(points: Sequence[Point], rides: Sequence[Ride]) -> tuple[list[Point], dict[tuple[int, int], LegWay]]:
    """The points with the ends of what is ridden added, and the rides between them, both ways."""
    every: list[Point] = list(points)
    made: dict[tuple[int, int], LegWay] = {}
    for ride in rides:
        ends = (ride.from_spot, ride.to_spot)
        a = len(every)
        every += [Point(spot.latitude_deg, spot.longitude_deg, spot.elevation_m) for spot in ends]
        for i, j, begin, finish in ((a, a + 1, *ends), (a + 1, a, *ends[::-1])):
            line = (every[i].position, every[j].position)
            name = f"{begin.name} to {finish.name}"
            apart = apart_m(*line[0], *line[1])
            made[i, j] = LegWay((Stretch(ride.by, name, line, apart, 0, 0, ride.minutes, ride.minutes),))
    return every, made


def legs_between(
    points: Sequence[Point],
    rides: Sequence[Ride],
    paths: Sequence[Path],
    terrain: Terrain | None,
    pace: Pace,
    detour: float,
    closed: Sequence[Closed] = (),
) -> list[list[LegWay | None]]:
    """The fastest way by day from each point to each other; None where there is none, an empty one to itself.

    Parameters
    ----------
    points
        The points, (N,).
    rides
        What is ridden between other spots; one walks to where a ride begins.
    paths
        Recorded or drawn paths that may be walked.
    terrain
        Heights, where there are any.
    pace
        How somebody walks.
    detour
        By how much a way is longer than a straight line where neither path nor terrain is known.
    closed
        What nobody walks over. Only ways over the terrain know of it.

    """
    known = [_on_ground(p, terrain) for p in points]
    every, ways = _rides(known, rides)
    lines = [_line(path, terrain) for path in paths if len(path.points) > 1]
    over = _over_terrain(terrain, every, closed, pace) if terrain else {}
    count = len(every)
    for i in range(count):
        for j in range(count):
            if i != j and (i, j) not in ways:
                found = _walk(every[i], every[j], lines, over.get((i, j)), pace, detour)
                if found is not None:
                    ways[i, j] = found
    return _shortest(ways, count, len(points))


def _on_ground(point: Point, terrain: Terrain | None) -> Point:
    if point.height_m is not None or terrain is None:
        return point
    return replace(point, height_m=height_of(terrain, *point.position))


def _walk(a: Point, b: Point, lines: list[_Line], over: LegWay | None, pace: Pace, detour: float) -> LegWay | None:
    if apart_m(*a.position, *b.position) > FARTHEST_WALK_M:
        return None
    found = [way for line in lines if (way := _by_path(line, a, b, pace, detour)) is not None]
    found += [over] if over else []
    if not found:
        return LegWay((_straight(a, b, pace, detour),))
    return min(found, key=lambda w: w.leg.light_min)


def _shortest(ways: dict[tuple[int, int], LegWay], count: int, points: int) -> list[list[LegWay | None]]:
    """The fastest chains of ways between the first so many of all points."""
    best: list[list[LegWay | None]] = [[ways.get((i, j)) for j in range(count)] for i in range(count)]
    cost = np.full((count, count), math.inf)
    for i in range(count):
        best[i][i], cost[i, i] = LegWay(()), 0.0
        for j in range(count):
            way = best[i][j]
            if way is not None:
                cost[i, j] = sum(s.light_min for s in way.stretches)
    for k in range(count):
        for i in range(count):
            for j in range(count):
                first, second = best[i][k], best[k][j]
                # Fewer changes for the same time.
                if first and second and k not in (i, j) and cost[i, k] + cost[k, j] < cost[i, j] - 1e-9:
                    cost[i, j] = cost[i, k] + cost[k, j]
                    best[i][j] = LegWay((*first.stretches, *second.stretches))
    return [row[:points] for row in best[:points]]
