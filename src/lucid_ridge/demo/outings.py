"""Outings of the invented valley, soon after the day on which they are loaded."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime, time, timedelta

from pydantic import TypeAdapter

from lucid_ridge.app.outings import operations as outings
from lucid_ridge.app.outings.assembling import Assembled, assemble
from lucid_ridge.app.outings.schemas import OutingNew
from lucid_ridge.core.model.outing import Contact, Outing, OutingDay, OutingVisit, Packing, Spot, Wanted
from lucid_ridge.core.model.place import Forecast
from lucid_ridge.core.outing.chances import chances_of, light_spans
from lucid_ridge.core.outing.day_times import days_of
from lucid_ridge.core.outing.planning import moved_to
from lucid_ridge.core.outing.promise import outlook_of
from lucid_ridge.demo.compositions import COMPOSITIONS
from lucid_ridge.demo.ground import GATE, PARKING
from lucid_ridge.demo.names import demo_id
from lucid_ridge.standins.forecast import simulated_forecast

LAY_BY = Spot(name="Lay-by at the dam", latitude_deg=PARKING[0], longitude_deg=PARKING[1], time_zone="Europe/London")
GATE_BELOW = Spot(name="Gate below the fold", latitude_deg=GATE[0], longitude_deg=GATE[1], time_zone="Europe/London")
SLIPWAY = Spot(
    name="Samphire slipway", latitude_deg=54.0545, longitude_deg=-2.9435, elevation_m=4.0, time_zone="Europe/London"
)
_CONTACT = Contact(
    left_with="somebody at home",
    call="the local emergency number, and ask for the rescue that covers the valley",
    vehicle="grey estate car, in the lay-by",
    party="one person, head lamp, orange jacket",
)
_FORECAST: TypeAdapter[Forecast] = TypeAdapter(Forecast)
_AHEAD_DAYS = 45
_FORECAST_DAYS = 10


def _visit(name: str, wanted: Wanted = "want", margin_min: int = 15) -> OutingVisit:
    assert name in COMPOSITIONS, name
    return OutingVisit(
        id=f"{name}-visit", composition_id=str(demo_id(f"composition/{name}")), wanted=wanted, margin_min=margin_min
    )


def dawn(day: date, spare_min: int = 16) -> Outing:
    """Four compositions of which the low sun leaves time for three, with so many minutes to spare at those that share it."""
    return Outing(
        days=(OutingDay(date=day, leave_from=time(3, 30), back_by=time(12, 30)),),
        start=LAY_BY,
        visits=(
            _visit("glass", "must", spare_min),
            _visit("boathouse", "must"),
            _visit("valley", "want", spare_min),
            _visit("mooring", "if_fits", spare_min),
        ),
        packing=Packing(own_lines=("thermos", "knee pad"), coldest_c=2.0),
        contact=_CONTACT,
    )


def tide_walk(day: date) -> Outing:
    """One picture on ground that the sea takes back."""
    return Outing(
        days=(OutingDay(date=day, leave_from=time(6), back_by=time(22)),),
        start=SLIPWAY,
        visits=(replace(_visit("creek", "must"), tide_below_m=4.2, daylight_only=True),),
        packing=Packing(coldest_c=6.0),
        contact=replace(_CONTACT, vehicle="grey estate car, at the slipway"),
        note="Ask at the slipway before walking out.",
    )


def two_days(first: date) -> Outing:
    """Two days from the lay-by to the gate below the fold."""
    leave, back = time(6), time(18)
    return Outing(
        days=(
            OutingDay(date=first, leave_from=leave, back_by=back, end=GATE_BELOW),
            OutingDay(date=first + timedelta(days=1), leave_from=leave, back_by=back, start=GATE_BELOW, end=LAY_BY),
        ),
        start=LAY_BY,
        visits=(
            _visit("heather"),
            _visit("sundew", "if_fits"),
            _visit("cotton"),
            _visit("stones", "must"),
            _visit("boathouse"),
        ),
        packing=Packing(coldest_c=0.0, batteries=3),
        contact=_CONTACT,
    )


def last_time(day: date) -> Outing:
    """An outing that is over, on which something was left at home."""
    return Outing(
        days=(OutingDay(date=day, leave_from=time(5), back_by=time(11)),),
        start=LAY_BY,
        visits=(_visit("glass"),),
        packing=Packing(forgotten=("cable release or remote",)),
    )


def _fits(found: Assembled, outing: Outing) -> bool:
    """Whether every visit has some chance on its days; whether they fit together is for the schedule."""
    days = days_of(outing)
    visits = {v.id: v for v in outing.visits}
    return all(chances_of(c.state, visits[c.visit.id], days, c.frames_min).chances for c in found.candidates)


def _short_of_time(day: date) -> Outing:
    """The dawn with just too much time to spare for three pictures in one low sun, and little enough for two."""
    outing = dawn(day)
    found = assemble(outing)
    lasts = [b - a for c in found.candidates[:1] for a, b in light_spans(c.state, *_hours(outing)) or ()]
    frames = max(c.frames_min for c in found.candidates)
    set_up = outing.visits[0].set_up_min
    longest = max(lasts, default=52)
    return dawn(day, min(max((longest - 3 * frames - 2 * set_up) // 2 + 3, 5), 60))


def _hours(outing: Outing) -> tuple[int, int]:
    days = days_of(outing)
    return days[0].leave_from, days[-1].back_by


def _first_fitting(outing: Outing, today: date) -> Outing:
    """The outing on the first day that has room for it; where its light comes on none of them, at any time of day."""
    found = assemble(outing)
    any_time = replace(outing, visits=tuple(replace(v, goal="any") for v in outing.visits))
    for wanted in (outing, any_time):
        for k in range(2, _AHEAD_DAYS):
            tried = moved_to(wanted, today + timedelta(days=k))
            if _fits(found, tried):
                return tried
    return moved_to(outing, today + timedelta(days=2))


def _against_one_day(outing: Outing, today: date) -> Outing:
    """The outing on the first two days of which the made-up forecast speaks against one and not the other."""
    found = assemble(outing)
    start = datetime.now(UTC).replace(minute=0, second=0, microsecond=0)
    for k in range(3, _FORECAST_DAYS):
        tried = moved_to(outing, today + timedelta(days=k))
        days = days_of(tried)
        bad = [0, 0]
        for c in found.candidates:
            place = c.state.scene.place
            told = simulated_forecast(place.latitude_deg, place.longitude_deg, start, 14 * 24)
            forecast = _FORECAST.validate_python(told, strict=False)
            for chance in chances_of(c.state, c.visit, days, c.frames_min).chances:
                outlook = outlook_of(c, 0, chance.first_from, chance.first_from + c.frames_min, forecast)
                bad[chance.day] += outlook.verdict == "no"
        if abs(bad[0] - bad[1]) >= 2:
            return tried
    return moved_to(outing, today + timedelta(days=4))


def _saturday(today: date) -> date:
    """The next Saturday that is at least two days ahead."""
    return today + timedelta(days=(5 - today.weekday() - 2) % 7 + 2)


def load_outings(today: date | None = None) -> None:
    """Put the outings in; the compositions are there."""
    day = today or datetime.now(UTC).date()
    for key, name, outing in (
        ("dawn", "Dawn at the tarn", _short_of_time(_saturday(day))),
        ("tide", "Out to the withy", _first_fitting(tide_walk(day), day)),
        ("two", "Two days in the valley", _against_one_day(two_days(day), day)),
        ("last", "A still morning", last_time(day - timedelta(days=9))),
    ):
        outings.add(OutingNew.model_construct(id=demo_id(f"outing/{key}"), name=name, outing=outing))


OUTINGS = ("dawn", "tide", "two", "last")
