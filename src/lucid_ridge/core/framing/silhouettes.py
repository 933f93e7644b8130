"""Drawn silhouettes of elements, as cut paper: outlines in the box that an element fills.

Shapes are made from the element's own id, so that a boulder keeps its form while the camera moves.
Standing shapes lie in the near face of the box (u across 0..1, v up 0..1), or in a plane a share of
its depth behind that; lying ones in its foot (u across, v away). The outline that bounds an element
comes first; what the sun does not reach is drawn over it.
"""

from __future__ import annotations

import math
import random
import zlib
from collections.abc import Callable
from functools import lru_cache
from itertools import pairwise
from typing import Literal

from shapely import Polygon, box

from lucid_ridge.core.records import record

SilhouetteKind = Literal[
    "ridge", "hill", "boulder", "boathouse", "wall", "water", "beck", "stones", "meadow", "reeds",
    "heather", "leaf", "dew", "post", "cloud", "flowers", "trunk", "bloom", "animal",
]  # fmt: skip
Paint = Literal["body", "opening", "water", "light", "shade"]
ShadedSide = Literal["", "left", "right", "all"]

Points = tuple[tuple[float, float], ...]

LYING: frozenset[str] = frozenset({"water", "beck", "stones", "meadow"})


@record
class Shape:
    """One closed outline in box coordinates, its paint, and the share of the box's depth where it stands."""

    points: Points
    paint: Paint = "body"
    away: float = 0.0


def _jagged(rng: random.Random, count: int, low: float, rough: float) -> list[tuple[float, float]]:
    """A skyline from left to right by midpoint displacement, highest point 1, ends at *low*."""
    heights = [low, low]
    spread = 1.0
    while len(heights) < count:
        made = [heights[0]]
        for a, b in pairwise(heights):
            made += [(a + b) / 2 + spread * rng.uniform(-0.3, 1.0), b]
        heights, spread = made, spread * rough
    low_now, top = min(heights), max(heights)
    scaled = [low + (1 - low) * (h - low_now) / (top - low_now or 1.0) for h in heights]
    return [(i / (len(scaled) - 1), h) for i, h in enumerate(scaled)]


def _closed(skyline: list[tuple[float, float]]) -> Points:
    return ((0.0, 0.0), *skyline, (1.0, 0.0))


def _ridge(rng: random.Random) -> list[Shape]:
    return [Shape(points=_closed(_jagged(rng, 40, 0.35, 0.55)))]


def _hill(rng: random.Random) -> list[Shape]:
    lean = rng.uniform(0.35, 0.65)
    line = [
        (i / 24, 0.06 + 0.94 * math.exp(-(((i / 24 - lean) / 0.34) ** 2)) * (1 + 0.03 * rng.uniform(-1, 1)))
        for i in range(25)
    ]
    return [Shape(points=_closed(line))]


def _boulder(rng: random.Random) -> list[Shape]:
    corners = [
        (0.0, 0.0),
        (0.03, 0.42),
        (0.13, 0.72),
        (0.3, 0.93),
        (0.52, 1.0),
        (0.7, 0.9),
        (0.86, 0.6),
        (0.97, 0.3),
        (1.0, 0.0),
    ]
    worn = [
        (min(1, max(0, u + rng.uniform(-0.03, 0.03))), min(1, max(0, v + rng.uniform(-0.05, 0.05))))
        if 0 < v < 1
        else (u, v)
        for u, v in corners
    ]
    return [Shape(points=tuple(worn))]


def _boathouse(_: random.Random) -> list[Shape]:
    body: Points = ((0.0, 0.0), (0.0, 0.56), (0.5, 1.0), (1.0, 0.56), (1.0, 0.0))
    door: Points = ((0.18, 0.0), (0.18, 0.36), (0.42, 0.36), (0.42, 0.0))
    return [Shape(points=body), Shape(points=door, paint="opening")]


def _wall(rng: random.Random) -> list[Shape]:
    return [Shape(points=_closed([(i / 16, 0.88 + 0.12 * rng.random()) for i in range(17)]))]


def _water(_: random.Random) -> list[Shape]:
    return [Shape(points=((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)), paint="water")]


def _beck(rng: random.Random) -> list[Shape]:
    bend = rng.uniform(-0.2, 0.2)
    left, right = [], []
    for i in range(13):
        v = i / 12
        middle = 0.5 + bend * math.sin(v * 5)
        half = 0.36 - 0.1 * v
        left.append((middle - half, v))
        right.append((middle + half, v))
    return [Shape(points=tuple(left + right[::-1]), paint="water")]


def _ellipse(u: float, v: float, ru: float, rv: float, count: int = 14) -> Points:
    return tuple((u + ru * math.cos(a), v + rv * math.sin(a)) for a in (2 * math.pi * i / count for i in range(count)))


def _stones(rng: random.Random) -> list[Shape]:
    return [
        Shape(points=_ellipse(0.5 + 0.3 * math.sin(1.7 * i), (i + 0.5) / 6, rng.uniform(0.1, 0.16), 0.06))
        for i in range(6)
    ]


def _blades(rng: random.Random, count: int, thick: float, lean: float) -> list[Shape]:
    shapes = []
    for i in range(count):
        u = (i + rng.random()) / count
        top = rng.uniform(0.55, 1.0)
        tip = u + rng.uniform(-lean, lean)
        shapes.append(
            Shape(
                points=(
                    (u - thick, 0.0),
                    ((u + tip) / 2 - thick / 2, top * 0.55),
                    (tip, top),
                    ((u + tip) / 2 + thick / 2, top * 0.55),
                    (u + thick, 0.0),
                )
            )
        )
    return shapes


def _reeds(rng: random.Random) -> list[Shape]:
    blades = _blades(rng, 16, 0.012, 0.07)
    tufts = [Shape(points=_ellipse(*blade.points[2], 0.022, 0.05, 8), paint="light") for blade in blades[::2]]
    return blades + tufts


def _meadow(rng: random.Random) -> list[Shape]:
    return [Shape(points=((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0)))]


def _heather(rng: random.Random) -> list[Shape]:
    stem: Points = ((0.46, 0.0), (0.5, 0.5), (0.53, 1.0), (0.56, 0.98), (0.55, 0.5), (0.54, 0.0))
    shapes = [Shape(points=stem)]
    for i in range(11):
        v = 0.18 + 0.078 * i
        side = 1 if i % 2 else -1
        reach = rng.uniform(0.22, 0.4) * (1.1 - 0.6 * v)
        shapes.append(
            Shape(
                points=(
                    (0.5, v),
                    (0.5 + side * reach, v + 0.09),
                    (0.5 + side * reach * 0.9, v + 0.12),
                    (0.51, v + 0.045),
                )
            )
        )
        shapes.append(Shape(points=_ellipse(0.5 + side * reach, v + 0.11, 0.035, 0.025, 8), paint="light"))
    return shapes


def _leaf(rng: random.Random) -> list[Shape]:
    stalk: Points = ((0.47, 0.0), (0.45, 0.5), (0.55, 0.5), (0.53, 0.0))
    shapes = [Shape(points=stalk), Shape(points=_ellipse(0.5, 0.66, 0.3, 0.24, 20))]
    for i in range(18):
        a = 2 * math.pi * (i + rng.uniform(-0.3, 0.3)) / 18
        inner = (0.5 + 0.28 * math.cos(a), 0.66 + 0.22 * math.sin(a))
        outer = (0.5 + 0.44 * math.cos(a), 0.66 + 0.33 * math.sin(a))
        shapes.append(Shape(points=(inner, outer, (inner[0] + 0.015, inner[1] + 0.01))))
        shapes.append(Shape(points=_ellipse(*outer, 0.028, 0.02, 8), paint="light"))
    return shapes


def _dew(rng: random.Random) -> list[Shape]:
    return [
        Shape(points=_ellipse(rng.uniform(0.1, 0.9), rng.uniform(0.1, 0.9), 0.05, 0.05, 10), paint="light")
        for _ in range(9)
    ]


def _post(_: random.Random) -> list[Shape]:
    return [Shape(points=((0.0, 0.0), (0.1, 0.96), (0.5, 1.0), (0.9, 0.96), (1.0, 0.0)))]


def _cloud(rng: random.Random) -> list[Shape]:
    line = [(i / 18, 0.04 + 0.85 * math.sin(math.pi * i / 18) ** 0.6 * rng.uniform(0.7, 1.1)) for i in range(19)]
    return [Shape(points=_closed(line), paint="light")]


def _flowers(rng: random.Random) -> list[Shape]:
    """Spikes of flower in rows over the depth of a patch, the farthest first."""
    shapes: list[Shape] = []
    for row in range(7):
        away = 1 - row / 6
        for i in range(16):
            u, top = (i + rng.random()) / 16, rng.uniform(0.55, 1.0)
            lean = rng.uniform(-0.006, 0.006)
            stem: Points = ((u - 0.001, 0.0), (u + lean, top), (u + 0.001, 0.0))
            spike: Points = (
                (u + lean * 0.5 - 0.0045, top * 0.55),
                (u + lean, top),
                (u + lean * 0.5 + 0.0045, top * 0.55),
                (u + lean * 0.4, top * 0.42),
            )
            shapes += [Shape(points=stem, away=away), Shape(points=spike, away=away)]
    return shapes


def _trunk(rng: random.Random) -> list[Shape]:
    """A trunk that tapers, wider at its foot, with a few boughs in its upper half."""
    lean = rng.uniform(-0.12, 0.12)
    left = [(0.5 - 0.5 * (1 - 0.45 * v) * (1.25 if v == 0 else 1) + lean * v, v) for v in (i / 10 for i in range(11))]
    right = [(0.5 + 0.5 * (1 - 0.45 * v) * (1.25 if v == 0 else 1) + lean * v, v) for v in (i / 10 for i in range(11))]
    shapes = [Shape(points=tuple(left + right[::-1]))]
    for i in range(6):
        v = 0.34 + 0.1 * i + rng.uniform(-0.03, 0.03)
        side = 1 if i % 2 else -1
        u = 0.5 + side * 0.3 + lean * v
        reach = rng.uniform(1.4, 3.2)
        points = ((u, v), (u + side * reach, v + 0.09), (u + side * reach, v + 0.095), (u, v + 0.018))
        shapes.append(Shape(points=points))
    return shapes


def _bloom(rng: random.Random) -> list[Shape]:
    """One open flower on a stalk with two leaves."""
    shapes = [Shape(points=((0.47, 0.0), (0.48, 0.8), (0.52, 0.8), (0.53, 0.0)))]
    for side, v in ((-1, 0.12), (1, 0.26)):
        points = ((0.5, v), (0.5 + side * 0.42, v + 0.16), (0.5 + side * 0.5, v + 0.27), (0.5 + side * 0.2, v + 0.2))
        shapes.append(Shape(points=points))
    # The head is round in the picture although the box is taller than wide.
    for i in range(9):
        a = 2 * math.pi * (i + rng.uniform(-0.15, 0.15)) / 9
        out = (math.cos(a), math.sin(a) * 0.26)
        shapes.append(Shape(points=_ellipse(0.5 + 0.3 * out[0], 0.85 + 0.3 * out[1], 0.17, 0.045), paint="light"))
    return [*shapes, Shape(points=_ellipse(0.5, 0.85, 0.13, 0.034))]


def _animal(_: random.Random) -> list[Shape]:
    """A small animal sitting up, seen from the side, its ears raised."""
    body = _ellipse(0.4, 0.28, 0.36, 0.28, 20)
    chest = _ellipse(0.62, 0.42, 0.17, 0.24, 16)
    head = _ellipse(0.72, 0.66, 0.17, 0.12, 16)
    ears = [
        ((u, 0.72), (u - 0.09, 0.98), (u - 0.03, 1.0), (u + 0.05, 0.74)) for u in (0.62, 0.7)
    ]  # fmt: skip
    eye = _ellipse(0.77, 0.69, 0.022, 0.022, 8)
    return [
        *(
            Shape(points=points)
            for points in (body, chest, head, *ears, ((0.55, 0.0), (0.58, 0.3), (0.7, 0.3), (0.72, 0.0)))
        ),
        Shape(points=eye, paint="light"),
    ]


_MAKERS: dict[str, Callable[[random.Random], list[Shape]]] = {
    "ridge": _ridge, "hill": _hill, "boulder": _boulder, "boathouse": _boathouse, "wall": _wall,
    "water": _water, "beck": _beck, "stones": _stones, "meadow": _meadow, "reeds": _reeds,
    "heather": _heather, "leaf": _leaf, "dew": _dew, "post": _post, "cloud": _cloud, "flowers": _flowers,
    "trunk": _trunk, "bloom": _bloom, "animal": _animal,
}  # fmt: skip
_SOLID: frozenset[str] = frozenset({"boulder", "boathouse", "wall", "post", "hill", "ridge"})
# Share of a solid's width that light from the side leaves in shade.
_SHADED_SHARE = 0.42


def _shade(body: Shape, side: ShadedSide) -> list[Shape]:
    low, high = {"left": (-1.0, _SHADED_SHARE), "right": (1 - _SHADED_SHARE, 2.0), "all": (-1.0, 2.0)}[side]
    cut = Polygon(body.points).buffer(0).intersection(box(low, -1, high, 2))
    parts = [cut] if cut.geom_type == "Polygon" else list(getattr(cut, "geoms", ()))
    return [Shape(points=tuple(p.exterior.coords[:-1]), paint="shade") for p in parts if p.geom_type == "Polygon"]


@lru_cache(maxsize=2048)
def silhouette(kind: SilhouetteKind, seed: str, shaded: ShadedSide = "") -> tuple[Shape, ...]:
    """The outlines of one element, the same for the same *seed* (its id).

    *shaded* is the side of a solid thing that the sun does not reach, as the camera sees it.
    """
    made = _MAKERS[kind](random.Random(zlib.crc32(seed.encode())))
    if shaded and kind in _SOLID:
        made[1:1] = _shade(made[0], shaded)
    return tuple(made)
