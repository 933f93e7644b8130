"""An outing on paper: a page for each day, and the note to leave with somebody."""

from __future__ import annotations

from lucid_ridge.core.model.outing import Outing
from lucid_ridge.core.records import record
from lucid_ridge.reports.outing.plan import DayShown, PlanShown, clock_of
from lucid_ridge.reports.outing.readiness import ReadinessShown
from lucid_ridge.reports.outing.words import minutes_words


@record
class NoteDay:
    """A day of the note: where one is, by when, one line each."""

    heading: str
    lines: tuple[str, ...]


@record
class Note:
    """What somebody at home needs: where, by which way, back by when, whom to call and when."""

    title: str
    back_text: str
    call_text: str
    facts: tuple[tuple[str, str], ...]
    days: tuple[NoteDay, ...]
    cautions: tuple[str, ...]
    closing: str

    def text(self) -> str:
        """The note as plain text."""
        parts = [self.title, "", self.back_text, self.call_text, ""]
        parts += [f"{name}: {words}" for name, words in self.facts]
        for day in self.days:
            parts += ["", day.heading, *(f"  {line}" for line in day.lines)]
        if self.cautions:
            parts += ["", "Look out for", *(f"  {line}" for line in self.cautions)]
        return "\n".join([*parts, "", self.closing, ""])


def day_rows(day: DayShown) -> list[tuple[str, str, str]]:
    """The line of a day as rows: when, what, and what to know of it."""
    rows = []
    if day.leave is not None:
        rows.append((day.leave.text, f"Leave {day.starts_at}", day.leave_text))
    for v in day.visits:
        rows.append((v.arrive.text, f"{v.name}, {v.place_name}", v.way_there.text))
        rows.append(
            (
                v.first.text,
                "first frame",
                ", ".join(t for t in (f"set up by {v.set_up_by.text}", v.before_light_text, v.frames_text) if t),
            )
        )
        rows.append((v.leave_by.text, "leave by", "; ".join(t for t in (v.slack_text, v.turn_back_text) if t)))
    if day.way_back is not None and day.back is not None:
        rows.append((day.back.text, f"Back at {day.ends_at}", day.way_back.text))
    return rows


def note_of(name: str, outing: Outing, plan: PlanShown, readiness: ReadinessShown) -> Note:
    """The note to leave behind."""
    contact = outing.contact
    used = [d for d in plan.days if d.visits]
    last = used[-1] if used else plan.days[-1]
    clock = clock_of(outing, last.index, "metric")
    back = round((last.back_by if last.back is None else last.back).at_utc.timestamp() / 60)
    overdue = round(last.back_by.at_utc.timestamp() / 60) + contact.overdue_min
    days = []
    for day in used:
        lines = [f"{day.leave.text if day.leave else ''} leave {day.starts_at}"]
        lines += [
            f"{v.arrive.text} to {v.leave_by.text} {v.name}, {v.place_name} ({v.position[0]:.5f}, {v.position[1]:.5f}), {v.way_there.text}"
            for v in day.visits
        ]
        lines.append(f"{day.back.text if day.back else ''} back at {day.ends_at}")
        days.append(NoteDay(heading=f"{day.date_text} ({day.zone_text})", lines=tuple(lines)))
    facts = [
        ("Left with", contact.left_with),
        ("Who is out", contact.party),
        ("Vehicle", contact.vehicle),
        ("Note", contact.note),
    ]
    return Note(
        title=f"{name}: where I am",
        back_text=f"Back by {clock.date(back)} {clock.at(back)} ({last.zone_text}).",
        call_text=(
            f"If you have heard nothing by {clock.date(overdue)} {clock.at(overdue)} "
            f"({minutes_words(contact.overdue_min)} after the latest), call {contact.call or 'the local emergency number'}."
        ),
        facts=tuple((name_, words) for name_, words in facts if words.strip()),
        days=tuple(days),
        cautions=tuple(f"{c.about}: {c.text}" for c in readiness.cautions),
        closing="Ways are estimates made beforehand; positions are latitude and longitude in degrees (WGS 84).",
    )
