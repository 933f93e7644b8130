"""The line of a day: its hours, night, twilight and day, sunrise and sunset, and the tide."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

import numpy as np

from lucid_ridge.core.light.ephemeris import FIRST_UNIX, LAST_UNIX, sun_place
from lucid_ridge.core.light.tide import tide_height, turns
from lucid_ridge.core.light.windows import crossings, stretches
from lucid_ridge.core.model.outing import Spot
from lucid_ridge.core.model.place import TideStation
from lucid_ridge.core.outing.chances import Span
from lucid_ridge.core.outing.day_times import when
from lucid_ridge.core.records import record
from lucid_ridge.reports.outing.words import Clock

Part = tuple[float, float]
"""A stretch of a day's line, from 0 to 1."""
_SUN_UP_DEG = -0.833
_TICK_MIN = (15, 30, 60, 120, 180, 360)
_MOST_TICKS = 13


@record
class Moment:
    """An instant: by the clock, and where it lies on the day's line, 0 to 1."""

    at_utc: datetime
    text: str
    position: float


@record
class Band:
    """A stretch of a day's line: night, twilight or day."""

    kind: Literal["night", "twilight", "day"]
    part: Part


@record
class Mark:
    """Something on a day's line with its words."""

    position: float
    text: str


@record
class TideLine:
    """The tide over a day's line: points of position and height, 0 to 1, and its turns."""

    station: str
    points: tuple[tuple[float, float], ...]
    turns: tuple[Mark, ...]


class Axis:
    """The line of a day: minutes to positions, and how they are said."""

    def __init__(self, first: int, last: int, clock: Clock, date_of: int) -> None:
        self.first, self.last, self.clock, self.date_of = first, last, clock, date_of

    def position(self, minute: float) -> float:
        """Where a minute lies, 0 to 1, kept within."""
        return round(min(max((minute - self.first) / (self.last - self.first), 0.0), 1.0), 5)

    def moment(self, minute: int) -> Moment:
        """A minute as it is shown."""
        return Moment(at_utc=when(minute), text=self.clock.at(minute, self.date_of), position=self.position(minute))

    def parts(self, spans: tuple[Span, ...]) -> tuple[Part, ...]:
        """Those of some spans that lie on the line."""
        return tuple((self.position(a), self.position(b)) for a, b in spans if b > self.first and a < self.last)

    def ticks(self) -> tuple[Mark, ...]:
        """Full hours or parts of them, by the clock; an hour that comes twice has its marks twice."""
        step = next((s for s in _TICK_MIN if (self.last - self.first) / s <= _MOST_TICKS), 720)
        made = []
        for minute in range(self.first, self.last + 1):
            local = self.clock.local(minute)
            if (local.hour * 60 + local.minute) % step == 0:
                made.append(Mark(position=self.position(minute), text=self.clock.at(minute)))
        return tuple(made)


def sun_on(axis: Axis, spot: Spot) -> tuple[tuple[Band, ...], tuple[Mark, ...]]:
    """Night, twilight and day on a line, by the sun at a spot over a level horizon; and its rising and setting."""
    minutes = np.arange(axis.first, axis.last + 1, dtype=np.float64)
    at = np.clip(minutes * 60.0, FIRST_UNIX, LAST_UNIX)
    height = sun_place(at, spot.latitude_deg, spot.longitude_deg).altitude_deg
    bands: list[Band] = []
    for kind, holds in (
        ("night", height < -6),
        ("twilight", (height >= -6) & (height < _SUN_UP_DEG)),
        ("day", height >= _SUN_UP_DEG),
    ):
        for a, b in stretches(holds).tolist():
            # Stretches meet in the middle between two minutes.
            part = (axis.position(minutes[a] - 0.5), axis.position(minutes[b] + 0.5))
            bands.append(Band(kind=kind, part=part))  # type: ignore[arg-type]
    marks = [
        Mark(position=axis.position(t / 60), text=f"{name} {axis.clock.at(round(t / 60))}")
        for rising, name in ((True, "sunrise"), (False, "sunset"))
        for t in crossings(minutes * 60.0, height, _SUN_UP_DEG, rising)
    ]
    return tuple(sorted(bands, key=lambda b: b.part)), tuple(sorted(marks, key=lambda m: m.position))


def tide_on(axis: Axis, station: TideStation) -> TideLine:
    """The tide on a line."""
    minutes = np.arange(axis.first - 10, axis.last + 11, 5, dtype=np.float64)
    heights = tide_height(minutes * 60.0, station.mean_m, station.harmonics)
    low, high = float(heights.min()), float(heights.max())
    inside = (minutes >= axis.first) & (minutes <= axis.last)
    points = tuple(
        (axis.position(float(m)), round((float(h) - low) / max(high - low, 1e-6), 4))
        for m, h in zip(minutes[inside], heights[inside], strict=True)
    )
    marks = tuple(
        Mark(
            position=axis.position(at / 60),
            text=f"{'high' if is_high else 'low'} water {axis.clock.at(round(at / 60))}, {height:.1f} m",
        )
        for at, height, is_high in turns(minutes * 60.0, heights)
        if axis.first <= at / 60 <= axis.last
    )
    return TideLine(station=station.name, points=points, turns=marks)
