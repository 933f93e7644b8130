"""Outings written out: paper, note, calendar, GPX, JSON."""

from __future__ import annotations

import json
from typing import Any

from pydantic import TypeAdapter

from lucid_ridge import VERSION
from lucid_ridge.app.database import now
from lucid_ridge.app.outings.documents import OUTING
from lucid_ridge.app.outings.schemas import FileForm
from lucid_ridge.core.model.outing import Outing
from lucid_ridge.formats.calendar import CalendarEntry, calendar_text
from lucid_ridge.formats.cards import Card, CardTable, cards_pdf
from lucid_ridge.formats.geography import Shape, write_gpx
from lucid_ridge.reports.outing.papers import Note, day_rows, note_of
from lucid_ridge.reports.outing.plan import DayShown, LegShown, PlanShown
from lucid_ridge.reports.outing.readiness import ReadinessShown

_PLAN: TypeAdapter[PlanShown] = TypeAdapter(PlanShown)
_READINESS: TypeAdapter[ReadinessShown] = TypeAdapter(ReadinessShown)
TYPES: dict[FileForm, str] = {
    "pdf": "application/pdf",
    "note.txt": "text/plain; charset=utf-8",
    "ics": "text/calendar",
    "gpx": "application/gpx+xml",
    "json": "application/json",
}


def written(form: FileForm, key: str, name: str, outing: Outing, plan: PlanShown, readiness: ReadinessShown) -> bytes:
    """An outing in one of the forms; *key* is its identity."""
    match form:
        case "pdf":
            return _paper(name, note_of(name, outing, plan, readiness), plan, readiness)
        case "note.txt":
            return note_of(name, outing, plan, readiness).text().encode()
        case "ics":
            return _calendar(key, name, plan)
        case "gpx":
            return _gpx(name, plan).encode()
        case "json":
            return _json(name, outing, plan, readiness)


def _day_card(name: str, day: DayShown, plan: PlanShown, readiness: ReadinessShown, first: bool) -> Card:
    facts = [
        ("sun", ", ".join(m.text for m in day.sun) or "neither rises nor sets while you are out"),
        *((f"tide, {t.station}", "; ".join(m.text for m in t.turns) or "no turn while you are out") for t in day.tides),
        ("back by", f"{day.back_by.text} {day.zone_text}"),
    ]
    left = tuple((one.name, " ".join(t for t in (one.why, one.remedy) if t)) for one in plan.left_out)
    tables = [CardTable("The day", ("when", "what", "to know"), tuple(day_rows(day)), (0.13, 0.34, 0.53))]
    if left and first:
        tables.append(CardTable("Left out", ("picture", "why"), left, (0.34, 0.66)))
    notes = [f"{c.about}: {c.text}" for c in readiness.cautions]
    return Card(
        f"{name}, {day.date_text}", day.heading, tuple(facts), tuple(tables), (*notes, readiness.standing_caution)
    )


def _note_card(note: Note) -> Card:
    tables = [
        CardTable(day.heading, ("when and where",), tuple((line,) for line in day.lines), (1.0,)) for day in note.days
    ]
    return Card(
        note.title,
        f"{note.back_text} {note.call_text}",
        note.facts,
        tuple(tables),
        (*(f"Look out: {c}" for c in note.cautions), note.closing),
    )


def _paper(name: str, note: Note, plan: PlanShown, readiness: ReadinessShown) -> bytes:
    days = [_day_card(name, day, plan, readiness, k == 0) for k, day in enumerate(plan.days)]
    return cards_pdf([*days, _note_card(note)])


def _calendar(key: str, name: str, plan: PlanShown) -> bytes:
    entries = []
    for day in plan.days:
        for v in day.visits:
            entries.append(
                CalendarEntry(
                    title=v.name,
                    start=v.arrive.at_utc,
                    end=v.leave_by.at_utc,
                    ready=v.way_there.leaves.at_utc,
                    place_name=v.place_name,
                    latitude_deg=v.position[0],
                    longitude_deg=v.position[1],
                    notes=f"{name}. First frame {v.first.text}, {v.frames_text}. {v.slack_text}.",
                    alarm=f"Leave now for {v.name}: {v.way_there.text}",
                    identity=f"{key}/{v.visit_id}",
                )
            )
        if day.back is not None and day.way_back is not None and day.visits:
            at = day.visits[-1].position
            entries.append(
                CalendarEntry(
                    title=f"Back at {day.ends_at}",
                    start=day.back.at_utc,
                    end=day.back.at_utc,
                    ready=day.way_back.leaves.at_utc,
                    place_name=day.ends_at,
                    latitude_deg=at[0],
                    longitude_deg=at[1],
                    notes=f"{name}. {day.way_back.text}.",
                    alarm=f"Leave now, back to {day.ends_at}: {day.way_back.text}",
                    identity=f"{key}/back/{day.index}",
                )
            )
    return calendar_text(entries, now())


def _gpx(name: str, plan: PlanShown) -> str:
    shapes = [Shape("point", s.name, "", ((*s.position, None),), {}) for s in plan.spots]
    for day in plan.days:
        at = day.starts_at
        for v in day.visits:
            note = f"{day.date_text} {v.arrive.text} to {v.leave_by.text}, first frame {v.first.text}"
            shapes.append(Shape("point", v.name, note, ((*v.position, None),), {}))
            shapes += _legs(f"{at} to {v.name}", v.way_there)
            at = v.name
        if day.way_back is not None:
            shapes += _legs(f"{at} to {day.ends_at}", day.way_back)
    return write_gpx(shapes, name)


def _legs(name: str, leg: LegShown) -> list[Shape]:
    """A way as one line, its stretches joined."""
    points = [(a, b, None) for line in leg.lines for a, b in line]
    return [Shape("line", name, leg.text, tuple(points), {})] if len(points) > 1 else []


def _json(name: str, outing: Outing, plan: PlanShown, readiness: ReadinessShown) -> bytes:
    made: dict[str, Any] = {
        "lucid_ridge": VERSION,
        "name": name,
        "outing": OUTING.write(outing),
        "plan": _PLAN.dump_python(plan, mode="json"),
        "readiness": _READINESS.dump_python(readiness, mode="json"),
    }
    return json.dumps(made, ensure_ascii=False, indent=2).encode()
