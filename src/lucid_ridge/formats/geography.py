"""What maps exchange: points and lines with names, as GPX and as GeoJSON.

References
----------
.. [1] GPX 1.1 schema documentation, topografix.com/GPX/1/1.
.. [2] RFC 7946, The GeoJSON Format, 2016.

"""

from __future__ import annotations

import json
import math
from dataclasses import dataclass, field
from typing import Any, Literal

import gpxpy
from gpxpy.gpx import GPX, GPXException, GPXTrack, GPXTrackPoint, GPXTrackSegment, GPXWaypoint

LARGEST_BYTES = 20 * 1024 * 1024
MOST_POINTS = 200_000
MOST_OF_A_LINE = 50_000
"""A second each for fourteen hours; a path of more could not be sent back once it is changed."""
MOST_SHAPES = 2000
_TOO_LONG = f"it has more than {MOST_OF_A_LINE} positions; thin it first"
_MOST_DEEP = 40

Point = tuple[float, float, float | None]
"""Latitude and longitude in degrees, height in metres where known."""


class GeographyError(ValueError):
    """The file cannot be used at all; the message says what to do."""


@dataclass(frozen=True)
class Shape:
    """A named point (one point) or line. ``properties`` is what else the file says of it."""

    kind: Literal["point", "line"]
    name: str
    note: str
    points: tuple[Point, ...]
    properties: dict[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class Read:
    """What a file holds, and what of it was passed over and why."""

    shapes: tuple[Shape, ...]
    skipped: tuple[tuple[str, str], ...]


def _text(data: bytes) -> str:
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise GeographyError("The file is not in UTF-8; save it again as UTF-8.") from None


def _point(latitude: Any, longitude: Any, height: Any) -> Point | None:
    """A point where the numbers are numbers and lie on the Earth."""
    numbers = [v for v in (latitude, longitude) if isinstance(v, int | float) and not isinstance(v, bool)]
    if len(numbers) < 2 or not all(math.isfinite(v) for v in numbers):
        return None
    if abs(latitude) > 90 or abs(longitude) > 180:
        return None
    known = isinstance(height, int | float) and not isinstance(height, bool) and -500 <= height <= 9000
    return float(latitude), float(longitude), float(height) if known else None


def _label(given: Any, otherwise: str) -> str:
    words = given.strip() if isinstance(given, str) else ""
    return "".join(c for c in words if c.isprintable())[:80] or otherwise


def _note(given: Any) -> str:
    return given.replace("\x00", "").strip()[:2000] if isinstance(given, str) else ""


def read_gpx(data: bytes) -> Read:
    """Waypoints, tracks and routes of a GPX file [1]_.

    Raises
    ------
    GeographyError
        If it is no GPX, declares entities, or holds too much.

    """
    text = _text(data)
    if "<!DOCTYPE" in text or "<!ENTITY" in text:
        raise GeographyError("The file declares a document type or entities, which GPX does not need; export it again.")
    try:
        found = gpxpy.parse(text)
    except (GPXException, ValueError, KeyError, TypeError, AttributeError, RecursionError):
        raise GeographyError("This is no GPX file that can be read, or it is cut off; export it again.") from None
    lines: list[tuple[Any, list[Any]]] = [(t, [p for s in t.segments for p in s.points]) for t in found.tracks]
    lines += [(r, r.points) for r in found.routes]
    _check_size(len(found.waypoints) + len(lines), len(found.waypoints) + sum(len(p) for _, p in lines))
    shapes, skipped = [], []
    for i, mark in enumerate(found.waypoints, 1):
        name = _label(mark.name, f"point {i}")
        point = _point(mark.latitude, mark.longitude, mark.elevation)
        if point is None:
            skipped.append((name, "its position is not on the Earth"))
        else:
            sort = {"sort": mark.symbol} if mark.symbol else {}
            shapes.append(Shape("point", name, _note(mark.description or mark.comment), (point,), sort))
    for i, (one, raw) in enumerate(lines, 1):
        name = _label(one.name, f"track {i}")
        points = [p for p in (_point(q.latitude, q.longitude, q.elevation) for q in raw) if p is not None]
        if len(points) < 2:
            skipped.append((name, "it has fewer than two points on the Earth"))
        elif len(points) > MOST_OF_A_LINE:
            skipped.append((name, _TOO_LONG))
        else:
            shapes.append(Shape("line", name, _note(one.description or one.comment), tuple(points)))
    return Read(tuple(shapes), tuple(skipped))


def _check_size(shapes: int, points: int) -> None:
    if shapes > MOST_SHAPES:
        raise GeographyError(f"The file holds more than {MOST_SHAPES} points and lines; export fewer of them.")
    if points > MOST_POINTS:
        raise GeographyError(f"The file holds more than {MOST_POINTS} positions; thin its tracks first.")


def _positions(raw: Any) -> list[Point] | None:
    if not isinstance(raw, list):
        return None
    made = []
    for one in raw:
        if not isinstance(one, list) or len(one) < 2:
            return None
        point = _point(one[1], one[0], one[2] if len(one) > 2 else None)
        if point is None:
            return None
        made.append(point)
    return made


def _depth(value: Any) -> int:
    """How deeply lists and objects lie within one another, without recursion."""
    deepest, waiting = 0, [(value, 1)]
    while waiting:
        one, depth = waiting.pop()
        deepest = max(deepest, depth)
        if depth > _MOST_DEEP:
            return depth
        if isinstance(one, dict):
            waiting.extend((v, depth + 1) for v in one.values() if isinstance(v, dict | list))
        elif isinstance(one, list):
            waiting.extend((v, depth + 1) for v in one if isinstance(v, dict | list))
    return deepest


def read_geojson(data: bytes) -> Read:
    """Points and lines of a GeoJSON file [2]_; other geometries are passed over by name.

    Raises
    ------
    GeographyError
        If it is no GeoJSON, or holds too much.

    """
    try:
        document = json.loads(_text(data), parse_constant=lambda _: None)
    except (ValueError, RecursionError):
        # Among them numbers of more digits than Python reads.
        raise GeographyError("This is no JSON that can be read, or it is cut off; export it again.") from None
    if not isinstance(document, dict) or _depth(document) > _MOST_DEEP:
        raise GeographyError("This is no GeoJSON; it must be a feature or a collection of features.")
    features = document.get("features") if document.get("type") == "FeatureCollection" else [document]
    if not isinstance(features, list):
        raise GeographyError("This is no GeoJSON; its features are not a list.")
    shapes: list[Shape] = []
    skipped: list[tuple[str, str]] = []
    for i, feature in enumerate(features, 1):
        geometry = feature.get("geometry") if isinstance(feature, dict) else None
        if not isinstance(geometry, dict):
            skipped.append((f"feature {i}", "it has no geometry"))
            continue
        raw = feature.get("properties")
        properties = raw if isinstance(raw, dict) else {}
        name = _label(properties.get("name") or properties.get("title"), f"feature {i}")
        _take(geometry, name, properties, shapes, skipped)
        _check_size(len(shapes), sum(len(s.points) for s in shapes))
    return Read(tuple(shapes), tuple(skipped))


def _take(
    geometry: dict[str, Any], name: str, properties: dict[str, Any], shapes: list[Shape], skipped: list[tuple[str, str]]
) -> None:
    kind, raw = geometry.get("type"), geometry.get("coordinates")
    note = _note(properties.get("note") or properties.get("description") or properties.get("desc"))
    parts: list[tuple[Literal["point", "line"], Any]]
    if kind == "Point":
        parts = [("point", [raw])]
    elif kind == "MultiPoint" and isinstance(raw, list):
        parts = [("point", [one]) for one in raw]
    elif kind == "LineString":
        parts = [("line", raw)]
    elif kind == "MultiLineString" and isinstance(raw, list):
        parts = [("line", one) for one in raw]
    else:
        skipped.append((name, f"a {_label(kind, 'shape without a type')} is neither point nor line"))
        return
    for one, places in parts:
        points = _positions(places)
        if points is None or (one == "line" and len(points) < 2):
            skipped.append((name, "its positions are not pairs of longitude and latitude on the Earth"))
        elif len(points) > MOST_OF_A_LINE:
            skipped.append((name, _TOO_LONG))
        else:
            shapes.append(Shape(one, name, note, tuple(points), properties))


def write_gpx(shapes: list[Shape], name: str) -> str:
    """Points as waypoints, lines as tracks."""
    made = GPX()
    made.creator, made.name = "Lucid Ridge", name
    for shape in shapes:
        if shape.kind == "point":
            latitude, longitude, height = shape.points[0]
            made.waypoints.append(
                GPXWaypoint(
                    latitude,
                    longitude,
                    height,
                    name=shape.name,
                    description=shape.note or None,
                    symbol=str(shape.properties.get("sort") or "") or None,
                )
            )
            continue
        track = GPXTrack(name=shape.name, description=shape.note or None)
        track.segments.append(GPXTrackSegment([GPXTrackPoint(a, b, h) for a, b, h in shape.points]))
        made.tracks.append(track)
    return str(made.to_xml())


def write_geojson(shapes: list[Shape]) -> str:
    """Features with their properties, longitude first."""

    def position(point: Point) -> list[float]:
        latitude, longitude, height = point
        return [longitude, latitude] if height is None else [longitude, latitude, height]

    features = [
        {
            "type": "Feature",
            "geometry": {"type": "Point", "coordinates": position(s.points[0])}
            if s.kind == "point"
            else {"type": "LineString", "coordinates": [position(p) for p in s.points]},
            "properties": {"name": s.name, "note": s.note, **s.properties},
        }
        for s in shapes
    ]
    return json.dumps({"type": "FeatureCollection", "features": features}, ensure_ascii=False, indent=1)
