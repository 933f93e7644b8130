"""What can be done with preferences."""

from __future__ import annotations

from pydantic import TypeAdapter
from sqlalchemy.orm import Session

from lucid_ridge.app.documents import DocumentKind
from lucid_ridge.app.editing import database, owner
from lucid_ridge.app.preferences.schemas import Learned, Preferences, PreferencesBody, PreferencesOut
from lucid_ridge.app.preferences.tables import PreferencesRow

PREFERENCES: DocumentKind[Preferences] = DocumentKind("preferences", TypeAdapter(Preferences))


def chosen(session: Session) -> Preferences:
    """What the photographer chose; the usual where they chose nothing."""
    row = session.get(PreferencesRow, owner())
    return Preferences() if row is None else PREFERENCES.read(row.document)


def own_pace() -> float:
    """How many times as long as planned the photographer's sequences take; 1 where nothing was taken on."""
    with database().transaction() as session:
        return chosen(session).learned.pace or 1.0


def read() -> PreferencesOut:
    """The preferences."""
    with database().transaction() as session:
        return _out(session)


def _out(session: Session) -> PreferencesOut:
    return PreferencesOut(**chosen(session).model_dump(exclude={"learned"}))


def _write(session: Session, made: Preferences) -> None:
    row = session.get(PreferencesRow, owner())
    if row is None:
        row = PreferencesRow(owner_id=owner(), document={})
        session.add(row)
    row.document = PREFERENCES.write(made, row.document or None)
    session.flush()


def put(sent: PreferencesBody) -> PreferencesOut:
    """Keep the preferences; what was learned stays."""
    with database().transaction() as session:
        learned = chosen(session).learned
        _write(session, Preferences(**sent.model_dump(), learned=learned))
        return _out(session)


def keep_learned(session: Session, learned: Learned) -> None:
    """Keep what was taken on."""
    _write(session, chosen(session).model_copy(update={"learned": learned}))
