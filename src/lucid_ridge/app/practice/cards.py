"""Cards: when each kind of drill comes back, by the spaced repetition of the ``fsrs`` package."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from fsrs import Card, Rating, Scheduler

from lucid_ridge.app.practice.schemas import Practice, PracticeCard, PracticeCardOut
from lucid_ridge.core.practice.drills import LEVELS, keys
from lucid_ridge.reports.practice.words import title_of

_SCHEDULER = Scheduler(desired_retention=0.9, enable_fuzzing=False)
_QUICK_S = 8.0
_UP_AFTER = 3
_LAST = 20
_HALF_DAYS = 21.0
LOGGED_AS: dict[str, tuple[str, ...]] = {
    "moved camera": ("mishap:camera_moved", "mishap:sinking"),
    "focus missed": ("mishap:focus_off", "focus"),
    "missed slice": ("mishap:missed_slice", "slices"),
    "shake": ("mishap:shake", "shutter"),
    "wind blur": ("mishap:gust", "shutter"),
    "moved subject": ("mishap:gust",),
    "clipped channel": ("mishap:clipped_red",),
    "filter forgotten off": ("mishap:forgotten_polariser",),
    "filter forgotten on": ("stops",),
    "late for the light": ("mishap:stale_exposure",),
}
"""Which drills a fault of the logbook speaks for."""


def memory_of(card: PracticeCard | None) -> Card:
    """What the scheduler knows of a card."""
    if card is None:
        return Card(card_id=1)
    return Card.from_dict(card.memory)  # type: ignore[arg-type]


def answered(before: PracticeCard | None, right: bool, took_s: float, at: datetime) -> PracticeCard:
    """A card after an answer. A wrong one comes back soon and easier; three right ones in a row make it harder."""
    rating = Rating.Again if not right else Rating.Easy if took_s < _QUICK_S else Rating.Good
    memory, _ = _SCHEDULER.review_card(memory_of(before), rating, at)
    card = before or PracticeCard(memory={})
    last = (*card.last, right)[-_LAST:]
    level = card.level
    if not right:
        level = max(level - 1, 0)
    elif len(last) >= _UP_AFTER and all(last[-_UP_AFTER:]) and (card.answered + 1) % _UP_AFTER == 0:
        level = min(level + 1, LEVELS - 1)
    known: dict[str, Any] = dict(memory.to_dict())
    return PracticeCard(memory=known, level=level, answered=card.answered + 1, right=card.right + int(right), last=last)


def due_at(card: PracticeCard | None) -> datetime | None:
    """When a card is to come back; None where it was never asked."""
    return None if card is None else memory_of(card).due


def order(practice: Practice, logged: dict[str, int], at: datetime, after: str | None) -> list[str]:
    """Every kind of drill, the one to ask first at the beginning.

    What is due comes first, longest overdue at the head; then what was never asked, the faults that one logs most before the
    rest; then what comes back soonest. The one asked last is at the end.
    """

    def place(key: str) -> tuple[bool, int, float]:
        due = due_at(practice.cards.get(key))
        if due is None:
            return key == after, 1, -float(logged.get(key, 0))
        return key == after, 0 if due <= at else 2, due.timestamp()

    return sorted(keys(), key=place)


def shown(practice: Practice, logged: dict[str, int], at: datetime) -> list[PracticeCardOut]:
    """All cards for the page of progress."""
    return [_shown(key, practice.cards.get(key), logged.get(key, 0), at) for key in keys()]


def _shown(key: str, card: PracticeCard | None, logged: int, at: datetime) -> PracticeCardOut:
    due = due_at(card)
    return PracticeCardOut(
        key=key,
        title=title_of(key),
        level=0 if card is None else card.level,
        levels=LEVELS,
        answered=0 if card is None else card.answered,
        right=0 if card is None else card.right,
        last=() if card is None else card.last,
        due_at=due,
        due=_due_text(due, at),
        strength=_strength(card),
        logged=logged,
    )


def _strength(card: PracticeCard | None) -> float:
    """How firmly a card is held, 0 to 1 to draw: half where nine in ten still know it after three weeks."""
    days = 0.0 if card is None else memory_of(card).stability or 0.0
    return days / (days + _HALF_DAYS)


def one_shown(key: str, practice: Practice, logged: dict[str, int], at: datetime) -> PracticeCardOut:
    """One card for the page of progress."""
    return _shown(key, practice.cards.get(key), logged.get(key, 0), at)


def _due_text(due: datetime | None, at: datetime) -> str:
    if due is None:
        return "not asked yet"
    minutes = (due - at).total_seconds() / 60
    if minutes <= 0:
        return "due now"
    if minutes < 90:
        return f"in {max(round(minutes), 1)} min"
    if minutes < 36 * 60:
        return f"in {round(minutes / 60)} h"
    return f"in {round(minutes / 1440)} days"
