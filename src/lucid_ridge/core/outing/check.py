"""What an outing must not contradict itself in."""

from __future__ import annotations

from datetime import date, datetime
from zoneinfo import ZoneInfo, available_timezones

from lucid_ridge.core.model.outing import Outing, OutingVisit, Spot
from lucid_ridge.core.outing.day_times import bounds_of
from lucid_ridge.core.records import FieldProblem

FIRST_DATE, LAST_DATE = date(1900, 1, 3), date(2049, 12, 20)
"""Sun and Moon are known in between."""


def _check_spot(spot: Spot | None, pointer: str) -> list[FieldProblem]:
    if spot is None or not spot.time_zone or spot.time_zone in available_timezones():
        return []
    message = f"'{spot.time_zone}' is no time zone; use a name like Europe/London, or leave it empty."
    return [FieldProblem(pointer=f"{pointer}/time_zone", message=message)]


def _check_visit(visit: OutingVisit, days: int, pointer: str) -> list[FieldProblem]:
    found = []
    if visit.goal == "moment" and visit.moment is None:
        found.append(FieldProblem(pointer=f"{pointer}/moment", message="Say at what time of day."))
    if visit.day is not None and visit.day >= days:
        found.append(FieldProblem(pointer=f"{pointer}/day", message="Choose one of the outing's days."))
    if visit.first_at is not None and visit.first_at.tzinfo is None:
        found.append(
            FieldProblem(pointer=f"{pointer}/first_at", message="Say in which time zone, like 2026-10-17T07:30:00Z.")
        )
    below, above = visit.tide_below_m, visit.tide_above_m
    if below is not None and above is not None and below <= above:
        message = "The tide can never be below this and above the other height at once."
        found.append(FieldProblem(pointer=f"{pointer}/tide_below_m", message=message))
    return found


def check_outing(outing: Outing, pointer: str = "/outing") -> list[FieldProblem]:
    """Everything that is wrong with an outing by itself, each with what to do."""
    found = _check_spot(outing.start, f"{pointer}/start") + _check_spot(outing.end, f"{pointer}/end")
    for i, day in enumerate(outing.days):
        at = f"{pointer}/days/{i}"
        found += _check_spot(day.start, f"{at}/start") + _check_spot(day.end, f"{at}/end")
        if not FIRST_DATE <= day.date <= LAST_DATE:
            message = f"Sun and Moon are known from {FIRST_DATE.year} to {LAST_DATE.year}; choose a date in between."
            found.append(FieldProblem(pointer=f"{at}/date", message=message))
    for i, ride in enumerate(outing.rides):
        found += _check_spot(ride.from_spot, f"{pointer}/rides/{i}/from_spot")
        found += _check_spot(ride.to_spot, f"{pointer}/rides/{i}/to_spot")
    seen: set[str] = set()
    for i, visit in enumerate(outing.visits):
        found += _check_visit(visit, len(outing.days), f"{pointer}/visits/{i}")
        if visit.id in seen:
            found.append(
                FieldProblem(pointer=f"{pointer}/visits/{i}/id", message="Two visits have this id; give each its own.")
            )
        seen.add(visit.id)
    for i, done in enumerate(outing.done):
        if done.left_at.tzinfo is None:
            message = "Say in which time zone, like 2026-10-17T07:30:00Z."
            found.append(FieldProblem(pointer=f"{pointer}/done/{i}/left_at", message=message))
    return found or _check_order(outing, pointer)


def _check_order(outing: Outing, pointer: str) -> list[FieldProblem]:
    bounds = [bounds_of(outing, i) for i in range(len(outing.days))]
    for i in range(1, len(bounds)):
        if bounds[i][0] < bounds[i - 1][1]:
            message = "This day begins before the one above it ends; give it a later date or hour, or the other an earlier end."
            return [FieldProblem(pointer=f"{pointer}/days/{i}/date", message=message)]
    return []


def local_date(at: datetime, spot: Spot) -> date:
    """The date at a spot at an instant."""
    return at.astimezone(ZoneInfo(spot.time_zone or "UTC")).date()
