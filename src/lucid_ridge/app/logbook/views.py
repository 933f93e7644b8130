"""The logbook seen otherwise than as a list: calendar, map, what works, seasons beside each other, and as a file."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterator
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ColumnElement, Integer, cast, extract, func, literal_column, select, tuple_
from sqlalchemy.orm import defer

from lucid_ridge.app.editing import database, find
from lucid_ridge.app.field.tables import SequenceRow
from lucid_ridge.app.logbook.filters import mine, wanted
from lucid_ridge.app.logbook.lists import briefs
from lucid_ridge.app.logbook.schemas import (
    SEASONS,
    CalendarOut,
    DayOfTakes,
    FaultCount,
    FileQuery,
    PlaceOfTakes,
    PlacesOfTakesOut,
    SeasonOfTakes,
    SeasonsOut,
    TakesQuery,
)
from lucid_ridge.app.logbook.tables import WITH_FAULTS, Take
from lucid_ridge.app.pictures.tables import PictureRow
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.reports.logbook.works import (
    KEPT_FROM,
    NONE,
    Tally,
    WhatWorks,
    kept_text,
    mean_text,
    tally_of,
    what_works,
)

_BEST = 3
_ROWS_AT_ONCE = 1000
_TALLY: tuple[ColumnElement[Any], ...] = (
    func.count(),
    func.count(Take.rating),
    func.coalesce(func.sum(Take.rating), 0),
    func.count().filter(Take.rating >= KEPT_FROM),
)


def calendar(year: int | None) -> CalendarOut:
    """The days of a year on which something was taken."""
    with database().transaction() as session:
        first, last = session.execute(select(func.min(Take.day), func.max(Take.day)).where(*mine())).one()
        if first is None or last is None:
            return CalendarOut(year=year, years=[], days=[])
        shown = year or last.year
        rows = session.execute(
            select(Take.day, func.count(), func.max(Take.rating))
            .where(*mine(), Take.day.between(func.make_date(shown, 1, 1), func.make_date(shown, 12, 31)))
            .group_by(Take.day)
            .order_by(Take.day)
        )
        days = [DayOfTakes(day=day, takes=takes, best=best) for day, takes, best in rows if day is not None]
        return CalendarOut(year=shown, years=list(range(first.year, last.year + 1)), days=days)


def places() -> PlacesOfTakesOut:
    """The places at which something was taken."""
    with database().transaction() as session:
        tallies: dict[UUID, Tally] = {}
        counts = session.execute(
            select(Take.place_id, Take.rating, func.count()).where(*mine()).group_by(Take.place_id, Take.rating)
        )
        for place_id, rating, count in counts:
            tallies[place_id] = tallies.get(place_id, NONE).with_more(tally_of(rating, count))
        rows = session.execute(
            select(PlaceRow.id, PlaceRow.name, PlaceRow.latitude_deg, PlaceRow.longitude_deg)
            .where(PlaceRow.id.in_(tallies))
            .order_by(PlaceRow.name, PlaceRow.id)
        )
        return PlacesOfTakesOut(
            places=[
                PlaceOfTakes(
                    id=place_id,
                    name=name,
                    latitude_deg=latitude_deg,
                    longitude_deg=longitude_deg,
                    takes=tallies[place_id].takes,
                    mean_text=mean_text(tallies[place_id]),
                )
                for place_id, name, latitude_deg, longitude_deg in rows
            ]
        )


def works(place_id: UUID | None) -> WhatWorks:
    """What works: takes and ratings by what the takes were, in one pass over an index; faults by year in one more."""
    only = mine() if place_id is None else [*mine(), Take.place_id == place_id]
    with database().transaction() as session:
        counts = session.execute(
            select(Take.kind, Take.rating, func.count()).where(*only).group_by(Take.kind, Take.rating)
        )
        found = (
            select(cast(extract("year", Take.day), Integer).label("year"), func.unnest(Take.faults).label("fault"))
            .where(*only, Take.day.is_not(None), WITH_FAULTS)
            .subquery()
        )
        faults = session.execute(
            select(found.c.year, found.c.fault, func.count()).group_by(found.c.year, found.c.fault)
        )
        return what_works(
            [(kind, rating, count) for kind, rating, count in counts],
            [(of, name, count) for of, name, count in faults],
        )


def seasons(place_id: UUID) -> SeasonsOut:
    """The seasons at a place beside each other."""
    with database().transaction() as session:
        find(session, PlaceRow, place_id, "place")
        at_place = [*mine(), Take.place_id == place_id]
        counted = {
            name: Tally(*counts)
            for name, *counts in session.execute(
                select(Take.season, *_TALLY).where(*at_place, Take.season.is_not(None)).group_by(Take.season)
            )
        }
        fault = func.unnest(Take.faults)
        found = select(Take.season.label("season"), fault.label("fault")).where(*at_place, WITH_FAULTS).subquery()
        faults = session.execute(
            select(found.c.season, found.c.fault, func.count().label("n"))
            .group_by(found.c.season, found.c.fault)
            .order_by(literal_column("n").desc(), found.c.fault)
        ).all()
        made = []
        for season in SEASONS:
            tally = counted.get(season, Tally(0, 0, 0, 0))
            with_picture = select(PictureRow.id).where(PictureRow.take_id == Take.id, PictureRow.deleted_at.is_(None))
            best = (Take.season == season, with_picture.exists())
            order = (Take.rating.desc().nulls_last(), Take.started_at.desc())
            made.append(
                SeasonOfTakes(
                    season=season,
                    takes=tally.takes,
                    mean_text=mean_text(tally),
                    kept_text=kept_text(tally),
                    faults=[FaultCount(fault=name, takes=n) for of, name, n in faults if of == season],
                    best=briefs(session, [*at_place, *best], order, _BEST) if tally.takes else [],
                )
            )
        return SeasonsOut(seasons=made)


_COLUMNS = (
    "id", "started_at", "arrived_at", "day", "season", "place", "composition", "rating", "faults", "note", "frames_done", "frames_planned",
    "way", "aperture_n", "shutter_s", "iso", "filters", "water_look", "sun_height_deg", "sun_off_deg",
)  # fmt: skip
_RUNS = ("=", "+", "-", "@", "\t", "\r")
"""What a cell begins with that a spreadsheet takes for a formula."""


def _values(take: Take, sequence: SequenceRow) -> dict[str, Any]:
    values = {
        "place": sequence.place_name,
        "composition": sequence.composition_name,
        "frames_planned": sequence.frame_count,
        **{name: getattr(sequence, name) for name in ("aperture_n", "shutter_s", "iso", "filters")},
    }
    made = {name: values[name] if name in values else getattr(take, name) for name in _COLUMNS}
    arrived = None if take.arrived_at is None else take.arrived_at.isoformat()
    told = {"id": str(take.id), "started_at": take.started_at.isoformat(), "arrived_at": arrived}
    return made | told | {"day": str(take.day or "")}


def _cell(value: Any) -> Any:
    """A value as a cell; text that a spreadsheet would run stays text."""
    if isinstance(value, list):
        value = "; ".join(value)
    if value is None:
        return ""
    return f"'{value}" if isinstance(value, str) and value.startswith(_RUNS) else value


def _each(query: TakesQuery) -> Iterator[dict[str, Any]]:
    """Each take, some at a time: a slow line keeps no transaction open."""
    last: tuple[datetime, UUID] | None = None
    order = (Take.started_at, Take.id)
    while True:
        after = [] if last is None else [tuple_(*order) < last]
        with database().transaction() as session:
            rows = session.execute(
                select(Take, SequenceRow)
                .join(SequenceRow, SequenceRow.id == Take.sequence_id)
                .where(*wanted(query), *after)
                .order_by(*(column.desc() for column in order))
                .limit(_ROWS_AT_ONCE)
                .options(defer(Take.document), defer(SequenceRow.document))
            ).all()
        yield from (_values(take, sequence) for take, sequence in rows)
        if len(rows) < _ROWS_AT_ONCE:
            return
        last = (rows[-1][0].started_at, rows[-1][0].id)


def as_file(query: FileQuery) -> Iterator[str]:
    """The takes that a query asks for, all of them, piece by piece."""
    if query.form == "json":
        before = '{"takes":[\n'
        for values in _each(query):
            yield before + json.dumps(values, ensure_ascii=False)
            before = ",\n"
        yield "]}" if before.startswith(",") else '{"takes":[]}'
        return
    text = io.StringIO()
    writer = csv.writer(text)
    writer.writerow(_COLUMNS)
    for number, values in enumerate(_each(query), 1):
        writer.writerow([_cell(values[name]) for name in _COLUMNS])
        if number % _ROWS_AT_ONCE == 0:
            yield text.getvalue()
            text.seek(0)
            text.truncate()
    yield text.getvalue()
