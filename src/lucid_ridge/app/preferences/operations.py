"""What can be done with preferences."""

from __future__ import annotations

from pydantic import TypeAdapter
from sqlalchemy.orm import Session

from lucid_ridge.app.documents import DocumentKind
from lucid_ridge.app.editing import database, owner
from lucid_ridge.app.preferences.schemas import Preferences, PreferencesBody, PreferencesOut
from lucid_ridge.app.preferences.tables import PreferencesRow

PREFERENCES: DocumentKind[Preferences] = DocumentKind("preferences", TypeAdapter(Preferences))


def chosen(session: Session) -> Preferences:
    """What the photographer chose; the usual where they chose nothing."""
    row = session.get(PreferencesRow, owner())
    return Preferences() if row is None else PREFERENCES.read(row.document)


def read() -> PreferencesOut:
    """The preferences."""
    with database().transaction() as session:
        return PreferencesOut(**chosen(session).model_dump())


def put(sent: PreferencesBody) -> PreferencesOut:
    """Keep the preferences."""
    with database().transaction() as session:
        row = session.get(PreferencesRow, owner())
        if row is None:
            row = PreferencesRow(owner_id=owner(), document={})
            session.add(row)
        row.document = PREFERENCES.write(Preferences(**sent.model_dump()), row.document or None)
        session.flush()
        return PreferencesOut(**chosen(session).model_dump())
