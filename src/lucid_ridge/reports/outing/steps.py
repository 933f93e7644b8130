"""An outing as steps, one after the other: what is next, and when."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from lucid_ridge.core.records import record
from lucid_ridge.reports.outing.line import Moment

StepKind = Literal["leave", "arrive", "first", "leave_by", "back"]


@record
class OutingStep:
    """Something to do at a time; ``visit_id`` is of the picture it is about, None for the ends of a day."""

    kind: StepKind
    day: int
    visit_id: str | None
    at_utc: datetime
    clock_text: str
    text: str
    note: str


def step(kind: StepKind, day: int, visit_id: str | None, at: Moment, text: str, note: str = "") -> OutingStep:
    """A step at a moment of a day's line."""
    return OutingStep(kind=kind, day=day, visit_id=visit_id, at_utc=at.at_utc, clock_text=at.text, text=text, note=note)
